using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Qualifying;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Qualifying;

/// <param name="Reason">Key of the reason, for a disqualified lead.</param>
/// <param name="WakeAt">For a lead on hold: when it wakes.</param>
/// <param name="Because">For a lead that is qualified though the threshold is not met: why, in up to 500 letters.</param>
/// <param name="LostTo">For a disqualified lead: who got it, a key of the list "competitors".</param>
public sealed record StateChange(
    [Text(100)] string State,
    [Text(100)] string? Reason = null,
    DateTime? WakeAt = null,
    [Text(500)] string? Because = null,
    [Text(100)] string? LostTo = null
);

/// <param name="SubState">Key in the list "sub_state", of the lead's state; null for none.</param>
public sealed record SubStateChange([Text(100)] string? SubState);

/// <summary>One answer as it is said; who wrote it down and when is added.</summary>
public sealed record QualificationAnswer(Certainty Certainty, [Text(500)] string Evidence, [Text(120)] string SaidBy = "", DateOnly? SaidOn = null);

/// <summary>Answers by question; a question left out stays as it is.</summary>
/// <param name="Pipeline">What the lead is qualified for; null to leave it.</param>
public sealed record Answers([Count(500)] Dictionary<string, QualificationAnswer> Findings, [Text(100)] string? Pipeline = null);

/// <summary>What was found out about a lead, and what it lacks.</summary>
public static class QualifyEndpoints
{
    public static void MapQualifying(this IEndpointRouteBuilder api)
    {
        var work = api.MapGroup("").Requires(Act.WorkLeads).WithTags("Leads");
        work.MapPut("/leads/{id}/state", Move).TakesTurns().WithSummary("Change the state (If-Match)");
        work.MapPut("/leads/{id}/sub-state", SetSubState).WithSummary("Put the lead in a sub-state of its state, or in none (If-Match)");
        work.MapPost("/leads/{id}/state/undo", Undo).WithSummary("Take the last change of state back, with the clock as it ran (If-Match)");
        work.MapPut("/leads/{id}/qualification", Qualify).WithSummary("Record what was found of need, budget, authority, timing and the pipeline's own questions (If-Match)");
    }

    /// <summary>The answers a lead has, as they are kept.</summary>
    public static Findings Read(string kept) => kept == "{}" ? [] : Json.Read<Findings>(kept);

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Qualify(
        Guid id,
        Answers body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries queries,
        LeadRescore rescore,
        Workspace workspace,
        TimeProvider clock
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await LeadEndpoints.WhyNot(db, id, user, request.Version()) is { } no)
            return ApiProblems.Of(no);
        var lead = await db.Set<Lead>().Where(l => l.Id == id).Select(l => new { l.Qualification, l.Pipeline }).SingleAsync();
        if (workspace.Pipeline(body.Pipeline ?? lead.Pipeline) is not { } pipeline)
            return ApiProblems.Of("pipeline-unknown", "pipeline");
        if (Wrong(body, pipeline.Questions.Select(q => q.Key)) is { } wrong)
            return ApiProblems.Of(wrong);
        var (findings, now, by) = (Read(lead.Qualification), clock.UtcNow(), await Person.NameOf(db, user.Id()));
        var told = new List<AnswerFound>();
        foreach (var question in pipeline.Questions.Where(q => body.Findings.ContainsKey(q.Key)))
        {
            var said = body.Findings[question.Key];
            var finding = new Finding(said.Certainty, FieldReader.Clean(said.Evidence), FieldReader.Clean(said.SaidBy), said.SaidOn, by, now);
            if (findings.Of(question.Key).Says(finding))
                continue;
            findings[question.Key] = finding;
            told.Add(new AnswerFound(question.Label.ToLowerInvariant(), finding.Certainty.ToString().ToLowerInvariant(), finding.Evidence));
        }
        var answers = Json.Write(findings);
        await db.Set<Lead>()
            .Where(l => l.Id == id)
            .ExecuteUpdateAsync(l =>
                l.SetProperty(x => x.Qualification, answers)
                    .SetProperty(x => x.Pipeline, x => body.Pipeline ?? x.Pipeline)
                    .SetProperty(x => x.Version, x => x.Version + 1)
                    .SetProperty(x => x.LastTouchAt, x => told.Count > 0 ? now : x.LastTouchAt)
            );
        if (told.Count > 0)
            await db.Log(EventLog.Lead, id, new FoundOut([.. told.Select(t => t.Question)], [.. told]));
        await rescore.Run(db, id, now);
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> SetSubState(
        Guid id,
        SubStateChange body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries queries,
        Workspace workspace
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await LeadEndpoints.WhyNot(db, id, user, request.Version()) is { } no)
            return ApiProblems.Of(no);
        var lead = await db.Set<Lead>().Where(l => l.Id == id).Select(l => new { l.State, l.SubState }).SingleAsync();
        var to = body.SubState is { Length: > 0 } key ? key : null;
        if (to is not null && (LeadState.StateOf(to) != lead.State || workspace.Value(PickList.SubStates, to) is null))
            return ApiProblems.Of("sub-state-unknown", "subState");
        if (to != lead.SubState)
        {
            await db.Set<Lead>().Where(l => l.Id == id).ExecuteUpdateAsync(l => l.SetProperty(x => x.SubStateSet, to).SetProperty(x => x.Version, x => x.Version + 1));
            await db.Log(EventLog.Lead, id, FactsChanged.Of([new ChangedFact(LeadState.SubState, lead.SubState, to)]));
        }
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    private static Problem? Wrong(Answers body, IEnumerable<string> questions)
    {
        if (body.Findings.Keys.Except(questions).FirstOrDefault() is { } unknown)
            return Problem.Of("question-unknown", unknown, unknown);
        foreach (var (key, said) in body.Findings)
        {
            if (said is null || (said.Evidence ?? "").Length > Finding.LongestEvidence)
                return Problem.Of("finding-unreadable", key, Finding.LongestEvidence);
            if ((said.SaidBy ?? "").Length > Finding.LongestName)
                return Problem.Of("said-by-too-long", key, Finding.LongestName);
            if (said.Certainty == Certainty.Confirmed && string.IsNullOrWhiteSpace(said.Evidence))
                return Problem.Of("evidence-missing", key);
        }
        return null;
    }

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Move(
        Guid id,
        StateChange body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries queries,
        Workspace workspace,
        Rerouter rerouter,
        TimeProvider clock
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var asked = body.State == LeadState.Qualified && (await workspace.Rules(db)).Router.AskedAt(RoutingMoment.Qualified);
        if (asked)
            await Admission.Lock(db);
        if (await LeadEndpoints.WhyNot(db, id, user, request.Version()) is { } no)
            return ApiProblems.Of(no);
        var lead = await db.Set<Lead>().Where(l => l.Id == id).Select(l => new { l.State, l.Pipeline }).SingleAsync();
        if (!LeadState.MayMove(lead.State, body.State))
            return ApiProblems.Of("state-unfit", "state");
        var (now, reasons) = (clock.UtcNow(), workspace.List(PickList.Reasons));
        var missing = body.State == LeadState.Qualified ? await Missing(db, id, lead.Pipeline, workspace, now) : [];
        var because = FieldReader.Clean(body.Because ?? "");
        if (missing.Count > 0 && WhyNoException(because, user, missing) is { } refused)
            return ApiProblems.Of(refused);
        var wakes = body.WakeAt?.ToUniversalTime();
        if (LeadState.Lacks(body.State, body.Reason, wakes?.ToInstant(), reasons, now.ToInstant()) is { } lacks)
            return ApiProblems.Of(lacks);
        var competitor = body.State == LeadState.Disqualified ? workspace.Value(PickList.Competitors, body.LostTo) : null;
        if (body.State == LeadState.Disqualified && body.LostTo is not null && competitor is null)
            return ApiProblems.Of("competitor-unknown", "lostTo");
        var before = (await db.Database.SqlQueryRaw<string>($"select {StandingBefore} as \"Value\" from lead where id = {{0}}", id).ToListAsync()).Single();
        await new LeadMove(body.State, wakes, body.Reason, competitor?.Key, missing.Count > 0 ? because : null).Write(
            db,
            [id],
            now,
            new Why(Why.ByHand, missing.Count > 0 ? [.. missing] : null, Before: asked ? null : before)
        );
        if (asked)
            await rerouter.Run(db, [id], RoutingMoment.Qualified, again: true, now);
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    // What a change of state writes over, as it stood.
    private const string StandingBefore = """
        jsonb_build_object('version', version + 1, 'state', state, 'state_reason', state_reason, 'wake_at', wake_at, 'lost_to', lost_to, 'qualified_because', qualified_because,
          'clock_started_at', clock_started_at, 'clock_due_at', clock_due_at, 'clock_warned_at', clock_warned_at, 'last_touch_at', last_touch_at, 'answered_at', answered_at, 'answered_in_time', answered_in_time)::text
        """;

    // Only while nothing else has happened to the lead since: then everything is as it was, the clock and the story too.
    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Undo(Guid id, HttpRequest request, ClaimsPrincipal user, LanternDb db, LeadQueries queries)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await LeadEndpoints.WhyNot(db, id, user, request.Version()) is { } no)
            return ApiProblems.Of(no);
        var last = await db.Row<LastMove>(
            $"select e.id, e.personal->'why'->>'before' as before from event e where e.record = {id} and e.kind = 'state' order by e.at desc, e.id desc limit 1"
        );
        if (last?.Before is not { } before)
            return ApiProblems.Of(ChangedSince());
        await db.Run(EventLog.Because(new Why(Why.Undone, Undoes: last.Id)));
        var undone = await db.Run(
            $"""
              update lead l set version = l.version + 1, state = d->>'state', state_reason = d->>'state_reason', wake_at = (d->>'wake_at')::timestamptz, lost_to = d->>'lost_to',
                qualified_because = d->>'qualified_because', clock_started_at = (d->>'clock_started_at')::timestamptz, clock_due_at = (d->>'clock_due_at')::timestamptz,
                clock_warned_at = (d->>'clock_warned_at')::timestamptz, last_touch_at = (d->>'last_touch_at')::timestamptz,
                answered_at = (d->>'answered_at')::timestamptz, answered_in_time = (d->>'answered_in_time')::boolean
              from (select {before}::jsonb as d) x where l.id = {id} and l.version = (d->>'version')::int
            """
        );
        if (undone == 0)
            return ApiProblems.Of(ChangedSince());
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    private static Problem ChangedSince() => Problem.Of("changed-since");

    private sealed record LastMove(long Id, string? Before);

    private static async Task<IReadOnlyList<string>> Missing(LanternDb db, Guid id, string? pipeline, Workspace workspace, DateTime now) =>
        (workspace.Pipeline(pipeline) ?? workspace.Pipeline(null)) is { } asks
            ? asks.Threshold.Missing((await LeadStore.Load(db, id, workspace.Catalogue, now))!, now.ToInstant())
            : [];

    // Whoever may make an exception says why; whoever may not is told what is missing.
    private static Problem? WhyNoException(string because, ClaimsPrincipal user, IReadOnlyList<string> missing) =>
        because.Length == 0 || !user.May(Act.ExceptQualifying) ? Problem.Of("not-qualified", "state", new Whole(string.Join(" ", missing))) : null;
}
