using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads;

/// <summary>A lead and who gets it.</summary>
/// <param name="Owner">Null puts it back to wait for an owner.</param>
/// <param name="Due">By when the owner is to answer; null for nobody.</param>
/// <param name="Task">What is to be done first.</param>
/// <param name="Urgent">True where that is to stand before other tasks.</param>
/// <param name="Message">What the rule tells the owner.</param>
public sealed record OwnerAssignment(Guid Lead, Guid? Owner, DateTime? Due, string Task = "", bool Urgent = false, string Message = "");

/// <summary>What giving found and made.</summary>
/// <param name="Open">The open tasks by lead, with whose they were.</param>
/// <param name="Made">The task made for a lead that had none open.</param>
public sealed record OwnersAssigned(ILookup<Guid, TaskOwner> Open, IReadOnlyDictionary<Guid, Guid> Made);

/// <summary>Gives leads to people, one or many: their clock starts, open tasks go along, and where there is none the first is made.</summary>
public static class OwnerAssigner
{
    /// <summary>In the caller's transaction, with the leads locked.</summary>
    /// <param name="why">Why, for the log; null where something else tells it.</param>
    public static async Task<OwnersAssigned> Give(LanternDb db, IReadOnlyList<OwnerAssignment> givings, DateTime now, Why? why = null)
    {
        if (givings.Count == 0)
            return new OwnersAssigned(Array.Empty<TaskOwner>().ToLookup(_ => Guid.Empty), new Dictionary<Guid, Guid>());
        var ids = givings.Select(g => g.Lead).ToArray();
        var open = (
            await db.Set<TaskRow>()
                .Where(x => ids.Contains(x.LeadId!.Value) && x.DoneAt == null)
                .Select(x => new
                {
                    Task = x.Id,
                    Lead = x.LeadId!.Value,
                    Owner = x.OwnerId,
                })
                .ToListAsync()
        ).ToLookup(t => t.Lead, t => new TaskOwner(t.Task, t.Owner));
        var made = givings.Where(g => g.Owner is not null && !open.Contains(g.Lead)).ToDictionary(g => g.Lead, _ => Guid.CreateVersion7());
        // What a rule tells the owner stands with the event of the change.
        foreach (var alike in givings.GroupBy(g => g.Message))
            await Write(db, [.. alike], made, now, alike.Key.Length > 0 && why is not null ? why with { Message = alike.Key } : why);
        await FollowUps.Refresh(db, ids);
        return new OwnersAssigned(open, made);
    }

    private static Task Write(LanternDb db, OwnerAssignment[] givings, Dictionary<Guid, Guid> made, DateTime now, Why? why)
    {
        var ids = givings.Select(g => g.Lead).ToArray();
        var first = givings.Select(g => made.TryGetValue(g.Lead, out var task) ? task : (Guid?)null).ToArray();
        var urgents = givings.Select(g => g.Urgent).ToArray();
        var owners = givings.Select(g => g.Owner).ToArray();
        var tasks = givings.Select(g => g.Task).ToArray();
        var dues = givings.Select(g => g.Due).ToArray();
        return db.Run(
            $"""
            {EventLog.Because(why):sql};
            update lead l set owner_id = x.owner, version = version + 1, clock_started_at = case when x.owner is not null then {now} end, clock_due_at = case when l.state = 'new' then x.due end,
              clock_warned_at = null, clock_ran_out_at = null
              from unnest({ids}, {owners}, {dues}) x(id, owner, due) where l.id = x.id;
            update task t set owner_id = x.owner from unnest({ids}, {owners}) x(id, owner) where t.lead_id = x.id and t.done_at is null and x.owner is not null;
            insert into task (id, lead_id, owner_id, subject, due_at, urgent)
              select x.made, x.id, x.owner, x.task, x.due, x.urgent from unnest({first}, {ids}, {owners}, {dues}, {tasks}, {urgents}) x(made, id, owner, due, task, urgent) where x.made is not null;
            {EventLog.Because(null):sql};
            """
        );
    }
}
