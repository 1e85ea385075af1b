using System.IO.Compression;
using System.Text;

namespace DapperLantern.App.Intake.Lists;

/// <summary>
/// Workbooks in the strict form of the standard (ISO/IEC 29500-1) have the same parts as others under other namespaces, which the reader does not know: they are read from a copy with the usual
/// ones.
/// </summary>
internal static class StrictWorkbook
{
    private const string Mark = "http://purl.oclc.org/ooxml/";
    private const int LookedAt = 4096;

    private static readonly (string Strict, string Usual)[] Names =
    [
        ("http://purl.oclc.org/ooxml/spreadsheetml/main", "http://schemas.openxmlformats.org/spreadsheetml/2006/main"),
        ("http://purl.oclc.org/ooxml/officeDocument/relationships", "http://schemas.openxmlformats.org/officeDocument/2006/relationships"),
        ("http://purl.oclc.org/ooxml/officeDocument/extendedProperties", "http://schemas.openxmlformats.org/officeDocument/2006/extended-properties"),
        ("http://purl.oclc.org/ooxml/drawingml/main", "http://schemas.openxmlformats.org/drawingml/2006/main"),
    ];

    /// <summary>A copy on disk that goes when it is closed; null for a workbook that is not strict. The stream's place is changed.</summary>
    public static async Task<FileStream?> Copy(Stream stream)
    {
        stream.Position = 0;
        if (stream.ReadByte() != 'P' || stream.ReadByte() != 'K')
            return null;
        stream.Position = 0;
        using var zip = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true);
        if (zip.GetEntry("xl/workbook.xml") is not { } workbook || !await IsStrict(workbook))
            return null;
        var copy = ImportContent.Scratch();
        using (var to = new ZipArchive(copy, ZipArchiveMode.Create, leaveOpen: true))
            foreach (var entry in zip.Entries)
                await Copy(entry, to.CreateEntry(entry.FullName, CompressionLevel.Fastest));
        copy.Position = 0;
        return copy;
    }

    private static async Task<bool> IsStrict(ZipArchiveEntry workbook)
    {
        await using var part = workbook.Open();
        var head = new byte[LookedAt];
        var length = await part.ReadAtLeastAsync(head, head.Length, throwOnEndOfStream: false);
        return Encoding.UTF8.GetString(head, 0, length).Contains(Mark, StringComparison.Ordinal);
    }

    // Namespaces stand at the begin of a part; the rest is copied as it is.
    private static async Task Copy(ZipArchiveEntry from, ZipArchiveEntry to)
    {
        await using var part = from.Open();
        await using var copy = to.Open();
        if (from.FullName.EndsWith(".rels", StringComparison.OrdinalIgnoreCase))
        {
            using var reader = new StreamReader(part);
            await copy.WriteAsync(Encoding.UTF8.GetBytes(Usual(await reader.ReadToEndAsync())));
            return;
        }
        var head = new byte[LookedAt];
        var length = await part.ReadAtLeastAsync(head, head.Length, throwOnEndOfStream: false);
        // Latin 1 keeps every byte; the names are ASCII.
        await copy.WriteAsync(Encoding.Latin1.GetBytes(Usual(Encoding.Latin1.GetString(head, 0, length))));
        await part.CopyToAsync(copy);
    }

    private static string Usual(string text) => Names.Aggregate(text, (t, n) => t.Replace(n.Strict, n.Usual, StringComparison.Ordinal));
}
