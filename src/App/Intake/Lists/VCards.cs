using System.Text;
using DapperLantern.App.Data;

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
        var (raw, unfolding) = (new StringBuilder(), new ContentLine.Unfolding());
        while (text.ReadLine() is { } line)
        {
            var plain = line.Trim();
            var begins = plain.Equals("BEGIN:VCARD", StringComparison.OrdinalIgnoreCase);
            if (begins && lines is not null)
                yield return (lines, false, raw.ToString());
            if (begins)
                (lines, raw, unfolding) = ([], new StringBuilder(), new ContentLine.Unfolding());
            if (lines is null)
                continue;
            if (raw.Length < LongestCard)
                raw.Append(line).Append('\n');
            if (plain.Equals("END:VCARD", StringComparison.OrdinalIgnoreCase))
            {
                if (unfolding.End() is { } last)
                    lines.Add(last);
                yield return (lines, true, raw.ToString());
                lines = null;
            }
            else if (!begins && raw.Length < LongestCard && unfolding.Add(line) is { } ended)
                lines.Add(ended);
        }
        if (lines is not null)
            yield return (lines, false, raw.ToString());
    }

    private static string[] Cells(List<string> lines)
    {
        var card = new Card();
        foreach (var line in lines)
            if (ContentLine.Parse(line) is { } property)
                Take(property, card);
        // The full name is told where the card has no parts; beside them it would be said twice.
        if (!card.Values.ContainsKey("First name") && !card.Values.ContainsKey("Last name") && card.Values.Remove(FullName, out var full))
        {
            var cut = full.LastIndexOf(' ');
            card.Put("First name", cut < 0 ? "" : full[..cut]);
            card.Put("Last name", full[(cut + 1)..]);
        }
        return [.. Headings.Select(h => card.Values.GetValueOrDefault(h, ""))];
    }

    // Told while a card is read; no columns of their own.
    private const string FullName = "*full";
    private const string AddressKind = "*address";

    private sealed class Card
    {
        public Dictionary<string, string> Values { get; } = [];

        /// <summary>Into the column; what another value has already goes to the last one.</summary>
        public void Put(string heading, string value)
        {
            if (value.Trim().Length > 0 && !Values.TryAdd(heading, value.Trim()) && Values[heading] != value.Trim())
                More(heading, value);
        }

        /// <summary>Into the first free of the columns for what comes several times.</summary>
        public void Add(string heading, string value)
        {
            var columns = Enumerable.Range(1, Several[heading]).Select(i => i == 1 ? heading : $"{heading} {i}").ToList();
            if (value.Trim().Length == 0 || columns.Exists(c => Values.GetValueOrDefault(c) == value.Trim()))
                return;
            if (columns.Find(c => !Values.ContainsKey(c)) is { } free)
                Values[free] = value.Trim();
            else
                More(heading, value);
        }

        public void More(string heading, string value) => Append("More of the card", $"{heading}: {value.Trim()}");

        public void Append(string column, string text) => Values[column] = Values.TryGetValue(column, out var before) ? $"{before}\n{text}" : text;
    }

    private static void Take(ContentLine p, Card card)
    {
        var parts = Parts(p);
        string Part(int i) => i < parts.Length ? parts[i].Replace("\\,", ",", StringComparison.Ordinal) : "";
        switch (p.Name)
        {
            case "N":
                card.Put("Last name", Part(0));
                card.Put("First name", $"{Part(1)} {Part(2)}".Trim());
                break;
            case "FN":
                card.Values.TryAdd(FullName, Text(p));
                break;
            case "ORG":
                card.Put("Company", Part(0));
                card.Put("Department", string.Join(", ", Enumerable.Range(1, Math.Max(0, parts.Length - 1)).Select(Part).Where(u => u.Length > 0)));
                break;
            case "TITLE":
            case "ROLE":
                card.Put("Job title", Text(p));
                break;
            case "EMAIL":
                card.Add("Mail", Text(p).Replace("mailto:", "", StringComparison.OrdinalIgnoreCase));
                break;
            case "TEL":
                card.Add(
                    p.Has("FAX") || p.Has("PAGER") ? "Fax"
                        : p.Has("CELL") ? "Mobile"
                        : "Phone",
                    Text(p).Replace("tel:", "", StringComparison.OrdinalIgnoreCase)
                );
                break;
            case "ADR":
                TakeAddress(p, Part, card);
                break;
            case "URL":
                card.Add("Website", Text(p));
                break;
            case "LANG":
                card.Put("Language", Text(p));
                break;
            case "NOTE":
                card.Append("Notes", Text(p).Trim());
                break;
            case "CATEGORIES":
                card.Put("Categories", Text(p));
                break;
            default:
                if (!Unsaid.Contains(p.Name) && Text(p).Trim() is { Length: > 0 and < 1000 } said)
                    card.More(p.Name, said);
                break;
        }
    }

    // The address of work before any other; what gives way to it is kept in a column of its own.
    private static void TakeAddress(ContentLine p, Func<int, string> part, Card card)
    {
        var places = new[] { ("Street", 2), ("Place", 3), ("Region", 4), ("Postal code", 5), ("Country", 6) };
        string Whole(IEnumerable<string> values) => string.Join(", ", values.Select(v => v.Replace('\n', ' ').Trim()).Where(v => v.Length > 0));
        var here = Whole(Enumerable.Range(0, 7).Select(part));
        if (here.Length == 0)
            return;
        if (card.Values.ContainsKey(AddressKind) && !(p.Has("WORK") && card.Values[AddressKind] != "work"))
        {
            KeepAddress(here, card);
            return;
        }
        if (card.Values.ContainsKey(AddressKind))
            KeepAddress(Whole(places.Select(x => card.Values.GetValueOrDefault(x.Item1, ""))), card);
        card.Values[AddressKind] = p.Has("WORK") ? "work" : "other";
        foreach (var (heading, i) in places)
            card.Values[heading] = part(i).Replace('\n', ' ').Trim();
    }

    private static void KeepAddress(string whole, Card card)
    {
        if (!card.Values.TryAdd("Address 2", whole) && !card.Values.TryAdd("Address 3", whole))
            card.More("Address", whole);
    }

    // The value with escapes and transport encodings undone.
    private static string Text(ContentLine line) => Unescape(line.Decoded());

    // The components of a structured value.
    private static string[] Parts(ContentLine line)
    {
        var parts = new List<string>();
        var part = new StringBuilder();
        var value = line.Decoded();
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
