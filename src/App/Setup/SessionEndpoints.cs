using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>Who is signed in, and what they may do. <see cref="Token"/> goes back in the header X-Lantern-Token with every write.</summary>
/// <param name="Role">Names of their roles.</param>
/// <param name="Numbers">The mark the person writes before decimals.</param>
/// <param name="Dates">The order in which the person reads and writes a date.</param>
/// <param name="OwnOnly">True when the person works only the records they own.</param>
/// <param name="Company">Name of the company; empty before it is named.</param>
/// <param name="Currency">What amounts are in unless another is named; ISO 4217.</param>
/// <param name="IsDemo">True in the demo, which sends nothing outside.</param>
/// <param name="NeedsSecondStep">True where the role asks for a second step that this session began without: nothing may be done before.</param>
/// <param name="Begins">True for an administrator of a company that is still being set up for the first time.</param>
public sealed record SessionView(
    Guid Id,
    string Name,
    string Initials,
    string Role,
    string TimeZone,
    DecimalMark Numbers,
    DateForm Dates,
    bool OwnOnly,
    string Company,
    string Currency,
    bool IsDemo,
    bool Begins,
    bool NeedsSecondStep,
    IReadOnlyList<Act> May,
    string Token
);

/// <summary>The order of the parts of a date: 24/12/2026, 12/24/2026 or 2026-12-24.</summary>
public enum DateForm
{
    DayFirst,
    MonthFirst,
    YearFirst,
}

/// <param name="Stay">True to stay signed in when the browser is closed.</param>
public sealed record SignInOrder([Text(256)] string Name, [Text(1_000)] string Password, bool Stay = false);

/// <param name="Needs">What is asked for next: code.</param>
public sealed record SignInNext(string Needs);

/// <param name="Address">The browser goes there, and the session at the identity provider ends, too.</param>
public sealed record SignOutNext(string Address);

public sealed record NumbersOrder(DecimalMark Numbers);

public sealed record DatesOrder(DateForm Dates);

public sealed record PasswordOrder([Text(1_000)] string Old, [Text(1_000)] string New);

/// <summary>A session as its owner sees it. <see cref="This"/>: the one that asks.</summary>
public sealed record SessionLine(Guid Id, string Person, string Agent, string Address, DateTime StartedAt, DateTime SeenAt, bool Stays, bool This);

/// <summary>A sign-in of the demo, shown on the sign-in page of a demo workspace only.</summary>
public sealed record DemoSignIn(string Name, string DisplayName, string Role, string Password);

/// <summary>A person leads can be given to.</summary>
public sealed record PersonView(Guid Id, string Name, string Initials, bool Away);

public static class SessionEndpoints
{
    /// <summary>The one password of the demo's people; a demo workspace only.</summary>
    public const string DemoPassword = "lantern-demo-1";

    public static void MapSession(this IEndpointRouteBuilder api)
    {
        api.MapPost("/session", Enter).WithTags("Session").AllowAnonymous().RequireRateLimiting("sign-in").WithSummary("Sign in");
        api.MapGet("/session", Current).WithTags("Session").WithSummary("Who is signed in");
        api.MapDelete("/session", Leave).WithTags("Session").AllowAnonymous().WithSummary("Sign out; the session ends");
        var own = api.MapGroup("").Requires(Act.SeeDesk).WithTags("Session");
        own.MapPut("/session/numbers", Numbers).WithSummary("Say which mark one writes before decimals");
        own.MapPut("/session/dates", Dates).WithSummary("Say in which order one writes a date");
        own.MapPut("/session/password", Password).RequireRateLimiting("sign-in").WithSummary("Change one's password; all other sessions end");
        own.MapGet("/sessions", List).WithSummary("Where one is signed in; everybody's for an administrator");
        own.MapDelete("/sessions/{id:guid}", EndOne).WithSummary("End one of one's sessions; anybody's for an administrator");
        api.MapGet("/demo-sign-ins", DemoSignIns).WithTags("Session").AllowAnonymous().WithSummary("The people of the demo; empty elsewhere");
        api.MapGet("/people", People).Requires(Act.SeeLeads).WithTags("Leads").WithSummary("People leads can be given to");
    }

    private static async Task<Results<NoContent, Ok<SignInNext>, ProblemHttpResult>> Enter(
        SignInOrder body,
        HttpContext http,
        LanternDb db,
        SignInGuard guard,
        SecondSteps steps,
        Sessions sessions,
        Workspace workspace
    )
    {
        var (name, password) = (body.Name, body.Password);
        if (name.Length > 256 || password.Length > 1024)
            return WrongSignIn;
        var tried = SignInTry.Of(http, name);
        if (await guard.Refuse(db, tried, http) is { } wait)
            return ApiProblems.Of(wait);
        var person = await Person.Named(db, name).SingleOrDefaultAsync();
        if (!await guard.Check(person, password))
        {
            await guard.Missed(db, tried, person?.Id);
            return WrongSignIn;
        }
        if (!workspace.Provider.LetsInOtherwise(workspace.Roles.Of(person!.Roles)))
            return ApiProblems.Of("provider-only");
        if (await steps.Next(http, person, body.Stay) is { } next)
            return TypedResults.Ok(next);
        await guard.Welcome(http, db, tried, person.Id);
        await sessions.SignIn(http, db, person, body.Stay);
        return TypedResults.NoContent();
    }

    private static ProblemHttpResult WrongSignIn => ApiProblems.Of("wrong-sign-in");

    private static async Task<Ok<SessionView>> Current(HttpContext http, ClaimsPrincipal user, LanternDb db, IAntiforgery antiforgery, Workspace workspace, DemoSettings demo)
    {
        var person = await db.Users.SingleAsync(p => p.Id == user.Id());
        var token = antiforgery.GetAndStoreTokens(http).RequestToken!;
        return TypedResults.Ok(
            new SessionView(
                person.Id,
                person.DisplayName,
                Person.Initials(person.DisplayName),
                workspace.Roles.Names(person.Roles),
                person.TimeZone,
                user.Decimals(),
                person.Dates,
                user.WorksOwnOnly(),
                workspace.Company.Name,
                workspace.Company.Currency,
                demo.Enabled,
                user.Rights().May(Act.ManagePeople) && workspace.IsBeginning,
                user.HasClaim(c => c.Type == Requests.WeakClaim),
                [.. user.Rights().Acts.Where(user.May)],
                token
            )
        );
    }

    private static async Task<Results<NoContent, Ok<SignOutNext>>> Leave(HttpContext http, ClaimsPrincipal user, LanternDb db, Sessions sessions, IProviderDoor provider)
    {
        var token = user.Session() is { } session ? await sessions.Leave(db, session) : null;
        await http.SignOutAsync(IdentityConstants.ApplicationScheme);
        return token is not null && await provider.WayOut(token, http.RequestAborted) is { } address ? TypedResults.Ok(new SignOutNext(address)) : TypedResults.NoContent();
    }

    private static async Task<NoContent> Numbers(NumbersOrder body, ClaimsPrincipal user, LanternDb db)
    {
        await db.Users.Where(p => p.Id == user.Id()).ExecuteUpdateAsync(p => p.SetProperty(x => x.Numbers, body.Numbers.ToString()));
        return TypedResults.NoContent();
    }

    private static async Task<NoContent> Dates(DatesOrder body, ClaimsPrincipal user, LanternDb db)
    {
        await db.Users.Where(p => p.Id == user.Id()).ExecuteUpdateAsync(p => p.SetProperty(x => x.Dates, body.Dates));
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Password(
        PasswordOrder body,
        HttpContext http,
        ClaimsPrincipal user,
        LanternDb db,
        UserManager<Person> users,
        SignInGuard guard,
        Sessions sessions
    )
    {
        var person = await db.Users.SingleAsync(p => p.Id == user.Id());
        if (await guard.Disproof(db, http, person, body.Old, "old") is { } disproof)
            return ApiProblems.Of(disproof);
        if (Passwords.Refuse(body.New, person.UserName!) is { } why)
            return ApiProblems.Of(why, "new");
        person.PasswordHash = await guard.Hash(person, body.New);
        await users.UpdateSecurityStampAsync(person);
        await db.Log(EventLog.Person, person.Id, new PasswordChanged());
        await sessions.EndAll(db, person.Id, "password", but: user.Session());
        return TypedResults.NoContent();
    }

    private static async Task<Ok<List<SessionLine>>> List(ClaimsPrincipal user, LanternDb db, TimeProvider clock)
    {
        var (now, me, mine, all) = (clock.UtcNow(), user.Id(), user.Session(), user.May(Act.ManagePeople));
        var rows = await db.Set<SessionRow>()
            .Where(s => s.EndedAt == null && s.EndsAt > now && (s.PersonId == me || all))
            .Join(db.Users, s => s.PersonId, p => p.Id, (s, p) => new { s, p })
            .OrderByDescending(x => x.s.SeenAt)
            .Take(500)
            .ToListAsync();
        return TypedResults.Ok(rows.Select(x => new SessionLine(x.s.Id, x.p.DisplayName, x.s.Agent, x.s.Address, x.s.StartedAt, x.s.SeenAt, x.s.Stays, x.s.Id == mine)).ToList());
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> EndOne(Guid id, ClaimsPrincipal user, LanternDb db, Sessions sessions)
    {
        var (me, all) = (user.Id(), user.May(Act.ManagePeople));
        if (!await db.Set<SessionRow>().AnyAsync(s => s.Id == id && s.EndedAt == null && (s.PersonId == me || all)))
            return ApiProblems.NotFound("session");
        await sessions.End(db, [id], "ended");
        return TypedResults.NoContent();
    }

    private static async Task<Ok<List<DemoSignIn>>> DemoSignIns(LanternDb db, DemoSettings demo, Workspace workspace)
    {
        if (!demo.Enabled)
            return TypedResults.Ok(new List<DemoSignIn>());
        var people = await db.Users.Where(p => p.Here).OrderBy(p => p.DisplayName).ToListAsync();
        var one = people
            .GroupBy(p => workspace.Roles.Names(p.Roles))
            .Select(g => (Role: g.Key, Person: g.First()))
            .OrderBy(x => !x.Person.Roles.Contains(ShippedRoles.Coordinator))
            .ThenBy(x => Array.FindIndex([.. workspace.Roles.All], r => x.Person.Roles.Contains(r.Definition.Key)));
        return TypedResults.Ok(one.Select(x => new DemoSignIn(x.Person.UserName!, x.Person.DisplayName, x.Role, DemoPassword)).ToList());
    }

    private static async Task<Ok<List<PersonView>>> People(LanternDb db, Workspace workspace, TimeProvider clock)
    {
        var now = clock.UtcNow();
        var people = await db.Users.Where(Person.HasAny(workspace.Roles.GivenLeads)).Where(p => p.Here).OrderBy(p => p.DisplayName).ToListAsync();
        var away = await db.Set<AbsenceRow>().Where(a => a.Starts <= now && a.Ends > now).Select(a => a.PersonId).ToHashSetAsync();
        return TypedResults.Ok(people.Select(p => new PersonView(p.Id, p.DisplayName, Person.Initials(p.DisplayName), away.Contains(p.Id))).ToList());
    }
}
