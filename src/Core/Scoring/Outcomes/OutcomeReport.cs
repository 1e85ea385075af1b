using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Scoring.Outcomes;

/// <summary>Outcomes of one band of scores.</summary>
/// <param name="From">Lowest score of the band; the highest is 9 more, of the last one 10.</param>
/// <param name="Lift">Its rate over the rate of all; 1 is no difference, 0 when nobody was won at all.</param>
public sealed record BandOutcome(int From, Share Share, double Lift);

/// <param name="Key">Of the next move.</param>
public sealed record QuarterOutcome(string Key, Share Share, double Lift);

/// <summary>Whether chances come true: of those promised this much on average, so many were won.</summary>
/// <param name="Promised">Mean chance, 0 to 1, as foretold by leads other than these (cross-validated).</param>
public sealed record CalibrationPoint(double Promised, Share Share);

/// <summary>A model held against what became of leads.</summary>
/// <param name="Fit">Bands of fit, lowest first.</param>
/// <param name="Both">How well both scores together rank, each weighed as the outcomes have it (cross-validated).</param>
public sealed record OutcomeReport(
    Share All,
    ImmutableArray<BandOutcome> Fit,
    ImmutableArray<BandOutcome> Engagement,
    ImmutableArray<QuarterOutcome> Quarters,
    RankCurve FitRank,
    RankCurve EngagementRank,
    RankCurve Both,
    ImmutableArray<CalibrationPoint> Calibration,
    ImmutableArray<CriterionWorth> Criteria,
    ImmutableArray<SignalWorth> Signals,
    ImmutableArray<ModelFinding> Warnings
)
{
    private const int CalibrationGroups = 8;

    public static OutcomeReport Of(ScoringModel model, FieldCatalogue catalogue, IReadOnlyList<LeadOutcome> outcomes)
    {
        var design = Design.Of(model, catalogue, outcomes);
        var all = Share.Of([.. outcomes.Select(o => o.Won)]);
        var both = design.Scores;
        var chances = CrossValidation.Chances(both, 2, 1);
        var moves = design.Fit.Zip(design.Engagement, (f, e) => default(Cleared).Next(f, e, model.Bars).Move).ToArray();
        var criteria = CriterionWorth.Of(model, design);
        var signals = SignalWorth.Of(model, design);
        return new OutcomeReport(
            all,
            Bands(design.Fit, outcomes, all),
            Bands(design.Engagement, outcomes, all),
            [.. NextMove.Choices.Select(c => Quarter(c.Key, moves, outcomes, all))],
            RankCurve.Of(design.Fit.Zip(outcomes, (f, o) => ((double)f, o.Won))),
            RankCurve.Of(design.Engagement.Zip(outcomes, (e, o) => ((double)e, o.Won))),
            RankCurve.Of(chances, both),
            Calibrated(chances, outcomes),
            criteria,
            signals,
            [.. OutcomeWarnings.Of(model, criteria, signals, outcomes)]
        );
    }

    private static ImmutableArray<BandOutcome> Bands(int[] scores, IReadOnlyList<LeadOutcome> outcomes, Share all) =>
        [
            .. Enumerable
                .Range(0, 10)
                .Select(band => ShareOf(outcomes, i => Math.Min(scores[i] / 10, 9) == band))
                .Select((share, band) => new BandOutcome(band * 10, share, Worth.Lift(share, all))),
        ];

    private static QuarterOutcome Quarter(string move, string[] moves, IReadOnlyList<LeadOutcome> outcomes, Share all)
    {
        var share = ShareOf(outcomes, i => moves[i] == move);
        return new QuarterOutcome(move, share, Worth.Lift(share, all));
    }

    private static Share ShareOf(IReadOnlyList<LeadOutcome> outcomes, Func<int, bool> holds) => Share.Of([.. outcomes.Where((_, i) => holds(i)).Select(o => o.Won)]);

    // As many in each group as in the next, those of the lowest chance first.
    private static ImmutableArray<CalibrationPoint> Calibrated(double[] chances, IReadOnlyList<LeadOutcome> outcomes)
    {
        var order = chances.Select((c, i) => (c, i)).OrderBy(x => x.c).ThenBy(x => x.i).ToArray();
        var groups = Math.Min(CalibrationGroups, order.Length / 5);
        return
        [
            .. Enumerable
                .Range(0, groups)
                .Select(g => order[(g * order.Length / groups)..((g + 1) * order.Length / groups)])
                .Select(g => new CalibrationPoint(g.Average(x => x.c), Share.Of([.. g.Select(x => outcomes[x.i].Won)]))),
        ];
    }
}
