using System.Collections.Immutable;
using System.Text;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Deals;

/// <summary>
/// A convention for names: a text with places in braces, as <c>{account} - {product} - {month}</c>. A place that has nothing to say takes
/// the text between it and the place before with it, so that no separator is left over. Text before the first place stays.
/// </summary>
public static class NameConvention
{
    public const string Usual = "{account}, {product}, {month}";
    public const int Longest = 200;

    // What one value may take of the name.
    private const int LongestPart = 60;

    /// <summary>Places beside the keys of the catalogue.</summary>
    public static ImmutableArray<Choice> Places { get; } =
    [
        new("account", "the account, else the person"),
        new("person", "the person"),
        new("product", "the products wanted, else the wish in words"),
        new("month", "month and year of the expected close"),
        new("year", "year of the expected close"),
        new("pipeline", "the pipeline"),
    ];

    /// <summary>What is wrong with a convention; empty when nothing.</summary>
    public static IEnumerable<Problem> Check(string form, FieldCatalogue catalogue)
    {
        if (string.IsNullOrWhiteSpace(form) || form.Length > Longest)
            return [new Problem("name-form-unfit", "nameForm", form.Length.ToString(System.Globalization.CultureInfo.InvariantCulture))];
        var parts = Read(form);
        if (parts is null)
            return [new Problem("name-form-braces", "nameForm", form)];
        if (parts.All(p => p.Place is null))
            return [new Problem("name-form-same", "nameForm", form)];
        return parts
            .Where(p => p.Place is { } place && Places.All(k => k.Key != place) && catalogue.Find(place) is null)
            .Select(p => new Problem("name-form-place", "nameForm", p.Place!));
    }

    /// <summary>Writes the name. Never empty where any place has a value; at most <see cref="Longest"/> letters.</summary>
    /// <param name="valueOf">What a place says; null or empty for nothing.</param>
    public static string Write(string form, Func<string, string?> valueOf)
    {
        var name = new StringBuilder();
        var (between, begun, written, last) = ("", false, false, true);
        foreach (var (text, place) in Read(form) ?? [])
        {
            if (place is null)
            {
                // What closes a bracket goes with what was in it.
                between = last ? text : text.TrimStart(')', ']');
                if (!begun)
                    name.Append(between);
                continue;
            }
            var value = Short((valueOf(place) ?? "").Trim());
            last = value.Length > 0;
            if (last)
                name.Append(written ? between : "").Append(value);
            (between, begun, written) = ("", true, written || last);
        }
        if (begun && last)
            name.Append(between);
        var whole = name.ToString().Trim();
        return whole.Length <= Longest ? whole : whole[..Longest].TrimEnd();
    }

    // Cut at a space where there is one not too far back, else anywhere but within a letter.
    private static string Short(string text)
    {
        if (text.Length <= LongestPart)
            return text;
        var space = text.LastIndexOf(' ', LongestPart);
        var end = space >= LongestPart / 2 ? space : LongestPart;
        return text[..(char.IsHighSurrogate(text[end - 1]) ? end - 1 : end)].TrimEnd(' ', ',', ';', '-');
    }

    // Null when braces do not match.
    private static List<(string Text, string? Place)>? Read(string form)
    {
        var parts = new List<(string, string?)>();
        for (var at = 0; at < form.Length; )
        {
            var open = form.IndexOfAny(['{', '}'], at);
            if (open < 0)
            {
                parts.Add((form[at..], null));
                break;
            }
            if (form[open] == '}' || form.IndexOfAny(['{', '}'], open + 1) is var close && (close < 0 || form[close] != '}' || close == open + 1))
                return null;
            if (open > at)
                parts.Add((form[at..open], null));
            parts.Add(("", form[(open + 1)..close].Trim()));
            at = close + 1;
        }
        return parts;
    }
}
