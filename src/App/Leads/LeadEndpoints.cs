using System.Runtime.CompilerServices;
using System.Security.Claims;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Intake;
using DapperLantern.App.Rights;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Leads.Activities;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads;

/// <summary>Labels of what was filled; none when the directory does not know the company, or nothing was blank.</summary>
public sealed record FilledView(IReadOnlyList<string> Fields);

/// <summary>Facts as written by a person, by field key; blank empties a field.</summary>
public sealed record FactsChange([Count(1_000, Each = 10_000)] Dictionary<string, string> Facts);

/// <summary>A note, or a call.</summary>
/// <param name="Kind">note, call, or call_missed for a call that reached nobody.</param>
/// <param name="Outcome">Of a call, see <see cref="CallOutcome"/>; as the kind says, where null.</param>
/// <param name="Incoming">True where they called us.</param>
/// <param name="Minutes">How long the call was, 0 to 600.</param>
public sealed record NewTouch(
    [Text(100)] string Kind,
    [Text(10_000)] string Text,
    [Text(100)] string? Outcome = null,
    bool Incoming = false,
    [Between(0, 600)] int? Minutes = null
);

/// <summary>What a call tells beside its text, as it is kept.</summary>
public sealed record CallDetail(string Outcome, bool Incoming, int? Minutes);

public sealed record OwnerChange(Guid? Owner);

public static class LeadEndpoints
{
    public const int LongestNote = 10_000;

    public static void MapLeads(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeLeads).WithTags("Leads");
        see.MapGet("/leads/{id}", Open).WithSummary("One lead whole");
        see.MapGet("/leads/{id:guid}/live", Live).WithSummary("A sign at each change of a lead (server-sent events)").ExcludeFromDescription();
        var work = api.MapGroup("").Requires(Act.WorkLeads).WithTags("Leads");
        work.MapPatch("/leads/{id}", Edit).WithSummary("Change facts (If-Match)");
        work.MapPost("/leads/{id}/touches", Touch).WithSummary("Record a note or a call");
        work.MapPost("/leads/{id}/look-up", LookUp).WithSummary("Fill blanks from the company directory");
        api.MapPut("/leads/{id}/owner", Give).Requires(Act.GiveLeads).WithTags("Leads").WithSummary("Give the lead to somebody");
    }

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Open(Guid id, ClaimsPrincipal user, LanternDb db, LeadQueries queries) =>
        await queries.Sheet(db, id, user) is { } sheet ? TypedResults.Ok(sheet) : ApiProblems.NotFound("lead");

    private static async Task<Results<ServerSentEventsResult<string>, ProblemHttpResult>> Live(
        Guid id,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        LeadLive live,
        Setup.SignIn.SessionWatcher sessions,
        CancellationToken cancel
    )
    {
        if (!await Sees())
            return ApiProblems.NotFound("lead");
        return TypedResults.ServerSentEvents(sessions.While(user, Act.SeeLeads, Signs, cancel), "changed");

        async Task<bool> Sees()
        {
            var sees = await scope.Of<Lead>(db).AnyAsync(l => l.Id == id, cancel);
            // The stream is open for hours; between signs it needs no connection.
            await db.Database.CloseConnectionAsync();
            return sees;
        }

        // A lead may go where the reader does not see it: that is the last change they are told of.
        async IAsyncEnumerable<string> Signs([EnumeratorCancellation] CancellationToken stop)
        {
            await foreach (var _ in live.Watch(id, stop))
            {
                var sees = await Sees();
                yield return "changed";
                if (!sees)
                    yield break;
            }
        }
    }

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Edit(
        Guid id,
        FactsChange body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries queries,
        LeadEditor editing,
        RecordScope scope,
        Workspace workspace,
        TimeProvider clock
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await WhyNot(db, id, user, request.Version()) is { } no)
            return ApiProblems.Of(no);
        if (await scope.Locks(db, EventLog.Lead, id, [.. body.Facts.Keys.Select(workspace.Catalogue.Find).OfType<FieldDefinition>()]) is { } locked)
            return ApiProblems.Of(locked);
        if (await editing.Change(db, id, body.Facts, user.Identity?.Name ?? "", user.Id(), clock.UtcNow()) is { } problem)
            return ApiProblems.Of(problem);
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    private static async Task<Results<Ok<FilledView>, ProblemHttpResult>> LookUp(Guid id, ClaimsPrincipal user, LanternDb db, LeadEditor editing, TimeProvider clock)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await WhyNot(db, id, user, null) is { } no)
            return ApiProblems.Of(no);
        var filled = await editing.LookUp(db, id, clock.UtcNow());
        await transaction.CommitAsync();
        return TypedResults.Ok(new FilledView(filled));
    }

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Touch(
        Guid id,
        NewTouch body,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries queries,
        LeadRescore rescore,
        TimeProvider clock
    )
    {
        if (body.Kind is not ("note" or "call" or "call_missed"))
            return ApiProblems.Of("touch-unknown", "kind");
        var text = (body.Text ?? "").Trim();
        if (text.Length == 0 && body.Kind == "note")
            return ApiProblems.Of("text-missing", "text", LongestNote);
        var outcome = body.Kind == "note" ? null : body.Outcome ?? (body.Kind == "call" ? CallOutcome.Reached : "not_reached");
        if ((outcome is not null && CallOutcome.LabelOf(outcome) is null))
            return ApiProblems.Of("call-unfit", "outcome");
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await WhyNot(db, id, user, null) is { } no)
            return ApiProblems.Of(no);
        var now = clock.UtcNow();
        var kind =
            outcome is null ? "note"
            : outcome == CallOutcome.Reached ? "call"
            : "call_missed";
        await AppendActivity(db, id, kind, text, user, now, outcome is null ? null : Json.Write(new CallDetail(outcome, body.Incoming, body.Minutes)));
        await LeadLive.Changed(db, id);
        if (kind == "call")
        {
            string direction = body.Incoming ? LeadEvent.In : LeadEvent.Out;
            await db.Insert(
                new LeadEventRow
                {
                    Id = Guid.CreateVersion7(),
                    LeadId = id,
                    Kind = "call.reached",
                    At = now,
                    Detail = "",
                    Direction = direction,
                }
            );
            await rescore.Run(db, id, now);
        }
        if (body.Kind != "note")
            await StopClock(db, id, now);
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    /// <summary>Stops the response clock of a lead that was called or written to; a new one is in work from then on.</summary>
    internal static Task StopClock(LanternDb db, Guid id, DateTime now) =>
        db.Set<Lead>()
            .Where(l => l.Id == id)
            .ExecuteUpdateAsync(s =>
                s.SetProperty(l => l.ClockDueAt, (DateTime?)null)
                    .SetProperty(l => l.LastTouchAt, now)
                    .SetProperty(l => l.Version, l => l.Version + 1)
                    .SetProperty(l => l.State, l => l.State == LeadState.New ? LeadState.InWork : l.State)
            );

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Give(
        Guid id,
        OwnerChange body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries queries,
        Workspace workspace,
        TimeProvider clock
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await WhyNot(db, id, user, request.Version()) is { } no)
            return ApiProblems.Of(no);
        var now = clock.UtcNow();
        var to = await db.Set<Person>().AsNoTracking().Where(Person.HasAny(workspace.Roles.GivenLeads)).SingleOrDefaultAsync(p => p.Id == body.Owner && p.Here);
        if (body.Owner is not null && to is null)
            return ApiProblems.Of("worker-unknown", "owner");
        var sheet = (await workspace.Rules(db)).Router.Sheet;
        var due = workspace.AnswerDue(to?.Id, sheet, now);
        await OwnerAssigner.Give(db, [new OwnerAssignment(id, body.Owner, due, sheet.Task)], now, new Why(Why.ByHand));
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    /// <summary>Locks the lead and says why this person may not write it now; null when they may.</summary>
    public static async Task<Problem?> WhyNot(LanternDb db, Guid id, ClaimsPrincipal user, int? version)
    {
        var lead = await db.Row<LockedLead>($"select version, state, owner_id as owner from lead where id = {id} for update");
        if (lead is not { } found)
            return Problem.NotFound("lead");
        if (user.WorksOwnOnly() && found.Owner != user.Id())
            return new Problem("not-yours");
        if (found.State == LeadState.HandedOver)
            return Problem.Of("handed-over");
        return version is { } v && v != found.Version ? new Problem("stale") : null;
    }

    /// <summary>Why a lead is not laid out for this person, with all that is known of it, to be handed over or written to; null when it is. Nothing is locked.</summary>
    internal static async Task<Problem?> WhyNotLaidOut(LanternDb db, Guid id, ClaimsPrincipal user, RecordScope scope)
    {
        var lead = await scope.Of<Lead>(db).Where(l => l.Id == id).Select(l => new { l.OwnerId }).SingleOrDefaultAsync();
        return lead is null ? Problem.NotFound("lead")
            : user.WorksOwnOnly() && lead.OwnerId != user.Id() ? new Problem("not-yours")
            : null;
    }

    /// <summary>Writes what somebody typed into the lead's story.</summary>
    /// <param name="kind">note, call, call_missed, mail, message or meeting.</param>
    /// <param name="detail">JSON; see <see cref="StoryEntry.Detail"/>.</param>
    public static Task AppendActivity(LanternDb db, Guid lead, string kind, string text, ClaimsPrincipal user, DateTime now, string? detail = null) =>
        AppendActivity(db, lead, kind, text, user.Id(), now, detail);

    /// <param name="person">Who did it; null for the program itself.</param>
    public static Task AppendActivity(LanternDb db, Guid lead, string kind, string text, Guid? person, DateTime now, string? detail = null)
    {
        var id = Guid.CreateVersion7();
        return db.Run(
            SqlText.Joined([
                $"insert into story_entry (id, lead_id, at, kind, text, person_id, detail) values ({id}, {lead}, {now}, {kind}, {text}, {person}, {detail}::jsonb)",
                EventLog.Sql(EventLog.Lead, [lead], new Noted(id, kind, kind is "call" or "call_missed" && detail is not null ? Json.Read<CallDetail>(detail).Outcome : null)),
            ])
        );
    }

    private sealed record LockedLead(int Version, string State, Guid? Owner);
}
