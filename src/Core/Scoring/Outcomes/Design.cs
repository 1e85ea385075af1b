using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Scoring.Outcomes;

/// <summary>Outcomes as a model sees them: which line of each criterion gives points, and how much of each signal is left.</summary>
/// <param name="Rows">A feature for each line of each criterion (1 where it counts), then one for each signal (so many fresh events' worth).</param>
/// <param name="Fit">Fit of each outcome, 0 to 100.</param>
/// <param name="Engagement">Engagement of each, 0 to 100.</param>
/// <param name="Lines">For each criterion the place of its first line among the features.</param>
internal sealed record Design(SparseRow[] Rows, int[] Fit, int[] Engagement, int[] Lines, int Signals, int Features)
{
    /// <summary>Both scores of each outcome, each of 0 to 1, as a design of their own.</summary>
    public SparseRow[] Scores => [.. Rows.Select((r, i) => new SparseRow([0, 1], [Fit[i] / 100.0, Engagement[i] / 100.0], r.Won))];

    public static Design Of(ScoringModel model, FieldCatalogue catalogue, IReadOnlyList<LeadOutcome> outcomes)
    {
        var (fit, engagement) = (new FitScore(model, catalogue), new EngagementScore(model));
        var lines = new int[model.Fit.Length];
        var features = 0;
        for (var c = 0; c < lines.Length; c++)
            (lines[c], features) = (features, features + model.Fit[c].Lines.Length);
        var signals = features;
        features += model.Engagement.Length;

        var (rows, fits, engagements) = (new SparseRow[outcomes.Count], new int[outcomes.Count], new int[outcomes.Count]);
        var hits = new int[fit.Criteria];
        for (var i = 0; i < outcomes.Count; i++)
        {
            var outcome = outcomes[i];
            fits[i] = fit.Measure(outcome.Known, outcome.At, hits).Score;
            engagements[i] = engagement.Score(outcome.Events, outcome.At);
            var at = hits.Select((hit, c) => (Hit: hit, Line: lines[c] + hit)).Where(h => h.Hit >= 0).Select(h => (At: h.Line, Value: 1.0));
            var left = engagement.Left(outcome.Events, outcome.At).Select(l => (At: signals + l.Signal, Value: l.Fresh));
            var row = at.Concat(left).Where(f => f.Value > 1e-6).ToList();
            rows[i] = new SparseRow([.. row.Select(r => r.At)], [.. row.Select(r => r.Value)], outcome.Won);
        }
        return new Design(rows, fits, engagements, lines, signals, features);
    }
}
