using DapperLantern.App.Data;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup.SignIn;

/// <summary>Passkeys (WebAuthn), by the framework's own handler: the device holds the key and knows its owner by finger, face or number, so that one is two proofs at once.</summary>
internal sealed class Passkeys(LanternDb db, IPasskeyHandler<Person> handler, IDataProtectionProvider protection, TimeProvider clock)
{
    private const int Most = 10;

    private readonly BriefCookie<string> _states = new("lantern-passkey", protection, clock);

    /// <summary>What the browser needs to make a passkey; JSON of WebAuthn.</summary>
    public async Task<Outcome<string>> Making(HttpContext http, Person person)
    {
        if (await db.Set<IdentityUserPasskey<Guid>>().CountAsync(p => p.UserId == person.Id) >= Most)
            return Problem.Of("passkeys-many", "", Most);
        var made = await handler.MakeCreationOptionsAsync(
            new PasskeyUserEntity
            {
                Id = person.Id.ToString(),
                Name = person.UserName!,
                DisplayName = person.DisplayName,
            },
            http
        );
        _states.Keep(http, made.AttestationState ?? "");
        return made.CreationOptionsJson;
    }

    /// <summary>Keeps a passkey that the browser made.</summary>
    /// <param name="credential">JSON of WebAuthn.</param>
    public async Task<Problem?> Made(HttpContext http, Person person, string name, string credential)
    {
        if (Kept(http) is not { } state)
            return new Problem("passkey-late");
        var result = await Checked(() =>
            handler.PerformAttestationAsync(
                new PasskeyAttestationContext
                {
                    CredentialJson = credential,
                    AttestationState = state,
                    HttpContext = http,
                }
            )
        );
        if (result is not { Succeeded: true } || result.UserEntity.Id != person.Id.ToString())
            return new Problem("passkey-unfit");
        var made = result.Passkey;
        if (await db.Set<IdentityUserPasskey<Guid>>().AnyAsync(p => p.CredentialId == made.CredentialId))
            return new Problem("passkey-unfit");
        // Written by itself: the framework's store would write all of the person anew with it.
        await db.Insert(
            new IdentityUserPasskey<Guid>
            {
                CredentialId = made.CredentialId,
                UserId = person.Id,
                Data = new IdentityPasskeyData
                {
                    Name = name,
                    PublicKey = made.PublicKey,
                    CreatedAt = made.CreatedAt,
                    SignCount = made.SignCount,
                    Transports = made.Transports,
                    IsUserVerified = made.IsUserVerified,
                    IsBackupEligible = made.IsBackupEligible,
                    IsBackedUp = made.IsBackedUp,
                    AttestationObject = made.AttestationObject,
                    ClientDataJson = made.ClientDataJson,
                },
            }
        );
        return null;
    }

    /// <summary>What the browser needs to sign somebody in; JSON of WebAuthn. It says nothing of who has passkeys here.</summary>
    public async Task<string> Asking(HttpContext http)
    {
        var asked = await handler.MakeRequestOptionsAsync(null, http);
        _states.Keep(http, asked.AssertionState ?? "");
        return asked.RequestOptionsJson;
    }

    /// <summary>Whose passkey answered; null for nobody's who is here.</summary>
    public async Task<Person?> Answered(HttpContext http, string credential)
    {
        if (Kept(http) is not { } state)
            return null;
        var result = await Checked(() =>
            handler.PerformAssertionAsync(
                new PasskeyAssertionContext
                {
                    CredentialJson = credential,
                    AssertionState = state,
                    HttpContext = http,
                }
            )
        );
        if (result is not { Succeeded: true, User.Here: true } || !result.Passkey.IsUserVerified)
            return null;
        var (id, count, backed) = (result.Passkey.CredentialId, (long)result.Passkey.SignCount, result.Passkey.IsBackedUp);
        await db.Run($$"""update passkey set data = data || jsonb_build_object('signCount', {{count}}, 'isBackedUp', {{backed}}) where credential_id = {{id}}""");
        return result.User;
    }

    // What is no credential at all is one that does not fit.
    private static async Task<T?> Checked<T>(Func<Task<T>> check)
        where T : class
    {
        try
        {
            return await check();
        }
        catch (Exception e) when (e is System.Text.Json.JsonException or FormatException or InvalidOperationException or ArgumentException)
        {
            return null;
        }
    }

    // Each is taken once.
    private string? Kept(HttpContext http)
    {
        _states.Drop(http);
        return _states.Read(http);
    }
}
