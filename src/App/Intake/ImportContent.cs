using System.Security.Cryptography;
using DapperLantern.App.Data;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>An import's file as it came, kept in the database in pieces, so that neither keeping nor reading it needs memory for the whole.</summary>
public static class ImportContent
{
    private const int PieceSize = 1 << 20;

    private static readonly BulkTable<ImportChunk> Table = new BulkTable<ImportChunk>("import_chunk")
        .Uuid("import_id", c => c.ImportId)
        .Int("position", c => c.Position)
        .Bytes("bytes", c => c.Bytes);

    /// <summary>Keeps a file within the caller's transaction.</summary>
    public static Task Save(LanternDb db, Guid import, Stream content, CancellationToken cancel = default)
    {
        content.Position = 0;
        return Table.Write(db, Pieces(import, content), cancel);
    }

    /// <summary>The file again, seekable; it lies on disk in a temporary file that goes when the stream is closed.</summary>
    public static async Task<Stream> Open(LanternDb db, Guid import, CancellationToken cancel = default)
    {
        var file = Scratch();
        for (var position = 0; ; position++)
        {
            var at = position;
            var bytes = await db.Set<ImportChunk>().Where(c => c.ImportId == import && c.Position == at).Select(c => c.Bytes).SingleOrDefaultAsync(cancel);
            if (bytes is null)
                break;
            await file.WriteAsync(bytes, cancel);
        }
        file.Position = 0;
        return file;
    }

    /// <summary>An empty file on disk that goes when it is closed.</summary>
    public static FileStream Scratch()
    {
        var path = Path.Combine(Path.GetTempPath(), $"lantern-{RandomNumberGenerator.GetHexString(16)}");
        return new FileStream(path, FileMode.CreateNew, FileAccess.ReadWrite, FileShare.None, 1 << 16, FileOptions.DeleteOnClose | FileOptions.SequentialScan);
    }

    private static IEnumerable<ImportChunk> Pieces(Guid import, Stream content)
    {
        var piece = new byte[PieceSize];
        for (var position = 0; ; position++)
        {
            var length = content.ReadAtLeast(piece, PieceSize, false);
            if (length == 0)
                yield break;
            yield return new ImportChunk
            {
                ImportId = import,
                Position = position,
                Bytes = length == PieceSize ? piece : piece[..length],
            };
        }
    }
}
