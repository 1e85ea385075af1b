using System.Globalization;
using System.IO.Compression;
using ExcelDataReader;
using ExcelDataReader.Exceptions;

namespace DapperLantern.App.Intake.Lists;

/// <summary>Sheets of a workbook as rows of text: dates in ISO form, numbers as they are meant (leading zeros, long telephones), formulas by their kept values, merged cells filled.</summary>
public static class Workbook
{
    /// <summary>Most bytes the texts of a workbook may unpack to; they are held in memory while reading.</summary>
    public const long MostSharedText = 150L << 20;

    /// <summary>Most letters one cell may hold; the format itself allows no more (ECMA-376, 18.3.1.96, as spreadsheets keep it).</summary>
    public const int MostLettersInCell = 32_767;

    /// <summary>Most bytes the whole workbook may unpack to.</summary>
    public const long MostUnpacked = 2L << 30;

    /// <summary>True for a packed workbook and for the older binary one.</summary>
    public static bool Looks(ReadOnlySpan<byte> head) => head is [0x50, 0x4B, 0x03, 0x04, ..] or [0xD0, 0xCF, 0x11, 0xE0, ..];

    /// <summary>The sheets, or why this is no workbook we can read.</summary>
    public static (List<SheetName> Sheets, Problem? Trouble) Sheets(Stream stream)
    {
        var sheets = new List<SheetName>();
        if (Bomb(stream) is { } bomb)
            return (sheets, bomb);
        return (
            sheets,
            Guarded(() =>
            {
                using var copy = StrictWorkbook.Copy(stream).GetAwaiter().GetResult();
                using var reader = Open(copy ?? stream);
                do sheets.Add(new SheetName(reader.Name, reader.VisibleState != "visible"));
                while (reader.NextResult());
            })
        );
    }

    /// <summary>All rows of a sheet that hold anything, numbered by their place in the sheet, from 1.</summary>
    /// <exception cref="KeyNotFoundException">There is no such sheet.</exception>
    public static IEnumerable<ListRow> Rows(Stream given, string sheet)
    {
        // Files on disk: nothing is waited for but the disk.
        using var copy = StrictWorkbook.Copy(given).GetAwaiter().GetResult();
        var stream = copy ?? given;
        using var reader = Open(stream);
        while (reader.Name != sheet)
            if (!reader.NextResult())
                throw new KeyNotFoundException($"the workbook has no sheet \"{sheet}\"");
        var merged = new MergedCells(reader.MergeCells ?? []);
        ErrorCells? errors = null;
        for (var row = 0; reader.Read(); row++)
        {
            var cells = new string[reader.FieldCount];
            var hollow = false;
            for (var i = 0; i < cells.Length; i++)
            {
                cells[i] = Text(reader, i);
                hollow |= cells[i].Length == 0 && reader.GetNumberFormatIndex(i) >= 0;
            }
            // A cell that is there and holds nothing may be a failed one; only then is it worth looking.
            if (hollow)
                (errors ??= ErrorCells.Of(stream, sheet)).Fill(cells, row);
            merged.Fill(cells, row);
            var used = cells.Length;
            while (used > 0 && string.IsNullOrWhiteSpace(cells[used - 1]))
                used--;
            if (used > 0)
                yield return new ListRow(row + 1, cells);
        }
    }

    /// <summary>Runs what reads a workbook and turns what a broken one throws into a sentence.</summary>
    public static Problem? Guarded(Action read)
    {
        try
        {
            read();
            return null;
        }
        catch (InvalidPasswordException)
        {
            return new Problem("workbook-locked");
        }
        catch (Exception e) when (IsBroken(e))
        {
            return new Problem("workbook-broken");
        }
    }

    /// <summary>True for what reading a damaged workbook throws.</summary>
    public static bool IsBroken(Exception e) =>
        e
            is ExcelReaderException
                or InvalidDataException
                or System.Xml.XmlException
                or FormatException
                or OverflowException
                or ArgumentException
                or IndexOutOfRangeException
                or NullReferenceException
                or KeyNotFoundException
                or InvalidOperationException
                or NotSupportedException
                or IOException
                or InvalidCastException;

    private static IExcelDataReader Open(Stream stream)
    {
        stream.Position = 0;
        // Asked for first: the configuration itself looks for Windows-1252 as it is made.
        var western = TextEncoding.Western;
        return ExcelReaderFactory.CreateReader(stream, new ExcelReaderConfiguration { LeaveOpen = true, FallbackEncoding = western });
    }

    // One long text that thousands of cells share is small in the file and large in each row.
    private static bool HasEndlessText(ZipArchive zip)
    {
        foreach (var entry in zip.Entries.Where(e => e.FullName.EndsWith("sharedStrings.xml", StringComparison.OrdinalIgnoreCase) && e.Length > MostLettersInCell))
        {
            using var reader = System.Xml.XmlReader.Create(entry.Open(), new System.Xml.XmlReaderSettings { DtdProcessing = System.Xml.DtdProcessing.Prohibit, CloseInput = true });
            var letters = 0;
            while (reader.Read())
                if (reader is { NodeType: System.Xml.XmlNodeType.Element, LocalName: "si" })
                    letters = 0;
                else if (reader.NodeType is System.Xml.XmlNodeType.Text or System.Xml.XmlNodeType.SignificantWhitespace && (letters += reader.Value.Length) > MostLettersInCell)
                    return true;
        }
        return false;
    }

    // A small file that unpacks to gigabytes is an attack or an accident; both are refused before anything is unpacked.
    private static Problem? Bomb(Stream stream)
    {
        stream.Position = 0;
        Span<byte> head = stackalloc byte[2];
        if (stream.Read(head) < 2 || head[0] != 0x50)
            return null;
        Problem? trouble = null;
        var broken = Guarded(() =>
        {
            using var zip = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true);
            var texts = zip.Entries.Where(e => e.FullName.EndsWith("sharedStrings.xml", StringComparison.OrdinalIgnoreCase)).Sum(e => e.Length);
            var dense = zip.Entries.Any(e => e.Length > 10 << 20 && e.Length > e.CompressedLength * 100);
            if (texts > MostSharedText || dense || zip.Entries.Sum(e => e.Length) > MostUnpacked)
                trouble = new Problem("workbook-too-large");
            else if (HasEndlessText(zip))
                trouble = Problem.Of("cell-too-long", "", MostLettersInCell);
        });
        return broken ?? trouble;
    }

    private static string Text(IExcelDataReader reader, int column)
    {
        return reader.GetValue(column) switch
        {
            null => "",
            string text => text,
            double number => Number(number, reader.GetNumberFormatString(column)),
            int number => Number(number, reader.GetNumberFormatString(column)),
            bool yes => yes ? "true" : "false",
            DateTime moment => moment.TimeOfDay == TimeSpan.Zero
                ? moment.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
                : moment.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
            TimeSpan time => time.ToString(@"hh\:mm\:ss", CultureInfo.InvariantCulture),
            var other => Convert.ToString(other, CultureInfo.InvariantCulture) ?? "",
        };
    }

    // A format of zeros only, such as 00000, is a code with its leading zeros; never an exponent for a telephone number.
    private static string Number(double number, string? format)
    {
        if (format is { Length: > 1 and <= 20 } && format.All(c => c == '0') && number is >= 0 and < 1e15)
            return ((decimal)number).ToString(format, CultureInfo.InvariantCulture);
        return Math.Abs(number) < 1e15 ? ((decimal)number).ToString("0.##########", CultureInfo.InvariantCulture) : number.ToString("R", CultureInfo.InvariantCulture);
    }

    // Every cell of a merged range holds the value of its first; ranges come into sight as their first row is read.
    private sealed class MergedCells(CellRange[] ranges)
    {
        private readonly ILookup<int, CellRange> _from = ranges.Where(r => r.ToRow - r.FromRow < 10_000).ToLookup(r => r.FromRow);
        private readonly List<(CellRange Range, string Value)> _open = [];

        public void Fill(string[] cells, int row)
        {
            foreach (var range in _from[row])
                if (range.FromColumn < cells.Length)
                    _open.Add((range, cells[range.FromColumn]));
            _open.RemoveAll(o => o.Range.ToRow < row);
            foreach (var (range, value) in _open)
                for (var i = range.FromColumn; i <= range.ToColumn && i < cells.Length; i++)
                    cells[i] = value;
        }
    }
}
