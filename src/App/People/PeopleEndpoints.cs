using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.People;

/// <summary>How somebody stands with us.</summary>
public enum PersonState
{
    /// <summary>Was asked in, and has not been in yet.</summary>
    Invited,
    Here,

    /// <summary>Works here no more, or not for now.</summary>
    Left,
}

/// <summary>Somebody of us, for an administrator.</summary>
/// <param name="SignInName">What they sign in by, beside their email address.</param>
/// <param name="LinkEndsAt">Until when a one-time address of theirs opens; null where there is none.</param>
/// <param name="SeenAt">Their last request; null where they were never in.</param>
public sealed record PersonLine(
    Guid Id,
    string Name,
    string SignInName,
    string Email,
    Role Role,
    string TimeZone,
    Guid? Manager,
    string? ManagerName,
    IReadOnlyList<string> Teams,
    PersonState State,
    DateTime? LinkEndsAt,
    DateTime? SeenAt,
    int Version
);

/// <summary>A role as it is chosen.</summary>
public sealed record RoleChoice(Role Key, string Label);

/// <param name="Sends">True where letters go somewhere.</param>
public sealed record PeopleView(IReadOnlyList<PersonLine> People, IReadOnlyList<RoleChoice> Roles, bool Sends);

/// <param name="Send">True to send it to them as a letter, too.</param>
public sealed record LinkOrder(bool Send = false);

/// <summary>People, for those who administer them.</summary>
public static class PeopleEndpoints
{
    internal static void MapPeople(this IEndpointRouteBuilder api)
    {
        var people = api.MapGroup("/setup/people").Requires(Act.ManagePeople).WithTags("People");
        people.MapGet("", List).WithSummary("Everybody of us, with role, team and state");
        people.MapPost("", Invite).WithSummary("Make somebody who comes in by a one-time address");
        people.MapPut("/{id:guid}", Change).WithSummary("Change somebody's name, email address, role, zone, or whom they report to");
        people.MapPost("/{id:guid}/link", Link).WithSummary("A one-time address for somebody: an invitation, or another password");
        people.MapPost("/{id:guid}/suspend", Suspend).WithSummary("Let somebody go: they cannot sign in, and get no leads");
        people.MapPost("/{id:guid}/return", Return).WithSummary("Let somebody in again");
    }

    private static async Task<Ok<PeopleView>> List(LanternDb db, PeopleDesk desk, TimeProvider clock) => TypedResults.Ok(await View(db, desk, clock));

    private static async Task<PeopleView> View(LanternDb db, PeopleDesk desk, TimeProvider clock)
    {
        var now = clock.UtcNow();
        var people = await db.Users.AsNoTracking().OrderBy(p => p.DisplayName).ThenBy(p => p.Id).ToListAsync();
        var names = people.ToDictionary(p => p.Id, p => p.DisplayName);
        var ends = await db.Set<OneTimeLinkRow>()
            .Where(l => l.EndedAt == null && l.EndsAt > now && l.PersonId != null)
            .GroupBy(l => l.PersonId!.Value)
            .Select(g => new { g.Key, At = g.Max(l => l.EndsAt) })
            .ToDictionaryAsync(l => l.Key, l => l.At);
        var seen = await db.Set<SessionRow>().GroupBy(s => s.PersonId).Select(g => new { g.Key, At = g.Max(s => s.SeenAt) }).ToDictionaryAsync(s => s.Key, s => s.At);
        var teams = (
            await db.Set<Routing.TurnRow>()
                .Join(db.Set<Routing.TeamRow>(), t => t.TeamKey, t => t.Key, (t, team) => new { t.PersonId, team.Name })
                .OrderBy(t => t.Name)
                .ToListAsync()
        ).ToLookup(t => t.PersonId, t => t.Name);
        return new PeopleView(
            [
                .. people.Select(p => new PersonLine(
                    p.Id,
                    p.DisplayName,
                    p.UserName!,
                    p.Email ?? "",
                    p.Role,
                    p.TimeZone,
                    p.ManagerId,
                    p.ManagerId is { } manager ? names[manager] : null,
                    [.. teams[p.Id]],
                    StateOf(p),
                    ends.TryGetValue(p.Id, out var until) ? until : null,
                    seen.TryGetValue(p.Id, out var at) ? at : null,
                    p.Version
                )),
            ],
            [.. Enum.GetValues<Role>().Select(r => new RoleChoice(r, r.ToString()))],
            desk.Sends
        );
    }

    private static PersonState StateOf(Person person) =>
        person.Here ? PersonState.Here
        : person.PasswordHash is null ? PersonState.Invited
        : PersonState.Left;

    private static async Task<Results<Ok<PersonLine>, ProblemHttpResult>> Invite(PersonOrder body, LanternDb db, PeopleDesk desk, TimeProvider clock)
    {
        var made = await desk.Invite(body);
        return made.Problem is { } problem ? ApiProblems.Of(problem) : await One(made.Value, db, desk, clock);
    }

    private static async Task<Results<Ok<PersonLine>, ProblemHttpResult>> Change(Guid id, PersonOrder body, HttpRequest request, LanternDb db, PeopleDesk desk, TimeProvider clock)
    {
        if (request.Version() is not { } version)
            return ApiProblems.DraftVersionMissing();
        return await desk.Change(id, body, version) is { } problem ? ApiProblems.Of(problem) : await One(id, db, desk, clock);
    }

    private static async Task<Results<Ok<OneTimeLink>, ProblemHttpResult>> Link(Guid id, LinkOrder body, ClaimsPrincipal user, PeopleDesk desk) =>
        await desk.Link(id, user.Id(), body.Send).Answer();

    private static async Task<Results<Ok<PersonLine>, ProblemHttpResult>> Suspend(Guid id, LanternDb db, PeopleDesk desk, TimeProvider clock) =>
        await desk.Suspend(id) is { } problem ? ApiProblems.Of(problem) : await One(id, db, desk, clock);

    private static async Task<Results<Ok<PersonLine>, ProblemHttpResult>> Return(Guid id, LanternDb db, PeopleDesk desk, TimeProvider clock) =>
        await desk.Return(id) is { } problem ? ApiProblems.Of(problem) : await One(id, db, desk, clock);

    private static async Task<Results<Ok<PersonLine>, ProblemHttpResult>> One(Guid id, LanternDb db, PeopleDesk desk, TimeProvider clock) =>
        TypedResults.Ok((await View(db, desk, clock)).People.Single(p => p.Id == id));
}
