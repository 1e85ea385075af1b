using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Setup;

/// <summary>A live scoring model, compiled.</summary>
public sealed record LiveModel(Guid Edition, int Number, ScoringModel Model, FitScore Fit, EngagementScore Engagement)
{
    public static LiveModel Of(Guid edition, int number, ScoringModel model, FieldCatalogue catalogue) =>
        new(edition, number, model, new FitScore(model, catalogue), new EngagementScore(model));

    /// <summary>What is kept with a lead, computed from its facts and events at a moment. What it had cleared before is read from its next move.</summary>
    public StoredScores Score(RecordValues facts, IReadOnlyList<LeadEvent> events, DateTime now)
    {
        var moment = now.ToInstant();
        var before = Cleared.Of(facts.Text("next_move"));
        return new StoredScores(LeadScoreState.Of(Fit.Measure(facts, moment), Engagement.At(events, moment), before, Model.Bars, moment), Edition, Signs.Of(events), now);
    }
}

/// <summary>A live rule sheet, compiled.</summary>
public sealed record LiveRules(Guid Edition, int Number, Router Router)
{
    private readonly FieldDefinition[] _asked =
    [
        .. Router.Sheet.Fields.Concat(["country", "region", "language"]).Distinct().Select(k => Router.Catalogue.Find(k)).OfType<FieldDefinition>(),
    ];

    /// <summary>Keys of the fields that the rules ask.</summary>
    public IEnumerable<string> Asked => _asked.Select(f => f.Key);

    /// <summary>What the rules asked of a lead, as JSON: the known values by field.</summary>
    public string Snapshot(RecordValues lead) => Json.Facts(_asked.Select(f => (f, lead[f.Ordinal])).Where(f => f.Item2.IsKnown));
}
