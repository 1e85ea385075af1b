using System.Security.Claims;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads.Activities;

/// <param name="Template">Key of a template.</param>
public sealed record DraftOrder([Text(100)] string Template);

/// <summary>A message filled from a template, to be looked over.</summary>
/// <param name="Missing">Labels of facts the template names and nobody knows.</param>
/// <param name="MayNot">Why they must not be written to for this; null when they may.</param>
public sealed record DraftView(string? To, string Subject, string Text, IReadOnlyList<string> Missing, string? MayNot);

/// <param name="Id">Chosen by the writer, so that a message sent twice goes once.</param>
/// <param name="Template">The template it was made from, whose purpose of consent is checked again; null for a message of one's own.</param>
public sealed record MessageWrite(Guid Id, [Text(200)] string Subject, [Text(10_000)] string Text, [Text(100)] string? Template = null);

/// <summary>A message of the outbox.</summary>
/// <param name="SentAt">When it left; null while it waits.</param>
/// <param name="NextAt">When it is tried again; null for at once, or where it is not.</param>
/// <param name="GivenUpAt">When it was given up; it waits for a person.</param>
/// <param name="Problem">Why the last try failed.</param>
public sealed record SentView(
    Guid Id,
    string To,
    string Subject,
    string Text,
    DateTime CreatedAt,
    DateTime? SentAt,
    int Tries,
    DateTime? NextAt,
    DateTime? GivenUpAt,
    string? Problem,
    Guid? LeadId
);

/// <summary>Messages to a lead: filled from a template, looked over, sent through the outbox; never to whom we must not write.</summary>
public static class MessageEndpoints
{
    private const int LongestSubject = 200;
    private const int MostTemplates = 60;
    private const int Shown = 200;

    public static void MapMessages(this IEndpointRouteBuilder api)
    {
        var work = api.MapGroup("").Requires(Act.WorkLeads).WithTags("Messages");
        work.MapGet("/message-templates", Templates).WithSummary("Templates of messages");
        work.MapPost("/leads/{id:guid}/messages/draft", Draft).WithSummary("Fill a template with a lead's facts");
        work.MapPost("/leads/{id:guid}/messages", Send).WithSummary("Send a message to a lead");
        var setUp = api.MapGroup("").Requires(Act.SetUp).WithTags("Messages");
        setUp.MapPut("/message-templates", KeepTemplates).WithSummary("Change the templates");
        setUp.MapPost("/outbox/{id:guid}/send-again", SendAgain).WithSummary("Try a message again that waits or was given up");
        setUp.MapGet("/outbox", Sent).WithSummary("What was sent, and what waits to be");
    }

    private static async Task<Ok<IReadOnlyList<MessageTemplate>>> Templates(LanternDb db) => TypedResults.Ok(await MessageTemplates.All(db));

    private static async Task<Results<NoContent, ProblemHttpResult>> KeepTemplates(List<MessageTemplate> body, LanternDb db, Workspace workspace)
    {
        if (body.Count > MostTemplates || body.DistinctBy(t => t.Key).Count() != body.Count)
            return ApiProblems.Of("templates-unfit", "templates", MostTemplates);
        foreach (var template in body)
            if ((Unfit(template, workspace) ?? MessageTemplates.Wrong(template, workspace.Catalogue)) is { } unfit)
                return ApiProblems.Of(unfit, "templates");
        await MessageTemplates.Save(db, body);
        return TypedResults.NoContent();
    }

    private static Problem? Unfit(MessageTemplate template, Workspace workspace) =>
        LengthOf(template.Label) is 0 or > LongestSubject || LengthOf(template.Subject) is 0 or > LongestSubject || template.Text.Trim().Length is 0 or > LeadEndpoints.LongestNote
            ? new Problem("template-empty")
        : template.Purpose is not null && workspace.ConsentPurposes.All(p => p.Key != template.Purpose) ? Problem.Of("purpose-unknown", "", template.Purpose)
        : null;

    private static int LengthOf(string? text) => FieldReader.Clean(text).Length;

    private static async Task<Results<Ok<DraftView>, ProblemHttpResult>> Draft(Guid id, DraftOrder body, ClaimsPrincipal user, LanternDb db, RecordScope scope, Workspace workspace)
    {
        if (await LeadEndpoints.WhyNotLaidOut(db, id, user, scope) is { } no)
            return ApiProblems.Of(no);
        if (await LeadStore.Load(db, id, workspace.Catalogue) is not { } facts)
            return ApiProblems.NotFound("lead");
        if ((await MessageTemplates.All(db)).FirstOrDefault(t => t.Key == body.Template) is not { } template)
            return ApiProblems.NotFound("template");
        var mayNot = await WhyNot(db, facts, template.Purpose, workspace);
        // What is kept from the writer is not told by a draft.
        scope.HideIn(facts, await scope.ShowsContactDataOf(db, EventLog.Lead, id));
        var me = await Writer.Of(db, user.Id());
        var (subject, text, missing) = await MessageTemplates.Fill(template, facts, me.Name);
        return TypedResults.Ok(new DraftView(facts.Text("email"), subject, me.Sign(text), missing, mayNot?.Words));
    }

    /// <summary>Why somebody must not be written to for a purpose; null when they may. Consent is looked up each time: it may have been withdrawn since the draft.</summary>
    internal static async Task<Problem?> WhyNot(LanternDb db, RecordValues facts, string? purpose, Workspace workspace)
    {
        if (facts.Text("email") is null)
            return new Problem("no-email");
        var keys = PersonKeys.Of(workspace.Hashes, facts);
        var book = await ConsentBook.Load(db, [keys]);
        if (book.IsBarred(keys))
            return new Problem("do-not-contact");
        if (purpose is null)
            return null;
        var label = workspace.ConsentPurposes.FirstOrDefault(p => p.Key == purpose)?.Label ?? purpose;
        return book.StateOf(keys, purpose) switch
        {
            "given" => null,
            "withdrawn" => Problem.Of("consent-withdrawn", "", label),
            _ => Problem.Of("consent-not-known", "", label),
        };
    }

    /// <summary>What a message lacks before it can be sent; null when nothing.</summary>
    internal static Problem? Unfit(string? subject, string? text) =>
        LengthOf(subject) is 0 or > LongestSubject ? Problem.Of("subject-missing", "subject", LongestSubject)
        : (text ?? "").Trim().Length is 0 or > LeadEndpoints.LongestNote ? Problem.Of("text-missing", "text", LeadEndpoints.LongestNote)
        : null;

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Send(
        Guid id,
        MessageWrite body,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries queries,
        Workspace workspace,
        TimeProvider clock
    )
    {
        if (Unfit(body.Subject, body.Text) is { } unfit)
            return ApiProblems.Of(unfit);
        var (subject, text) = (FieldReader.Clean(body.Subject), (await Writer.Of(db, user.Id())).Sign(body.Text.Trim()));
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await LeadEndpoints.WhyNot(db, id, user, null) is { } no)
            return ApiProblems.Of(no);
        var facts = (await LeadStore.Load(db, id, workspace.Catalogue))!;
        var template = (await MessageTemplates.All(db)).FirstOrDefault(t => t.Key == body.Template);
        if (body.Template is not null && template is null)
            return ApiProblems.NotFound("template");
        if (await WhyNot(db, facts, template?.Purpose, workspace) is { } mayNot)
            return ApiProblems.Of("may-not-write", "", mayNot);
        var now = clock.UtcNow();
        var made = await db.Run(
            $"""
            insert into outbox (id, kind, to_email, language, lead_id, subject, text, created_at, tries)
            values ({body.Id}, 'message', {facts.Text("email")}, {facts.Text("language")}, {id}, {subject}, {text}, {now}, 0) on conflict (id) do nothing
            """
        );
        if (made > 0)
        {
            await LeadEndpoints.AppendActivity(db, id, "message", $"{subject}\n{text}", user, now);
            await LeadEndpoints.StopClock(db, id, now);
        }
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    // Begins anew: three more days of tries.
    private static async Task<Results<NoContent, ProblemHttpResult>> SendAgain(Guid id, LanternDb db, TimeProvider clock) =>
        await db.Set<OutboxRow>()
            .Where(o => o.Id == id && o.SentAt == null)
            .ExecuteUpdateAsync(s =>
                s.SetProperty(o => o.GivenUpAt, (DateTime?)null)
                    .SetProperty(o => o.NextAt, clock.UtcNow())
                    .SetProperty(o => o.CreatedAt, o => o.GivenUpAt == null ? o.CreatedAt : clock.UtcNow())
                    .SetProperty(o => o.Tries, 0)
                    .SetProperty(o => o.Problem, (string?)null)
            ) == 0
            ? ApiProblems.NotFound("message that waits")
            : TypedResults.NoContent();

    private static async Task<Ok<List<SentView>>> Sent(ClaimsPrincipal user, LanternDb db) => TypedResults.Ok((
                await db.Rows<SentView>(
                    $"""
                    select o.id, coalesce(p.display_name, o.to_email, '') as "to", o.subject, case when o.kind = {OutboxRow.WayIn} then '' else o.text end as text, o.created_at, o.sent_at, o.tries, o.next_at, o.given_up_at, o.problem, o.lead_id
                    from outbox o left join person p on p.id = o.person_id order by o.given_up_at is null, o.created_at desc limit {Shown}
                    """
                )
            ).Select(m => m with { Text = MomentText.Shown(m.Text, user.Zone()) }).ToList());
}
