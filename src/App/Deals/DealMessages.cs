using System.Security.Claims;
using System.Security.Cryptography;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

/// <summary>A message to people on a deal by their parts in it.</summary>
/// <param name="Id">Chosen by the writer, so that a message sent twice goes once.</param>
/// <param name="Roles">Keys in the list "deal-roles": whoever has one of them gets it. Empty for everybody on the deal.</param>
/// <param name="Subject">May have fields of the contact, as {{ first_name }}; so may the text.</param>
/// <param name="Purpose">The purpose of consent it needs; null for an answer to what they asked.</param>
public sealed record DealMessage(
    Guid Id,
    [Count(100, Each = 100)] IReadOnlyList<string> Roles,
    [Text(200)] string Subject,
    [Text(10_000)] string Text,
    [Text(100)] string? Purpose = null
);

/// <summary>Somebody it did not go to, and why.</summary>
public sealed record NotWritten(string Name, string Why);

public sealed record DealMessageSent(IReadOnlyList<string> To, IReadOnlyList<NotWritten> Left);

/// <summary>Messages to the people with a part in a deal. Automations address them the same way.</summary>
public static class DealMessages
{
    public static void MapDealMessages(this IEndpointRouteBuilder api) =>
        api.MapPost("/deals/{id:guid}/messages", Send).Requires(Act.WorkDeals).WithTags("Deals").WithSummary("Send a message to the people with certain parts in a deal");

    private static async Task<Results<Ok<DealMessageSent>, ProblemHttpResult>> Send(
        Guid id,
        DealMessage body,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        Workspace workspace,
        TimeProvider clock
    )
    {
        if (MessageEndpoints.Unfit(body.Subject, body.Text) is { } wanting)
            return ApiProblems.Of(wanting);
        var message = new MessageTemplate("", "The message", body.Purpose, FieldReader.Clean(body.Subject!), body.Text!.Trim());
        if (MessageTemplates.Wrong(message, workspace.Catalogue) is { } unfit)
            return ApiProblems.Of(unfit with { Path = "text" });
        if ((body.Roles ?? []).FirstOrDefault(r => workspace.Value(PickList.Roles, r) is null) is { } role)
            return ApiProblems.Of("deal-role-unknown", "roles", role);
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (deal, no) = await DealEditor.Lock(db, id, user, null);
        if (no is not null)
            return ApiProblems.Of(no);
        var people = await PeopleWith(db, scope, id, [.. body.Roles ?? []]);
        if (people.Count == 0)
            return ApiProblems.Of("nobody-reached");
        var (to, left, now) = (new List<string>(), new List<NotWritten>(), clock.UtcNow());
        var me = await Writer.Of(db, user.Id());
        var made = 0;
        foreach (var person in people)
        {
            if (!person.IsSeen)
            {
                left.Add(new NotWritten(RecordScope.Unseen(EventLog.Contact), "your role does not show you this contact"));
                continue;
            }
            var facts = Json.ToRecord(person.Facts, workspace.Catalogue);
            if (await MessageEndpoints.WhyNot(db, facts, body.Purpose, workspace) is { } why)
            {
                left.Add(new NotWritten(person.Name, why.Words));
                continue;
            }
            to.Add(person.Name);
            made += await Put(db, me, body.Id, person.Id, await MessageTemplates.Fill(message, facts, me.Name), facts, now);
        }
        if (made > 0)
            await db.Log(
                EventLog.Deal,
                id,
                new Noted(await DealEditor.AppendActivity(db, deal!, "message", $"{message.Subject}, to {string.Join(", ", to)}\n{message.Text}", user.Id(), now), "message")
            );
        await transaction.CommitAsync();
        return TypedResults.Ok(new DealMessageSent(to, left));
    }

    /// <summary>The people on a deal who have one of the parts; everybody on it where none is named. Each once, and whether the sender sees them.</summary>
    internal static async Task<List<(Guid Id, string Name, string Facts, bool IsSeen)>> PeopleWith(LanternDb db, RecordScope scope, Guid deal, string[] roles)
    {
        var seen = scope.Of<Contact>(db);
        return (
            await db.Set<Contact>()
                .Where(c => db.Set<DealPersonRow>().Any(p => p.DealId == deal && p.ContactId == c.Id && (roles.Length == 0 || roles.Contains(p.Role))))
                .OrderBy(c => c.Name)
                .ThenBy(c => c.Id)
                .Select(c => new
                {
                    c.Id,
                    c.Name,
                    c.Facts,
                    IsSeen = seen.Any(x => x.Id == c.Id),
                })
                .ToListAsync()
        ).ConvertAll(c => (c.Id, c.Name, c.Facts, c.IsSeen));
    }

    // The same message to the same person is the same row, so it goes once.
    private static Task<int> Put(
        LanternDb db,
        Writer me,
        Guid message,
        Guid contact,
        (string Subject, string Text, IReadOnlyList<string> Missing) filled,
        RecordValues facts,
        DateTime now
    )
    {
        var id = new Guid(SHA256.HashData([.. message.ToByteArray(), .. contact.ToByteArray()]).AsSpan(0, 16));
        return db.Run(
            $"""
            insert into outbox (id, kind, to_email, language, subject, text, created_at, tries)
            values ({id}, 'message', {facts.Text("email")}, {facts.Text("language")}, {filled.Subject}, {me.Sign(filled.Text)}, {now}, 0) on conflict (id) do nothing
            """
        );
    }
}
