using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads.Activities;

/// <summary>Something dated.</summary>
/// <param name="Kind">task, meeting, answer (a response clock) or wakes (a lead on hold).</param>
/// <param name="Id">Of the task, meeting or lead.</param>
/// <param name="Who">The name of the lead, or of the deal.</param>
/// <param name="Until">Where it ends; null for a moment.</param>
public sealed record FollowUpView(
    string Kind,
    Guid Id,
    Guid? LeadId,
    Guid? DealId,
    string Subject,
    string Who,
    DateTime At,
    DateTime? Until,
    Guid OwnerId,
    string Owner,
    bool Done,
    string? Repeat,
    bool Urgent
);

/// <summary>What is dated in a period, and what is overdue.</summary>
/// <param name="Overdue">Not done, and due before the period and before now; urgent ones, then the longest waiting first, at most 100.</param>
/// <param name="AllOverdue">How many there are.</param>
public sealed record FollowUpsView(IReadOnlyList<FollowUpView> Items, IReadOnlyList<FollowUpView> Overdue, int AllOverdue);

/// <summary>Follow-ups: a person's day, what is overdue, and the calendar.</summary>
public static class FollowUpEndpoints
{
    private const int Most = 2000;
    private const int MostOverdue = 100;
    private static readonly TimeSpan LongestPeriod = TimeSpan.FromDays(62);

    // Everything dated of one person, or of all where that is null.
    private static SqlText Dated(DateTime from, DateTime to, Guid? who, RecordScope scope) =>
        $"""
            select 'task' as kind, t.id, t.lead_id, t.deal_id, t.subject, coalesce(case when l.id is not null then {scope.LeadName("l"):sql} end, d.name, '') as who,
              t.due_at as at, null::timestamptz as until, t.owner_id, p.display_name as owner, t.done_at is not null as done, t.repeat, t.urgent
              from task t join person p on p.id = t.owner_id left join lead l on l.id = t.lead_id left join deal d on d.id = t.deal_id
              where t.due_at >= {from} and t.due_at < {to} and ({who} is null or t.owner_id = {who})
                and {scope.SeesTied("lead", "t.lead_id"):sql} and {scope.SeesTied("deal", "t.deal_id"):sql}
            union all
            select 'meeting', m.id, m.lead_id, null, m.subject, {scope.LeadName("l"):sql}, m.starts_at, m.ends_at, x.person, p.display_name,
              m.result is not null, null, false
              from meeting m join lead l on l.id = m.lead_id cross join lateral unnest(case when cardinality(m.people) = 0 then array[m.made_by] else m.people end) x(person) join person p on p.id = x.person
              where m.cancelled_at is null and m.starts_at < {to} and m.ends_at >= {from} and ({who} is null or x.person = {who}) and {scope.Sees("lead", "l"):sql}
            union all
            select 'wakes', l.id, l.id, null, 'Wakes from being on hold', {scope.LeadName("l"):sql}, l.wake_at, null, l.owner_id, p.display_name, false, null, false
              from lead l join person p on p.id = l.owner_id where l.wake_at >= {from} and l.wake_at < {to} and ({who} is null or l.owner_id = {who})
                and {scope.Sees("lead", "l"):sql}
            """;

    public static void MapFollowUps(this IEndpointRouteBuilder api) =>
        api.MapGet("/follow-ups", Read).Requires(Act.SeeLeads).WithTags("Follow-ups").WithSummary("What is dated in a period, and what is overdue");

    // Who works only their own sees only their own.
    private static async Task<Results<Ok<FollowUpsView>, ProblemHttpResult>> Read(
        DateTime from,
        DateTime to,
        string? who,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        TimeProvider clock
    )
    {
        if (to <= from || to - from > LongestPeriod)
            return ApiProblems.Of("period-too-long", "to", 62);
        Guid? whose =
            who == "all" && !user.WorksOwnOnly() ? null
            : Guid.TryParse(who, out var other) && !user.WorksOwnOnly() ? other
            : user.Id();
        var (now, start) = (clock.UtcNow(), from.ToUniversalTime());
        var until = start < now ? start : now;
        var items = await Of(db, start, to.ToUniversalTime(), whose, scope);
        var overdue = await db.Rows<FollowUpView>(
            $"select * from ({Dated(DateTime.UnixEpoch, until, whose, scope):sql}) x where kind = 'task' and not done order by urgent desc, at limit {MostOverdue}"
        );
        var all =
            overdue.Count < MostOverdue
                ? overdue.Count
                : await db.One<int>(
                    $"""
                    select count(*)::int as "Value" from task t where t.done_at is null and t.due_at < {until} and ({whose} is null or t.owner_id = {whose})
                      and {scope.SeesTied("lead", "t.lead_id"):sql} and {scope.SeesTied("deal", "t.deal_id"):sql}
                    """
                );
        return TypedResults.Ok(new FollowUpsView(items, overdue, all));
    }

    /// <summary>What is dated in a period, in order.</summary>
    public static async Task<List<FollowUpView>> Of(LanternDb db, DateTime from, DateTime to, Guid? who, RecordScope scope) =>
        await db.Rows<FollowUpView>($"select * from ({Dated(from, to, who, scope):sql}) x order by at, id limit {Most}");
}
