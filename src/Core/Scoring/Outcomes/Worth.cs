using System.Collections.Immutable;

namespace DapperLantern.Core.Scoring.Outcomes;

/// <summary>What the outcomes say of a criterion or signal.</summary>
public enum LineVerdict
{
    /// <summary>The won had more points of it than the lost, and that is no chance.</summary>
    Tells,

    /// <summary>There is no difference that could not be chance.</summary>
    Nothing,

    /// <summary>The lost had more points of it than the won.</summary>
    Opposite,

    /// <summary>Too few outcomes to say.</summary>
    Unsure,
}

/// <summary>One line held against outcomes.</summary>
/// <param name="Evidence">Weight of evidence (Good 1950) in natural logarithms, half an outcome added to each cell: over 0 speaks for winning.</param>
public sealed record LineWorth(string Words, int Points, Share Share, double Lift, double Evidence);

/// <summary>One criterion held against outcomes.</summary>
/// <param name="Information">Sum over its lines and what hits none of (share of won - share of lost) times evidence (Kullback 1959): under 0.02 tells next to nothing, over 0.3 much.</param>
/// <param name="Pull">Mean points of the won minus mean points of the lost.</param>
public sealed record CriterionWorth(string Key, string Label, double Information, double Pull, LineVerdict Verdict, ImmutableArray<LineWorth> Lines)
{
    internal static ImmutableArray<CriterionWorth> Of(ScoringModel model, Design design)
    {
        var all = Share.Of([.. design.Rows.Select(r => r.Won)]);
        return [.. model.Fit.Select((c, i) => One(c, design.Lines[i], design, all))];
    }

    private static CriterionWorth One(FitCriterion criterion, int first, Design design, Share all)
    {
        var hit = design.Rows.Select(r => r.At.FirstOrDefault(a => a >= first && a < first + criterion.Lines.Length, -1) is >= 0 and var at ? at - first : -1).ToArray();
        var cells = Enumerable.Range(-1, criterion.Lines.Length + 1).Select(line => (Line: line, Share: ShareOf(design, i => hit[i] == line))).ToList();
        var evidence = cells.ToDictionary(c => c.Line, c => Worth.Evidence(c.Share, all));
        var (pull, verdict) = Worth.Judge(design, i => hit[i] < 0 ? 0 : criterion.Lines[hit[i]].Points);
        return new CriterionWorth(
            criterion.Key,
            criterion.Label,
            cells.Where(c => c.Share.Count > 0).Sum(c => Worth.Information(c.Share, all)),
            pull,
            verdict,
            [
                .. cells
                    .Where(c => c.Line >= 0)
                    .Select(c => new LineWorth(criterion.Lines[c.Line].Words, criterion.Lines[c.Line].Points, c.Share, Worth.Lift(c.Share, all), evidence[c.Line])),
            ]
        );
    }

    private static Share ShareOf(Design design, Func<int, bool> holds)
    {
        return Share.Of([.. design.Rows.Where((_, i) => holds(i)).Select(r => r.Won)]);
    }
}

/// <summary>One signal held against outcomes: those who still had something of it left against those who had not.</summary>
public sealed record SignalWorth(string Kind, string Label, double Points, Share Share, double Lift, double Evidence, double Pull, LineVerdict Verdict)
{
    internal static ImmutableArray<SignalWorth> Of(ScoringModel model, Design design)
    {
        var all = Share.Of([.. design.Rows.Select(r => r.Won)]);
        return
        [
            .. model.Engagement.Select(
                (s, i) =>
                {
                    var left = design.Rows.Select(r => Array.IndexOf(r.At, design.Signals + i) is >= 0 and var at ? r.Values[at] : 0).ToArray();
                    var with = design.Rows.Where((_, row) => left[row] > 0.01).ToList();
                    var share = Share.Of(with.Count, with.Count(r => r.Won));
                    var (pull, verdict) = Worth.Judge(design, row => left[row] * s.Points);
                    return new SignalWorth(s.Kind, s.Label, s.Points, share, Worth.Lift(share, all), Worth.Evidence(share, all), pull, verdict);
                }
            ),
        ];
    }
}

internal static class Worth
{
    private const int Fewest = 20;

    public static double Lift(Share share, Share all) => share.Count == 0 || all.Rate == 0 ? 0 : share.Rate / all.Rate;

    public static double Evidence(Share share, Share all)
    {
        var (won, lost) = (all.Won + 0.5, all.Count - all.Won + 0.5);
        return Math.Log((share.Won + 0.5) / won / ((share.Count - share.Won + 0.5) / lost));
    }

    public static double Information(Share share, Share all)
    {
        var (won, lost) = (all.Won, all.Count - all.Won);
        return won == 0 || lost == 0 ? 0 : ((double)share.Won / won - (double)(share.Count - share.Won) / lost) * Evidence(share, all);
    }

    /// <summary>The difference of mean points between won and lost, and whether it could be chance (Welch 1947; two standard errors).</summary>
    public static (double Pull, LineVerdict Verdict) Judge(Design design, Func<int, double> points)
    {
        var of = Enumerable.Range(0, design.Rows.Length).ToLookup(i => design.Rows[i].Won, points);
        var (won, lost) = (Moments(of[true]), Moments(of[false]));
        var pull = won.Mean - lost.Mean;
        if (won.Count < Fewest || lost.Count < Fewest)
            return (pull, LineVerdict.Unsure);
        var error = Math.Sqrt(won.Variance / won.Count + lost.Variance / lost.Count);
        return (
            pull,
            Math.Abs(pull) <= 1.96 * error || error == 0 ? LineVerdict.Nothing
            : pull > 0 ? LineVerdict.Tells
            : LineVerdict.Opposite
        );
    }

    private static (int Count, double Mean, double Variance) Moments(IEnumerable<double> values)
    {
        var list = values.ToList();
        if (list.Count < 2)
            return (list.Count, list.Sum(), 0);
        var mean = list.Average();
        return (list.Count, mean, list.Sum(v => (v - mean) * (v - mean)) / (list.Count - 1));
    }
}
