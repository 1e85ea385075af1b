using System.Collections.Immutable;

namespace DapperLantern.Core.Scoring.Outcomes;

/// <summary>One threshold, 101 for one that nobody reaches: the share of the lost and of the won that reach it.</summary>
public sealed record RankPoint(double Score, double Lost, double Won);

/// <summary>How well a score puts the won before the lost.</summary>
/// <param name="Area">Area under the curve: the chance that one of the won has the higher score than one of the lost, ties counting half (Mann and Whitney 1947). 0.5 is no better than chance.</param>
/// <param name="Low">Lower end of its interval of 95 % (Hanley and McNeil 1982).</param>
/// <param name="Points">From nobody to everybody, a point for each different score, at most 101.</param>
public sealed record RankCurve(double Area, double Low, double High, ImmutableArray<RankPoint> Points)
{
    /// <summary>Of nothing to compare: area 0.5, and anything possible.</summary>
    public static RankCurve None { get; } = new(0.5, 0, 1, [new(101, 0, 0), new(0, 1, 1)]);

    public static RankCurve Of(IEnumerable<(double Score, bool Won)> scored)
    {
        var groups = scored.GroupBy(s => s.Score).OrderByDescending(g => g.Key).Select(g => (Score: g.Key, Won: g.Count(s => s.Won), Lost: g.Count(s => !s.Won))).ToList();
        var (won, lost) = (groups.Sum(g => (double)g.Won), groups.Sum(g => (double)g.Lost));
        if (won == 0 || lost == 0)
            return None;
        var points = ImmutableArray.CreateBuilder<RankPoint>();
        points.Add(new RankPoint(101, 0, 0));
        var (area, w, l) = (0.0, 0.0, 0.0);
        foreach (var group in groups)
        {
            area += group.Lost * (w + group.Won / 2.0);
            (w, l) = (w + group.Won, l + group.Lost);
            points.Add(new RankPoint(group.Score, l / lost, w / won));
        }
        area /= won * lost;
        var spread = Share.Z * Error(area, won, lost);
        return new RankCurve(area, Math.Max(0, area - spread), Math.Min(1, area + spread), Thinned(points));
    }

    /// <summary>By foretold chances; those alike to four places are ties.</summary>
    internal static RankCurve Of(double[] chances, SparseRow[] rows) => Of(chances.Zip(rows, (c, r) => (Math.Round(c, 4), r.Won)));

    private static double Error(double a, double won, double lost)
    {
        var (q1, q2) = (a / (2 - a), 2 * a * a / (1 + a));
        return Math.Sqrt(Math.Max(0, (a * (1 - a) + (won - 1) * (q1 - a * a) + (lost - 1) * (q2 - a * a)) / (won * lost)));
    }

    private static ImmutableArray<RankPoint> Thinned(ImmutableArray<RankPoint>.Builder points) =>
        points.Count <= 101 ? points.ToImmutable() : [.. Enumerable.Range(0, 101).Select(i => points[(int)((long)i * (points.Count - 1) / 100)])];
}
