using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>All that is said of a campaign.</summary>
/// <param name="Kind">One of <see cref="CampaignKind.All"/>.</param>
/// <param name="Budget">In the campaign's currency; null for none.</param>
/// <param name="Target">New people it shall bring; null for none.</param>
public sealed record CampaignOrder(
    [Text(80)] string Name,
    [Text(100)] string Kind,
    DateOnly Starts,
    DateOnly Ends,
    [Between(0d, 100_000_000d)] decimal? Budget = null,
    [Between(1, 10_000_000)] int? Target = null,
    Guid? Owner = null,
    [Text(2_000)] string About = "",
    bool Retired = false
);

/// <param name="Id">Made by who sends; the same sent twice is kept once.</param>
/// <param name="Amount">Negative for money that came back.</param>
public sealed record NewCost(Guid Id, DateOnly SpentOn, [Text(120)] string What, [Between(-100_000_000d, 100_000_000d)] decimal Amount);

/// <summary>Campaigns with their money.</summary>
public static class CampaignEndpoints
{
    private const decimal MostMoney = 100_000_000m;

    public static void MapCampaigns(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("/campaigns").Requires(Act.SeeIntake).WithTags("Campaigns");
        see.MapGet("", List).WithSummary("All campaigns with what came of them");
        see.MapGet("/{key}", Open).WithSummary("One campaign whole");
        var run = api.MapGroup("/campaigns").Requires(Act.RunIntake).WithTags("Campaigns");
        run.MapPost("", Make).WithSummary("Begin a campaign");
        run.MapPut("/{key}", Change).WithSummary("Change or retire a campaign (If-Match)");
        run.MapPost("/{key}/costs", Spend).WithSummary("Enter money spent");
        run.MapDelete("/{key}/costs/{id:guid}", Unspend).WithSummary("Take a cost entry away");
        api.MapMembers();
    }

    private static async Task<Ok<CampaignsView>> List(LanternDb db, RecordScope scope, Workspace workspace, TimeProvider clock)
    {
        var roles = workspace.Roles.With(Act.SeeIntake);
        var owners = await db.Users.Where(Person.HasAny(roles)).OrderBy(p => p.DisplayName).Select(p => new { p.Id, p.DisplayName }).ToListAsync();
        return TypedResults.Ok(
            new CampaignsView(
                await CampaignQueries.List(db, scope, Today(clock)),
                [.. CampaignKind.All.Select(k => new ChoiceView(k.Key, k.Label))],
                [.. CampaignResponse.All.Select(r => new ChoiceView(r.Key, r.Label))],
                [.. owners.Select(o => new ChoiceView(o.Id.ToString(), o.DisplayName))],
                !scope.HidesCosts,
                !scope.LocksCosts
            )
        );
    }

    internal static DateOnly Today(TimeProvider clock) => DateOnly.FromDateTime(clock.UtcNow());

    private static async Task<Results<Ok<CampaignSheet>, ProblemHttpResult>> Open(string key, LanternDb db, RecordScope scope, TimeProvider clock) =>
        await CampaignQueries.Open(db, scope, key, Today(clock)) is { } sheet ? TypedResults.Ok(sheet) : ApiProblems.NotFound("campaign");

    private static async Task<Results<Created<string>, ProblemHttpResult>> Make(CampaignOrder body, LanternDb db, RecordScope scope, WorkspaceConfiguration configuration)
    {
        if (body.Budget is not null && scope.LocksCosts)
            return ApiProblems.Of(CostsLocked("budget"));
        if (await Wrong(db, body, null) is { } wrong)
            return ApiProblems.Of(wrong);
        var (key, name) = (Folding.Heading(body.Name).Replace(' ', '-'), FieldReader.Clean(body.Name));
        var made = await db.Run(
            $"""
            insert into campaign (key, name, kind, starts, ends, budget, currency, target, owner_id, about, retired)
            values ({key}, {name}, {body.Kind}, {body.Starts}, {body.Ends}, {body.Budget}, {configuration.Current.Company.Currency}, {body.Target}, {body.Owner}, {body.About.Trim()}, {body.Retired})
            on conflict (key) do nothing
            """
        );
        if (made == 0)
            return ApiProblems.Of("campaign-exists", "name", body.Name.Trim());
        await configuration.Changed();
        return TypedResults.Created($"/api/campaigns/{Uri.EscapeDataString(key)}", key);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Change(
        string key,
        CampaignOrder body,
        HttpRequest request,
        LanternDb db,
        RecordScope scope,
        WorkspaceConfiguration configuration
    )
    {
        // Where it is not even shown, no number that is sent is compared with it.
        if (body.Budget is { } budget && scope.LocksCosts && (scope.HidesCosts || !await db.Set<CampaignRow>().AnyAsync(c => c.Key == key && c.Budget == budget)))
            return ApiProblems.Of(CostsLocked("budget"));
        var keepsBudget = scope.LocksCosts;
        if (await Wrong(db, body, key) is { } wrong)
            return ApiProblems.Of(wrong);
        var (name, about, version) = (FieldReader.Clean(body.Name), body.About.Trim(), request.Version());
        var changed = await db.Set<CampaignRow>()
            .Where(c => c.Key == key && c.Version == version)
            .ExecuteUpdateAsync(c =>
                c.SetProperty(x => x.Name, name)
                    .SetProperty(x => x.Kind, body.Kind)
                    .SetProperty(x => x.Starts, body.Starts)
                    .SetProperty(x => x.Ends, body.Ends)
                    .SetProperty(x => x.Budget, x => keepsBudget ? x.Budget : body.Budget)
                    .SetProperty(x => x.Target, body.Target)
                    .SetProperty(x => x.OwnerId, body.Owner)
                    .SetProperty(x => x.About, about)
                    .SetProperty(x => x.Retired, body.Retired)
                    .SetProperty(x => x.Version, x => x.Version + 1)
            );
        if (changed == 0)
            return await db.Set<CampaignRow>().AnyAsync(c => c.Key == key) ? ApiProblems.Stale() : ApiProblems.NotFound("campaign");
        await configuration.Changed();
        return TypedResults.NoContent();
    }

    private static async Task<Problem?> Wrong(LanternDb db, CampaignOrder body, string? self)
    {
        var name = FieldReader.Clean(body.Name);
        if (name.Length is 0 or > 80 || Folding.Heading(name).Length == 0)
            return Problem.Of("name-missing", "name", 80);
        if (CampaignKind.Find(body.Kind) is null)
            return Problem.Of("kind-unknown", "kind", body.Kind);
        if (body.Starts.Year is < 1990 or > 2200 || body.Ends.Year is < 1990 or > 2200)
            return Problem.Of("date-range", "starts");
        if (body.Ends < body.Starts)
            return Problem.Of("ends-first", "ends");
        if (body.Owner is { } owner && !await db.Users.AnyAsync(p => p.Id == owner))
            return Problem.Of("owner-unknown", "owner");
        return await db.Set<CampaignRow>().AnyAsync(c => c.Name.ToLower() == name.ToLower() && c.Key != self) ? Problem.Of("campaign-exists", "name", name) : null;
    }

    private static async Task<Results<Created, ProblemHttpResult>> Spend(string key, NewCost body, ClaimsPrincipal user, LanternDb db, RecordScope scope)
    {
        if (scope.LocksCosts)
            return ApiProblems.Of(CostsLocked("amount"));
        var what = FieldReader.Clean(body.What);
        if (what.Length is 0 or > 120)
            return ApiProblems.Of("what-missing", "what");
        if (body.Amount == 0 || Math.Abs(body.Amount) > MostMoney || decimal.Round(body.Amount, 2) != body.Amount)
            return ApiProblems.Of("cost-unfit", "amount");
        if (body.SpentOn.Year is < 1990 or > 2200)
            return ApiProblems.Of("date-range", "spentOn");
        if (!await db.Set<CampaignRow>().AnyAsync(c => c.Key == key))
            return ApiProblems.NotFound("campaign");
        var person = user.Id();
        await db.Run(
            $"""
            insert into campaign_cost (id, campaign_key, spent_on, what, amount, person_id) values ({body.Id}, {key}, {body.SpentOn}, {what}, {body.Amount}, {person})
            on conflict (id) do nothing
            """
        );
        return TypedResults.Created();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Unspend(string key, Guid id, LanternDb db, RecordScope scope) =>
        scope.LocksCosts ? ApiProblems.Of(CostsLocked("amount"))
        : await db.Set<CampaignCostRow>().Where(c => c.Id == id && c.CampaignKey == key).ExecuteDeleteAsync() == 0 ? ApiProblems.NotFound("cost entry")
        : TypedResults.NoContent();

    private static Problem CostsLocked(string field) => Problem.Of("field-locked", field, "Costs");
}
