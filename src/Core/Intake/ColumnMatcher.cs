using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>Where a column of a list goes.</summary>
/// <param name="Index">Position in the file, from 0.</param>
/// <param name="Target">A catalogue key, <see cref="ColumnMatcher.FullName"/>, or null: not taken into the facts, but kept with the arrival.</param>
/// <param name="Confidence">0 to 100; how sure we are.</param>
/// <param name="Why">The reason, for people.</param>
public sealed record ColumnMatch(int Index, string Heading, string? Target, int Confidence, string Why, ImmutableArray<string> Samples);

/// <summary>Suggests a field for each column, by its heading and by what its values look like. Each field is suggested once.</summary>
public static class ColumnMatcher
{
    /// <summary>Target of a column that holds first and last name together.</summary>
    public const string FullName = "full_name";

    private static readonly string[] FullNameHeadings = ["name", "full name", "contact", "contact name", "visitor", "person", "attendee", "nom complet", "navn"];

    // Types whose values can be told by looking at them; a name or a free text cannot.
    private static readonly FieldType[] Telling = [FieldType.Email, FieldType.Country, FieldType.Domain, FieldType.Phone];

    /// <param name="rows">A few rows to look at; short rows are allowed.</param>
    public static ImmutableArray<ColumnMatch> Match(FieldCatalogue catalogue, IReadOnlyList<string> headings, IReadOnlyList<string[]> rows)
    {
        var found = headings.Select((h, i) => Suggest(catalogue, h, i, Samples(rows, i))).ToList();
        foreach (var same in found.Where(m => m.Target is not null).GroupBy(m => m.Target).Where(g => g.Count() > 1))
        foreach (var lesser in same.OrderByDescending(m => m.Confidence).ThenBy(m => m.Index).Skip(1))
            found[lesser.Index] = lesser with { Target = null, Confidence = 0, Why = $"another column is already {catalogue.Find(same.Key!)?.Label ?? "the name"}" };
        return [.. found];
    }

    private static ColumnMatch Suggest(FieldCatalogue catalogue, string heading, int index, ImmutableArray<string> samples)
    {
        var plain = Folding.Heading(heading);
        if (FullNameHeadings.Contains(plain))
            return new ColumnMatch(index, heading, FullName, 90, "the heading says so", samples);
        if (catalogue.Facts.FirstOrDefault(f => f.Headings.Contains(plain) || f.Key == plain) is { } byHeading)
            return new ColumnMatch(index, heading, byHeading.Key, Looks(byHeading, samples) ? 98 : 70, "the heading says so", samples);
        var telling = catalogue.Facts.Where(f => Telling.Contains(f.Type)).OrderBy(f => Array.IndexOf(Telling, f.Type));
        if (samples.Length > 0 && telling.FirstOrDefault(f => Looks(f, samples)) is { } byValue)
            return new ColumnMatch(index, heading, byValue.Key, 60, "the values look like it", samples);
        return new ColumnMatch(index, heading, null, 0, "nothing we know; kept with the row", samples);
    }

    private static bool Looks(FieldDefinition field, ImmutableArray<string> samples) => samples.Count(s => FieldReader.Read(field, s, "GB").Value.IsKnown) * 2 >= samples.Length;

    private static ImmutableArray<string> Samples(IReadOnlyList<string[]> rows, int column) =>
        [.. rows.Where(r => r.Length > column).Select(r => r[column].Trim()).Where(s => s.Length > 0).Distinct().Take(8)];
}
