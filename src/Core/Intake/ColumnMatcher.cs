using System.Collections.Immutable;
using System.Text.RegularExpressions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>
/// Suggests a field for each column. The heading decides; where the values contradict it, they do. Without a heading we know, only what cannot be
/// mistaken is taken (email and web addresses); anything else that the values look like is proposed and waits for a person's word. A field is suggested once, but a field
/// of free text may be gathered from several columns ("street 1", "street 2"), and addresses and telephones come in several.
/// </summary>
public static partial class ColumnMatcher
{
    private const string HeadingSaysSo = "the heading says so";

    // What a look may fill. Phone, country and place are only ever proposed.
    private static readonly Dictionary<ValueLook, string> TargetOf = new()
    {
        [ValueLook.Email] = "email",
        [ValueLook.Web] = "website",
        [ValueLook.Phone] = "phone",
        [ValueLook.Country] = "country",
        [ValueLook.Company] = "company",
        [ValueLook.PlaceLine] = Composites.PlaceLine,
    };

    /// <param name="rows">A few rows to look at; short rows are allowed.</param>
    public static ImmutableArray<ColumnMatch> Match(FieldCatalogue catalogue, IReadOnlyList<string> headings, IReadOnlyList<string[]> rows)
    {
        var found = headings.Select((h, i) => Suggest(catalogue, h, i, Samples(rows, i))).ToList();
        SettleNames(found);
        SettlePlace(found);
        foreach (var same in found.Where(m => m.Target is not null && !IsGathered(catalogue, m)).GroupBy(m => m.Target).Where(g => g.Count() > 1))
        foreach (var lesser in same.OrderByDescending(m => m.Samples.Length > 0).ThenByDescending(m => m.Confidence).ThenBy(m => m.Index).Skip(1))
            found[lesser.Index] = lesser with
            {
                Target = null,
                Confidence = 0,
                Proposed = same.Key == Composites.FullName ? "company" : null,
                Why = $"another column is already {LabelOf(catalogue, same.Key!).ToLowerInvariant()}",
            };
        foreach (var open in found.Where(m => m.Proposed is not null && found.Exists(o => o.Target == m.Proposed)).ToList())
            found[open.Index] = open with { Proposed = null };
        return [.. found];
    }

    /// <summary>What a target is called; the key itself when there is no such target.</summary>
    public static string LabelOf(FieldCatalogue catalogue, string target) => Composites.Find(target)?.Label ?? catalogue.Find(target)?.Label ?? target;

    /// <summary>
    /// May several columns go to this field? Free text is gathered, with commas between; of addresses and telephones the first that can be read is taken.
    /// </summary>
    public static bool MayGather(FieldDefinition? field) =>
        field?.Type is FieldType.Email or FieldType.Phone || (field?.Type == FieldType.Text && field.Key is not "company" and not "postal_code");

    private static ColumnMatch Suggest(FieldCatalogue catalogue, string heading, int index, ImmutableArray<string> samples)
    {
        var plain = Folding.Heading(heading);
        var look = ValueLooks.Of(samples);
        var said = Composites.All.FirstOrDefault(c => c.Headings.Contains(plain)) is { } composite
            // Beside a contact person, "Name" is the company's.
            ? new ColumnMatch(index, heading, composite.Key, plain is "name" or "navn" ? 85 : 90, HeadingSaysSo, samples)
            : ByHeading(catalogue, heading, plain, index, samples)
                ?? ByHeading(catalogue, heading, WithoutUnit(heading), index, samples)
                ?? ByNumbered(catalogue, heading, plain, index, samples);
        said = said is not null
            ? Contradicted(catalogue, said, look) ?? said
            : NearHeading(catalogue, heading, plain, index, samples, look) ?? ByLook(heading, index, samples, look);
        return OtherQuantity(catalogue, said) ?? said;
    }

    private static ColumnMatch? ByHeading(FieldCatalogue catalogue, string heading, string plain, int index, ImmutableArray<string> samples)
    {
        if (plain.Length == 0)
            return null;
        var field = catalogue.Columns.FirstOrDefault(f => f.Headings.Contains(plain) || Folding.Heading(f.Key) == plain || Folding.Heading(f.Label) == plain);
        return field is null || IsOtherCurrency(field, heading) ? null : new ColumnMatch(index, heading, field.Key, Reads(field, samples) ? 98 : 70, HeadingSaysSo, samples);
    }

    // "Tel 2" is another telephone; of a field that takes one column a second is no more of the same.
    private static ColumnMatch? ByNumbered(FieldCatalogue catalogue, string heading, string plain, int index, ImmutableArray<string> samples) =>
        plain.Length > 2
        && plain[^2] == ' '
        && char.IsAsciiDigit(plain[^1])
        && ByHeading(catalogue, heading, plain[..^2], index, samples) is { } match
        && MayGather(catalogue.Find(match.Target!))
            ? match
            : null;

    // "Omsetning (MNOK)", "CA en k€", "Staff (thousands)": the column counts in another unit than the field does. Taken as it stands each value would be another.
    private static ColumnMatch? OtherQuantity(FieldCatalogue catalogue, ColumnMatch said) =>
        said.Target is { } target && catalogue.Find(target)?.Type is FieldType.Money or FieldType.Number && Multiples().Match(said.Heading) is { Success: true } multiple
            ? said with
            {
                Target = null,
                Confidence = 0,
                Why = $"the heading counts in \u201c{multiple.Value.Trim()}\u201d, our {LabelOf(catalogue, target).ToLowerInvariant()} does not; kept with the row",
            }
            : null;

    // "Budget (EUR)" is the budget, "Umsatz in EUR" the revenue.
    private static string WithoutUnit(string heading) => Folding.Heading(Unit().Replace(heading, ""));

    private static bool IsOtherCurrency(FieldDefinition field, string heading) =>
        field.Type == FieldType.Money
        && Unit().Match(heading) is { Success: true } unit
        && NumberReader.CurrencyIn(unit.Value) is { Length: > 0 } named
        && !named.Contains(field.Currency);

    // Values that plainly are something else than the heading says: the values hold, or the column is asked about.
    private static ColumnMatch? Contradicted(FieldCatalogue catalogue, ColumnMatch said, ValueLook look)
    {
        // Forms of address are few: one of them is enough.
        if (look is ValueLook.Text or ValueLook.Code or ValueLook.PlaceLine || (said.Samples.Length < 2 && look != ValueLook.Salutation))
            return null;
        var label = LabelOf(catalogue, said.Target!).ToLowerInvariant();
        var words = $"the heading says {label}, but the values are {ValueLooks.Words(look)}";
        if (look == ValueLook.Email)
            return catalogue.Find(said.Target!)?.Type is FieldType.Email or FieldType.Text && said.Target is not "company"
                ? null
                : said with
                {
                    Target = "email",
                    Confidence = 80,
                    Why = words,
                };
        if (look == ValueLook.Company)
            return said.Target is Composites.FullName or "first_name" or "last_name" ? said with { Target = "company", Confidence = 80, Why = words } : null;
        return Bears(catalogue, said.Target!, look) ? null : said with { Target = null, Confidence = 0, Why = words, Proposed = TargetOf.GetValueOrDefault(look) };
    }

    // Whether values of this look can stand in the target at all.
    private static bool Bears(FieldCatalogue catalogue, string target, ValueLook look) =>
        catalogue.Find(target) switch
        {
            null => target != Composites.FullName || look is ValueLook.Country or ValueLook.Salutation,
            { Key: "job_title" } => look != ValueLook.Salutation,
            { Type: FieldType.Name } => look is ValueLook.Country or ValueLook.YesNo or ValueLook.Salutation,
            { Type: FieldType.Phone } => look is ValueLook.Phone or ValueLook.Number or ValueLook.Amount or ValueLook.Code,
            { Type: FieldType.Email } => false,
            { Type: FieldType.Country } => look is ValueLook.Country or ValueLook.YesNo,
            { Type: FieldType.Date } => look is ValueLook.Date or ValueLook.Year or ValueLook.Number,
            { Type: FieldType.Domain } => look is ValueLook.Web,
            { Type: FieldType.Number or FieldType.Money } => look is not (ValueLook.Date or ValueLook.Web or ValueLook.Machine or ValueLook.Country),
            _ => true,
        };

    private static ColumnMatch ByLook(string heading, int index, ImmutableArray<string> samples, ValueLook look)
    {
        if (look is ValueLook.Email or ValueLook.Web)
            return new ColumnMatch(index, heading, TargetOf[look], 60, "the values look like it", samples);
        if (TargetOf.TryGetValue(look, out var proposed))
            return new ColumnMatch(index, heading, null, 0, $"the values look like {ValueLooks.Words(look)}, the heading does not say so", samples, Proposed: proposed);
        var kept = look == ValueLook.Text ? "nothing we know; kept with the row" : $"{ValueLooks.Words(look)}, the heading says nothing we know; kept with the row";
        return new ColumnMatch(index, heading, null, 0, kept, samples);
    }

    // A slip of one letter, or two in a long word: "Compnay".
    private static ColumnMatch? NearHeading(FieldCatalogue catalogue, string heading, string plain, int index, ImmutableArray<string> samples, ValueLook look)
    {
        if (plain.Length < 5)
            return null;
        var near = catalogue
            .Columns.SelectMany(f =>
                f.Headings.Where(h => h.Length >= 5).Select(h => (Field: f, Heading: h, Away: TypingDistance.Within(h, plain, Math.Max(h.Length, plain.Length))))
            )
            .Where(n => n.Away <= (plain.Length >= 8 ? 2 : 1))
            .OrderBy(n => n.Away)
            .FirstOrDefault();
        return
            near.Field is null
            || !Reads(near.Field, samples)
            || (look is not (ValueLook.Text or ValueLook.Code or ValueLook.Company) && !Bears(catalogue, near.Field.Key, look) && near.Field.Type != FieldType.Email)
            // A heading that is only nearly known says too little to call a number a company.
            || (look is not (ValueLook.Text or ValueLook.Company) && near.Field is { Type: FieldType.Text or FieldType.Name, Key: not "postal_code" })
            ? null
            : new ColumnMatch(index, heading, near.Field.Key, 60, $"the heading is nearly \u201c{near.Heading}\u201d", samples);
    }

    // Beside a column of first names, "Name" can only be the last name; beside both it is neither's.
    private static void SettleNames(List<ColumnMatch> found)
    {
        var full = found.FindIndex(m => m.Target == Composites.FullName);
        if (full < 0 || found.All(m => m.Target != "first_name"))
            return;
        found[full] = found.Any(m => m.Target == "last_name")
            ? found[full] with
            {
                Target = null,
                Confidence = 0,
                Why = "first and last name stand in columns of their own",
            }
            : found[full] with
            {
                Target = "last_name",
                Confidence = 90,
                Why = "first names stand in a column of their own",
            };
    }

    // "Ort" over "26382 Wilhelmshaven", where no column has the postal codes alone.
    private static void SettlePlace(List<ColumnMatch> found)
    {
        var city = found.FindIndex(m => m.Target == "city");
        if (city >= 0 && !found.Exists(m => m.Target is "postal_code" or Composites.PlaceLine) && ValueLooks.Of(found[city].Samples) == ValueLook.PlaceLine)
            found[city] = found[city] with { Target = Composites.PlaceLine, Confidence = 80, Why = "the values are postal codes with places" };
    }

    private static bool IsGathered(FieldCatalogue catalogue, ColumnMatch match) => match.Confidence >= 70 && MayGather(catalogue.Find(match.Target!));

    private static bool Reads(FieldDefinition field, ImmutableArray<string> samples) =>
        samples.Count(s => FieldReader.Read(field, s, new Conventions("GB")).Value.IsKnown) * 2 >= samples.Length;

    private static ImmutableArray<string> Samples(IReadOnlyList<string[]> rows, int column) =>
        [
            .. rows.Where(r => r.Length > column)
                .Select(r => FieldReader.Clean(r[column]))
                .Where(s => !FieldReader.IsBlank(s))
                .Select(s => s.Length > 80 ? s[..80] : s)
                .Distinct()
                .Take(8),
        ];

    private const string Short = "k|m|mn|mm|mio|mln|mill|mrd|tsd|bn";
    private const string Monies = @"\u20ac|\u00a3|\$|EUR|USD|GBP|CHF|NOK|SEK|DKK|CAD|AUD|PLN|JPY|ISK";

    // Magnitudes in words, before or after a currency, or alone in brackets.
    [GeneratedRegex(
        @"(?<![\p{L}\d])(?:tsd|tausend|tusen|tusind|thousands?|milliers?|en\s+miles|miles\s+de|mio|mill|mln|millions?|millionen|millioner|miljoner|millones|milioni|milh\u00f5es|mrd|milliarden?|milliarder|milliards?|miljarder|bn|billions?|['\u2019]?000s?|1[.,'\s]?000)(?![\p{L}\d])"
            + @"|(?<![\p{L}\d])(?:t|"
            + Short
            + @")[.\s]{0,2}(?:kr\b|"
            + Monies
            + ")"
            + "|(?:"
            + Monies
            + @")[.\s]{0,2}(?:"
            + Short
            + @")(?!\p{L})"
            + @"|[(\[]\s*(?:k|t|m|mn|mm)\.?\s*[)\]]",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Multiples();

    [GeneratedRegex(@"\s*[(\[][^()\[\]]*[)\]]\s*$|\s+in\s+(?:€|£|\$|EUR|USD|GBP|CHF|NOK|SEK|DKK)\s*$|\s*[:*#]\s*$", RegexOptions.IgnoreCase)]
    private static partial Regex Unit();
}
