using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Scoring;

/// <summary>
/// Looks again at the leads whose band or next move changes by the passing of time, when it does: a few at a time, never all. Falls are exact without it
/// (<c>lead.move_until</c>); it makes them known, and lets what wears off rise. Any number of processes do it beside each other.
/// </summary>
public sealed class EngagementDecayWorker(LanternDbFactory databases, WorkspaceConfiguration configuration, TimeProvider clock, ILogger<EngagementDecayWorker> log) : Worker(log)
{
    private const int Batch = 1000;
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(5);

    protected override Task Work(CancellationToken stop) =>
        Every(
            Pause,
            async cancel =>
            {
                await using var db = await databases.Open(cancel);
                while (await Look(db, clock.UtcNow(), cancel) == Batch && !stop.IsCancellationRequested) { }
            },
            stop
        );

    /// <summary>Looks at those that are due, at most a batch. Gives how many.</summary>
    public async Task<int> Look(LanternDb db, DateTime now, CancellationToken cancel = default)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var due = await db.Rows<DueLead>(
            $"""
            select id, fit, fit_low as low, fit_high as high, decay, next_move as move from lead
            where look_again_at <= {now} order by look_again_at limit {Batch} for update skip locked
            """
        );
        if (due.Count == 0)
            return 0;
        var bars = (await configuration.Current.Model(db)).Model.Bars;
        var found = due.Select(d =>
                LeadScoreState.Of(
                    new FitRange(d.Fit, d.Low, d.High),
                    d.Decay is null ? EngagementDecay.None : EngagementDecaySql.Read(d.Decay),
                    Cleared.Of(d.Move),
                    bars,
                    now.ToInstant()
                )
            )
            .ToList();
        var ids = due.Select(d => d.Id).ToArray();
        var engagements = found.Select(f => f.Engagement).ToArray();
        var untils = found.Select(f => f.MoveUntil?.ToUtc()).ToArray();
        var agains = found.Select(f => f.LookAgain?.ToUtc()).ToArray();
        var bands = found.Select(f => f.Band).ToArray();
        var moves = found.Select(f => f.Move).ToArray();
        var outs = found.Select(f => f.Decay.Terms.IsEmpty).ToArray();
        await db.Run(
            $"""
            update lead l set engagement = x.engagement, band = x.band, next_move = x.move, move_until = x.until, look_again_at = x.again, scored_at = {now}, decay = case when x.out then null else l.decay end
            from unnest({ids}, {engagements}, {bands}, {moves}, {untils}, {agains}, {outs}) x(id, engagement, band, move, until, again, out) where l.id = x.id
            """
        );
        await transaction.CommitAsync(cancel);
        return due.Count;
    }

    private sealed record DueLead(Guid Id, int Fit, int Low, int High, double[]? Decay, string Move);
}
