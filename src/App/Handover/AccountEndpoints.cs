using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

/// <summary>An account in the directory.</summary>
public sealed record AccountItem
{
    public required Guid Id { get; init; }
    public required string Name { get; init; }
    public required bool Household { get; init; }
    public required string[] Kinds { get; init; }
    public required string[] Segments { get; init; }
    public string? Country { get; init; }
    public string? City { get; init; }
    public string? OwnerName { get; init; }
    public required int Contacts { get; init; }
    public required int OpenDeals { get; init; }
}

/// <param name="Next">Where the next page begins; null at the end.</param>
public sealed record AccountPage(IReadOnlyList<AccountItem> Accounts, string? Next);

/// <summary>An account named with another.</summary>
public sealed record AccountRef(Guid Id, string Name);

/// <param name="Kind">main for the address among the facts, else billing, delivery or other.</param>
public sealed record AddressView(Guid Id, string Kind, string Street, string PostalCode, string City, string Region, string Country);

/// <summary>A contact of an account, in its place among those it reports to.</summary>
/// <param name="Depth">0 for who reports to nobody here.</param>
/// <param name="Former">True for one who belonged to the account once.</param>
public sealed record AccountContact(Guid Id, string Name, string? JobTitle, string? Email, string? Phone, string Kind, Guid? ReportsTo, int Depth, bool Former);

/// <summary>A campaign its people took part in, and how many of them.</summary>
public sealed record AccountCampaign(string Key, string Name, int People);

public sealed record AccountSheet(
    Guid Id,
    string Name,
    bool Household,
    string[] Kinds,
    string[] Segments,
    AccountRef? Parent,
    IReadOnlyList<AccountRef> Branches,
    Guid? OwnerId,
    string? OwnerName,
    DateTime CreatedAt,
    IReadOnlyList<AddressView> Addresses,
    IReadOnlyList<AccountContact> Contacts,
    IReadOnlyList<DealItem> Deals,
    IReadOnlyList<AccountCampaign> Campaigns,
    IReadOnlyList<string> Tags,
    IReadOnlyList<StoryView> Story
);

/// <summary>What to change; null leaves it.</summary>
/// <param name="Parent">The account it is a branch of; its own id for none.</param>
public sealed record AccountChange(
    [Text(200)] string? Name = null,
    bool? Household = null,
    [Count(100, Each = 100)] string[]? Kinds = null,
    [Count(100, Each = 100)] string[]? Segments = null,
    [property: OfRecord("account")] Guid? Parent = null,
    Guid? Owner = null
);

public sealed record NewAccount([Text(200)] string Name, bool Household = false, [Text(100)] string? Country = null, [Text(500)] string? Website = null);

/// <summary>The directory of organisations and households.</summary>
public static class AccountEndpoints
{
    private const int PageSize = 100;

    public static void MapAccounts(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("/accounts").Requires(Act.SeeDeals).WithTags("Accounts");
        see.MapGet("", List).WithSummary("Accounts by name");
        see.MapGet("/{id:guid}", Open).WithSummary("One account with all that belongs to it");
        var work = api.MapGroup("/accounts").Requires(Act.WorkDeals).WithTags("Accounts");
        work.MapPost("", Make).WithSummary("Make an account by hand");
        work.MapPatch("/{id:guid}", Change).WithSummary("Change kinds, segments, parent, owner, name");
        work.MapAddresses();
    }

    private static async Task<Ok<AccountPage>> List(string? q, string? kind, string? segment, string? after, LanternDb db, RecordScope scope)
    {
        var from = NameCursor.Read(after);
        var name = from?.Name;
        var (typed, ofKind, ofSegment) = (Folding.Plain(q), kind ?? "", segment ?? "");
        var rows = await db.Rows<AccountItem>(
            $"""
            select a.id, a.name, a.household, a.kinds, a.segments, a.country, a.facts->>'city' as city, p.display_name as owner_name,
              (select count(*)::int from contact c where c.account_id = a.id and {scope.Sees("contact", "c"):sql}) as contacts,
              (select count(*)::int from deal d where d.account_id = a.id and d.closed_at is null and {scope.Sees("deal", "d"):sql}) as open_deals
            from account a left join person p on p.id = a.owner_id
            where {scope.Sees("account", "a"):sql}
              and ({typed} = '' or a.company_key like {typed} || '%' or lower(a.name) like {typed} || '%') and ({ofKind} = '' or {ofKind} = any(a.kinds))
              and ({ofSegment} = '' or {ofSegment} = any(a.segments))
              and ({name}::text is null or (a.name, a.id) > ({name}, {from?.Id}::uuid)) order by a.name, a.id limit {PageSize + 1}
            """
        );
        var (page, next) = NameCursor.Page(rows, PageSize, r => (r.Name, r.Id));
        return TypedResults.Ok(new AccountPage(page, next));
    }

    private static async Task<Results<Ok<AccountSheet>, ProblemHttpResult>> Open(Guid id, ClaimsPrincipal user, LanternDb db, AccountQueries accounts) =>
        await accounts.Sheet(db, id, user) is { } sheet ? TypedResults.Ok(sheet) : ApiProblems.NotFound("account");

    private static async Task<Results<Created<AccountSheet>, ProblemHttpResult>> Make(
        NewAccount body,
        ClaimsPrincipal user,
        LanternDb db,
        AccountQueries accounts,
        TimeProvider clock
    )
    {
        var name = FieldReader.Clean(body.Name ?? "");
        if (name.Length is 0 or > 200)
            return ApiProblems.Of("name-missing", "name", 200);
        var country = string.IsNullOrWhiteSpace(body.Country) ? null : Countries.Find(body.Country);
        if (country is null && !string.IsNullOrWhiteSpace(body.Country))
            return ApiProblems.Of("country-unknown", "country", body.Country);
        var facts = new Dictionary<string, string>();
        if (!body.Household)
            facts["company"] = name;
        if (country is not null)
            facts["country"] = country;
        if (!string.IsNullOrWhiteSpace(body.Website))
        {
            var read = FieldReader.Read(BuiltInFields.Facts.First(f => f.Key == "website"), body.Website, country);
            if (read.Problem is { } problem)
                return ApiProblems.Of(problem, "website");
            facts["website"] = read.Value.ToString();
        }
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (id, now) = (Guid.CreateVersion7(), clock.UtcNow());
        var person = user.Id();
        string key = body.Household ? "" : Folding.Company(name);
        await db.Run(
            $"""
            insert into account (id, name, household, company_key, domain, country, owner_id, created_at, facts)
              values ({id}, {name}, {body.Household}, nullif({key}, ''), {facts.GetValueOrDefault("website")}, {country}, {person}, {now}, {Json.Write(facts)}::jsonb);
            """
        );
        await db.Log(EventLog.Account, id, new Made());
        await DuplicateDetectionWorker.Ask(db, "account", [id]);
        await transaction.CommitAsync();
        return TypedResults.Created($"/api/accounts/{id}", (await accounts.Sheet(db, id, user))!);
    }

    private static async Task<Results<Ok<AccountSheet>, ProblemHttpResult>> Change(
        Guid id,
        AccountChange body,
        ClaimsPrincipal user,
        LanternDb db,
        AccountQueries accounts,
        Workspace workspace
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (body.Parent is not null)
            await RecordTree.Lock(db, "account");
        if (await Lock(db, id, user) is { } no)
            return ApiProblems.Of(no);
        if (await Wrong(db, id, body, user, workspace) is { } wrong)
            return ApiProblems.Of(wrong);
        string? name = body.Name is null ? null : FieldReader.Clean(body.Name);
        await db.Log(EventLog.Account, id, FactsChanged.Of(Changes(id, body, await db.Set<Account>().AsNoTracking().SingleAsync(a => a.Id == id))));
        await db.Run(
            $"""
            update account set name = coalesce({name}, name), household = coalesce({body.Household}, household), kinds = coalesce({body.Kinds}, kinds), segments = coalesce({body.Segments}, segments),
              parent_id = case when {body.Parent}::uuid is null then parent_id else nullif({body.Parent}, {id}) end, owner_id = coalesce({body.Owner}, owner_id),
              company_key = case when {name}::text is null or household then company_key else {Folding.Company(body.Name)} end,
              facts = case when {name}::text is null or coalesce({body.Household}, household) then facts else facts || jsonb_build_object('company', {name}::text) end
            where id = {id}
            """
        );
        await DuplicateDetectionWorker.Ask(db, "account", [id]);
        await PeopleChange.Tell(db);
        await transaction.CommitAsync();
        return TypedResults.Ok((await accounts.Sheet(db, id, user))!);
    }

    // Locks it and says why this person may not write it.
    internal static async Task<Problem?> Lock(LanternDb db, Guid id, ClaimsPrincipal user) =>
        await db.Row<Owned?>($"select owner_id from account where id = {id} for update") is not { } found ? Problem.NotFound("account")
        : user.WorksOwnOnly() && found.OwnerId != user.Id() ? new Problem("not-yours")
        : null;

    private static async Task<Problem?> Wrong(LanternDb db, Guid id, AccountChange body, ClaimsPrincipal user, Workspace workspace)
    {
        if (body.Name is { } name && FieldReader.Clean(name).Length is 0 or > 200)
            return Problem.Of("name-missing", "name", 200);
        if (Unknown(body.Kinds, PickList.Kinds, workspace) is { } kind)
            return Problem.Of("kind-unknown", "kinds", kind);
        if (Unknown(body.Segments, PickList.Segments, workspace) is { } segment)
            return Problem.Of("segment-unknown", "segments", segment);
        if (body.Owner is not null && user.WorksOwnOnly())
            return new Problem("not-yours");
        if (body.Owner is { } owner && !await Person.IsHere(db, owner))
            return Problem.Of("owner-unknown", "owner");
        if (body.Parent is not { } parent || parent == id)
            return null;
        // Up from the parent one must not come back.
        var above = await RecordTree.Above(db, "account", "parent_id", parent);
        return above.Count == 0 ? Problem.Of("account-unknown", "parent")
            : above.Contains(id) ? Problem.Of("parent-circle", "parent")
            : null;
    }

    private static string? Unknown(string[]? keys, string list, Workspace workspace) => keys?.FirstOrDefault(k => workspace.Value(list, k) is null);

    private static List<ChangedFact> Changes(Guid id, AccountChange body, Account held)
    {
        var changes = new List<ChangedFact>();
        if (body.Name is not null)
            changes.Add(new ChangedFact("name", held.Name, FieldReader.Clean(body.Name)));
        if (body.Household is { } household)
            changes.Add(new ChangedFact("household", held.Household ? "true" : "false", household ? "true" : "false"));
        if (body.Kinds is not null)
            changes.Add(new ChangedFact("kinds", string.Join(' ', held.Kinds), string.Join(' ', body.Kinds)));
        if (body.Segments is not null)
            changes.Add(new ChangedFact("segments", string.Join(' ', held.Segments), string.Join(' ', body.Segments)));
        if (body.Parent is { } parent)
            changes.Add(new ChangedFact("parent", $"{held.ParentId}", parent == id ? null : $"{parent}"));
        if (body.Owner is { } owner)
            changes.Add(new ChangedFact("owner", $"{held.OwnerId}", $"{owner}"));
        return changes;
    }

    private sealed record Owned(Guid? OwnerId);
}
