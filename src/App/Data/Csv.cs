using System.Text;

namespace DapperLantern.App.Data;

/// <summary>Writes separated values by RFC 4180, so that no spreadsheet takes a value for a formula; our own reader gives the values back as they were.</summary>
public static class Csv
{
    /// <summary>One line with its line end (CR LF).</summary>
    public static string Line(IEnumerable<string> cells)
    {
        var line = new StringBuilder();
        foreach (var cell in cells)
            line.Append(line.Length == 0 ? "" : ",").Append(Cell(cell));
        return line.Append("\r\n").ToString();
    }

    /// <summary>What a cell written by <see cref="Line"/>, or by a spreadsheet that keeps numbers as text, means: without the apostrophe in front of a formula's sign.</summary>
    public static string Meant(string cell) => cell.Length > 1 && cell[0] == '\'' && (IsFormula(cell.AsSpan(1)) || cell[1] == '\'') ? cell[1..] : cell;

    // An apostrophe in front makes a text of what would be a formula (OWASP, CSV injection). An empty first cell is quoted, so that no line is blank.
    private static string Cell(string value)
    {
        var safe = (IsFormula(value) && !IsNumber(value)) || (value.Length > 1 && value[0] == '\'' && (IsFormula(value.AsSpan(1)) || value[1] == '\'')) ? "'" + value : value;
        return safe.Length == 0 || safe.AsSpan().IndexOfAny(",\"\r\n;\t") >= 0 || safe[0] == ' ' || safe[^1] == ' '
            ? $"\"{safe.Replace("\"", "\"\"", StringComparison.Ordinal)}\""
            : safe;
    }

    // A telephone number or a signed number: a spreadsheet that takes it for a formula has nothing to compute but the number.
    private static bool IsNumber(string value) =>
        value.Length is > 1 and <= 40 && value[0] is '+' or '-' && char.IsAsciiDigit(value[1]) && !value.AsSpan(1).ContainsAnyExcept(OfNumbers);

    private static readonly System.Buffers.SearchValues<char> OfNumbers = System.Buffers.SearchValues.Create("0123456789 .,()");

    private static bool IsFormula(ReadOnlySpan<char> value) => value.Length > 0 && value[0] is '=' or '+' or '-' or '@' or '\t' or '\r';
}
