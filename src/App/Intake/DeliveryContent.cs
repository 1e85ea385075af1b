using System.Security.Cryptography;
using Dapper;
using DapperLantern.App.Data;
using Npgsql;

namespace DapperLantern.App.Intake;

/// <summary>A delivery's file as it came, kept in the database in pieces, so that neither keeping nor reading it needs memory for the whole.</summary>
public static class DeliveryContent
{
    private const int PieceSize = 1 << 20;

    private static readonly BulkTable<DeliveryChunk> Table = new BulkTable<DeliveryChunk>("delivery_chunk")
        .Uuid("delivery_id", c => c.DeliveryId)
        .Int("position", c => c.Position)
        .Bytes("bytes", c => c.Bytes);

    /// <summary>Keeps a file within the caller's transaction.</summary>
    public static Task Keep(NpgsqlConnection connection, Guid delivery, Stream content, CancellationToken cancel = default)
    {
        content.Position = 0;
        return Table.Write(connection, Pieces(delivery, content), cancel);
    }

    /// <summary>The file again, seekable; it lies on disk in a temporary file that goes when the stream is closed.</summary>
    public static async Task<Stream> Open(NpgsqlConnection connection, Guid delivery, CancellationToken cancel = default)
    {
        var file = Scratch();
        for (var position = 0; ; position++)
        {
            var bytes = await connection.QuerySingleOrDefaultAsync<byte[]>(
                new CommandDefinition(
                    "select bytes from delivery_chunk where delivery_id = @delivery and position = @position",
                    new { delivery, position },
                    cancellationToken: cancel
                )
            );
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

    private static IEnumerable<DeliveryChunk> Pieces(Guid delivery, Stream content)
    {
        var piece = new byte[PieceSize];
        for (var position = 0; ; position++)
        {
            var length = content.ReadAtLeast(piece, PieceSize, false);
            if (length == 0)
                yield break;
            yield return new DeliveryChunk
            {
                DeliveryId = delivery,
                Position = position,
                Bytes = length == PieceSize ? piece : piece[..length],
            };
        }
    }
}
