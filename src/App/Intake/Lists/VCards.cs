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
        "Mail 3",
        "Phone",
        "Phone 2",
        "Phone 3",
        "Mobile",
        "Mobile 2",
        "Fax",
        "Street",
        "Place",
        "Region",
        "Postal code",
        "Country",
        "Website",
        "Language",
        "Notes",
        "Categories",
        "Address 2",
        "Address 3",
        "Website 2",
        "More of the card",
    ];

    // What a card may say several times has so many columns; the rest is kept in the last one, as the card says it.
    private static readonly Dictionary<string, int> Several = new()
    {
        ["Mail"] = 3,
        ["Phone"] = 3,
        ["Mobile"] = 2,
        ["Fax"] = 1,
        ["Website"] = 2,
    };

    // Properties that say nothing of the person, or that are too long to read: pictures, keys, sounds.
    private static readonly HashSet<string> Unsaid =
    [
        "VERSION",
        "PRODID",
        "REV",
        "UID",
        "BEGIN",
        "END",
        "PHOTO",
        "LOGO",
        "SOUND",
        "KEY",
        "SORT-STRING",
        "CLASS",
        "MAILER",
        "PROFILE",
        "SOURCE",
        "NAME",
        "KIND",
        "XML",
        "CLIENTPIDMAP",
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
            if (value.Trim().Length > 0 && !card.TryAdd(heading, value.Trim()) && card[heading] != value.Trim())
                More(heading, value);
        }
        // The first free of the columns for what comes several times.
        void Add(string heading, string value)
        {
            var columns = Enumerable.Range(1, Several[heading]).Select(i => i == 1 ? heading : $"{heading} {i}").ToList();
            if (value.Trim().Length == 0 || columns.Exists(c => card.GetValueOrDefault(c) == value.Trim()))
                return;
            if (columns.Find(c => !card.ContainsKey(c)) is { } free)
                card[free] = value.Trim();
            else
                More(heading, value);
        }
        void More(string heading, string value) =>
            card["More of the card"] = card.TryGetValue("More of the card", out var before) ? $"{before}\n{heading}: {value.Trim()}" : $"{heading}: {value.Trim()}";
        foreach (var line in lines)
            if (Property.Parse(line) is { } property)
                Take(property, new Slots(Put, Add, More), card);
        // The full name is told where the card has no parts; beside them it would be said twice.
        if (!card.ContainsKey("First name") && !card.ContainsKey("Last name") && card.Remove("*full", out var full))
        {
            var cut = full.LastIndexOf(' ');
            Put("First name", cut < 0 ? "" : full[..cut]);
            Put("Last name", full[(cut + 1)..]);
        }
        return [.. Headings.Select(h => card.GetValueOrDefault(h, ""))];
    }

    private sealed record Slots(Action<string, string> Put, Action<string, string> Add, Action<string, string> More);

    private static void Take(Property p, Slots to, Dictionary<string, string> card)
    {
        var parts = p.Parts();
        string Part(int i) => i < parts.Length ? parts[i].Replace("\\,", ",", StringComparison.Ordinal) : "";
        switch (p.Name)
        {
            case "N":
                to.Put("Last name", Part(0));
                to.Put("First name", $"{Part(1)} {Part(2)}".Trim());
                break;
            case "FN":
                card.TryAdd("*full", p.Text());
                break;
            case "ORG":
                to.Put("Company", Part(0));
                to.Put("Department", string.Join(", ", Enumerable.Range(1, Math.Max(0, parts.Length - 1)).Select(Part).Where(u => u.Length > 0)));
                break;
            case "TITLE":
            case "ROLE":
                to.Put("Job title", p.Text());
                break;
            case "EMAIL":
                to.Add("Mail", p.Text().Replace("mailto:", "", StringComparison.OrdinalIgnoreCase));
                break;
            case "TEL":
                to.Add(
                    p.Is("FAX") || p.Is("PAGER") ? "Fax"
                        : p.Is("CELL") ? "Mobile"
                        : "Phone",
                    p.Text().Replace("tel:", "", StringComparison.OrdinalIgnoreCase)
                );
                break;
            case "ADR":
                TakeAddress(p, Part, to, card);
                break;
            case "URL":
                to.Add("Website", p.Text());
                break;
            case "LANG":
                to.Put("Language", p.Text());
                break;
            case "NOTE":
                card["Notes"] = card.TryGetValue("Notes", out var noted) ? $"{noted}\n{p.Text().Trim()}" : p.Text().Trim();
                break;
            case "CATEGORIES":
                to.Put("Categories", p.Text());
                break;
            default:
                if (!Unsaid.Contains(p.Name) && p.Text().Trim() is { Length: > 0 and < 1000 } said)
                    to.More(p.Name, said);
                break;
        }
    }

    // The address of work before any other; what gives way to it is kept in a column of its own.
    private static void TakeAddress(Property p, Func<int, string> part, Slots to, Dictionary<string, string> card)
    {
        var places = new[] { ("Street", 2), ("Place", 3), ("Region", 4), ("Postal code", 5), ("Country", 6) };
        string Whole(IEnumerable<string> values) => string.Join(", ", values.Select(v => v.Replace('\n', ' ').Trim()).Where(v => v.Length > 0));
        var here = Whole(Enumerable.Range(0, 7).Select(part));
        if (here.Length == 0)
            return;
        if (card.ContainsKey("*address") && !(p.Is("WORK") && card["*address"] != "work"))
        {
            KeepAddress(here, to, card);
            return;
        }
        if (card.ContainsKey("*address"))
            KeepAddress(Whole(places.Select(x => card.GetValueOrDefault(x.Item1, ""))), to, card);
        card["*address"] = p.Is("WORK") ? "work" : "other";
        foreach (var (heading, i) in places)
            card[heading] = part(i).Replace('\n', ' ').Trim();
    }

    private static void KeepAddress(string whole, Slots to, Dictionary<string, string> card)
    {
        if (!card.TryAdd("Address 2", whole) && !card.TryAdd("Address 3", whole))
            to.More("Address", whole);
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
            return (Is("WINDOWS-1252") || Is("ISO-8859-1") ? TextEncoding.Western : Encoding.UTF8).GetString([.. bytes]);
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
