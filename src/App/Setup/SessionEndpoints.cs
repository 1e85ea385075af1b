using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Routing;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace DapperLantern.App.Setup;

/// <summary>Who is signed in, and what they may do. <see cref="Token"/> goes back in the header X-Lantern-Token with every write.</summary>
public sealed record SessionView(Guid Id, string Name, string Initials, Role Role, string TimeZone, IReadOnlyList<Act> May, string Token);

public sealed record SignIn(string Name, string Password);

/// <summary>A sign-in of the demo, shown on the sign-in page of a demo installation only.</summary>
public sealed record DemoSignIn(string Name, string DisplayName, Role Role, string Password);

/// <summary>A person leads can be given to.</summary>
public sealed record PersonView(Guid Id, string Name, string Initials, Role Role, bool Away);

public static class SessionEndpoints
{
    /// <summary>The one password of the demo's people; a demo installation only.</summary>
    public const string DemoPassword = "lantern-demo-1";

    public static void MapSession(this IEndpointRouteBuilder api)
    {
        api.MapPost("/session", Enter).AllowAnonymous().RequireRateLimiting("sign-in").WithSummary("Sign in");
        api.MapGet("/session", Current).WithSummary("Who is signed in");
        api.MapDelete("/session", Leave).WithSummary("Sign out");
        api.MapGet("/demo-sign-ins", DemoSignIns).AllowAnonymous().WithSummary("The people of the demo; empty elsewhere");
        api.MapGet("/people", People).Requires(Act.SeeLeads).WithSummary("People leads can be given to");
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Enter(SignIn body, SignInManager<Person> signIn)
    {
        var result = await signIn.PasswordSignInAsync(body.Name ?? "", body.Password ?? "", isPersistent: true, lockoutOnFailure: true);
        if (result.Succeeded)
            return TypedResults.NoContent();
        return result.IsLockedOut
            ? Trouble.Invalid("locked-out", "Too many wrong passwords. Try again in ten minutes.")
            : Trouble.Invalid("wrong-sign-in", "The name or the password is not right.");
    }

    private static async Task<Ok<SessionView>> Current(HttpContext http, ClaimsPrincipal user, LanternDb db, IAntiforgery antiforgery)
    {
        var person = await db.Users.SingleAsync(p => p.Id == user.Id());
        var token = antiforgery.GetAndStoreTokens(http).RequestToken!;
        return TypedResults.Ok(
            new SessionView(person.Id, person.DisplayName, Person.Initials(person.DisplayName), person.Role, person.TimeZone, [.. Permissions.Of(person.Role)], token)
        );
    }

    private static async Task<NoContent> Leave(SignInManager<Person> signIn)
    {
        await signIn.SignOutAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Ok<List<DemoSignIn>>> DemoSignIns(LanternDb db, IOptions<DemoOptions> demo)
    {
        if (!demo.Value.Enabled)
            return TypedResults.Ok(new List<DemoSignIn>());
        var people = await db.Users.OrderBy(p => p.DisplayName).ToListAsync();
        var one = people.GroupBy(p => p.Role).Select(g => g.First()).OrderBy(p => p.Role != Role.Coordinator).ThenBy(p => p.Role);
        return TypedResults.Ok(one.Select(p => new DemoSignIn(p.UserName!, p.DisplayName, p.Role, DemoPassword)).ToList());
    }

    private static async Task<Ok<List<PersonView>>> People(LanternDb db, TimeProvider clock)
    {
        var now = clock.UtcNow();
        var people = await db.Users.Where(p => p.Here && (p.Role == Role.Rep || p.Role == Role.Qualifier)).OrderBy(p => p.DisplayName).ToListAsync();
        var away = await db.Set<AbsenceRow>().Where(a => a.Starts <= now && a.Ends > now).Select(a => a.PersonId).ToHashSetAsync();
        return TypedResults.Ok(people.Select(p => new PersonView(p.Id, p.DisplayName, Person.Initials(p.DisplayName), p.Role, away.Contains(p.Id))).ToList());
    }
}

/// <summary>Whether this is a demo installation.</summary>
public sealed class DemoOptions
{
    public bool Enabled { get; set; }
}

/// <summary>Adds role and time zone to the signed-in person's claims.</summary>
public sealed class PersonClaims(UserManager<Person> users, IOptions<IdentityOptions> options) : UserClaimsPrincipalFactory<Person>(users, options)
{
    protected override async Task<ClaimsIdentity> GenerateClaimsAsync(Person user)
    {
        var identity = await base.GenerateClaimsAsync(user);
        identity.AddClaim(new Claim(ClaimTypes.Role, user.Role.ToString()));
        identity.AddClaim(new Claim(Requests.ZoneClaim, user.TimeZone));
        return identity;
    }
}
