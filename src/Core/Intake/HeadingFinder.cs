using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>Finds the row that holds the headings: lists from other programs often have a title, a date or merged groups above it.</summary>
public static class HeadingFinder
{
    private const int RowsThatMayBeTitles = 15;

    /// <returns>Position of the heading row among <paramref name="rows"/>, from 0; -1 when the first row is data already.</returns>
    public static int Find(FieldCatalogue catalogue, ImmutableArray<string[]> rows)
    {
        var known = KnownHeadings(catalogue);
        var (best, bestScore) = (-1, 0);
        for (var i = 0; i < rows.Length && i < RowsThatMayBeTitles; i++)
            if (Score(rows[i], known) is var score && score > bestScore)
                (best, bestScore) = (i, score);
        if (best >= 0)
            return best;
        // No heading we know: the first row that is as wide as the list, unless it holds an address or a number as data does.
        var width = rows.Select(Filled).DefaultIfEmpty().Max();
        var first = rows.Select((r, i) => (Row: r, At: i)).FirstOrDefault(r => Filled(r.Row) * 2 > width).At;
        return rows.Length > 0 && HoldsData(catalogue, rows[first]) ? -1 : first;
    }

    /// <summary>How much rows read like a table of people: headings we know count most, then how many rows are as wide as the headings. 0 for one column.</summary>
    /// <param name="heading">Position of the heading row; -1 for none.</param>
    public static int TableScore(FieldCatalogue catalogue, ImmutableArray<string[]> rows, int heading)
    {
        var under = rows.Skip(heading + 1).Select(Filled).ToList();
        if (rows.Select(Filled).DefaultIfEmpty().Max() < 2 || under.Count == 0)
            return 0;
        var known = heading < 0 ? 0 : Score(rows[heading], KnownHeadings(catalogue));
        return known * 100 + under.Count(f => f >= 2);
    }

    // Known headings count, each once; a row with data in it is none.
    private static int Score(string[] row, HashSet<string> known)
    {
        if (row.Any(c => c.Contains('@', StringComparison.Ordinal) && c.Contains('.', StringComparison.Ordinal)))
            return 0;
        var hits = row.Select(Folding.Heading).Where(known.Contains).Distinct().Count();
        return hits >= 2 ? hits : 0;
    }

    private static HashSet<string> KnownHeadings(FieldCatalogue catalogue) =>
        [.. catalogue.Columns.SelectMany(f => f.Headings.Append(Folding.Heading(f.Label))), .. Composites.All.SelectMany(c => c.Headings)];

    private static bool HoldsData(FieldCatalogue catalogue, string[] row) =>
        row.Any(c => FieldReader.Read(catalogue["email"], c).Value.IsKnown || (c.Count(char.IsAsciiDigit) >= 7 && FieldReader.Read(catalogue["phone"], c, "GB").Value.IsKnown));

    private static int Filled(string[] row) => row.Count(c => !string.IsNullOrWhiteSpace(c));
}
