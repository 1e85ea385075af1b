using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Events;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.People;

/// <param name="Key">What stands behind the # of the address.</param>
public sealed record WayInKey([Text(200)] string Key);

/// <summary>What a one-time address opens.</summary>
/// <param name="Name">Of the person it lets in; null for the first administrator.</param>
/// <param name="EndsAt">Until when it opens.</param>
public sealed record WayInView(LinkKind Kind, string? Name, string? SignInName, DateTime EndsAt);

/// <summary>Comes in by a one-time address.</summary>
/// <param name="Name">Of the first administrator; else of no meaning, as are the two after it.</param>
public sealed record WayInOrder(
    [Text(200)] string Key,
    [Text(1_000)] string Password,
    [Text(100)] string Name = "",
    [Text(254)] string Email = "",
    [Text(100)] string TimeZone = "UTC"
);

public sealed record ForgottenOrder([Text(256)] string Name);

/// <summary>The ways in for those who have no password: the first administrator, who was invited, who forgot it.</summary>
public static class WayInEndpoints
{
    internal static void MapWayIn(this IEndpointRouteBuilder api)
    {
        var open = api.MapGroup("/way-in").AllowAnonymous().RequireRateLimiting("sign-in").WithTags("Session");
        open.MapPost("/look", Look).WithSummary("What a one-time address opens; it is not used by that");
        open.MapPost("", Enter).WithSummary("Use a one-time address: choose a password, and be signed in");
        open.MapPost("/forgotten", Forgotten).WithSummary("Ask for an address for another password; the answer is the same whether there is such a person or not");
    }

    private static async Task<Results<Ok<WayInView>, ProblemHttpResult>> Look(WayInKey body, LanternDb db, OneTimeLinks links)
    {
        if (await links.Find(db, body.Key) is not { } link)
            return ApiProblems.Of("link-over");
        var person = link.PersonId is { } id ? await db.Users.AsNoTracking().SingleAsync(p => p.Id == id) : null;
        return TypedResults.Ok(new WayInView(link.Kind, person?.DisplayName, person?.UserName, link.EndsAt));
    }

    private static async Task<Results<NoContent, Ok<SignInNext>, ProblemHttpResult>> Enter(
        WayInOrder body,
        HttpContext http,
        LanternDb db,
        OneTimeLinks links,
        PeopleDesk desk,
        SignInGuard guard,
        SecondSteps steps,
        Sessions sessions,
        WorkspaceConfiguration configuration
    )
    {
        if (await links.Find(db, body.Key) is not { } link)
            return ApiProblems.Of("link-over");
        await using var transaction = await db.Database.BeginTransactionAsync();
        var found = link.Kind == LinkKind.Begin ? await desk.First(new PersonOrder(body.Name, body.Email, [ShippedRoles.Administrator], body.TimeZone)) : await Known(db, link);
        if (found.Problem is { } problem)
            return ApiProblems.Of(problem);
        var person = found.Value!;
        if (!configuration.Current.Provider.LetsInOtherwise(configuration.Current.Roles.Of(person.Roles)))
            return ApiProblems.Of("provider-only");
        if (Passwords.Refuse(body.Password, person.UserName!) is { } why)
            return ApiProblems.Of(why, "password");
        if (!await links.Use(db, link))
            return ApiProblems.Of("link-over");
        var hash = await guard.Hash(person, body.Password);
        await db
            .Users.Where(p => p.Id == person.Id)
            .ExecuteUpdateAsync(s => s.SetProperty(p => p.PasswordHash, hash).SetProperty(p => p.SecurityStamp, Guid.NewGuid().ToString("N")).SetProperty(p => p.Here, true));
        await links.EndAll(db, person.Id);
        await db.Log(EventLog.Person, person.Id, new PasswordChanged());
        await transaction.CommitAsync();
        await sessions.EndAll(db, person.Id, "password");
        await configuration.Changed();
        // Another password is no way around a second step.
        if (await steps.Next(http, await db.Users.AsNoTracking().SingleAsync(p => p.Id == person.Id), stay: false) is { } next)
            return TypedResults.Ok(next);
        await sessions.SignIn(http, db, person, stays: false);
        return TypedResults.NoContent();
    }

    // An invitation lets in who is not here yet; another password is for those who are.
    private static async Task<Outcome<Person>> Known(LanternDb db, OneTimeLinkRow link)
    {
        var person = await db.Users.AsNoTracking().SingleAsync(p => p.Id == link.PersonId);
        return person.Here || link.Kind == LinkKind.Invitation && person.PasswordHash is null ? person : new Problem("link-over");
    }

    private static async Task<Accepted> Forgotten(ForgottenOrder body, LanternDb db, TimeProvider clock)
    {
        await ForgottenPasswords.Ask(db, body.Name, clock.UtcNow());
        return TypedResults.Accepted((string?)null);
    }
}
