using System.Security.Cryptography;
using System.Text;
using Sylvan.Data.Csv;
using UtfUnknown;

namespace DapperLantern.App.Intake;

/// <summary>How a list is to be read: detected, and changeable.</summary>
/// <param name="Encoding">IANA name, for instance <c>utf-8</c> or <c>windows-1252</c>.</param>
public sealed record ListReading(string Encoding, char Separator);

/// <summary>One row: its position after the heading, from 1; its cells; the text as it came. <see cref="Broken"/> says why it could not be cut into cells.</summary>
public readonly record struct ListRow(int Number, string[] Cells, string Raw, string? Broken = null);

/// <summary>A file that is no list, with the sentence that says so.</summary>
public sealed record ListTrouble(string Type, string Sentence);

/// <summary>Reads separated lists as a stream.</summary>
public static class ListFile
{
    /// <summary>Largest file taken, in bytes.</summary>
    public const int LargestFile = 40 * 1024 * 1024;

    /// <summary>Most columns a list may have.</summary>
    public const int MostColumns = 250;

    private static readonly char[] Separators = [',', ';', '\t', '|'];

    static ListFile() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>The hash by which the same file is recognised.</summary>
    public static byte[] Hash(byte[] content) => SHA256.HashData(content);

    /// <summary>Finds encoding and separator, or says why this cannot be a list.</summary>
    public static (ListReading? Reading, ListTrouble? Trouble) Detect(byte[] content)
    {
        if (content.Length == 0)
            return (null, new("file-empty", "The file is empty. Nothing was kept."));
        if (LooksBinary(content))
            return (null, new("file-binary", "This is not a text list: it holds bytes that no list has. Save it as CSV and drop it again. Nothing was kept."));
        var encoding = DetectEncoding(content);
        var head = Encoding.GetEncoding(encoding).GetString(content, 0, Math.Min(content.Length, 65536)).TrimStart('\uFEFF');
        var separator = DetectSeparator(head);
        var reading = new ListReading(encoding, separator);
        return CheckShape(content, reading) is { } trouble ? (null, trouble) : (reading, null);
    }

    /// <summary>The headings, then the rows. Blank lines are passed over. A row that cannot be cut into cells comes with the reason and its text.</summary>
    public static (string[] Headings, IEnumerable<ListRow> Rows) Open(byte[] content, ListReading reading)
    {
        var csv = Reader(content, reading);
        if (!csv.Read())
            return ([], []);
        var headings = Cells(csv);
        return (headings, Rows(csv));
    }

    private static IEnumerable<ListRow> Rows(CsvDataReader csv)
    {
        using (csv)
        {
            for (var number = 1; csv.Read(); number++)
            {
                var cells = Cells(csv);
                if (cells.All(string.IsNullOrWhiteSpace))
                {
                    number--;
                    continue;
                }
                var raw = csv.GetRawRecordSpan().ToString().TrimEnd('\r', '\n');
                yield return new ListRow(number, cells, raw, BrokenQuote(cells));
            }
        }
    }

    // A quote that never closes swallows the lines after it into one cell.
    private static string? BrokenQuote(string[] cells) =>
        cells.Any(c => c.Count(l => l == '\n') > 20) ? "a quote that is never closed; the lines after it are in this row's text" : null;

    private static CsvDataReader Reader(byte[] content, ListReading reading)
    {
        var text = new StreamReader(new MemoryStream(content, false), Encoding.GetEncoding(reading.Encoding), true, 1 << 16);
        var options = new CsvDataReaderOptions
        {
            HasHeaders = false,
            Delimiter = reading.Separator,
            CsvStyle = CsvStyle.Lax,
            BufferSize = 1 << 16,
            MaxBufferSize = LargestFile * 2,
            StringFactory = null,
        };
        return CsvDataReader.Create(text, options);
    }

    private static string[] Cells(CsvDataReader csv)
    {
        var cells = new string[csv.RowFieldCount];
        for (var i = 0; i < cells.Length; i++)
            cells[i] = csv.GetString(i);
        return cells;
    }

    private static ListTrouble? CheckShape(byte[] content, ListReading reading)
    {
        var (headings, rows) = Open(content, reading);
        if (headings.Length > MostColumns)
            return new(
                "too-many-columns",
                $"The list has {headings.Length} columns; we read up to {MostColumns}. Leave out what is not needed and drop it again. Nothing was kept."
            );
        var some = rows.Take(20).ToList();
        if (some.Count == 0)
            return new("no-rows", "The file has a heading row and nothing under it. Nothing was kept.");
        if (headings.Length == 1 && some.All(r => r.Cells.Length == 1))
            return new(
                "one-column",
                "The file has one column only, so a name and a way to reach the person cannot both be in it. Check the separator, or send more columns. Nothing was kept."
            );
        return null;
    }

    private static bool LooksBinary(byte[] content)
    {
        if (content is [0xFF, 0xFE, ..] or [0xFE, 0xFF, ..])
            return false;
        var head = content.AsSpan(0, Math.Min(content.Length, 65536));
        var strange = 0;
        foreach (var b in head)
            if (b == 0 || (b < 32 && b is not (9 or 10 or 13 or 12 or 27)))
                strange++;
        return strange > head.Length / 200;
    }

    private static string DetectEncoding(byte[] content)
    {
        if (IsUtf8(content))
            return "utf-8";
        var found = CharsetDetector.DetectFromBytes(content.Length > 1 << 20 ? content[..(1 << 20)] : content).Detected;
        var name = found?.Encoding is { } e && found.Confidence > 0.5 ? e.WebName : "windows-1252";
        // Windows-1252 says the same where Latin 1 says anything, and is what people's programs mean by it (WHATWG Encoding, 4.2).
        return name == "iso-8859-1" ? "windows-1252" : name;
    }

    private static bool IsUtf8(byte[] content)
    {
        try
        {
            new UTF8Encoding(false, true).GetCharCount(content);
            return true;
        }
        catch (DecoderFallbackException)
        {
            return false;
        }
    }

    // The separator that cuts the first lines into the most cells, evenly.
    private static char DetectSeparator(string head)
    {
        var lines = head.Split('\n').Where(l => l.Trim().Length > 0).Take(10).ToArray();
        return Separators.MaxBy(s => lines.Length == 0 ? 0 : lines[0].Count(c => c == s) * 10 + lines.Min(l => l.Count(c => c == s)));
    }
}
