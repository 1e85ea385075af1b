using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Routing;

public sealed record PlaceOrder(Guid Person, int Weight);

public sealed record TeamOrder(string Name, bool OnlyInHours, IReadOnlyList<PlaceOrder> Places);

/// <summary>Teams with their places in turn.</summary>
public static class TeamEndpoints
{
    internal static void MapTeams(this IEndpointRouteBuilder staff)
    {
        staff.MapPost("/teams", Make).WithSummary("Make a team");
        staff.MapPut("/teams/{key}", Change).WithSummary("Change a team's name and places; who stays keeps what they are owed");
        staff.MapDelete("/teams/{key}", Drop).WithSummary("Take a team away that no live rule names");
    }

    private static async Task<Results<Ok<StaffView>, ProblemHttpResult>> Make(TeamOrder body, LanternDb db, WorkspaceConfiguration workspace, TimeProvider clock)
    {
        if (Unfit(body) is { } unfit)
            return unfit;
        var name = FieldReader.Clean(body.Name);
        var key = Folding.Heading(name).Replace(' ', '-');
        return await StaffEndpoints.Change(
            db,
            workspace,
            clock,
            async db =>
            {
                var made = await db.ExecuteAsync(
                    "insert into team (key, name, only_in_hours) values (@key, @name, @OnlyInHours) on conflict do nothing",
                    new
                    {
                        key,
                        name,
                        body.OnlyInHours,
                    }
                );
                return made == 0 ? 0 : await Places(db, key, body.Places, made);
            },
            ApiProblems.Invalid("team-exists", $"There is a team \u201c{name}\u201d already.", "name")
        );
    }

    private static async Task<Results<Ok<StaffView>, ProblemHttpResult>> Change(string key, TeamOrder body, LanternDb db, WorkspaceConfiguration workspace, TimeProvider clock)
    {
        if (Unfit(body) is { } unfit)
            return unfit;
        return await StaffEndpoints.Change(
            db,
            workspace,
            clock,
            async db =>
            {
                var found = await db.ExecuteAsync(
                    "update team set name = @name, only_in_hours = @OnlyInHours where key = @key",
                    new
                    {
                        key,
                        name = FieldReader.Clean(body.Name),
                        body.OnlyInHours,
                    }
                );
                return found == 0 ? 0 : await Places(db, key, body.Places, found);
            },
            ApiProblems.NotFound("team")
        );
    }

    private static ProblemHttpResult? Unfit(TeamOrder body) =>
        FieldReader.Clean(body.Name) is not { Length: > 0 and <= 60 } name || Folding.Heading(name).Length == 0
            ? ApiProblems.Invalid("name-missing", "A team needs a name of up to 60 letters.", "name")
        : body.Places.Any(p => p.Weight is < 1 or > 100) ? ApiProblems.Invalid("weight-range", "A place has 1 to 100 turns.", "places")
        : body.Places.Select(p => p.Person).Distinct().Count() < body.Places.Count ? ApiProblems.Invalid("place-twice", "Somebody stands twice in the team.", "places")
        : null;

    private static async Task<int> Places(LanternDb db, string key, IReadOnlyList<PlaceOrder> places, int found)
    {
        var known = (await db.QueryAsync<Guid>("select id from person where id = any(@ids)", new { ids = places.Select(p => p.Person).ToArray() })).ToHashSet();
        var turns = (await db.QueryAsync<TurnRow>("select * from turn where team_key = @key order by position, person_id", new { key })).Select(t => new Turn(
            t.PersonId,
            t.Weight,
            t.Credit
        ));
        var after = Turns.With([.. turns], [.. places.Where(p => known.Contains(p.Person)).Select(p => (p.Person, p.Weight))]);
        await db.ExecuteAsync(
            """
            delete from turn where team_key = @key;
            insert into turn (team_key, person_id, position, weight, credit) select @key, * from unnest(@persons, @positions, @weights, @credits);
            """,
            new
            {
                key,
                persons = after.Select(t => t.Rep).ToArray(),
                positions = Enumerable.Range(0, after.Length).ToArray(),
                weights = after.Select(t => t.Weight).ToArray(),
                credits = after.Select(t => t.Credit).ToArray(),
            }
        );
        return found;
    }

    private static Task<Results<Ok<StaffView>, ProblemHttpResult>> Drop(string key, LanternDb db, WorkspaceConfiguration workspace, TimeProvider clock) =>
        StaffEndpoints.Change(
            db,
            workspace,
            clock,
            db => db.ExecuteAsync("delete from turn where team_key = @key; delete from team where key = @key", new { key }),
            ApiProblems.NotFound("team")
        );
}
