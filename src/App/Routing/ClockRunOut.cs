using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Routing;

/// <summary>Does with leads whose time to answer has run out what the live sheet says. Any number of processes do it beside each other; a lead is passed on once.</summary>
public sealed class ClockRunOut(WorkspaceConfiguration configuration) : IDueWork
{
    public string Kind => "clock";

    public string Words => "Pass on or remind: the time to answer ran out";

    public int Batch => 200;

    public async Task<int> Do(LanternDb db, Guid[] keys, DateTime now, CancellationToken cancel)
    {
        var workspace = configuration.Current;
        var terms = (await workspace.Rules(db)).Router.Sheet.Clock;
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (terms.OnExpiry == ClockTerms.PassOn)
            await Admission.Lock(db);
        var late = await db.Rows<LateLead>(
            $"""
            select id, owner_id as owner, clock_passes as passes from lead
             where id = any({keys}) and state = 'new' and owner_id is not null and clock_due_at <= {now} and clock_ran_out_at is null
             order by clock_due_at for update skip locked
            """,
            cancel
        );
        if (late.Count == 0)
            return 0;
        await db.Set<Lead>().Where(x => late.Select(l => l.Id).ToArray().Contains(x.Id)).ExecuteUpdateAsync(s => s.SetProperty(x => x.ClockRanOutAt, now));
        foreach (var lead in late)
            await (terms.OnExpiry == ClockTerms.PassOn ? PassOn(db, workspace, lead, terms, now) : Remind(db, lead, terms));
        await transaction.CommitAsync(cancel);
        return late.Count;
    }

    private static async Task Remind(LanternDb db, LateLead lead, ClockTerms terms)
    {
        await db.Log(EventLog.Lead, lead.Id, new ClockMissed(terms.OnExpiry == ClockTerms.TellManager));
    }

    // To the next in turn, but not for ever: then it waits where the coordinator sees it.
    private async Task PassOn(LanternDb db, Workspace workspace, LateLead lead, ClockTerms terms, DateTime now)
    {
        if (lead.Passes >= terms.PassAtMost)
        {
            await OwnerAssigner.Give(db, [new OwnerAssignment(lead.Id, null, null)], now, new Why(Why.ClockRanOut, Times: lead.Passes + 1));
            return;
        }
        await new Rerouter(workspace).Run(db, [lead.Id], RoutingMoment.GivenBack, again: false, now, why: new Why(Why.ClockRanOut));
        await db.Set<Lead>().Where(x => x.Id == lead.Id).ExecuteUpdateAsync(s => s.SetProperty(x => x.ClockPasses, x => x.ClockPasses + 1));
    }

    private sealed record LateLead
    {
        public Guid Id { get; init; }
        public Guid Owner { get; init; }
        public int Passes { get; init; }
    }
}
