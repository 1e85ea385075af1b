using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.Routing;

/// <summary>
/// Watches the time to answer: warns its owner, and asks the sheet about leads that have cleared the bar. Any number of processes do it beside each other; a lead is warned of once. What
/// happens when the time has run out is <see cref="ClockRunOut"/>.
/// </summary>
public sealed class ResponseDeadlineWorker(
    LanternDbFactory databases,
    WorkspaceConfiguration configuration,
    ClockSettings settings,
    TimeProvider clock,
    ILogger<ResponseDeadlineWorker> log
) : Worker(log)
{
    private const int Batch = 200;

    protected override Task Work(CancellationToken stop)
    {
        // A warning reads every clock that runs; while that are very many, it takes a twentieth of the time at most.
        var (watch, resting) = (System.Diagnostics.Stopwatch.StartNew(), TimeSpan.Zero);
        return Every(settings.Look, Step, stop);

        async Task Step(CancellationToken cancel)
        {
            await using var db = await databases.Open(cancel);
            var now = clock.UtcNow();
            if (watch.Elapsed >= resting)
            {
                var began = watch.Elapsed;
                await Warn(db, now, cancel);
                resting = watch.Elapsed + 20 * (watch.Elapsed - began);
            }
            while (await Cleared(db, now, cancel) == Batch && !stop.IsCancellationRequested) { }
        }
    }

    /// <summary>Warns the owners of leads of whose time the sheet's share is gone, a batch a transaction. Gives how many.</summary>
    public async Task<int> Warn(LanternDb db, DateTime now, CancellationToken cancel = default)
    {
        var workspace = configuration.Current;
        var share = (await workspace.Rules(db)).Router.Sheet.Clock.WarnAtPercent;
        if (share == 0)
            return 0;
        var running = await db.Set<Lead>()
            .Where(x => x.State == "new" && x.OwnerId != null && x.ClockStartedAt != null && x.ClockWarnedAt == null && x.ClockRanOutAt == null && x.ClockDueAt > now)
            .Select(x => new
            {
                x.Id,
                Owner = x.OwnerId!.Value,
                Started = x.ClockStartedAt!.Value,
                Due = x.ClockDueAt!.Value,
            })
            .ToListAsync();
        var late = running.Where(r => workspace.Hours.TryGetValue(r.Owner, out var hours) && IsLate(hours, r.Started, r.Due, now, share)).Select(r => r.Id);
        var warned = 0;
        foreach (var batch in late.Chunk(Batch))
            warned += await Warn(db, batch, now, cancel);
        return warned;
    }

    private static async Task<int> Warn(LanternDb db, Guid[] late, DateTime now, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var due = await db.Rows<DueLead>(
            $"""
            select id, clock_due_at as due from lead
            where id = any({late}) and state = 'new' and owner_id is not null and clock_started_at is not null and clock_warned_at is null and clock_ran_out_at is null and clock_due_at > {now}
            order by id for update skip locked
            """
        );
        await db.Log(EventLog.Lead, [.. due.Select(d => (d.Id, (Happening)new ClockSoon(d.Due)))]);
        await db.Set<Lead>().Where(x => due.Select(d => d.Id).ToArray().Contains(x.Id)).ExecuteUpdateAsync(s => s.SetProperty(x => x.ClockWarnedAt, now));
        await transaction.CommitAsync(cancel);
        return due.Count;
    }

    private static bool IsLate(WorkingHours hours, DateTime started, DateTime due, DateTime now, int share)
    {
        var whole = hours.Between(started.ToInstant(), due.ToInstant());
        return hours.Between(started.ToInstant(), now.ToInstant()) >= whole * share / 100;
    }

    private sealed record DueLead(Guid Id, DateTime Due);

    /// <summary>Asks the sheet about leads that have cleared the bar since it went live, where it says so; at most a batch. Gives how many.</summary>
    public async Task<int> Cleared(LanternDb db, DateTime now, CancellationToken cancel = default)
    {
        var workspace = configuration.Current;
        var rules = await workspace.Rules(db);
        if (!rules.Router.AskedAt(RoutingMoment.Cleared))
            return 0;
        SqlText Waiting(int most) =>
            $"""
                select distinct c.lead_id as "Value" from crossing c join lead l on l.id = c.lead_id
                 where c.kind = 'cleared' and c.at > (select published_at from edition where id = {rules.Edition}) and l.state in ('new', 'in_work', 'on_hold', 'qualified')
                   and not exists (select 1 from routing_decision d where d.lead_id = c.lead_id and d.moment = 'cleared' and d.at >= c.at) limit {most}
                """;
        if ((await db.Rows<Guid>(Waiting(1))).Count == 0)
            return 0;
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await Admission.Lock(db);
        var leads = (await db.Rows<Guid>(Waiting(Batch))).ToArray();
        leads = [.. await db.Rows<Guid>($"""select id as "Value" from lead where id = any({leads}) order by id for update""")];
        await new Rerouter(workspace).Run(db, leads, RoutingMoment.Cleared, again: true, now, why: new Why(Why.Cleared));
        await transaction.CommitAsync(cancel);
        return leads.Length;
    }
}
