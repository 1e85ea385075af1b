using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Due;

/// <summary>Work that failed.</summary>
/// <param name="Work">What was to be done, in words.</param>
/// <param name="Name">Name of the record.</param>
/// <param name="NextAt">When it is tried again; null where it was given up.</param>
public sealed record FailedWork(string Kind, Guid Key, string Work, string Name, string Problem, int Tries, DateTime? NextAt, DateTime? GivenUpAt);

/// <summary>Work of the program that failed: seen, tried again, or left out by hand.</summary>
public static class DueEndpoints
{
    private const int Shown = 200;

    public static void MapDue(this IEndpointRouteBuilder api)
    {
        var due = api.MapGroup("/failed-work").Requires(Act.SeeLog).WithTags("Failed work");
        due.MapGet("", List).WithSummary("Work that failed, given up first");
        due.MapPost("/{kind}/{key:guid}/again", Again).WithSummary("Try it again now");
        due.MapPost("/{kind}/{key:guid}/leave", Leave).WithSummary("Leave it out: it is not tried any more");
    }

    private static async Task<Ok<List<FailedWork>>> List(LanternDb db, DueWorks works)
    {
        var rows = await db.Rows<Row>(
            $"""
            select d.kind, d.key, coalesce({LeadRecord.NameSql:sql}, 'one that is gone') as name, coalesce(d.problem, '') as problem, d.tries, d.at, d.given_up_at
            from due d left join event e on {IsOf($"d.key"):sql} left join lead on lead.id in (d.key, e.record) where d.tries > 0 order by d.given_up_at is null, d.at limit {Shown}
            """
        );
        return TypedResults.Ok(
            rows.ConvertAll(r => new FailedWork(r.Kind, r.Key, works.Words(r.Kind), r.Name, r.Problem, r.Tries, r.GivenUpAt is null ? r.At : null, r.GivenUpAt))
        );
    }

    private static Task<Results<NoContent, ProblemHttpResult>> Again(string kind, Guid key, LanternDb db, DueWorks works, TimeProvider clock) =>
        Settle(
            db,
            works,
            kind,
            key,
            again: true,
            due => due.ExecuteUpdateAsync(s => s.SetProperty(d => d.At, clock.UtcNow()).SetProperty(d => d.Tries, 0).SetProperty(d => d.GivenUpAt, (DateTime?)null))
        );

    private static Task<Results<NoContent, ProblemHttpResult>> Leave(string kind, Guid key, LanternDb db, DueWorks works) =>
        Settle(db, works, kind, key, again: false, due => due.ExecuteDeleteAsync());

    private static async Task<Results<NoContent, ProblemHttpResult>> Settle(
        LanternDb db,
        DueWorks works,
        string kind,
        Guid key,
        bool again,
        Func<IQueryable<DueRow>, Task<int>> act
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await act(db.Set<DueRow>().Where(d => d.Kind == kind && d.Key == key && d.Tries > 0)) == 0)
            return ApiProblems.NotFound("failed work");
        var of = await db.Row<Guid?>($"""select e.record as "Value" from event e where {IsOf($"{key}"):sql}""");
        await db.Log(EventLog.Lead, of ?? key, new FailedWorkSettled(works.Words(kind), again));
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    // Is the event e the one that waits under the key?
    private static SqlText IsOf(SqlText key) => $"e.at = event_moment({key:sql}) and event_key(e.at, e.id) = {key:sql}";

    private sealed record Row
    {
        public string Kind { get; init; } = "";
        public Guid Key { get; init; }
        public string Name { get; init; } = "";
        public string Problem { get; init; } = "";
        public int Tries { get; init; }
        public DateTime At { get; init; }
        public DateTime? GivenUpAt { get; init; }
    }
}
