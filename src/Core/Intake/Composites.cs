using System.Collections.Immutable;
using System.Text.RegularExpressions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>A column that holds several facts in one.</summary>
/// <param name="TakeApart">The parts by field key, from the text and the two-letter code of the row's country; blank parts are left out.</param>
public sealed record Composite(string Key, string Label, ImmutableArray<string> Headings, Func<string, string?, IEnumerable<(string Field, string Written)>> TakeApart);

/// <summary>The columns we can take apart. One line of the table each.</summary>
public static partial class Composites
{
    /// <summary>Target of a column that holds first and last name together.</summary>
    public const string FullName = "full_name";

    /// <summary>Target of a column that holds place, region and postal code together.</summary>
    public const string PlaceLine = "place_line";

    public static ImmutableArray<Composite> All { get; } =
    [
        new(
            FullName,
            "Full name",
            [
                .. "name|full name|contact|contact name|contact person|visitor|person|attendee|participant|delegate|ansprechpartner|kontakt|kontaktperson|vollstandiger name|nom complet|nom et prenom|nombre completo|nombre y apellidos|persona de contacto|navn|fullt navn".Split(
                    '|'
                ),
            ],
            (text, _) => NameParts(text)
        ),
        new(
            PlaceLine,
            "Place, region and postal code",
            [
                .. "city state zip|city state zip code|city state|city st zip|town postcode|plz ort|plz und ort|cp ville|code postal ville|code postal et ville|cp poblacion|codigo postal y ciudad|postnummer og sted|postnr sted|postadresse".Split(
                    '|'
                ),
            ],
            PlaceParts
        ),
    ];

    public static Composite? Find(string key) => All.FirstOrDefault(c => c.Key == key);

    /// <summary>Does a text look like a line of place, region and postal code?</summary>
    public static bool LooksLikePlaceLine(string text) => AmericanPlace().IsMatch(text) || (CodeFirst().IsMatch(text) && !StreetWord().IsMatch(text));

    // Where a number in front is a house number: by the country, or by a word for a street.
    private static bool IsStreet(string text, string? country) =>
        HouseFirst().IsMatch(text) && (country is "US" or "CA" or "GB" or "IE" or "AU" or "NZ" or "IN" || StreetWord().IsMatch(text));

    // "Vik, Tor" and "Tor Vik" are the same person; one word alone is a last name. A company among persons is none of them.
    private static IEnumerable<(string, string)> NameParts(string written)
    {
        if (LegalForms.IsCompany(written))
        {
            yield return ("company", written);
            yield break;
        }
        var name = FormsOfAddress.TakeOff(NameCase.Of(written));
        var comma = name.IndexOf(", ", StringComparison.Ordinal);
        var ordered = comma > 0 ? $"{name[(comma + 2)..]} {name[..comma]}" : name;
        var cut = ordered.IndexOf(' ', StringComparison.Ordinal);
        if (cut >= 0)
            yield return ("first_name", ordered[..cut]);
        yield return ("last_name", cut < 0 ? ordered : ordered[(cut + 1)..]);
    }

    // "Springfield, IL 62704"; "62704 Springfield"; "SW1A 1AA London"; "Springfield, IL".
    private static IEnumerable<(string, string)> PlaceParts(string written, string? country)
    {
        if (IsStreet(written, country))
            return [("street", written.Trim(' ', ','))];
        var match = AmericanPlace().Match(written) is { Success: true } american ? american : CodeFirst().Match(written);
        if (!match.Success)
            return [("city", written.Trim(' ', ','))];
        return new[] { ("city", "c"), ("region", "r"), ("postal_code", "p") }.Select(f => (f.Item1, match.Groups[f.Item2].Value.Trim(' ', ','))).Where(f => f.Item2.Length > 0);
    }

    [GeneratedRegex(@"^(?<c>[\p{L}][^,\d]*),\s*(?<r>[\p{L}][\p{L} .]*?)\.?(?:,?\s+(?<p>\d{5}(?:-\d{4})?|[A-Za-z]\d[A-Za-z]\s?\d[A-Za-z]\d))?$")]
    private static partial Regex AmericanPlace();

    [GeneratedRegex(@"^\d{1,6}[A-Za-z]?\s+\p{L}")]
    private static partial Regex HouseFirst();

    [GeneratedRegex(
        @"\b(?:street|st|avenue|ave|av|road|rd|boulevard|blvd|drive|dr|lane|ln|way|court|ct|circle|cir|place|pl|plaza|square|sq|parkway|pkwy|highway|hwy|route|rte|terrace|ter|trail|trl|pike|turnpike|loop|alley|suite|ste|unit|floor|broadway|rue|all[ée]e|quai|chemin|impasse|stra(?:ss|ß)e|str|weg|gate|gata|vei|veien|calle|avenida|paseo)\b\.?",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex StreetWord();

    [GeneratedRegex(@"^(?:[A-Z]{1,2}-)?(?<p>\d{4,5}|\d{3}\s\d{2}|[A-Z]{1,2}\d[A-Z\d]?\s?\d[A-Z]{2})\s+(?<c>\p{L}[^\d]*)$")]
    private static partial Regex CodeFirst();
}
