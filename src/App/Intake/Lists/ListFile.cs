using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text.Json;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;

namespace DapperLantern.App.Intake.Lists;

/// <summary>Reads a list of any of our formats as a stream of rows. Streams must be seekable; memory does not grow with the file, but for a workbook's own texts.</summary>
public static class ListFile
{
    /// <summary>Largest file taken, in bytes.</summary>
    public const long LargestFile = 2L << 30;

    /// <summary>Most columns a list may have.</summary>
    public const int MostColumns = 250;

    private const int RowsLookedAt = 40;

    /// <summary>The hash by which the same file is recognised: SHA-256 of its bytes. The stream is left at its start.</summary>
    public static byte[] Hash(Stream stream)
    {
        stream.Position = 0;
        var hash = SHA256.HashData(stream);
        stream.Position = 0;
        return hash;
    }

    /// <summary>Finds format, encoding, separator, sheet and heading row, or says why this cannot be a list.</summary>
    public static (ListReading? Reading, Problem? Trouble) Detect(Stream stream, FieldCatalogue catalogue)
    {
        if (stream.Length == 0)
            return (null, new Problem("file-empty"));
        var (reading, trouble) = Shape(stream);
        if (reading is null)
            return (null, trouble);
        trouble = Guarded(reading, () => reading = FindHeading(stream, reading, catalogue));
        trouble ??= Check(stream, reading);
        return trouble is null ? (reading, null) : (null, trouble);
    }

    /// <summary>The headings, then the rows behind them. Blank rows are passed over. A row that cannot be cut into cells comes with the reason and its text.</summary>
    public static OpenedList Open(Stream stream, ListReading reading)
    {
        stream.Position = 0;
        if (reading.Format == ListFormat.VCard)
            return new OpenedList(VCards.Headings, VCards.Rows(TextEncoding.Reader(stream, reading.Encoding)));
        if (reading.Format is ListFormat.Json or ListFormat.JsonLines)
        {
            var names = JsonRecords.Headings(stream, reading);
            return new OpenedList(names, JsonRecords.Rows(stream, reading, names));
        }
        return Under(reading.HeadingRow, AllRows(stream, reading).GetEnumerator());
    }

    // Without a heading row the first row is data, and says how many columns there are.
    private static OpenedList Under(int headingRow, IEnumerator<ListRow> rows)
    {
        while (rows.MoveNext())
            if (headingRow == 0)
                return new OpenedList([.. Enumerable.Range(1, rows.Current.Cells.Length).Select(i => $"Column {i}")], Numbered(rows.Current, rows));
            else if (rows.Current.Number >= headingRow)
                return new OpenedList(rows.Current.Cells, Numbered(null, rows));
        return new OpenedList([], []);
    }

    private static IEnumerable<ListRow> Numbered(ListRow? first, IEnumerator<ListRow> rest)
    {
        var number = 0;
        if (first is { } row)
            yield return row with
            {
                Number = ++number,
            };
        while (rest.MoveNext())
            yield return rest.Current with
            {
                Number = ++number,
            };
    }

    private static IEnumerable<ListRow> AllRows(Stream stream, ListReading reading)
    {
        stream.Position = 0;
        return reading.Format == ListFormat.Workbook
            ? Workbook.Rows(stream, reading.Sheet)
            : SeparatedText.Rows(TextEncoding.Reader(stream, reading.Encoding), reading.Separator is [var s, ..] ? s : ',');
    }

    private static (ListReading? Reading, Problem? Trouble) Shape(Stream stream)
    {
        Span<byte> head = stackalloc byte[8];
        stream.Position = 0;
        var length = stream.ReadAtLeast(head, head.Length, false);
        if (Workbook.Looks(head[..length]))
        {
            var (sheets, broken) = Workbook.Sheets(stream);
            if (broken is not null || sheets.Count == 0)
                return (null, broken ?? new Problem("workbook-empty"));
            return (new ListReading(ListFormat.Workbook, Sheet: (sheets.FirstOrDefault(s => !s.Hidden) ?? sheets[0]).Name, Sheets: [.. sheets]), null);
        }
        if (TextEncoding.DetectWithDoubt(stream) is not ({ } encoding, var doubt))
            return (null, new Problem("file-binary"));
        var text = Head(stream, encoding);
        if (VCards.Looks(text))
            return (new ListReading(ListFormat.VCard, encoding, Doubt: doubt), null);
        if (JsonRecords.Looks(text))
            return (new ListReading(JsonRecords.LooksLikeLines(text) ? ListFormat.JsonLines : ListFormat.Json, encoding), null);
        return (new ListReading(ListFormat.Separated, encoding, SeparatedText.DetectSeparator(text).ToString(), Doubt: doubt), null);
    }

    private static string Head(Stream stream, string encoding)
    {
        stream.Position = 0;
        using var reader = TextEncoding.Reader(stream, encoding);
        var head = new char[1 << 16];
        var length = reader.ReadBlock(head);
        return new string(head, 0, length).TrimStart('\uFEFF');
    }

    /// <summary>The visible sheet that most reads like a table, and in it the row that reads like headings.</summary>
    private static ListReading FindHeading(Stream stream, ListReading reading, FieldCatalogue catalogue)
    {
        if (reading.Format is not (ListFormat.Separated or ListFormat.Workbook))
            return reading;
        var sheets = reading.Sheets.Where(s => !s.Hidden).Select(s => s.Name).DefaultIfEmpty(reading.Sheet);
        var found = sheets.Select(s => Try(stream, reading with { Sheet = s }, catalogue)).Where(f => f.Reading is not null).ToList();
        // Of equal ones the first.
        return found.Count == 0 ? reading : found.MaxBy(f => f.Score).Reading!;
    }

    /// <summary>The same reading with the row that reads like headings; as it is when there is no table, or it cannot be read.</summary>
    public static ListReading WithHeading(Stream stream, ListReading reading, FieldCatalogue catalogue)
    {
        var found = reading;
        Guarded(reading, () => found = Try(stream, reading, catalogue).Reading ?? reading);
        return found;
    }

    private static (ListReading? Reading, int Score) Try(Stream stream, ListReading reading, FieldCatalogue catalogue)
    {
        var rows = AllRows(stream, reading).Take(RowsLookedAt).ToList();
        if (rows.Count < 2)
            return (null, 0);
        ImmutableArray<string[]> cells = [.. rows.Select(r => r.Cells)];
        var at = HeadingFinder.Find(catalogue, cells);
        return (reading with { HeadingRow = at >= 0 ? rows[at].Number : 0 }, HeadingFinder.TableScore(catalogue, cells, at));
    }

    /// <summary>Why a list cannot be read in this way; null when it can.</summary>
    public static Problem? Check(Stream stream, ListReading reading)
    {
        Problem? trouble = null;
        return Guarded(reading, () => trouble = CheckShape(stream, reading)) ?? trouble;
    }

    private static Problem? CheckShape(Stream stream, ListReading reading)
    {
        if (reading.Format == ListFormat.Json && reading.Encoding != "utf-8" && stream.Length > JsonRecords.LargestWrapped)
            return new Problem("json-too-large");
        var (headings, rows) = Open(stream, reading);
        if (headings.Length > MostColumns)
            return Problem.Of("too-many-columns", "", headings.Length, MostColumns);
        var some = rows.Take(20).ToList();
        if (some.Count == 0)
            return new Problem("no-rows");
        if (headings.Length <= 1 && some.All(r => r.Cells.Length <= 1))
            return new Problem("one-column");
        return null;
    }

    // Reading a damaged workbook or a broken JSON file is expected trouble, said in a sentence.
    private static Problem? Guarded(ListReading reading, Action read)
    {
        try
        {
            if (reading.Format == ListFormat.Workbook)
                return Workbook.Guarded(read);
            read();
            return null;
        }
        catch (JsonException e)
        {
            return Problem.Of("json-broken", "", e.LineNumber + 1, e.BytePositionInLine + 1);
        }
    }
}
