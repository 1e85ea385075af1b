using System.Globalization;
using System.Text;

namespace DapperLantern.App.Intake.Lists;

/// <summary>One line of a card (RFC 6350) or a calendar (RFC 5545), or of their forerunners, which are written alike.</summary>
/// <param name="Name">Upper case, without a group in front of it.</param>
/// <param name="Parameters">As written, from the first semicolon on; empty for none.</param>
internal sealed record ContentLine(string Name, string Parameters, string Value)
{
    /// <summary>Null for a line that has no name.</summary>
    public static ContentLine? Parse(string line)
    {
        var colon = Colon(line);
        if (colon <= 0)
            return null;
        var head = line[..colon];
        var semicolon = head.IndexOf(';', StringComparison.Ordinal);
        var name = semicolon < 0 ? head : head[..semicolon];
        // "item1.EMAIL" groups properties; the group says nothing to us.
        return new ContentLine(name[(name.IndexOf('.', StringComparison.Ordinal) + 1)..].Trim().ToUpperInvariant(), semicolon < 0 ? "" : head[semicolon..], line[(colon + 1)..]);
    }

    public bool Has(string parameter) => Parameters.Contains(parameter, StringComparison.OrdinalIgnoreCase);

    public bool IsQuotedPrintable => Has(QuotedPrintable);

    /// <summary>The value with its transport encoding undone; escapes are left in it.</summary>
    public string Decoded()
    {
        if (!IsQuotedPrintable)
            return Value;
        var bytes = new List<byte>(Value.Length);
        for (var i = 0; i < Value.Length; i++)
            if (Value[i] == '=' && i + 2 < Value.Length && byte.TryParse(Value.AsSpan(i + 1, 2), NumberStyles.HexNumber, null, out var b))
            {
                bytes.Add(b);
                i += 2;
            }
            else
                bytes.AddRange(Encoding.UTF8.GetBytes(Value[i].ToString()));
        return (Has("WINDOWS-1252") || Has("ISO-8859-1") ? TextEncoding.Western : Encoding.UTF8).GetString([.. bytes]);
    }

    private const string QuotedPrintable = "QUOTED-PRINTABLE";

    // A colon within a quoted parameter is none.
    private static int Colon(string line)
    {
        var quoted = false;
        for (var i = 0; i < line.Length; i++)
            if (line[i] == '"')
                quoted = !quoted;
            else if (line[i] == ':' && !quoted)
                return i;
        return -1;
    }

    /// <summary>Joins the lines of a file to content lines: one that begins with a space goes on the one before, and so does the one behind a soft break of quoted-printable.</summary>
    public sealed class Unfolding
    {
        private StringBuilder? _open;

        /// <summary>Takes the next line of the file. Gives the content line that ended before it; null for none.</summary>
        public string? Add(string line)
        {
            if (_open is { Length: > 0 } && _open[^1] == '=' && _open.ToString().Split(':', 2)[0].Contains(QuotedPrintable, StringComparison.OrdinalIgnoreCase))
                _open.Remove(_open.Length - 1, 1).Append(line);
            else if (_open is not null && line is [' ' or '\t', ..])
                _open.Append(line.AsSpan(1));
            else
            {
                var ended = End();
                _open = new StringBuilder(line);
                return ended;
            }
            return null;
        }

        /// <summary>The content line that is still open; null for none.</summary>
        public string? End()
        {
            var ended = _open?.ToString();
            _open = null;
            return ended;
        }
    }
}
