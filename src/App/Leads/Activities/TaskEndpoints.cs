using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads.Activities;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.Leads.Activities;

/// <param name="Owner">Who does it; whoever plans it, where null.</param>
/// <param name="Repeat">"1w", "2m", "10d"; null for once.</param>
public sealed record TaskWrite([Text(1_000)] string Subject, DateTime DueAt, Guid? Owner = null, [Text(100)] string? Repeat = null);

/// <summary>What a press on Done did.</summary>
/// <param name="Next">The task that comes in its place, where it repeats.</param>
public sealed record TaskDone(Guid? Next);

/// <summary>Steps planned for a lead at once.</summary>
public sealed record StepsOrder([Text(100)] string Plan);

/// <summary>Next steps: planned, moved, done, taken back.</summary>
public static class TaskEndpoints
{
    private const int LongestSubject = 200;
    private const int MostSteps = 20;
    private static readonly TimeSpan Farthest = TimeSpan.FromDays(5 * 366);

    public static void MapTasks(this IEndpointRouteBuilder api)
    {
        var work = api.MapGroup("").Requires(Act.WorkLeads).WithTags("Follow-ups");
        work.MapPost("/leads/{id:guid}/tasks", Plan).WithSummary("Plan a next step");
        work.MapPost("/leads/{id:guid}/steps", PlanSteps).WithSummary("Plan the steps of a step plan");
        work.MapPut("/tasks/{id:guid}", Change).WithSummary("Change a next step");
        work.MapDelete("/tasks/{id:guid}", Drop).WithSummary("Drop a next step");
        work.MapPost("/tasks/{id:guid}/done", Done).WithSummary("Mark a next step done; one that repeats comes again");
        work.MapDelete("/tasks/{id:guid}/done", Reopen).WithSummary("Take that back");
        work.MapGet("/step-plans", Plans).WithSummary("Steps that usually follow one another");
        api.MapPut("/step-plans", KeepPlans).Requires(Act.SetUp).WithTags("Follow-ups").WithSummary("Change the step plans");
    }

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Plan(Guid id, TaskWrite body, ClaimsPrincipal user, LanternDb db, LeadQueries queries, TimeProvider clock)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await LeadEndpoints.WhyNot(db, id, user, null) is { } no)
            return ApiProblems.Of(no);
        if (await Wrong(db, body, user, clock) is { } wrong)
            return ApiProblems.Of(wrong);
        await Write(db, id, [(Guid.CreateVersion7(), body.Subject.Trim(), body.DueAt.ToUniversalTime(), body.Owner ?? user.Id(), body.Repeat)]);
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    private static async Task Write(LanternDb db, Guid lead, IReadOnlyList<(Guid Id, string Subject, DateTime Due, Guid Owner, string? Repeat)> tasks)
    {
        var subjects = tasks.Select(t => t.Subject).ToArray();
        var repeats = tasks.Select(t => t.Repeat).ToArray();
        var owners = tasks.Select(t => t.Owner).ToArray();
        await db.Run(
            $"insert into task (id, lead_id, owner_id, subject, due_at, repeat) select id, {lead}, owner, subject, due, repeat from unnest({tasks.Select(t => t.Id).ToArray()}, {owners}, {subjects}, {tasks.Select(t => t.Due).ToArray()}, {repeats}) t(id, owner, subject, due, repeat)"
        );
        await db.Log(EventLog.Lead, [.. tasks.Select(t => (lead, (Happening)new TaskPlanned(t.Id, t.Due, t.Owner, t.Subject)))]);
        await FollowUps.Refresh(db, [lead]);
        await LeadLive.Changed(db, lead);
    }

    /// <summary>What is wrong with a task; null when nothing.</summary>
    internal static async Task<Problem?> Wrong(LanternDb db, TaskWrite body, ClaimsPrincipal user, TimeProvider clock)
    {
        if ((body.Subject ?? "").Trim() is not { Length: > 0 and <= LongestSubject })
            return Problem.Of("subject-missing", "subject", LongestSubject);
        if (body.DueAt > clock.UtcNow() + Farthest || body.DueAt.Year < 2000)
            return Problem.Of("due-range", "dueAt");
        if (body.Repeat is not null && Repeat.Read(body.Repeat) is null)
            return Problem.Of("repeat-unknown", "repeat");
        if (body.Owner is { } owner && owner != user.Id())
        {
            if (user.WorksOwnOnly())
                return new Problem("not-yours");
            if (!await db.Set<Person>().AnyAsync(x => x.Id == owner))
                return Problem.Of("owner-unknown", "owner");
        }
        return null;
    }

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> PlanSteps(
        Guid id,
        StepsOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries queries,
        Workspace workspace,
        TimeProvider clock
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await LeadEndpoints.WhyNot(db, id, user, null) is { } no)
            return ApiProblems.Of(no);
        if ((await PlansOf(db)).FirstOrDefault(p => p.Key == body.Plan) is not { } plan)
            return ApiProblems.NotFound("step plan");
        var owner = await db.Set<Lead>().Where(l => l.Id == id).Select(l => l.OwnerId).SingleAsync() ?? user.Id();
        var hours = workspace.Hours[owner];
        var now = clock.UtcNow().ToInstant();
        await Write(
            db,
            id,
            [.. plan.Steps.Select(s => (Guid.CreateVersion7(), s.Subject, hours.After(now + Duration.FromDays(s.InDays), Duration.FromHours(1)).ToUtc(), owner, (string?)null))]
        );
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    // Locks a task and its lead, and says why this person may not write it; null when they may.
    private static async Task<(TaskRow? Task, Problem? No)> Lock(LanternDb db, Guid id, ClaimsPrincipal user)
    {
        var task = await db.Entity<TaskRow>($"select * from task where id = {id} for update");
        if (task is null)
            return (null, Problem.NotFound("task"));
        if (user.WorksOwnOnly() && task.OwnerId != user.Id())
            return (null, new Problem("not-yours"));
        return (task, null);
    }

    private static Task Log(LanternDb db, TaskRow task, Happening happening) => db.Log(task.LeadId, task.DealId, null, task.ContactId, happening);

    private static async Task Settle(LanternDb db, TaskRow task)
    {
        if (task.LeadId is not { } lead)
            return;
        await FollowUps.Refresh(db, [lead]);
        await LeadLive.Changed(db, lead);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Change(Guid id, TaskWrite body, ClaimsPrincipal user, LanternDb db, TimeProvider clock)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (task, no) = await Lock(db, id, user);
        if ((no ?? await Wrong(db, body, user, clock)) is { } wrong)
            return ApiProblems.Of(wrong);
        await db.Set<TaskRow>()
            .Where(x => x.Id == id)
            .ExecuteUpdateAsync(s =>
                s.SetProperty(x => x.Subject, body.Subject.Trim())
                    .SetProperty(x => x.DueAt, body.DueAt.ToUniversalTime())
                    .SetProperty(x => x.OwnerId, (body.Owner ?? task!.OwnerId))
                    .SetProperty(x => x.Repeat, body.Repeat)
            );
        await Log(db, task!, new TaskChanged(id, body.DueAt.ToUniversalTime(), body.Owner ?? task!.OwnerId, body.Subject.Trim()));
        await Settle(db, task!);
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Drop(Guid id, ClaimsPrincipal user, LanternDb db)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (task, no) = await Lock(db, id, user);
        if (no is not null)
            return ApiProblems.Of(no);
        await db.Set<TaskRow>().Where(x => x.Id == id).ExecuteDeleteAsync();
        await Log(db, task!, new TaskRemoved(id, task!.Subject));
        await Settle(db, task);
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<TaskDone>, ProblemHttpResult>> Done(Guid id, ClaimsPrincipal user, LanternDb db, TimeProvider clock)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (task, no) = await Lock(db, id, user);
        if (no is not null)
            return ApiProblems.Of(no);
        var now = clock.UtcNow();
        // A second press does nothing more.
        if (task!.DoneAt is not null)
            return TypedResults.Ok(new TaskDone(task.NextId));
        Guid? next = Repeat.Read(task.Repeat) is null ? null : Guid.CreateVersion7();
        await db.Set<TaskRow>().Where(x => x.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.DoneAt, now).SetProperty(x => x.NextId, next));
        if (next is not null)
            await db.Insert(
                new TaskRow
                {
                    Id = next.Value,
                    LeadId = task.LeadId,
                    DealId = task.DealId,
                    ContactId = task.ContactId,
                    OwnerId = task.OwnerId,
                    Subject = task.Subject,
                    DueAt = await NextDue(db, task, now),
                    Repeat = task.Repeat,
                }
            );
        await Log(db, task, new TaskFinished(id, true, task.Subject));
        await Settle(db, task);
        await transaction.CommitAsync();
        return TypedResults.Ok(new TaskDone(next));
    }

    private static async Task<DateTime> NextDue(LanternDb db, TaskRow task, DateTime now)
    {
        var zone = await db.Set<Person>().Where(x => x.Id == task.OwnerId).Select(x => x.TimeZone).SingleAsync();
        return Repeat.Read(task.Repeat)!.Next(task.DueAt.ToInstant(), now.ToInstant(), LeadAsk.ZoneOf(zone)).ToUtc();
    }

    // The one that came in its place goes, unless it is done too.
    private static async Task<Results<NoContent, ProblemHttpResult>> Reopen(Guid id, ClaimsPrincipal user, LanternDb db)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (task, no) = await Lock(db, id, user);
        if (no is not null)
            return ApiProblems.Of(no);
        await db.Set<TaskRow>().Where(t => t.Id == task!.NextId && t.DoneAt == null).ExecuteDeleteAsync();
        await db.Set<TaskRow>().Where(t => t.Id == id).ExecuteUpdateAsync(s => s.SetProperty(t => t.DoneAt, (DateTime?)null).SetProperty(t => t.NextId, (Guid?)null));
        await Log(db, task!, new TaskFinished(id, false, task!.Subject));
        await Settle(db, task);
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Ok<IReadOnlyList<StepPlan>>> Plans(LanternDb db) => TypedResults.Ok(await PlansOf(db));

    private static async Task<IReadOnlyList<StepPlan>> PlansOf(LanternDb db) => await SetupEntries.Read<List<StepPlan>>(db, StepPlan.Entry) ?? StepPlan.Usual;

    private static async Task<Results<NoContent, ProblemHttpResult>> KeepPlans(List<StepPlan> body, LanternDb db)
    {
        if (body.Count > MostSteps || body.Any(p => FieldReader.Clean(p.Label).Length == 0 || p.Key.Length is 0 or > 60 || p.Steps.Count is 0 or > MostSteps))
            return ApiProblems.Of("plan-unfit", "plans", MostSteps);
        if (body.SelectMany(p => p.Steps).Any(s => s.InDays is < 0 or > 730 || FieldReader.Clean(s.Subject) is not { Length: > 0 and <= LongestSubject }))
            return ApiProblems.Of("step-unfit", "plans");
        if (body.DistinctBy(p => p.Key).Count() != body.Count)
            return ApiProblems.Of("plan-twice", "plans");
        await SetupEntries.Save(db, StepPlan.Entry, Json.Write(body));
        return TypedResults.NoContent();
    }
}
