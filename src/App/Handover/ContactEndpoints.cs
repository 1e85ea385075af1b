using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

/// <summary>A contact in the directory.</summary>
public sealed record ContactItem(Guid Id, string Name, string? JobTitle, string? Email, string? Phone, string Kind, Guid? AccountId, string? AccountName, string? OwnerName);

/// <param name="Next">Where the next page begins; null at the end.</param>
public sealed record ContactPage(IReadOnlyList<ContactItem> Contacts, string? Next);

/// <param name="Id">Of the membership; empty for the account that is the contact's first.</param>
/// <param name="Until">Null while it lasts.</param>
public sealed record ContactAccount(Guid Id, Guid AccountId, string Name, string Title, DateOnly? Since, DateOnly? Until);

/// <param name="State">given, withdrawn, or unknown where nobody asked.</param>
public sealed record ContactConsent(string Purpose, string Label, string State);

/// <summary>A deal with the part the contact has in it.</summary>
public sealed record ContactDeal(Guid Id, string Name, string StageName, string Counts, decimal Amount, string Currency, DateOnly ExpectedClose, IReadOnlyList<string> Roles);

/// <summary>A lead that became the contact.</summary>
public sealed record ContactLead(Guid Id, int Number, string Name, DateTime At);

public sealed record ContactSheet(
    Guid Id,
    string Name,
    string Kind,
    string? KindName,
    string? JobTitle,
    Guid? OwnerId,
    string? OwnerName,
    ContactRef? ReportsTo,
    IReadOnlyList<ContactRef> Reports,
    IReadOnlyList<ContactAccount> Accounts,
    IReadOnlyList<ContactConsent> Consents,
    bool Barred,
    IReadOnlyList<ContactDeal> Deals,
    IReadOnlyList<ContactLead> Leads,
    IReadOnlyList<string> Tags,
    IReadOnlyList<StoryView> Story
);

/// <summary>A contact named with another.</summary>
public sealed record ContactRef(Guid Id, string Name);

/// <summary>What to change; null leaves it.</summary>
/// <param name="Kind">Key in the list "contact-kinds"; empty for none.</param>
/// <param name="ReportsTo">Another contact; its own id for nobody.</param>
/// <param name="Account">The account it belongs to from now on; the one before is remembered with today as its end.</param>
public sealed record ContactChange(
    [Text(100)] string? Kind = null,
    [property: OfRecord("contact")] Guid? ReportsTo = null,
    [property: OfRecord("account")] Guid? Account = null,
    Guid? Owner = null
);

/// <summary>The directory of people.</summary>
public static class ContactEndpoints
{
    private const int PageSize = 100;

    public static void MapContacts(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("/contacts").Requires(Act.SeeDeals).WithTags("Contacts");
        see.MapGet("", List).WithSummary("Contacts by name");
        see.MapGet("/{id:guid}", Open).WithSummary("One contact with all that belongs to it");
        api.MapPatch("/contacts/{id:guid}", Change).Requires(Act.WorkDeals).WithTags("Contacts").WithSummary("Change kind, whom it reports to, account, owner");
    }

    private static async Task<Ok<ContactPage>> List(string? q, string? kind, Guid? account, string? after, LanternDb db, RecordScope scope)
    {
        var from = NameCursor.Read(after);
        // Where a page ended with a name that is kept from the reader, it is looked up anew.
        var name = from is { Name.Length: 0 } ? await db.Set<Contact>().Where(c => c.Id == from.Id).Select(c => c.Name).SingleOrDefaultAsync() : from?.Name;
        var typed = (q ?? "").Trim().ToLowerInvariant();
        var (shown, called, wanted) = (scope.ShowsContactData("contact", "c"), scope.ContactName("c"), kind ?? "");
        var rows = await db.Rows<ContactItem>(
            $"""
            select c.id, {called:sql} as name, {scope.Personal("c.facts->>'job_title'"):sql} as job_title,
              case when {shown:sql} then c.email end as email, case when {shown:sql} then c.phone end as phone, c.kind, c.account_id, {scope.NameBeside(
                "account",
                "a"
            ):sql} as account_name, p.display_name as owner_name
            from contact c left join account a on a.id = c.account_id left join person p on p.id = c.owner_id
            where {scope.Sees("contact", "c"):sql} and ({typed} = '' or lower({called:sql}) like '%' || {typed} || '%' or ({shown:sql} and c.email like {typed} || '%'))
              and ({wanted} = '' or c.kind = {wanted}) and ({account}::uuid is null or c.account_id = {account})
              and ({name}::text is null or (c.name, c.id) > ({name}, {from?.Id}::uuid)) order by c.name, c.id limit {PageSize + 1}
            """
        );
        var (page, next) = NameCursor.Page(rows, PageSize, r => (r.Name == RecordScope.Nameless ? "" : r.Name, r.Id));
        return TypedResults.Ok(new ContactPage(page, next));
    }

    private static async Task<Results<Ok<ContactSheet>, ProblemHttpResult>> Open(Guid id, ClaimsPrincipal user, LanternDb db, ContactQueries contacts) =>
        await contacts.Sheet(db, id, user) is { } sheet ? TypedResults.Ok(sheet) : ApiProblems.NotFound("contact");

    private static async Task<Results<Ok<ContactSheet>, ProblemHttpResult>> Change(
        Guid id,
        ContactChange body,
        ClaimsPrincipal user,
        LanternDb db,
        ContactQueries contacts,
        Workspace workspace,
        TimeProvider clock
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (body.ReportsTo is not null)
            await RecordTree.Lock(db, "contact");
        var held = await db.Row<HeldContact>($"select name, owner_id, account_id, kind, reports_to from contact where id = {id} for update");
        if (held is null)
            return ApiProblems.NotFound("contact");
        if (user.WorksOwnOnly() && (held.OwnerId != user.Id() || body.Owner is not null))
            return ApiProblems.NotYours();
        if (await Wrong(db, id, body, workspace) is { } wrong)
            return ApiProblems.Of(wrong);
        var now = clock.UtcNow();
        if (body.Account is { } account && account != held.AccountId)
            await MoveTo(db, id, held.AccountId, account, DateOnly.FromDateTime(now));
        await db.Log(EventLog.Contact, id, FactsChanged.Of(Changes(id, body, held)));
        await db.Run(
            $"""
            update contact set kind = coalesce({body.Kind}, kind), reports_to = case when {body.ReportsTo}::uuid is null then reports_to else nullif({body.ReportsTo}, {id}) end, owner_id = coalesce({body.Owner}, owner_id) where id = {id}
            """
        );
        await transaction.CommitAsync();
        return TypedResults.Ok((await contacts.Sheet(db, id, user))!);
    }

    private static async Task<Problem?> Wrong(LanternDb db, Guid id, ContactChange body, Workspace workspace)
    {
        if (body.Kind is { Length: > 0 } kind && workspace.Value(PickList.Kinds, kind) is null)
            return Problem.Of("kind-unknown", "kind", kind);
        if (body.Owner is { } owner && !await Person.IsHere(db, owner))
            return Problem.Of("owner-unknown", "owner");
        if (body.Account is { } account && !await db.Set<Account>().AnyAsync(x => x.Id == account))
            return Problem.Of("account-unknown", "account");
        if (body.ReportsTo is not { } boss || boss == id)
            return null;
        // Up from there one must not come back.
        var above = await RecordTree.Above(db, "contact", "reports_to", boss);
        return above.Count == 0 ? Problem.Of("contact-unknown", "reportsTo")
            : above.Contains(id) ? Problem.Of("report-circle", "reportsTo")
            : null;
    }

    private static Task MoveTo(LanternDb db, Guid id, Guid? before, Guid account, DateOnly today) =>
        db.Run(
            $"""
            insert into contact_account (id, contact_id, account_id, title, until) select gen_random_uuid(), {id}, {before}, coalesce(facts->>'job_title', ''), {today} from contact where id = {id} and {before}::uuid is not null;
            delete from contact_account where contact_id = {id} and account_id = {account} and until is null;
            update contact set account_id = {account} where id = {id};
            """
        );

    private static List<ChangedFact> Changes(Guid id, ContactChange body, HeldContact held)
    {
        var changes = new List<ChangedFact>();
        if (body.Kind is { } kind)
            changes.Add(new ChangedFact("kind", held.Kind, kind.Length == 0 ? null : kind));
        if (body.ReportsTo is { } boss)
            changes.Add(new ChangedFact("reports_to", $"{held.ReportsTo}", boss == id ? null : $"{boss}"));
        if (body.Account is { } account)
            changes.Add(new ChangedFact("account", $"{held.AccountId}", $"{account}"));
        if (body.Owner is { } owner)
            changes.Add(new ChangedFact("owner", $"{held.OwnerId}", $"{owner}"));
        return changes;
    }

    private sealed record HeldContact(string Name, Guid? OwnerId, Guid? AccountId, string Kind, Guid? ReportsTo);
}
