using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Routing;

public sealed record PlaceOrder(Guid Person, [Between(1, 100)] int Weight);

public sealed record TeamOrder([Text(60)] string Name, bool OnlyInHours, [Count(1_000)] IReadOnlyList<PlaceOrder> Places);

/// <summary>Teams with their places in turn.</summary>
public static class TeamEndpoints
{
    internal static void MapTeams(this IEndpointRouteBuilder staff)
    {
        staff.MapPost("/teams", Make).WithSummary("Make a team");
        staff.MapPut("/teams/{key}", Change).WithSummary("Change a team's name and places; who stays keeps what they are owed");
        staff.MapDelete("/teams/{key}", Drop).WithSummary("Take a team away that no live rule names");
    }

    private static async Task<Results<Ok<StaffView>, ProblemHttpResult>> Make(TeamOrder body, LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock)
    {
        if (Unfit(body) is { } unfit)
            return ApiProblems.Of(unfit);
        var name = FieldReader.Clean(body.Name);
        var key = Folding.Heading(name).Replace(' ', '-');
        return await StaffEndpoints.Change(
            db,
            configuration,
            clock,
            async db =>
            {
                var made = await db.Run($"insert into team (key, name, only_in_hours) values ({key}, {name}, {body.OnlyInHours}) on conflict do nothing");
                return made == 0 ? 0 : await Places(db, key, body.Places, made);
            },
            Problem.Of("team-exists", "name", name)
        );
    }

    private static async Task<Results<Ok<StaffView>, ProblemHttpResult>> Change(string key, TeamOrder body, LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock)
    {
        if (Unfit(body) is { } unfit)
            return ApiProblems.Of(unfit);
        return await StaffEndpoints.Change(
            db,
            configuration,
            clock,
            async db =>
            {
                var found = await db.Set<TeamRow>()
                    .Where(x => x.Key == key)
                    .ExecuteUpdateAsync(s => s.SetProperty(x => x.Name, FieldReader.Clean(body.Name)).SetProperty(x => x.OnlyInHours, body.OnlyInHours));
                return found == 0 ? 0 : await Places(db, key, body.Places, found);
            },
            Problem.NotFound("team")
        );
    }

    private static Problem? Unfit(TeamOrder body) =>
        FieldReader.Clean(body.Name) is not { Length: > 0 and <= 60 } name || Folding.Heading(name).Length == 0 ? Problem.Of("name-missing", "name", 60)
        : body.Places.Select(p => p.Person).Distinct().Count() < body.Places.Count ? Problem.Of("place-twice", "places")
        : null;

    /// <summary>Writes a team's places in their order. In the caller's transaction, with the rotations held.</summary>
    internal static async Task<int> Places(LanternDb db, string key, IReadOnlyList<PlaceOrder> places, int found)
    {
        var ids = places.Select(p => p.Person).ToArray();
        var known = await db.Set<Person>().Where(x => ids.Contains(x.Id)).Select(x => x.Id).ToHashSetAsync();
        var turns = (await db.Set<TurnRow>().AsNoTracking().Where(x => x.TeamKey == key).OrderBy(x => x.Position).ThenBy(x => x.PersonId).ToListAsync()).Select(t => new Turn(
            t.PersonId,
            t.Weight,
            t.Credit
        ));
        var after = Turns.With([.. turns], [.. places.Where(p => known.Contains(p.Person)).Select(p => (p.Person, p.Weight))]);
        var positions = Enumerable.Range(0, after.Length).ToArray();
        var weights = after.Select(t => t.Weight).ToArray();
        var credits = after.Select(t => t.Credit).ToArray();
        await db.Run(
            $"""
            delete from turn where team_key = {key};
            insert into turn (team_key, person_id, position, weight, credit) select {key}, * from unnest({after.Select(t => t.Rep).ToArray()}, {positions}, {weights}, {credits});
            """
        );
        return found;
    }

    private static Task<Results<Ok<StaffView>, ProblemHttpResult>> Drop(string key, LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock) =>
        StaffEndpoints.Change(
            db,
            configuration,
            clock,
            async db => await db.Set<TurnRow>().Where(t => t.TeamKey == key).ExecuteDeleteAsync() + await db.Set<TeamRow>().Where(t => t.Key == key).ExecuteDeleteAsync(),
            Problem.NotFound("team")
        );
}
