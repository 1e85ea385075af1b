using Dapper;
using Npgsql;

namespace DapperLantern.App.Leads;

/// <summary>Keeps with each lead when its next step is due, so that lists need not look through a million tasks. Whoever writes tasks of leads calls this afterwards.</summary>
public static class FollowUps
{
    /// <summary>Brings the next step of these leads up to their open tasks.</summary>
    public static Task Refresh(NpgsqlConnection connection, IReadOnlyCollection<Guid> leads) =>
        leads.Count == 0
            ? Task.CompletedTask
            : connection.ExecuteAsync(
                """
                update lead l set next_step_at = t.due from (select k.id, min(t.due_at) as due from unnest(@leads) k(id) left join task t on t.lead_id = k.id and t.done_at is null group by k.id) t
                where l.id = t.id and l.next_step_at is distinct from t.due
                """,
                new { leads = leads as Guid[] ?? [.. leads] }
            );
}
