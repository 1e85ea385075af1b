using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Rights;

/// <param name="Word">What is said with it.</param>
public sealed record AskOrder([Text(300)] string Word = "");

/// <param name="How">shared, given or declined.</param>
/// <param name="Word">What is said with it.</param>
public sealed record AskAnswerOrder([Text(20)] string How, [Text(300)] string Word = "");

/// <summary>A record that somebody asked for.</summary>
/// <param name="Record">Its id where the reader sees it; null else.</param>
/// <param name="Name">What it goes by; only that it is known where the reader does not see it.</param>
/// <param name="Other">Whoever asked, or whoever is asked.</param>
/// <param name="Outcome">shared, given or declined; null while it is open.</param>
public sealed record AskLine(Guid Id, string Kind, Guid? Record, string Name, string Other, string Word, DateTime AskedAt, string? Outcome, DateTime? AnsweredAt);

/// <param name="Mine">Asked of the reader, or of those who give out what nobody owns; the open ones first.</param>
/// <param name="Own">What the reader asked for.</param>
public sealed record AsksView(IReadOnlyList<AskLine> Mine, IReadOnlyList<AskLine> Own);

/// <summary>How often somebody was told of records that they do not see, and what came of it.</summary>
public sealed record KnownCount(string Person, int Told, int Asked, int Shared, int Given, int Declined, DateTime LastAt);

/// <summary>Asking for records that one was told of, and answering.</summary>
internal static class KnownEndpoints
{
    private const int Most = 100;

    public static void MapKnown(this IEndpointRouteBuilder api)
    {
        var known = api.MapGroup("/known").Requires(Act.SeeDesk).WithTags("Rights");
        known.MapGet("", List).WithSummary("What was asked of the caller, and what they asked for");
        known.MapPost("/{id:guid}/ask", Ask).WithSummary("Ask for a record that one was told of");
        known.MapPost("/{id:guid}/answer", Answer).WithSummary("Share a record with whoever asked, give it to them, or decline");
        known.MapPost("/{id:guid}/undo", Undo).WithSummary("Take one's answer back");
        api.MapGet("/setup/known", Counts).Requires(Act.ManagePeople).WithTags("People").WithSummary("How often people were told of records that they do not see, in 30 days");
    }

    private static async Task<Ok<AsksView>> List(ClaimsPrincipal user, LanternDb db, RecordScope scope) => TypedResults.Ok(await View(user, db, scope));

    private static async Task<AsksView> View(ClaimsPrincipal user, LanternDb db, RecordScope scope)
    {
        var me = user.Id();
        var gives = user.May(Act.GiveLeads);
        return new AsksView(
            await db.Rows<AskLine>(
                $"""
                select k.id, r.kind, r.id as record, r.name, p.display_name as other, k.word, k.asked_at, k.outcome, k.answered_at from known_answer k join person p on p.id = k.person_id
                join lateral ({Records(scope):sql}) r on true
                where k.asked_at is not null and k.person_id <> {me} and (r.owner = {me} or r.owner is null and {gives} or k.answered_by_id = {me})
                order by k.outcome is not null, k.asked_at desc, k.id limit {Most}
                """
            ),
            await db.Rows<AskLine>(
                $"""
                select k.id, case when k.lead_id is not null then 'lead' when k.contact_id is not null then 'contact' else 'account' end as kind, r.id as record, coalesce(r.name, '') as name,
                  coalesce(p.display_name, '') as other, k.word, k.asked_at, k.outcome, k.answered_at
                from known_answer k left join lateral ({Records(scope):sql}) r on true
                left join person p on p.id = (select owner_id from lead where id = k.lead_id union all select owner_id from contact where id = k.contact_id union all select owner_id from account where id = k.account_id)
                where k.asked_at is not null and k.person_id = {me} order by k.asked_at desc, k.id limit {Most} {RecordScope.Unscoped("with whom it is was told before"):sql}
                """
            )
        );
    }

    // The record of an answer, where the reader sees it.
    private static SqlText Records(RecordScope scope) =>
        $"""
            select 'lead' as kind, l.id, {scope.LeadName("l"):sql} as name, l.owner_id as owner from lead l where l.id = k.lead_id and {scope.Sees("lead", "l"):sql}
            union all select 'contact', c.id, {scope.ContactName("c"):sql}, c.owner_id from contact c where c.id = k.contact_id and {scope.Sees("contact", "c"):sql}
            union all select 'account', a.id, a.name, a.owner_id from account a where a.id = k.account_id and {scope.Sees("account", "a"):sql}
            """;

    private static async Task<Results<Ok<AsksView>, ProblemHttpResult>> Ask(Guid id, AskOrder body, ClaimsPrincipal user, LanternDb db, RecordScope scope, KnownDesk desk) =>
        await After(await desk.Ask(user, id, body.Word), user, db, scope);

    private static async Task<Results<Ok<AsksView>, ProblemHttpResult>> Answer(
        Guid id,
        AskAnswerOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        KnownDesk desk
    ) => await After(await desk.Answer(user, id, body.How, body.Word), user, db, scope);

    private static async Task<Results<Ok<AsksView>, ProblemHttpResult>> Undo(Guid id, ClaimsPrincipal user, LanternDb db, RecordScope scope, KnownDesk desk) =>
        await After(await desk.Undo(user, id), user, db, scope);

    // The questions as they are after an act, or why it was not done.
    private static async Task<Results<Ok<AsksView>, ProblemHttpResult>> After(Problem? problem, ClaimsPrincipal user, LanternDb db, RecordScope scope) =>
        problem is null ? TypedResults.Ok(await View(user, db, scope)) : ApiProblems.Of(problem);

    private static async Task<Ok<List<KnownCount>>> Counts(LanternDb db, TimeProvider clock) =>
        TypedResults.Ok(
            await db.Rows<KnownCount>(
                $"""
                select p.display_name as person, sum(k.times)::int as told, count(k.asked_at)::int as asked, count(*) filter (where k.outcome = 'shared')::int as shared,
                  count(*) filter (where k.outcome = 'given')::int as given, count(*) filter (where k.outcome = 'declined')::int as declined, max(k.last_at) as last_at
                from known_answer k join person p on p.id = k.person_id where k.last_at > {clock.UtcNow().AddDays(-30)} group by p.id order by told desc, p.display_name limit 200
                """
            )
        );
}
