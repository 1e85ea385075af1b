using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>
/// Suggests a field for each column, by its heading and by what its values look like. A field is suggested once, but a field of free text
/// may be gathered from several columns ("street 1", "street 2").
/// </summary>
public static class ColumnMatcher
{
    // Types whose values can be told by looking at them; a name or a free text cannot.
    private static readonly FieldType[] Telling = [FieldType.Email, FieldType.Country, FieldType.Domain, FieldType.Phone];

    /// <param name="rows">A few rows to look at; short rows are allowed.</param>
    public static ImmutableArray<ColumnMatch> Match(FieldCatalogue catalogue, IReadOnlyList<string> headings, IReadOnlyList<string[]> rows)
    {
        var found = headings.Select((h, i) => Suggest(catalogue, h, i, Samples(rows, i))).ToList();
        SettleNames(found);
        foreach (var same in found.Where(m => m.Target is not null && !IsGathered(catalogue, m)).GroupBy(m => m.Target).Where(g => g.Count() > 1))
        foreach (var lesser in same.OrderByDescending(m => m.Confidence).ThenBy(m => m.Index).Skip(1))
            found[lesser.Index] = lesser with { Target = null, Confidence = 0, Why = $"another column is already {LabelOf(catalogue, same.Key!).ToLowerInvariant()}" };
        return [.. found];
    }

    /// <summary>What a target is called; the key itself when there is no such target.</summary>
    public static string LabelOf(FieldCatalogue catalogue, string target) => Composites.Find(target)?.Label ?? catalogue.Find(target)?.Label ?? target;

    /// <summary>May several columns go to this field? Free text is gathered, with commas between.</summary>
    public static bool MayGather(FieldDefinition? field) => field?.Type == FieldType.Text && field.Key is not "company" and not "postal_code";

    private static ColumnMatch Suggest(FieldCatalogue catalogue, string heading, int index, ImmutableArray<string> samples)
    {
        var plain = Folding.Heading(heading);
        if (Composites.All.FirstOrDefault(c => c.Headings.Contains(plain)) is { } composite)
            return new ColumnMatch(index, heading, composite.Key, 90, "the heading says so", samples);
        if (catalogue.Columns.FirstOrDefault(f => f.Headings.Contains(plain) || Folding.Heading(f.Key) == plain || Folding.Heading(f.Label) == plain) is { } byHeading)
            return new ColumnMatch(index, heading, byHeading.Key, Looks(byHeading, samples) ? 98 : 70, "the heading says so", samples);
        return ByValues(catalogue, heading, index, samples)
            ?? NearHeading(catalogue, heading, plain, index, samples)
            ?? new ColumnMatch(index, heading, null, 0, "nothing we know; kept with the row", samples);
    }

    private static ColumnMatch? ByValues(FieldCatalogue catalogue, string heading, int index, ImmutableArray<string> samples)
    {
        if (samples.Length == 0)
            return null;
        var telling = catalogue.Columns.Where(f => Telling.Contains(f.Type)).OrderBy(f => Array.IndexOf(Telling, f.Type));
        if (telling.FirstOrDefault(f => Looks(f, samples)) is { } field)
            return new ColumnMatch(index, heading, field.Key, 60, "the values look like it", samples);
        return samples.All(Composites.LooksLikePlaceLine) ? new ColumnMatch(index, heading, Composites.PlaceLine, 55, "the values look like it", samples) : null;
    }

    // A slip of one letter, or two in a long word: "Compnay".
    private static ColumnMatch? NearHeading(FieldCatalogue catalogue, string heading, string plain, int index, ImmutableArray<string> samples)
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
        return near.Field is null || !Looks(near.Field, samples)
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

    private static bool IsGathered(FieldCatalogue catalogue, ColumnMatch match) => match.Confidence >= 70 && MayGather(catalogue.Find(match.Target!));

    private static bool Looks(FieldDefinition field, ImmutableArray<string> samples) => samples.Count(s => FieldReader.Read(field, s, "GB").Value.IsKnown) * 2 >= samples.Length;

    private static ImmutableArray<string> Samples(IReadOnlyList<string[]> rows, int column) =>
        [.. rows.Where(r => r.Length > column).Select(r => r[column].Trim()).Where(s => s.Length > 0).Select(s => s.Length > 80 ? s[..80] : s).Distinct().Take(8)];
}
