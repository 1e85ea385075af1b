namespace DapperLantern.App.Intake.Lists;

/// <summary>The shapes a list may come in.</summary>
public static class ListFormat
{
    public const string Separated = "separated";
    public const string Workbook = "workbook";
    public const string VCard = "vcard";
    public const string Json = "json";
    public const string JsonLines = "json-lines";
}

/// <summary>A sheet of a workbook.</summary>
public sealed record SheetName(string Name, bool Hidden);

/// <summary>How a list is to be read: detected, and changeable.</summary>
/// <param name="Format">One of <see cref="ListFormat"/>.</param>
/// <param name="Encoding">IANA name, for instance <c>utf-8</c> or <c>windows-1252</c>; empty for a workbook.</param>
/// <param name="Separator">One letter, for separated text; else empty.</param>
/// <param name="Sheet">Name of the sheet, for a workbook; else empty.</param>
/// <param name="HeadingRow">Position of the row with the headings, from 1; 0 when there is none. Rows above it are passed over.</param>
/// <param name="Sheets">All sheets of a workbook.</param>
/// <param name="Doubt">Another encoding that may be meant; null when nothing is in doubt, or a person chose.</param>
public sealed record ListReading(
    string Format,
    string Encoding = "",
    string Separator = "",
    string Sheet = "",
    int HeadingRow = 1,
    IReadOnlyList<SheetName>? Sheets = null,
    EncodingDoubt? Doubt = null
)
{
    public IReadOnlyList<SheetName> Sheets { get; init; } = Sheets ?? [];
}

/// <summary>One row: its position after the heading, from 1; its cells as text. <see cref="Broken"/> says why it could not be cut into cells; its one cell is then the text as it came.</summary>
public readonly record struct ListRow(int Number, string[] Cells, string? Broken = null);

/// <summary>An opened list: its headings, and its rows as a stream to be read once.</summary>
public sealed record OpenedList(string[] Headings, IEnumerable<ListRow> Rows);
