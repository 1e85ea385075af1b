using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.Core.Events;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup.SignIn;

/// <param name="Id">In base64url.</param>
public sealed record PasskeyView(string Id, string Name, DateTime MadeAt);

/// <summary>The second steps of whoever asks.</summary>
/// <param name="RecoveryLeft">Codes for the day the device is lost that are not used.</param>
/// <param name="Required">True where the role may do nothing without one.</param>
/// <param name="MayChange">False where this session began without the second step that there is.</param>
/// <param name="AsksPassword">False where this session began at the identity provider: in its first minutes that is the proof.</param>
public sealed record SecondStepView(bool HasCodes, int RecoveryLeft, IReadOnlyList<PasskeyView> Passkeys, bool Required, bool MayChange, bool AsksPassword);

/// <param name="Key">In base32, to be typed where the code cannot be read.</param>
/// <param name="Address">For the QR code.</param>
public sealed record CodeKeyView(string Key, string Address);

/// <param name="Codes">Shown this once.</param>
public sealed record RecoveryView(IReadOnlyList<string> Codes);

/// <param name="Options">JSON of WebAuthn for the browser.</param>
public sealed record PasskeyOptions(string Options);

public sealed record ProofOrder([Text(1_000)] string Password);

/// <param name="Code">Six digits, or one of the codes for the day the device is lost.</param>
public sealed record CodeOrder([Text(100)] string Code);

/// <param name="Credential">JSON of WebAuthn as the browser made it.</param>
public sealed record PasskeyOrder([Text(20_000)] string Credential, [Text(60)] string Name = "");

public sealed record PasskeySignInOrder([Text(20_000)] string Credential, bool Stay = false);

/// <param name="Roles">Keys of the roles that may do nothing without a second step.</param>
/// <param name="Without">How many people of each role have none.</param>
public sealed record StrongSignInView(IReadOnlyList<string> Roles, IReadOnlyDictionary<string, int> Without);

/// <summary>Codes and passkeys: how one gets them, signs in with them, and who has to have them.</summary>
internal static class SecondStepEndpoints
{
    public static void MapSecondSteps(this IEndpointRouteBuilder api)
    {
        var open = api.MapGroup("/session").AllowAnonymous().RequireRateLimiting("sign-in").WithTags("Session");
        open.MapPost("/code", Code).WithSummary("The second step of a sign-in: a code, after the password was right");
        open.MapPost("/passkey/options", Ask).WithSummary("What a browser needs to sign in by passkey");
        open.MapPost("/passkey", Passkey).WithSummary("Sign in by passkey");
        var own = api.MapGroup("/session/second-step").Requires(Act.KeepOwnSignIn).RequireRateLimiting("sign-in").WithTags("Session");
        own.MapGet("", Own).WithSummary("One's codes and passkeys");
        own.MapPost("/codes/key", NewKey).AnswersOnce().WithSummary("A key for a device that makes codes; nothing is asked of it until its first code was right");
        own.MapPost("/codes", Confirm).AnswersOnce().WithSummary("The first code of a device: codes are asked for from now on");
        own.MapPost("/codes/end", EndCodes).WithSummary("Codes are asked for no more");
        own.MapPost("/recovery", NewRecovery).AnswersOnce().WithSummary("New codes for the day the device is lost");
        own.MapPost("/passkeys/options", MakingPasskey).WithSummary("What a browser needs to make a passkey");
        own.MapPost("/passkeys", MadePasskey).WithSummary("Keep a passkey that the browser made");
        own.MapPost("/passkeys/{id}/end", EndPasskey).WithSummary("A passkey lets nobody in any more");
        var manage = api.MapGroup("/setup").Requires(Act.ManagePeople).WithTags("People");
        manage.MapGet("/strong-sign-in", Strong).WithSummary("Which roles have to sign in with a second step");
        manage.MapPut("/strong-sign-in", SetStrong).WithSummary("Say which roles have to");
        manage.MapPost("/people/{id:guid}/second-step/end", EndOthers).WithSummary("Take the codes and passkeys of somebody away who lost them");
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Code(CodeOrder body, HttpContext http, LanternDb db, SecondSteps steps, SignInGuard guard, Sessions sessions)
    {
        if (await steps.Half(http) is not var (person, stay, at))
            return ApiProblems.Of("half-over");
        var tried = SignInTry.Of(http, person.UserName!);
        if (await guard.Refuse(db, tried, http) is { } wait)
            return ApiProblems.Of(wait);
        var refusal = await steps.Take(person.Id, body.Code);
        if (refusal is not null && !await steps.Recover(person.Id, body.Code))
        {
            await guard.Missed(db, tried, person.Id);
            return ApiProblems.Of(refusal, "code");
        }
        steps.Whole(http);
        await guard.Welcome(http, db, tried, person.Id);
        await sessions.SignIn(http, db, person, stay, strong: true, at);
        return TypedResults.NoContent();
    }

    private static async Task<Ok<PasskeyOptions>> Ask(HttpContext http, Passkeys passkeys) => TypedResults.Ok(new PasskeyOptions(await passkeys.Asking(http)));

    private static async Task<Results<NoContent, ProblemHttpResult>> Passkey(
        PasskeySignInOrder body,
        HttpContext http,
        LanternDb db,
        Passkeys passkeys,
        SecondSteps steps,
        SignInGuard guard,
        Sessions sessions,
        Workspace workspace
    )
    {
        // No name is typed: tries are counted by where they come from, so that nobody makes all others wait.
        var tried = SignInTry.Of(http, $"passkey {Sessions.AddressOf(http)}");
        if (await guard.Refuse(db, tried, http) is { } wait)
            return ApiProblems.Of(wait);
        if (await passkeys.Answered(http, body.Credential) is not { } person)
        {
            await guard.Failed(db, tried);
            await db.Log(EventLog.Person, (Guid?)null, new SignInFailed("", tried.Address));
            return ApiProblems.Of("passkey-unknown");
        }
        if (!workspace.Provider.LetsInOtherwise(workspace.Roles.Of(person.Roles)))
            return ApiProblems.Of("provider-only");
        steps.Whole(http);
        await sessions.SignIn(http, db, person, body.Stay, strong: true);
        return TypedResults.NoContent();
    }

    private static async Task<Ok<SecondStepView>> Own(ClaimsPrincipal user, SecondStepDesk desk) => TypedResults.Ok(await desk.View(user));

    private static async Task<Results<Ok<CodeKeyView>, ProblemHttpResult>> NewKey(ProofOrder body, HttpContext http, SecondStepDesk desk) =>
        await desk.NewKey(http, body.Password).Answer();

    private static async Task<Results<Ok<RecoveryView>, ProblemHttpResult>> Confirm(CodeOrder body, HttpContext http, SecondStepDesk desk) =>
        await desk.Confirm(http, body.Code).Answer();

    private static async Task<Results<Ok<SecondStepView>, ProblemHttpResult>> EndCodes(ProofOrder body, HttpContext http, SecondStepDesk desk) =>
        await desk.EndCodes(http, body.Password).Answer();

    private static async Task<Results<Ok<SecondStepView>, ProblemHttpResult>> EndPasskey(string id, ProofOrder body, HttpContext http, SecondStepDesk desk) =>
        await desk.EndPasskey(http, id, body.Password).Answer();

    private static async Task<Results<Ok<RecoveryView>, ProblemHttpResult>> NewRecovery(ProofOrder body, HttpContext http, SecondStepDesk desk) =>
        await desk.NewRecovery(http, body.Password).Answer();

    private static async Task<Results<Ok<PasskeyOptions>, ProblemHttpResult>> MakingPasskey(ProofOrder body, HttpContext http, SecondStepDesk desk) =>
        await desk.MakingPasskey(http, body.Password).Answer();

    private static async Task<Results<Ok<SecondStepView>, ProblemHttpResult>> MadePasskey(PasskeyOrder body, HttpContext http, SecondStepDesk desk) =>
        await desk.MadePasskey(http, body.Credential, body.Name).Answer();

    private static async Task<Ok<StrongSignInView>> Strong(LanternDb db, Workspace workspace) => TypedResults.Ok(await StrongView(db, workspace));

    private static async Task<StrongSignInView> StrongView(LanternDb db, Workspace workspace)
    {
        var having = SecondSteps.Having(db);
        var lacking = await db.Users.Where(p => p.Here && !having.Contains(p.Id)).Select(p => p.Roles).ToListAsync();
        var without = lacking.SelectMany(roles => roles).CountBy(role => role).ToDictionary();
        return new StrongSignInView([.. workspace.StrongRoles.Order()], without);
    }

    // Who says so has one: nobody locks themselves out by it.
    private static async Task<Results<Ok<StrongSignInView>, ProblemHttpResult>> SetStrong(
        StrongSignIn body,
        ClaimsPrincipal user,
        LanternDb db,
        SecondSteps steps,
        SecondStepDesk desk,
        WorkspaceConfiguration configuration
    )
    {
        if (body.Roles.FirstOrDefault(r => configuration.Current.Roles.Find(r) is null) is { } unknown)
            return ApiProblems.Of("role-unknown", "roles", unknown);
        if (body.Roles.Intersect(user.Roles()).Any() && (!await steps.HasAny(user.Id()) || !await desk.MayChange(user)))
            return ApiProblems.Of("second-step-own", "roles");
        await SetupEntries.Save(db, StrongSignIn.Key, Json.Write(body with { Roles = [.. body.Roles.Distinct().Order()] }));
        return TypedResults.Ok(await StrongView(db, await configuration.Changed()));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> EndOthers(Guid id, ClaimsPrincipal user, LanternDb db, SecondSteps steps, Sessions sessions)
    {
        if (!await db.Users.AnyAsync(p => p.Id == id))
            return ApiProblems.NotFound("person");
        // One's own go by one's own page, where the password is asked for.
        if (id == user.Id())
            return ApiProblems.Of("second-step-self");
        await using var transaction = await db.Database.BeginTransactionAsync();
        await steps.EndAll(id);
        await db.Log(EventLog.Person, id, new SecondStepChanged("all", false));
        await transaction.CommitAsync();
        await sessions.EndAll(db, id, "ended");
        return TypedResults.NoContent();
    }
}
