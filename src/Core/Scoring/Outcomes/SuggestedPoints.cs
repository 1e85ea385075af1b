using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Scoring.Outcomes;

/// <summary>Points the outcomes speak for, for one line or signal.</summary>
/// <param name="Path"><c>fit/2/lines/0</c> or <c>engagement/3</c>.</param>
/// <param name="Low">Lower end of the interval of 90 %.</param>
/// <param name="Count">So many outcomes it was learnt from.</param>
/// <param name="Sure">True when the interval does not hold both less and more than nothing.</param>
public sealed record SuggestedPoint(string Path, string Label, string Words, double Now, double Suggested, double Low, double High, int Count, int Won, bool Sure);

/// <summary>A draft of points to be looked at, one by one; nothing applies it by itself.</summary>
/// <param name="Refused">Why there is none; null when there is.</param>
/// <param name="Ridge">Strength of the penalty under which unseen leads were foretold best.</param>
/// <param name="RankNow">Area under the curve of today's two scores on leads they were weighed without.</param>
/// <param name="RankSuggested">The same of the suggested points.</param>
public sealed record PointSuggestion(Problem? Refused, ImmutableArray<SuggestedPoint> Points, int Outcomes, int Won, double Ridge, double RankNow, double RankSuggested)
{
    /// <summary>From fewer outcomes nothing is suggested.</summary>
    public const int FewestOutcomes = 50;

    private const int FewestOfEach = 10;
    private const double Z90 = 1.6448536269514722;

    public static PointSuggestion Of(ScoringModel model, FieldCatalogue catalogue, IReadOnlyList<LeadOutcome> outcomes)
    {
        var won = outcomes.Count(o => o.Won);
        if (outcomes.Count < FewestOutcomes || Math.Min(won, outcomes.Count - won) < FewestOfEach)
            return new PointSuggestion(new Problem("too-few-outcomes", "", $"{outcomes.Count}, {won} of them won"), [], outcomes.Count, won, 0, 0.5, 0.5);
        var design = Design.Of(model, catalogue, outcomes);
        var (ridge, _) = CrossValidation.Best(design.Rows, design.Features);
        var fit = LogisticRegression.Fit(design.Rows, design.Features, ridge);
        return new PointSuggestion(
            null,
            [.. Lines(model, design, fit), .. Signals(model, design, fit)],
            outcomes.Count,
            won,
            ridge,
            Rank(design.Scores, 2, 1),
            Rank(design.Rows, design.Features, ridge)
        );
    }

    private static double Rank(SparseRow[] rows, int features, double ridge) => RankCurve.Of(CrossValidation.Chances(rows, features, ridge), rows).Area;

    private static IEnumerable<SuggestedPoint> Lines(ScoringModel model, Design design, LogisticFit fit)
    {
        var now = model.Fit.SelectMany(c => c.Lines.Select(l => (double)l.Points)).ToArray();
        var scale = Scale(design, fit, 0, design.Signals, now);
        for (var c = 0; c < model.Fit.Length; c++)
        for (var l = 0; l < model.Fit[c].Lines.Length; l++)
            yield return Point($"fit/{c}/lines/{l}", model.Fit[c].Label, model.Fit[c].Lines[l].Words, model.Fit[c].Lines[l].Points, design.Lines[c] + l, scale, design, fit);
    }

    private static IEnumerable<SuggestedPoint> Signals(ScoringModel model, Design design, LogisticFit fit)
    {
        var scale = Scale(design, fit, design.Signals, design.Features, [.. model.Engagement.Select(s => s.Points)]);
        for (var s = 0; s < model.Engagement.Length; s++)
            yield return Point($"engagement/{s}", model.Engagement[s].Label, "", model.Engagement[s].Points, design.Signals + s, scale, design, fit);
    }

    private static SuggestedPoint Point(string path, string label, string words, double now, int feature, double scale, Design design, LogisticFit fit)
    {
        var (value, spread) = (scale * fit.Weights[feature], scale * Z90 * fit.Errors[feature]);
        var with = design.Rows.Where(r => r.At.Contains(feature)).ToList();
        var (low, high) = (Whole(value - spread), Whole(value + spread));
        return new SuggestedPoint(path, label, words, now, Whole(value), low, high, with.Count, with.Count(r => r.Won), low > 0 || high < 0);
    }

    private static double Whole(double points) => Math.Clamp(Math.Round(points, MidpointRounding.AwayFromZero), -100, 100);

    // Log-odds become points by the factor that leaves the sums spread as wide as today's are, so that bars keep their meaning.
    private static double Scale(Design design, LogisticFit fit, int from, int to, double[] now)
    {
        var (today, learnt) = (Spread(design, from, to, now), Spread(design, from, to, fit.Weights[from..to]));
        return learnt < 1e-9 ? 0
            : today < 1e-9 ? 20 / learnt
            : today / learnt;
    }

    private static double Spread(Design design, int from, int to, double[] weights)
    {
        var sums = design.Rows.Select(r => r.At.Zip(r.Values).Where(f => f.First >= from && f.First < to).Sum(f => weights[f.First - from] * f.Second)).ToArray();
        var mean = sums.Average();
        return Math.Sqrt(sums.Average(s => (s - mean) * (s - mean)));
    }
}
