using System.Buffers.Text;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup.SignIn;

/// <summary>Keeps the codes and passkeys of whoever asks. Each change takes the password: a browser left open makes and ends none.</summary>
internal sealed class SecondStepDesk(LanternDb db, SecondSteps steps, Passkeys passkeys, SignInGuard guard, Sessions sessions, Workspace workspace, TimeProvider clock)
{
    private static readonly TimeSpan Fresh = TimeSpan.FromMinutes(10);

    public async Task<SecondStepView> View(ClaimsPrincipal user)
    {
        var id = user.Id();
        var kept = await db.Set<IdentityUserPasskey<Guid>>().AsNoTracking().Where(p => p.UserId == id).ToListAsync();
        return new SecondStepView(
            await steps.HasCodes(id),
            await steps.RecoveryLeft(id),
            [.. kept.OrderBy(p => p.Data.CreatedAt).Select(p => new PasskeyView(Base64Url.EncodeToString(p.CredentialId), p.Data.Name ?? "", p.Data.CreatedAt.UtcDateTime))],
            workspace.StrongRoles.Overlaps(user.Roles()),
            await MayChange(user),
            await CameByProvider(user) is null
        );
    }

    /// <summary>True for whoever came in by a second step. Who came by the password alone adds the first, but neither changes nor gets around one that there is.</summary>
    public async Task<bool> MayChange(ClaimsPrincipal user)
    {
        var session = user.Session();
        return !await steps.HasAny(user.Id()) || await db.Set<SessionRow>().AnyAsync(s => s.Id == session && s.Strong);
    }

    // The person, where they may change their second steps and this is their password.
    private async Task<Outcome<Person>> Proven(HttpContext http, string password)
    {
        var id = http.User.Id();
        var person = await db.Users.SingleAsync(p => p.Id == id);
        return await Disproof(http, person, password) is { } disproof ? disproof
            : await MayChange(http.User) ? person
            : new Problem("second-step-first");
    }

    // Whoever came by the identity provider a moment ago has shown there that it is them; the password they have here is maybe none that they know.
    private async Task<Problem?> Disproof(HttpContext http, Person person, string password) =>
        await CameByProvider(http.User) is not { } began ? await guard.Disproof(db, http, person, password, "password")
        : clock.UtcNow() - began > Fresh ? Problem.Of("provider-again", "password", Fresh.Minutes)
        : null;

    // When; null for a session that began otherwise.
    private Task<DateTime?> CameByProvider(ClaimsPrincipal user)
    {
        var session = user.Session();
        return db.Set<SessionRow>().Where(s => s.Id == session && s.ProviderToken != null).Select(s => (DateTime?)s.StartedAt).SingleOrDefaultAsync();
    }

    public async Task<Outcome<CodeKeyView>> NewKey(HttpContext http, string password)
    {
        var proven = await Proven(http, password);
        if (proven.Problem is { } problem)
            return problem;
        if (await steps.HasCodes(http.User.Id()))
            return new Problem("codes-there");
        var key = await steps.Begin(http.User.Id());
        return new CodeKeyView(key, SecondSteps.AddressOf(key, proven.Value!.UserName!, workspace.Company.Name));
    }

    public async Task<Outcome<RecoveryView>> Confirm(HttpContext http, string code)
    {
        var id = http.User.Id();
        var tried = SignInTry.Of(http, http.User.Identity?.Name ?? "");
        if (await guard.Refuse(db, tried, http) is { } wait)
            return wait;
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await steps.Take(id, code, first: true) is { } refusal)
        {
            await transaction.RollbackAsync();
            await guard.Failed(db, tried);
            return new Problem(refusal, "code");
        }
        var codes = await steps.NewRecovery(id);
        await sessions.Strengthen(db, http.User.Session()!.Value);
        await db.Log(EventLog.Person, id, new SecondStepChanged("codes", true));
        await transaction.CommitAsync();
        return new RecoveryView(codes);
    }

    public async Task<Outcome<RecoveryView>> NewRecovery(HttpContext http, string password)
    {
        if ((await Proven(http, password)).Problem is { } problem)
            return problem;
        if (!await steps.HasCodes(http.User.Id()))
            return new Problem("codes-missing");
        var codes = await steps.NewRecovery(http.User.Id());
        await db.Log(EventLog.Person, http.User.Id(), new SecondStepChanged("recovery", true));
        return new RecoveryView(codes);
    }

    public Task<Outcome<SecondStepView>> EndCodes(HttpContext http, string password) =>
        End(
            http,
            password,
            "codes",
            async id =>
            {
                await steps.EndCodes(id);
                return true;
            }
        );

    /// <param name="passkey">Its id in base64url.</param>
    public Task<Outcome<SecondStepView>> EndPasskey(HttpContext http, string passkey, string password)
    {
        var credential = Base64Url.IsValid(passkey) ? Base64Url.DecodeFromChars(passkey) : [];
        return End(
            http,
            password,
            "passkey",
            async id => await db.Set<IdentityUserPasskey<Guid>>().Where(p => p.UserId == id && p.CredentialId == credential).ExecuteDeleteAsync() == 1
        );
    }

    private async Task<Outcome<SecondStepView>> End(HttpContext http, string password, string what, Func<Guid, Task<bool>> end)
    {
        if ((await Proven(http, password)).Problem is { } problem)
            return problem;
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (!await end(http.User.Id()))
            return Problem.NotFound("passkey");
        if (workspace.StrongRoles.Overlaps(http.User.Roles()) && !await steps.HasAny(http.User.Id()))
            return new Problem("second-step-needed");
        await db.Log(EventLog.Person, http.User.Id(), new SecondStepChanged(what, false));
        await transaction.CommitAsync();
        return await View(http.User);
    }

    public async Task<Outcome<PasskeyOptions>> MakingPasskey(HttpContext http, string password)
    {
        var proven = await Proven(http, password);
        if (proven.Problem is { } problem)
            return problem;
        var making = await passkeys.Making(http, proven.Value!);
        return making.Problem is { } many ? many : new PasskeyOptions(making.Value!);
    }

    public async Task<Outcome<SecondStepView>> MadePasskey(HttpContext http, string credential, string name)
    {
        var id = http.User.Id();
        if (!await MayChange(http.User))
            return new Problem("second-step-first");
        var called = FieldReader.Clean(name) is { Length: > 0 } given ? given : "Passkey";
        if (await passkeys.Made(http, await db.Users.SingleAsync(p => p.Id == id), called, credential) is { } problem)
            return problem;
        await sessions.Strengthen(db, http.User.Session()!.Value);
        await db.Log(EventLog.Person, id, new SecondStepChanged("passkey", true));
        return await View(http.User);
    }
}
