using System.Buffers.Text;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup.SignIn;

/// <param name="Id">In base64url.</param>
public sealed record PasskeyView(string Id, string Name, DateTime MadeAt);

/// <summary>The second steps of whoever asks.</summary>
/// <param name="RecoveryLeft">Codes for the day the device is lost that are not used.</param>
/// <param name="Required">True where the role may do nothing without one.</param>
/// <param name="MayChange">False where this session began without the second step that there is.</param>
public sealed record SecondStepView(bool HasCodes, int RecoveryLeft, IReadOnlyList<PasskeyView> Passkeys, bool Required, bool MayChange);

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

/// <param name="Roles">Roles that may do nothing without a second step.</param>
/// <param name="Without">How many people of each role have none.</param>
public sealed record StrongSignInView(IReadOnlyList<Role> Roles, IReadOnlyDictionary<Role, int> Without);

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
        if (await steps.Half(http) is not var (person, stay))
            return ApiProblems.Of("half-over");
        var tried = SignInTry.Of(http, person.UserName!);
        if (await guard.Refuse(db, tried, http) is { } wait)
            return ApiProblems.Of(wait);
        var refusal = await steps.Take(person.Id, body.Code);
        if (refusal != CodeRefusal.None && !await steps.Recover(person.Id, body.Code))
        {
            await guard.Failed(db, tried);
            await db.Log(EventLog.Person, person.Id, new SignInFailed(person.UserName, tried.Address));
            return Refused(refusal);
        }
        SecondSteps.Whole(http);
        await guard.Welcome(http, db, tried, person.Id);
        await sessions.SignIn(http, db, person, stay, strong: true);
        return TypedResults.NoContent();
    }

    private static ProblemHttpResult Refused(CodeRefusal refusal) =>
        ApiProblems.Of(
            refusal switch
            {
                CodeRefusal.Used => "code-used",
                CodeRefusal.Clock => "code-clock",
                _ => "code-wrong",
            },
            "code"
        );

    private static async Task<Ok<PasskeyOptions>> Ask(HttpContext http, Passkeys passkeys) => TypedResults.Ok(new PasskeyOptions(await passkeys.Asking(http)));

    private static async Task<Results<NoContent, ProblemHttpResult>> Passkey(
        PasskeySignInOrder body,
        HttpContext http,
        LanternDb db,
        Passkeys passkeys,
        SignInGuard guard,
        Sessions sessions
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
        SecondSteps.Whole(http);
        await sessions.SignIn(http, db, person, body.Stay, strong: true);
        return TypedResults.NoContent();
    }

    private static async Task<Ok<SecondStepView>> Own(ClaimsPrincipal user, LanternDb db, SecondSteps steps, Workspace workspace) =>
        TypedResults.Ok(await View(user, db, steps, workspace));

    private static async Task<SecondStepView> View(ClaimsPrincipal user, LanternDb db, SecondSteps steps, Workspace workspace)
    {
        var id = user.Id();
        var passkeys = await db.Set<IdentityUserPasskey<Guid>>().AsNoTracking().Where(p => p.UserId == id).ToListAsync();
        return new SecondStepView(
            await steps.HasCodes(id),
            await steps.RecoveryLeft(id),
            [.. passkeys.OrderBy(p => p.Data.CreatedAt).Select(p => new PasskeyView(Base64Url.EncodeToString(p.CredentialId), p.Data.Name ?? "", p.Data.CreatedAt.UtcDateTime))],
            workspace.StrongRoles.Contains(user.Role()),
            await MayChange(user, db, steps)
        );
    }

    // Who came in by the password alone adds the first second step, but neither changes nor gets around one that there is.
    private static async Task<bool> MayChange(ClaimsPrincipal user, LanternDb db, SecondSteps steps)
    {
        var session = user.Session();
        return !await steps.HasAny(user.Id()) || await db.Set<SessionRow>().AnyAsync(s => s.Id == session && s.Strong);
    }

    // The person, where they may change their second steps and this is their password: a browser left open adds none.
    private static async Task<Outcome<Person>> Proven(string password, HttpContext http, LanternDb db, SecondSteps steps, SignInGuard guard)
    {
        var id = http.User.Id();
        var person = await db.Users.SingleAsync(p => p.Id == id);
        var tried = SignInTry.Of(http, person.UserName!);
        if (await guard.Refuse(db, tried, http) is { } wait)
            return wait;
        if (!await guard.Check(person, password))
        {
            await guard.Failed(db, tried);
            await db.Log(EventLog.Person, person.Id, new SignInFailed(person.UserName, tried.Address));
            return new Problem("wrong-password", "password");
        }
        return await MayChange(http.User, db, steps) ? person : new Problem("second-step-first");
    }

    private static async Task<Results<Ok<CodeKeyView>, ProblemHttpResult>> NewKey(
        ProofOrder body,
        HttpContext http,
        LanternDb db,
        SecondSteps steps,
        SignInGuard guard,
        Workspace workspace
    )
    {
        var proven = await Proven(body.Password, http, db, steps, guard);
        if (proven.Problem is { } problem)
            return ApiProblems.Of(problem);
        if (await steps.HasCodes(http.User.Id()))
            return ApiProblems.Of("codes-there");
        var key = await steps.Begin(http.User.Id());
        return TypedResults.Ok(new CodeKeyView(key, SecondSteps.AddressOf(key, proven.Value!.UserName!, workspace.Company.Name)));
    }

    private static async Task<Results<Ok<RecoveryView>, ProblemHttpResult>> Confirm(
        CodeOrder body,
        HttpContext http,
        LanternDb db,
        SecondSteps steps,
        SignInGuard guard,
        Sessions sessions
    )
    {
        var id = http.User.Id();
        var tried = SignInTry.Of(http, http.User.Identity?.Name ?? "");
        if (await guard.Refuse(db, tried, http) is { } wait)
            return ApiProblems.Of(wait);
        await using var transaction = await db.Database.BeginTransactionAsync();
        var refusal = await steps.Take(id, body.Code, first: true);
        if (refusal != CodeRefusal.None)
        {
            await transaction.RollbackAsync();
            await guard.Failed(db, tried);
            return Refused(refusal);
        }
        var codes = await steps.NewRecovery(id);
        await sessions.Strengthen(db, http.User.Session()!.Value);
        await db.Log(EventLog.Person, id, new SecondStepChanged("codes", true));
        await transaction.CommitAsync();
        return TypedResults.Ok(new RecoveryView(codes));
    }

    private static Task<Results<Ok<SecondStepView>, ProblemHttpResult>> EndCodes(
        ProofOrder body,
        HttpContext http,
        LanternDb db,
        SecondSteps steps,
        SignInGuard guard,
        Workspace workspace
    ) =>
        End(
            body,
            http,
            db,
            steps,
            guard,
            workspace,
            "codes",
            async id =>
            {
                await steps.EndCodes(id);
                return true;
            }
        );

    private static Task<Results<Ok<SecondStepView>, ProblemHttpResult>> EndPasskey(
        string id,
        ProofOrder body,
        HttpContext http,
        LanternDb db,
        SecondSteps steps,
        SignInGuard guard,
        Workspace workspace
    ) =>
        End(
            body,
            http,
            db,
            steps,
            guard,
            workspace,
            "passkey",
            async person =>
            {
                var credential = Base64Url.IsValid(id) ? Base64Url.DecodeFromChars(id) : [];
                return await db.Set<IdentityUserPasskey<Guid>>().Where(p => p.UserId == person && p.CredentialId == credential).ExecuteDeleteAsync() == 1;
            }
        );

    private static async Task<Results<Ok<SecondStepView>, ProblemHttpResult>> End(
        ProofOrder body,
        HttpContext http,
        LanternDb db,
        SecondSteps steps,
        SignInGuard guard,
        Workspace workspace,
        string what,
        Func<Guid, Task<bool>> end
    )
    {
        if ((await Proven(body.Password, http, db, steps, guard)).Problem is { } problem)
            return ApiProblems.Of(problem);
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (!await end(http.User.Id()))
            return ApiProblems.NotFound("passkey");
        if (workspace.StrongRoles.Contains(http.User.Role()) && !await steps.HasAny(http.User.Id()))
            return ApiProblems.Of("second-step-needed");
        await db.Log(EventLog.Person, http.User.Id(), new SecondStepChanged(what, false));
        await transaction.CommitAsync();
        return TypedResults.Ok(await View(http.User, db, steps, workspace));
    }

    private static async Task<Results<Ok<RecoveryView>, ProblemHttpResult>> NewRecovery(ProofOrder body, HttpContext http, LanternDb db, SecondSteps steps, SignInGuard guard)
    {
        if ((await Proven(body.Password, http, db, steps, guard)).Problem is { } problem)
            return ApiProblems.Of(problem);
        if (!await steps.HasCodes(http.User.Id()))
            return ApiProblems.Of("codes-missing");
        var codes = await steps.NewRecovery(http.User.Id());
        await db.Log(EventLog.Person, http.User.Id(), new SecondStepChanged("recovery", true));
        return TypedResults.Ok(new RecoveryView(codes));
    }

    private static async Task<Results<Ok<PasskeyOptions>, ProblemHttpResult>> MakingPasskey(
        ProofOrder body,
        HttpContext http,
        LanternDb db,
        SecondSteps steps,
        SignInGuard guard,
        Passkeys passkeys
    )
    {
        var proven = await Proven(body.Password, http, db, steps, guard);
        if (proven.Problem is { } problem)
            return ApiProblems.Of(problem);
        var making = await passkeys.Making(http, proven.Value!);
        return making.Problem is { } many ? ApiProblems.Of(many) : TypedResults.Ok(new PasskeyOptions(making.Value!));
    }

    private static async Task<Results<Ok<SecondStepView>, ProblemHttpResult>> MadePasskey(
        PasskeyOrder body,
        HttpContext http,
        LanternDb db,
        SecondSteps steps,
        Passkeys passkeys,
        Sessions sessions,
        Workspace workspace
    )
    {
        var id = http.User.Id();
        if (!await MayChange(http.User, db, steps))
            return ApiProblems.Of("second-step-first");
        var name = FieldReader.Clean(body.Name) is { Length: > 0 } given ? given : "Passkey";
        if (await passkeys.Made(http, await db.Users.SingleAsync(p => p.Id == id), name, body.Credential) is { } problem)
            return ApiProblems.Of(problem);
        await sessions.Strengthen(db, http.User.Session()!.Value);
        await db.Log(EventLog.Person, id, new SecondStepChanged("passkey", true));
        return TypedResults.Ok(await View(http.User, db, steps, workspace));
    }

    private static async Task<Ok<StrongSignInView>> Strong(LanternDb db, Workspace workspace) => TypedResults.Ok(await StrongView(db, workspace));

    private static async Task<StrongSignInView> StrongView(LanternDb db, Workspace workspace)
    {
        var without = await db
            .Users.Where(p =>
                p.Here && !db.Set<CodeKeyRow>().Any(c => c.PersonId == p.Id && c.ConfirmedAt != null) && !db.Set<IdentityUserPasskey<Guid>>().Any(k => k.UserId == p.Id)
            )
            .GroupBy(p => p.Role)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count);
        return new StrongSignInView([.. workspace.StrongRoles.Order()], without);
    }

    // Who says so has one: nobody locks themselves out by it.
    private static async Task<Results<Ok<StrongSignInView>, ProblemHttpResult>> SetStrong(
        StrongSignIn body,
        ClaimsPrincipal user,
        LanternDb db,
        SecondSteps steps,
        WorkspaceConfiguration configuration
    )
    {
        if (body.Roles.Contains(user.Role()) && (!await steps.HasAny(user.Id()) || !await MayChange(user, db, steps)))
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
