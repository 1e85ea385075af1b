using System.Text;
using DapperLantern.App.Data;

namespace DapperLantern.App.Intake.Lists;

/// <summary>
/// Cuts separated text into rows by RFC 4180, and puts up with its usual breaches: quotes inside a value, a quote that is never closed
/// (its line alone is broken, the next is read again), lone carriage returns, lines of any length. Nothing is lost: what cannot be cut comes as a broken row with its text.
/// </summary>
public static class SeparatedText
{
    /// <summary>Most lines one quoted value may run over before its quote counts as never closed.</summary>
    public const int MostLinesInAValue = 60;

    /// <summary>Longest line, in UTF-16 units; a longer one comes as broken rows.</summary>
    public const int LongestLine = 1 << 20;

    private const int RowsLookedAt = 60;

    private static readonly char[] Separators = [',', ';', '\t', '|'];

    /// <summary>All rows, numbered from 1 over everything but blank lines, headings included.</summary>
    public static IEnumerable<ListRow> Rows(TextReader text, char separator)
    {
        var lines = new Lines(text);
        var number = 0;
        while (lines.Next() is { } line)
        {
            if (line.Length > LongestLine)
            {
                yield return new ListRow(++number, [line], $"a line of more than {LongestLine} letters");
                continue;
            }
            if (string.IsNullOrWhiteSpace(line.Replace(separator, ' ')))
                continue;
            var cells = Cut(line, separator) ?? CutOver(lines, line, separator);
            if (cells is null)
                yield return new ListRow(++number, [line], "a quote is opened and never closed");
            else if (!Array.TrueForAll(cells, c => string.IsNullOrWhiteSpace(Csv.Meant(c))))
                yield return new ListRow(++number, cells);
        }
    }

    /// <summary>The separator that cuts the first rows into the most cells, evenly; comma when none does. Line breaks within quotes do not end a row.</summary>
    public static char DetectSeparator(string head)
    {
        if (head.StartsWith("sep=", StringComparison.OrdinalIgnoreCase) && head.Length > 4)
            return head[4];
        return Separators.MaxBy(s => Evenness(head, s));
    }

    // The share of rows that are as wide as most, squared, so that a separator met by chance in a few texts does not win by a great width.
    private static double Evenness(string head, char separator)
    {
        var widths = Rows(new StringReader(head), separator).Take(RowsLookedAt).Select(r => r.Broken is null ? r.Cells.Length : 0).ToList();
        // The head may end within a row.
        if (widths.Count > 3)
            widths.RemoveAt(widths.Count - 1);
        var usual = widths.Where(w => w > 1).GroupBy(w => w).MaxBy(g => g.Count() * 100 + g.Key);
        if (usual is null)
            return 0;
        var share = (double)usual.Count() / widths.Count;
        return share * share * Math.Log2(1 + Math.Min(usual.Key, 40));
    }

    // A quoted value goes on over the following lines; when its quote is not closed in time, they are put back.
    private static string[]? CutOver(Lines lines, string first, char separator)
    {
        var taken = new List<string>();
        var text = new StringBuilder(first);
        while (taken.Count < MostLinesInAValue && text.Length < LongestLine && lines.Next() is { } next)
        {
            taken.Add(next);
            text.Append('\n').Append(next);
            if (next.Contains('"', StringComparison.Ordinal) && Cut(text.ToString(), separator) is { } cells)
                return cells;
        }
        lines.PutBack(taken);
        return null;
    }

    /// <summary>The cells of a line; null when a quote stays open at its end.</summary>
    public static string[]? Cut(string line, char separator)
    {
        var cells = new List<string>(24);
        for (var at = 0; ; )
        {
            if (at < line.Length && line[at] == '"')
            {
                if (Quoted(line, separator, ref at) is not { } value)
                    return null;
                cells.Add(value);
            }
            else
            {
                var end = line.IndexOf(separator, at);
                cells.Add(end < 0 ? line[at..] : line[at..end]);
                at = end < 0 ? line.Length : end;
            }
            if (at >= line.Length)
                return [.. cells];
            at++;
        }
    }

    // From an opening quote to the separator behind its closing one. A quote that neither closes nor is doubled stands for itself.
    private static string? Quoted(string line, char separator, ref int at)
    {
        StringBuilder? text = null;
        for (var (from, i) = (at + 1, at + 1); i < line.Length; i++)
        {
            if (line[i] != '"')
                continue;
            var next = i + 1;
            if (next < line.Length && line[next] == '"')
            {
                (text ??= new StringBuilder()).Append(line, from, i - from + 1);
                from = i + 2;
                i++;
                continue;
            }
            while (next < line.Length && line[next] == ' ' && separator != ' ')
                next++;
            if (next < line.Length && line[next] != separator)
                continue;
            at = next;
            return text is null ? line[from..i] : text.Append(line, from, i - from).ToString();
        }
        return null;
    }

    private sealed class Lines(TextReader text)
    {
        private readonly Stack<string> _back = [];
        private readonly char[] _buffer = new char[1 << 15];
        private readonly StringBuilder _line = new();
        private int _at;
        private int _end;
        private bool _afterReturn;

        public string? Next() => _back.TryPop(out var line) ? line : Read();

        public void PutBack(List<string> lines)
        {
            for (var i = lines.Count - 1; i >= 0; i--)
                _back.Push(lines[i]);
        }

        // Ends at CR LF, LF or CR; a line that grows too long ends where it is.
        private string? Read()
        {
            _line.Clear();
            while (Fill())
            {
                if (_afterReturn && _buffer[_at] == '\n')
                    _at++;
                _afterReturn = false;
                var rest = _buffer.AsSpan(_at, _end - _at);
                var cut = rest.IndexOfAny('\n', '\r');
                if (cut < 0)
                {
                    _line.Append(rest);
                    _at = _end;
                    if (_line.Length > LongestLine)
                        return _line.ToString();
                    continue;
                }
                _afterReturn = rest[cut] == '\r';
                _at += cut + 1;
                return _line.Length == 0 ? rest[..cut].ToString() : _line.Append(rest[..cut]).ToString();
            }
            return _line.Length > 0 ? _line.ToString() : null;
        }

        private bool Fill()
        {
            if (_at < _end && !(_afterReturn && _end - _at == 1 && _buffer[_at] == '\n'))
                return true;
            if (_at < _end)
                (_at, _afterReturn) = (_end, false);
            (_at, _end) = (0, text.Read(_buffer, 0, _buffer.Length));
            return _end > 0;
        }
    }
}
