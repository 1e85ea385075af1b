using DapperLantern.App.Data;

namespace DapperLantern.App.Leads;

/// <summary>Keeps with each lead when its next step is due, a task or a meeting ahead, so that lists need not look through a million tasks. Whoever writes tasks of leads calls this afterwards.</summary>
public static class FollowUps
{
    /// <summary>Brings the next step of these leads up to their open tasks and the meetings nothing is said of yet.</summary>
    public static Task Refresh(LanternDb db, IReadOnlyCollection<Guid> leads)
    {
        if (leads.Count == 0)
            return Task.CompletedTask;
        Guid[] ids = leads as Guid[] ?? [.. leads];
        return db.Run(
            $"""
            update lead l set next_step_at = t.due from (
              select k.id, least(
                (select min(t.due_at) from task t where t.lead_id = k.id and t.done_at is null),
                (select min(m.starts_at) from meeting m where m.lead_id = k.id and m.cancelled_at is null and m.result is null)) as due from unnest({ids}) k(id)) t
            where l.id = t.id and l.next_step_at is distinct from t.due
            """
        );
    }
}
