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
public sealed record AccountChange(string? Name = null, bool? Household = null, string[]? Kinds = null, string[]? Segments = null, Guid? Parent = null, Guid? Owner = null);

public sealed record NewAccount(string Name, bool Household = false, string? Country = null, string? Website = null);

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
            return ApiProblems.Invalid("no-name", "An account needs a name of at most 200 letters.", "name");
        var country = string.IsNullOrWhiteSpace(body.Country) ? null : Countries.Find(body.Country);
        if (country is null && !string.IsNullOrWhiteSpace(body.Country))
            return ApiProblems.Invalid("country-unknown", $"“{body.Country}” is no country we know; use a name or a two-letter code.", "country");
        var facts = new Dictionary<string, string>();
        if (!body.Household)
            facts["company"] = name;
        if (country is not null)
            facts["country"] = country;
        if (!string.IsNullOrWhiteSpace(body.Website))
        {
            var read = FieldReader.Read(BuiltInFields.Facts.First(f => f.Key == "website"), body.Website, country);
            if (read.Problem is { } problem)
                return ApiProblems.Invalid(problem.Code, problem.Words, "website");
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
            return no;
        if (await Wrong(db, id, body, user, workspace) is { } wrong)
            return wrong;
        string? name = body.Name is null ? null : FieldReader.Clean(body.Name);
        await db.Log(EventLog.Account, id, FactsChanged.Of(Changes(id, body, await db.Accounts.AsNoTracking().SingleAsync(a => a.Id == id))));
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
        await db.Run($"select nextval('people_change')");
        await transaction.CommitAsync();
        return TypedResults.Ok((await accounts.Sheet(db, id, user))!);
    }

    // Locks it and says why this person may not write it.
    internal static async Task<ProblemHttpResult?> Lock(LanternDb db, Guid id, ClaimsPrincipal user) =>
        await db.Row<Owned?>($"select owner_id from account where id = {id} for update") is not { } found ? ApiProblems.NotFound("account")
        : Permissions.OwnOnly(user.Role()) && found.OwnerId != user.Id() ? ApiProblems.NotYours()
        : null;

    private static async Task<ProblemHttpResult?> Wrong(LanternDb db, Guid id, AccountChange body, ClaimsPrincipal user, Workspace workspace)
    {
        if (body.Name is { } name && FieldReader.Clean(name).Length is 0 or > 200)
            return ApiProblems.Invalid("no-name", "An account needs a name of at most 200 letters.", "name");
        if (Unknown(body.Kinds, PickList.Kinds, workspace) is { } kind)
            return ApiProblems.Invalid("kind-unknown", $"There is no kind “{kind}” in the list; add it first.", "kinds");
        if (Unknown(body.Segments, PickList.Segments, workspace) is { } segment)
            return ApiProblems.Invalid("segment-unknown", $"There is no segment “{segment}” in the list; add it first.", "segments");
        if (body.Owner is not null && Permissions.OwnOnly(user.Role()))
            return ApiProblems.NotYours();
        if (body.Owner is { } owner && !await Person.IsHere(db, owner))
            return ApiProblems.Invalid("owner-unknown", "Choose one of us.", "owner");
        if (body.Parent is not { } parent || parent == id)
            return null;
        // Up from the parent one must not come back.
        var above = await RecordTree.Above(db, "account", "parent_id", parent);
        return above.Count == 0 ? ApiProblems.Invalid("account-unknown", "The account chosen is no longer there.", "parent")
            : above.Contains(id) ? ApiProblems.Invalid("parent-circle", "That account is a branch of this one, so it cannot be above it.", "parent")
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
