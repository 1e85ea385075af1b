using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads;

/// <param name="Sentence">The conditions as words.</param>
/// <param name="MayChange">True for who may change it, put it away, or say who sees it.</param>
/// <param name="MayDo">What whoever asks may do with the leads in it because the view says so.</param>
/// <param name="Broken">Why it cannot be shown any more: a field or value is gone. Null for most.</param>
public sealed record ViewView(
    Guid Id,
    string Name,
    string Scope,
    string? Owner,
    IReadOnlyList<string> Teams,
    IReadOnlyList<string> Acts,
    ViewBody Body,
    string Sentence,
    int Version,
    bool MayChange,
    IReadOnlyList<string> MayDo,
    string? Broken
);

/// <param name="Scope">personal, shared or fixed.</param>
/// <param name="Teams">Keys of the teams that see it; empty for everybody. Nobody else sees a personal one.</param>
public sealed record ViewWrite(
    [Text(60)] string Name,
    [Text(100)] string Scope,
    [Count(200, Each = 100)] IReadOnlyList<string> Teams,
    [Count(50, Each = 100)] IReadOnlyList<string> Acts,
    ViewBody Body
);

/// <summary>Saved views: one's own, shared with teams, or fixed for them.</summary>
public static class ViewEndpoints
{
    private const int LongestName = 60;
    private const int MostViews = 100;
    private const int MostQuick = 12;
    private const int WidestColumn = 2000;

    // Whose views somebody sees: their own, those for everybody, those of their teams; who sets up sees all that are not personal.
    private static SqlText Seen(ClaimsPrincipal user)
    {
        var (me, all) = (user.Id(), user.May(Act.SetUp));
        return $"(v.owner_id = {me} or (v.scope <> 'personal' and ({all} or cardinality(v.teams) = 0 or exists (select 1 from turn t where t.person_id = {me} and t.team_key = any(v.teams)))))";
    }

    public static void MapViews(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("/views").Requires(Act.SeeLeads).WithTags("Views");
        see.MapGet("", List).WithSummary("The views one sees");
        see.MapGet("/{id}/count", Count).WithSummary("How many leads a view holds");
        see.MapPost("", Add).WithSummary("Keep a view");
        see.MapPut("/{id}", Change).WithSummary("Change a view (If-Match)");
        see.MapDelete("/{id}", Remove).WithSummary("Put a view away");
    }

    private static async Task<Ok<List<ViewView>>> List(ClaimsPrincipal user, LanternDb db, Workspace workspace)
    {
        var names = workspace.Catalogue["owner"].Choices.ToDictionary(c => c.Key, c => c.Label);
        var mine = await db.Set<TurnRow>().Where(x => x.PersonId == user.Id()).Select(x => x.TeamKey).ToHashSetAsync();
        var rows = await db.Entities<ViewRow>($"select v.* from lead_view v where {Seen(user):sql} order by v.position, v.name, v.id");
        return TypedResults.Ok(rows.Select(r => View(r, user, mine, names, workspace.Catalogue)).ToList());
    }

    private static ViewView View(ViewRow row, ClaimsPrincipal user, HashSet<string> mine, Dictionary<string, string> names, FieldCatalogue catalogue)
    {
        var body = Json.Read<ViewBody>(row.Body);
        var forMe = row.Scope == ViewRow.Fixed && (row.Teams.Length == 0 || row.Teams.Any(mine.Contains));
        return new(
            row.Id,
            row.Name,
            row.Scope,
            row.OwnerId is { } owner ? names.GetValueOrDefault($"{owner}") : null,
            row.Teams,
            row.Acts,
            body,
            ConditionWords.Sentence(body.Where, catalogue),
            row.Version,
            MayChange(row.Scope, row.OwnerId, user),
            forMe ? row.Acts : [],
            Wrong(body, catalogue)?.Words
        );
    }

    private static bool MayChange(string scope, Guid? owner, ClaimsPrincipal user) =>
        user.May(Act.SetUp) ? scope != ViewRow.Personal || owner == user.Id() : scope != ViewRow.Fixed && owner == user.Id();

    private static async Task<Results<Ok<LeadCount>, ProblemHttpResult>> Count(Guid id, ClaimsPrincipal user, LanternDb db, Worklist worklist, Workspace workspace)
    {
        var body = await db.Row<string>($"""select v.body::text as "Value" from lead_view v where v.id = {id} and {Seen(user):sql}""");
        if (body is null)
            return ApiProblems.NotFound("view");
        var (where, problem) = LeadAsk.Condition(Json.Read<ViewBody>(body).Where, workspace.Catalogue, user);
        return problem is null ? TypedResults.Ok(await worklist.Count(db, where)) : ApiProblems.Of(problem, "where");
    }

    /// <summary>
    /// What a fixed view lets this person do: the condition within which they may, or null when it does not let them. What their role lets them
    /// do anywhere needs no view.
    /// </summary>
    /// <param name="act">See <see cref="ViewAct"/>.</param>
    internal static async Task<Condition?> Lets(LanternDb db, Guid? view, string act, ClaimsPrincipal user) =>
        await db.Row<string>(
            $"""
            select v.body::text as "Value" from lead_view v where v.id = {view} and v.scope = 'fixed' and {act} = any(v.acts)
              and (cardinality(v.teams) = 0 or exists (select 1 from turn t where t.person_id = {user.Id()} and t.team_key = any(v.teams)))
            """
        )
            is { } body
            ? Json.Read<ViewBody>(body).Where
            : null;

    private static async Task<Results<Created<Guid>, ProblemHttpResult>> Add(ViewWrite body, ClaimsPrincipal user, LanternDb db, Workspace workspace)
    {
        if (await Refused(db, body, user, workspace.Catalogue) is { } no)
            return ApiProblems.Of(no);
        if (await db.Set<ViewRow>().CountAsync(x => x.OwnerId == user.Id()) >= MostViews)
            return ApiProblems.Of("full", "", MostViews, "views of yours");
        var id = Guid.CreateVersion7();
        var position = (await db.Set<ViewRow>().MaxAsync(v => (int?)v.Position) ?? 0) + 1;
        await db.Insert(
            new ViewRow
            {
                Id = id,
                Name = FieldReader.Clean(body.Name),
                Scope = body.Scope,
                OwnerId = user.Id(),
                Teams = TeamsOf(body),
                Acts = ActsOf(body),
                Body = Json.Write(body.Body),
                Position = position,
                Version = 1,
            }
        );
        return TypedResults.Created($"/api/views/{id}", id);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Change(Guid id, ViewWrite body, HttpRequest request, ClaimsPrincipal user, LanternDb db, Workspace workspace)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await WhyNot(db, id, user, request.Version()) is { } no)
            return ApiProblems.Of(no);
        if (await Refused(db, body, user, workspace.Catalogue) is { } refused)
            return ApiProblems.Of(refused);
        Guid? owner = body.Scope == ViewRow.Fixed ? null : user.Id();
        await db.Set<ViewRow>()
            .Where(v => v.Id == id)
            .ExecuteUpdateAsync(s =>
                s.SetProperty(v => v.Name, FieldReader.Clean(body.Name))
                    .SetProperty(v => v.Scope, body.Scope)
                    .SetProperty(v => v.Teams, TeamsOf(body))
                    .SetProperty(v => v.Acts, ActsOf(body))
                    .SetProperty(v => v.Body, Json.Write(body.Body))
                    .SetProperty(v => v.Version, v => v.Version + 1)
                    .SetProperty(v => v.OwnerId, v => v.OwnerId ?? owner)
            );
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Remove(Guid id, HttpRequest request, ClaimsPrincipal user, LanternDb db)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await WhyNot(db, id, user, request.Version()) is { } no)
            return ApiProblems.Of(no);
        await db.Set<ViewRow>().Where(x => x.Id == id).ExecuteDeleteAsync();
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static string[] TeamsOf(ViewWrite body) => body.Scope == ViewRow.Personal ? [] : [.. body.Teams.Distinct()];

    private static string[] ActsOf(ViewWrite body) => body.Scope == ViewRow.Fixed ? [.. body.Acts.Distinct()] : [];

    // Locks the view and says why this person may not change it now; null when they may. Who does not see it is told there is none.
    private static async Task<Problem?> WhyNot(LanternDb db, Guid id, ClaimsPrincipal user, int? version)
    {
        var found = await db.Entity<ViewRow>($"select v.* from lead_view v where v.id = {id} and {Seen(user):sql} for update");
        return found is null ? Problem.NotFound("view")
            : !MayChange(found.Scope, found.OwnerId, user) ? new Problem("not-yours")
            : version is { } v && v != found.Version ? new Problem("stale")
            : null;
    }

    private static async Task<Problem?> Refused(LanternDb db, ViewWrite view, ClaimsPrincipal user, FieldCatalogue catalogue)
    {
        if (FieldReader.Clean(view.Name) is not { Length: > 0 and <= LongestName })
            return Problem.Of("name-missing", "name", LongestName);
        if (view.Scope is not (ViewRow.Personal or ViewRow.Shared or ViewRow.Fixed))
            return Problem.Of("view-scope-unknown", "scope");
        if (view.Scope == ViewRow.Fixed && !user.May(Act.SetUp))
            return new Problem("not-yours");
        if (view.Acts.Except(ViewAct.All).FirstOrDefault() is { } act)
            return Problem.Of("view-act-unknown", "acts", act);
        var teams = view.Teams.Distinct().ToArray();
        if (await db.Set<TeamRow>().CountAsync(x => teams.Contains(x.Key)) != teams.Length)
            return Problem.Of("team-not-ours", "teams");
        return Wrong(view.Body, catalogue) is { } problem ? problem : null;
    }

    private static Problem? Wrong(ViewBody body, FieldCatalogue catalogue)
    {
        var conditions = (body.Quick ?? []).Select(q => q.Where).Prepend(body.Where);
        if (conditions.SelectMany(c => ConditionCheck.Check(c, catalogue, ConditionReach.Database)).FirstOrDefault() is { } problem)
            return problem with { Path = "where" };
        if (body.Quick is { Count: > MostQuick } || (body.Quick ?? []).Any(q => FieldReader.Clean(q.Label) is not { Length: > 0 and <= LongestName }))
            return new Problem("quick-unfit", "quick");
        if (body.Columns.Any(c => c.Width is < 40 or > WidestColumn))
            return new Problem("width-range", "columns");
        return ListOrder.Read(body.Order, catalogue).Problem
            ?? LeadAsk.Columns(string.Join(',', body.Columns.Select(c => c.Field)), catalogue).Item2
            ?? (body.Group is null ? null : Grouping.Read(body.Group, catalogue).Item2);
    }
}
