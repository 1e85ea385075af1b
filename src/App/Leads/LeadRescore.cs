using DapperLantern.App.Data;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using Npgsql;

namespace DapperLantern.App.Leads;

/// <summary>Engagement at a moment, past or to come.</summary>
public sealed record EngagementThen(DateTime At, int Engagement);

/// <summary>Both scores of a lead with their reasons, at a moment.</summary>
/// <param name="DropsUnder">When engagement falls under its bar unless something happens; null when it is under, or never falls.</param>
/// <param name="Curve">Engagement by today's model over the last year and the next 90 days if nothing happens, oldest first.</param>
public sealed record LeadScore(FitResult Fit, EngagementResult Engagement, string NextMove, NodaTime.Instant? DropsUnder, LiveModel By, IReadOnlyList<EngagementThen> Curve)
{
    /// <summary>Names of the signals of which one more event would clear the bar of engagement; the smallest first, at most three.</summary>
    public required IReadOnlyList<string> WouldClear { get; init; }
}

/// <summary>Computes the scores of stored leads and keeps them with the lead.</summary>
public sealed class LeadRescore(Workspace workspace)
{
    private const int CurveDays = 365;
    private const int CurveAhead = 90;
    private const int CurveStep = 7;

    /// <param name="shown">Whether a reason may say the value of a field; null for every field.</param>
    public async Task<LeadScore> Compute(LanternDb db, RecordValues record, IReadOnlyList<LeadEvent> events, DateTime now, Predicate<FieldDefinition>? shown = null)
    {
        var live = await workspace.Model(db);
        var moment = now.ToInstant();
        var fit = live.Fit.Explain(record, moment, shown);
        var engagement = live.Engagement.Explain(events, moment);
        var standing = LeadScoreState.Of(new FitRange(fit.Score, fit.Low, fit.High), engagement.Decay, Cleared.Of(record.Text("next_move")), live.Model.Bars, moment);
        return new LeadScore(fit, engagement, standing.Move, standing.MoveUntil, live, Curve(live, events, engagement.Decay, now))
        {
            WouldClear = standing.Cleared.Engagement ? [] : [.. live.Engagement.WouldReach(events, moment, live.Model.Bars.Engagement).Select(s => s.Label).Distinct().Take(3)],
        };
    }

    private static List<EngagementThen> Curve(LiveModel live, IReadOnlyList<LeadEvent> events, EngagementDecay decay, DateTime now)
    {
        if (events.Count == 0)
            return [];
        var first = events.Min(e => e.At).ToUtc();
        var weeks = Math.Clamp((int)((now - first).TotalDays / CurveStep) + 1, 0, CurveDays / CurveStep);
        var past = Enumerable.Range(0, weeks).Select(w => now.AddDays((w - weeks) * CurveStep)).Select(at => new EngagementThen(at, live.Engagement.Score(events, at.ToInstant())));
        var ahead = Enumerable.Range(0, CurveAhead / CurveStep + 1).Select(w => now.AddDays(w * CurveStep)).Select(at => new EngagementThen(at, decay.Score(at.ToInstant())));
        return [.. past, .. ahead];
    }

    /// <summary>Rescores one lead; nothing happens when there is no such lead.</summary>
    public async Task Run(LanternDb db, Guid lead, DateTime now)
    {
        if (await LeadStore.Load(db, lead, workspace.Catalogue, now) is not { } record)
            return;
        var live = await workspace.Model(db);
        var scores = live.Score(record, await LeadStore.Events(db, lead), now);
        var sets = SqlText.List(ScoreColumns.All.Select<ScoreColumn, SqlText>(c => $"{c.Name:sql} = {SqlText.Value(c.Of(scores), c.Type):sql}"));
        await db.Run($"update lead set {sets:sql} where id = {lead}");
    }
}
