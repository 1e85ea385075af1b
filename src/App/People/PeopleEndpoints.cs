using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Fields;
using DapperLantern.Core.People;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
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
/// <param name="Roles">Keys of their roles.</param>
/// <param name="Teams">Keys of the teams they are in.</param>
/// <param name="LinkEndsAt">Until when a one-time address of theirs opens; null where there is none.</param>
/// <param name="Ways">How they write, and when they work.</param>
/// <param name="HasSecondStep">True where they sign in with codes or have a passkey.</param>
/// <param name="HasProvider">True where they came in by the identity provider.</param>
/// <param name="SeenAt">Their last request; null where they were never in.</param>
public sealed record PersonLine(
    Guid Id,
    string Name,
    string SignInName,
    string Email,
    IReadOnlyList<string> Roles,
    string TimeZone,
    Guid? Manager,
    string? ManagerName,
    IReadOnlyList<string> Teams,
    PersonState State,
    PersonWays Ways,
    bool HasSecondStep,
    bool HasProvider,
    DateTime? LinkEndsAt,
    DateTime? SeenAt,
    int Version
);

/// <summary>A role as it is chosen.</summary>
/// <param name="WorksLeads">True for a role that is given leads, and so has places in teams.</param>
public sealed record RoleChoice(string Key, string Label, bool WorksLeads);

/// <param name="Teams">Teams there are.</param>
/// <param name="Sends">True where letters go somewhere.</param>
public sealed record PeopleView(IReadOnlyList<PersonLine> People, IReadOnlyList<RoleChoice> Roles, IReadOnlyList<ChoiceView> Teams, bool Sends);

public sealed record PeopleListing([Text(40_000)] string Text);

/// <summary>A line of a list of people as it was read.</summary>
/// <param name="Role">Rep where the line names none.</param>
/// <param name="Problem">Why it cannot be used; null where it can.</param>
public sealed record PersonRead(int Line, string Name, string Email, string Role, IReadOnlyList<string> Teams, string? Problem);

/// <param name="Send">True to send each their address as a letter, too.</param>
public sealed record SeveralOrder([Count(200)] IReadOnlyList<PersonOrder> People, bool Send = false);

/// <summary>Somebody who was invited, with the address they come in by.</summary>
public sealed record Invited(Guid Id, string Name, string Email, OneTimeLink Link);

/// <param name="Send">True to send it to them as a letter, too.</param>
public sealed record LinkOrder(bool Send = false);

/// <summary>People, for those who administer them.</summary>
public static class PeopleEndpoints
{
    internal static IReadOnlyList<RoleChoice> RoleChoices(Workspace workspace) =>
        [.. workspace.Roles.All.Select(r => new RoleChoice(r.Definition.Key, r.Definition.Name, r.Definition.GivenLeads))];

    internal static void MapPeople(this IEndpointRouteBuilder api)
    {
        var people = api.MapGroup("/setup/people").Requires(Act.ManagePeople).WithTags("People");
        people.MapGet("", List).WithSummary("Everybody of us, with role, team and state");
        people.MapPost("", Invite).WithSummary("Make somebody who comes in by a one-time address");
        people.MapPost("/read", ReadList).WithSummary("Read people out of lines that were typed or pasted; nothing is kept");
        people.MapPost("/several", Several).AnswersOnce().WithSummary("Make several people, all or none, each with a one-time address");
        people.MapPut("/{id:guid}", Change).WithSummary("Change somebody's name, email address, role, zone, or whom they report to");
        people.MapPost("/{id:guid}/link", Link).AnswersOnce().WithSummary("A one-time address for somebody: an invitation, or another password");
        people.MapPost("/{id:guid}/suspend", Suspend).WithSummary("Let somebody go: they cannot sign in, and get no leads");
        people.MapPost("/{id:guid}/return", Return).WithSummary("Let somebody in again");
    }

    private static async Task<Ok<PeopleView>> List(LanternDb db, PeopleDesk desk, Workspace workspace, TimeProvider clock) =>
        TypedResults.Ok(new PeopleView(await Lines(db, db.Users.OrderBy(p => p.DisplayName).ThenBy(p => p.Id), clock), RoleChoices(workspace), await TeamsOf(db), desk.Sends));

    internal static Task<List<ChoiceView>> TeamsOf(LanternDb db) => db.Set<TeamRow>().OrderBy(t => t.Name).Select(t => new ChoiceView(t.Key, t.Name)).ToListAsync();

    private static async Task<Ok<List<PersonRead>>> ReadList(PeopleListing body, LanternDb db, Workspace workspace)
    {
        var teams = await TeamsOf(db);
        var roles = workspace.Roles.All.Select(r => new Choice(r.Definition.Key, r.Definition.Name)).ToList();
        var read = PeopleText.Read(body.Text, roles, [.. teams.Select(t => new Choice(t.Key, t.Label))]);
        var emails = read.Select(r => r.Email).ToArray();
        var there = await db.Users.Where(p => emails.Contains(p.Email)).Select(p => new { p.Email, p.DisplayName }).ToDictionaryAsync(p => p.Email!, p => p.DisplayName);
        return TypedResults.Ok(
            read.Select(r => new PersonRead(
                    r.Line,
                    r.Name,
                    r.Email,
                    r.Role ?? ShippedRoles.Rep,
                    [.. r.Teams],
                    r.Problem?.Words ?? (there.TryGetValue(r.Email, out var name) ? new Problem("person-exists", "text", name).Words : null)
                ))
                .ToList()
        );
    }

    private static async Task<Results<Ok<List<Invited>>, ProblemHttpResult>> Several(SeveralOrder body, ClaimsPrincipal user, LanternDb db, PeopleDesk desk)
    {
        if (body.Send && !desk.Sends)
            return ApiProblems.Of("no-mail-server");
        var made = await desk.InviteAll(body.People);
        if (made.Problem is { } problem)
            return ApiProblems.Of(problem);
        var invited = new List<Invited>();
        foreach (var (id, order) in made.Value!.Zip(body.People))
            if ((await desk.Link(id, user.Id(), body.Send)).Value is { } link)
                invited.Add(new Invited(id, order.Name, order.Email, link));
        return TypedResults.Ok(invited);
    }

    private static async Task<List<PersonLine>> Lines(LanternDb db, IQueryable<Person> which, TimeProvider clock)
    {
        var now = clock.UtcNow();
        var having = SecondSteps.Having(db);
        var rows = await which
            .Select(p => new
            {
                p,
                Manager = db.Users.Where(m => m.Id == p.ManagerId).Select(m => m.DisplayName).FirstOrDefault(),
                LinkEndsAt = db.Set<OneTimeLinkRow>().Where(l => l.PersonId == p.Id && l.EndedAt == null && l.EndsAt > now).Max(l => (DateTime?)l.EndsAt),
                SeenAt = db.Set<SessionRow>().Where(s => s.PersonId == p.Id).Max(s => (DateTime?)s.SeenAt),
                HasSecondStep = having.Contains(p.Id),
                HasProvider = db.Set<IdentityUserLogin<Guid>>().Any(l => l.UserId == p.Id),
                Teams = db.Set<TurnRow>()
                    .Where(t => t.PersonId == p.Id)
                    .Join(db.Set<TeamRow>(), t => t.TeamKey, t => t.Key, (_, team) => team)
                    .OrderBy(team => team.Name)
                    .Select(team => team.Key)
                    .ToList(),
            })
            .AsNoTracking()
            .ToListAsync();
        return
        [
            .. rows.Select(r => new PersonLine(
                r.p.Id,
                r.p.DisplayName,
                r.p.UserName!,
                r.p.Email ?? "",
                r.p.Roles,
                r.p.TimeZone,
                r.p.ManagerId,
                r.Manager,
                r.Teams,
                StateOf(r.p),
                PersonWays.Of(r.p),
                r.HasSecondStep,
                r.HasProvider,
                r.LinkEndsAt,
                r.SeenAt,
                r.p.Version
            )),
        ];
    }

    private static PersonState StateOf(Person person) =>
        person.Here ? PersonState.Here
        : person.PasswordHash is null ? PersonState.Invited
        : PersonState.Left;

    private static async Task<Results<Ok<PersonLine>, ProblemHttpResult>> Invite(PersonOrder body, LanternDb db, PeopleDesk desk, TimeProvider clock)
    {
        var made = await desk.Invite(body);
        return await Line(made.Value, made.Problem, db, clock);
    }

    private static async Task<Results<Ok<PersonLine>, ProblemHttpResult>> Change(
        Guid id,
        PersonOrder body,
        HttpRequest request,
        LanternDb db,
        PeopleDesk desk,
        TimeProvider clock
    ) => request.Version() is { } version ? await Line(id, await desk.Change(id, body, version), db, clock) : ApiProblems.DraftVersionMissing();

    private static async Task<Results<Ok<OneTimeLink>, ProblemHttpResult>> Link(Guid id, LinkOrder body, ClaimsPrincipal user, PeopleDesk desk) =>
        await desk.Link(id, user.Id(), body.Send).Answer();

    private static async Task<Results<Ok<PersonLine>, ProblemHttpResult>> Suspend(Guid id, LanternDb db, PeopleDesk desk, TimeProvider clock) =>
        await Line(id, await desk.Suspend(id), db, clock);

    private static async Task<Results<Ok<PersonLine>, ProblemHttpResult>> Return(Guid id, LanternDb db, PeopleDesk desk, TimeProvider clock) =>
        await Line(id, await desk.Return(id), db, clock);

    // The person as they are after an act, or why it was not done.
    private static async Task<Results<Ok<PersonLine>, ProblemHttpResult>> Line(Guid id, Problem? problem, LanternDb db, TimeProvider clock) =>
        problem is null ? TypedResults.Ok((await Lines(db, db.Users.Where(p => p.Id == id), clock)).Single()) : ApiProblems.Of(problem);
}
