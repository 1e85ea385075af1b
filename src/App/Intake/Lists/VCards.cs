using System.Text;

namespace DapperLantern.App.Intake.Lists;

/// <summary>Reads vCards of versions 2.1, 3.0 and 4.0 (RFC 2426, RFC 6350), one or many in a file, as rows of one shape. A card that is not closed comes as a broken row.</summary>
public static class VCards
{
    public static string[] Headings { get; } =
    [
        "First name",
        "Last name",
        "Company",
        "Department",
        "Job title",
        "Mail",
        "Mail 2",
        "Phone",
        "Mobile",
        "Street",
        "Place",
        "Region",
        "Postal code",
        "Country",
        "Website",
        "Language",
        "Notes",
        "Categories",
    ];

    /// <summary>Longest card, in UTF-16 units, pictures included.</summary>
    private const int LongestCard = 4 << 20;

    public static bool Looks(string head) => head.TrimStart('\uFEFF', ' ', '\r', '\n', '\t').StartsWith("BEGIN:VCARD", StringComparison.OrdinalIgnoreCase);

    public static IEnumerable<ListRow> Rows(TextReader text)
    {
        var number = 0;
        foreach (var (lines, closed, raw) in Cards(text))
            yield return closed ? new ListRow(++number, Cells(lines)) : new ListRow(++number, [raw], "a card that is not closed");
    }

    // The lines of each card, unfolded.
    private static IEnumerable<(List<string> Lines, bool Closed, string Raw)> Cards(TextReader text)
    {
        List<string>? lines = null;
        var raw = new StringBuilder();
        while (text.ReadLine() is { } line)
        {
            var plain = line.Trim();
            var begins = plain.Equals("BEGIN:VCARD", StringComparison.OrdinalIgnoreCase);
            if (begins && lines is not null)
                yield return (lines, false, raw.ToString());
            if (begins)
                (lines, raw) = ([], new StringBuilder());
            if (lines is null)
                continue;
            if (raw.Length < LongestCard)
                raw.Append(line).Append('\n');
            if (plain.Equals("END:VCARD", StringComparison.OrdinalIgnoreCase))
            {
                yield return (lines, true, raw.ToString());
                lines = null;
            }
            else if (!begins && raw.Length < LongestCard)
                Unfold(lines, line);
        }
        if (lines is not null)
            yield return (lines, false, raw.ToString());
    }

    // A line that begins with a space goes on the one before; so does the one behind a soft break of quoted-printable.
    private static void Unfold(List<string> lines, string line)
    {
        if (lines.Count > 0 && lines[^1].EndsWith('=') && IsQuotedPrintable(lines[^1]))
            lines[^1] = lines[^1][..^1] + line;
        else if (lines.Count > 0 && line.Length > 0 && line[0] is ' ' or '\t')
            lines[^1] += line[1..];
        else
            lines.Add(line);
    }

    private static string[] Cells(List<string> lines)
    {
        var card = new Dictionary<string, string>();
        void Put(string heading, string value)
        {
            if (value.Trim().Length > 0)
                card.TryAdd(heading, value.Trim());
        }
        foreach (var line in lines)
            if (Property.Parse(line) is { } property)
                Take(property, Put, card);
        if (!card.ContainsKey("First name") && !card.ContainsKey("Last name") && card.Remove("*full", out var full))
        {
            var cut = full.LastIndexOf(' ');
            Put("First name", cut < 0 ? "" : full[..cut]);
            Put("Last name", full[(cut + 1)..]);
        }
        return [.. Headings.Select(h => card.GetValueOrDefault(h, ""))];
    }

    private static void Take(Property p, Action<string, string> put, Dictionary<string, string> card)
    {
        var parts = p.Parts();
        string Part(int i) => i < parts.Length ? parts[i].Replace("\\,", ",", StringComparison.Ordinal) : "";
        switch (p.Name)
        {
            case "N":
                put("Last name", Part(0));
                put("First name", $"{Part(1)} {Part(2)}".Trim());
                break;
            case "FN":
                put("*full", p.Text());
                break;
            case "ORG":
                put("Company", Part(0));
                put("Department", string.Join(", ", Enumerable.Range(1, Math.Max(0, parts.Length - 1)).Select(Part).Where(u => u.Length > 0)));
                break;
            case "TITLE":
                put("Job title", p.Text());
                break;
            case "ROLE":
                put("Job title", p.Text());
                break;
            case "EMAIL":
                put(card.ContainsKey("Mail") ? "Mail 2" : "Mail", p.Text().Replace("mailto:", "", StringComparison.OrdinalIgnoreCase));
                break;
            case "TEL" when !p.Is("FAX") && !p.Is("PAGER"):
                put(p.Is("CELL") ? "Mobile" : "Phone", p.Text().Replace("tel:", "", StringComparison.OrdinalIgnoreCase));
                break;
            case "ADR" when !card.ContainsKey("Place") || p.Is("WORK"):
                foreach (var (heading, i) in new[] { ("Street", 2), ("Place", 3), ("Region", 4), ("Postal code", 5), ("Country", 6) })
                    card[heading] = Part(i).Replace('\n', ' ').Trim();
                break;
            case "URL":
                put("Website", p.Text());
                break;
            case "LANG":
                put("Language", p.Text());
                break;
            case "NOTE":
                put("Notes", p.Text());
                break;
            case "CATEGORIES":
                put("Categories", p.Text());
                break;
        }
    }

    private static bool IsQuotedPrintable(string line) => line.Split(':', 2)[0].Contains("QUOTED-PRINTABLE", StringComparison.OrdinalIgnoreCase);

    /// <summary>One property line: name, parameters, value.</summary>
    private sealed record Property(string Name, string Parameters, string Value)
    {
        public static Property? Parse(string line)
        {
            var colon = Colon(line);
            if (colon <= 0)
                return null;
            var head = line[..colon].ToUpperInvariant();
            var semicolon = head.IndexOf(';', StringComparison.Ordinal);
            var name = semicolon < 0 ? head : head[..semicolon];
            // "item1.EMAIL" groups properties; the group says nothing to us.
            return new Property(name[(name.IndexOf('.', StringComparison.Ordinal) + 1)..].Trim(), semicolon < 0 ? "" : head[semicolon..], line[(colon + 1)..]);
        }

        public bool Is(string type) => Parameters.Contains(type, StringComparison.Ordinal);

        /// <summary>The value with escapes and transport encodings undone.</summary>
        public string Text() => Unescape(Decoded());

        /// <summary>The components of a structured value.</summary>
        public string[] Parts()
        {
            var parts = new List<string>();
            var part = new StringBuilder();
            var value = Decoded();
            for (var i = 0; i < value.Length; i++)
                if (value[i] == '\\' && i + 1 < value.Length)
                    part.Append(value[i]).Append(value[++i]);
                else if (value[i] == ';')
                {
                    parts.Add(Unescape(part.ToString()));
                    part.Clear();
                }
                else
                    part.Append(value[i]);
            parts.Add(Unescape(part.ToString()));
            return [.. parts];
        }

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

        private string Decoded()
        {
            if (!Is("QUOTED-PRINTABLE"))
                return Value;
            var bytes = new List<byte>(Value.Length);
            for (var i = 0; i < Value.Length; i++)
                if (Value[i] == '=' && i + 2 < Value.Length && byte.TryParse(Value.AsSpan(i + 1, 2), System.Globalization.NumberStyles.HexNumber, null, out var b))
                {
                    bytes.Add(b);
                    i += 2;
                }
                else
                    bytes.AddRange(Encoding.UTF8.GetBytes(Value[i].ToString()));
            return (Is("ISO-8859-1") || Is("WINDOWS-1252") ? Encoding.Latin1 : Encoding.UTF8).GetString([.. bytes]);
        }

        private static string Unescape(string value)
        {
            var text = new StringBuilder(value.Length);
            for (var i = 0; i < value.Length; i++)
                if (value[i] == '\\' && i + 1 < value.Length)
                    text.Append(value[++i] is 'n' or 'N' ? '\n' : value[i]);
                else
                    text.Append(value[i]);
            return text.ToString();
        }
    }
}
