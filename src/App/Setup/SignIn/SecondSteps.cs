using System.Collections.Frozen;
using System.Security.Cryptography;
using System.Text;
using DapperLantern.App.Data;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using OtpNet;

namespace DapperLantern.App.Setup.SignIn;

/// <summary>Who signs in with a second step beside the password, kept under <see cref="Key"/>.</summary>
/// <param name="Roles">Those who may do nothing without one.</param>
public sealed record StrongSignIn([Count(100, Each = 60)] IReadOnlyList<string> Roles)
{
    public const string Key = "strong-sign-in";

    /// <summary>From the entries of the set-up.</summary>
    public static FrozenSet<string> Of(IReadOnlyDictionary<string, string> entries) =>
        entries.TryGetValue(Key, out var body) ? Json.Read<StrongSignIn>(body).Roles.ToFrozenSet() : [];
}

/// <summary>A password that was right, or a sign-in at the identity provider, while the code is waited for.</summary>
/// <param name="Stamp">Of the person: another password ends it.</param>
/// <param name="At">The session at the provider, without its token, for which a cookie has no room; null after a password.</param>
internal sealed record HalfSignIn(Guid Person, bool Stay, string Stamp, ProviderSession? At = null);

/// <summary>The second step of a sign-in: codes by time (RFC 6238) with codes for the day the device is lost, and passkeys (WebAuthn).</summary>
internal sealed class SecondSteps(LanternDb db, IDataProtectionProvider protection, TimeProvider clock)
{
    public const int RecoveryCodes = 10;
    private const int Step = 30;
    private const int KeyBytes = 20;

    // One step to each side, by RFC 6238, 5.2; so much further a right code says that a clock is off.
    private const int Near = 1;
    private const int Far = 40;

    private readonly IDataProtector _keys = protection.CreateProtector("code-keys");
    private readonly BriefCookie<HalfSignIn> _halves = new("lantern-half", protection, clock);

    /// <summary>Are codes asked for?</summary>
    public Task<bool> HasCodes(Guid person) => db.Set<CodeKeyRow>().AnyAsync(c => c.PersonId == person && c.ConfirmedAt != null);

    public Task<bool> HasAny(Guid person) => Having(db).AnyAsync(id => id == person);

    /// <summary>Everybody who signs in with codes or has a passkey; those who have both stand there twice.</summary>
    public static IQueryable<Guid> Having(LanternDb db) =>
        db.Set<CodeKeyRow>().Where(c => c.ConfirmedAt != null).Select(c => c.PersonId).Concat(db.Set<IdentityUserPasskey<Guid>>().Select(p => p.UserId));

    /// <summary>A new key, of which no code is asked for until the first was right. In base32, as devices take it.</summary>
    public async Task<string> Begin(Guid person)
    {
        var key = RandomNumberGenerator.GetBytes(KeyBytes);
        var secret = _keys.Protect(Convert.ToBase64String(key));
        await db.Run(
            $"""
            insert into code_key (person_id, secret, last_step) values ({person}, {secret}, 0)
            on conflict (person_id) do update set secret = excluded.secret, last_step = 0 where code_key.confirmed_at is null
            """
        );
        return Base32Encoding.ToString(key);
    }

    /// <summary>The address by which a device takes the key (the form that devices read from a QR code).</summary>
    public static string AddressOf(string key, string name, string company)
    {
        var issuer = company.Length > 0 ? $"{company}, Dapper Lantern" : "Dapper Lantern";
        return $"otpauth://totp/{Uri.EscapeDataString(issuer)}:{Uri.EscapeDataString(name)}?secret={key}&issuer={Uri.EscapeDataString(issuer)}";
    }

    /// <summary>Takes a code. What is right is used up by it.</summary>
    /// <returns>Code of the problem where it is not taken: wrong, used, or right at another time, when a clock is off; else null.</returns>
    /// <param name="first">True for the one that confirms a new key.</param>
    public async Task<string?> Take(Guid person, string code, bool first = false)
    {
        var digits = string.Concat(code.Where(char.IsAsciiDigit));
        if (await db.Set<CodeKeyRow>().AsNoTracking().SingleOrDefaultAsync(c => c.PersonId == person && c.ConfirmedAt == null == first) is not { } row || digits.Length != 6)
            return "code-wrong";
        var totp = new Totp(Convert.FromBase64String(_keys.Unprotect(row.Secret)), Step);
        var now = clock.UtcNow();
        if (!totp.VerifyTotp(now, digits, out var step, new VerificationWindow(Near, Near)))
            return totp.VerifyTotp(now, digits, out _, new VerificationWindow(Far, Far)) ? "code-clock" : "code-wrong";
        var taken = await db.Set<CodeKeyRow>()
            .Where(c => c.PersonId == person && c.LastStep < step)
            .ExecuteUpdateAsync(s => s.SetProperty(c => c.LastStep, step).SetProperty(c => c.ConfirmedAt, c => c.ConfirmedAt ?? now));
        return taken == 1 ? null : "code-used";
    }

    /// <summary>Takes one of the codes for the day the device is lost.</summary>
    public async Task<bool> Recover(Guid person, string code)
    {
        var hash = HashOf(code);
        var now = clock.UtcNow();
        return await db.Set<RecoveryCodeRow>().Where(r => r.PersonId == person && r.Hash == hash && r.UsedAt == null).ExecuteUpdateAsync(s => s.SetProperty(r => r.UsedAt, now))
            == 1;
    }

    public Task<int> RecoveryLeft(Guid person) => db.Set<RecoveryCodeRow>().CountAsync(r => r.PersonId == person && r.UsedAt == null);

    /// <summary>New codes for the day the device is lost; the old ones are taken no more.</summary>
    public async Task<IReadOnlyList<string>> NewRecovery(Guid person)
    {
        var codes = Enumerable.Range(0, RecoveryCodes).Select(_ => Base32Encoding.ToString(RandomNumberGenerator.GetBytes(10)).ToLowerInvariant()).ToList();
        var hashes = codes.Select(HashOf).ToArray();
        await db.Run($"delete from recovery_code where person_id = {person}; insert into recovery_code (person_id, hash) select {person}, h from unnest({hashes}) h;");
        return codes.ConvertAll(c => string.Join('-', c.Chunk(4).Select(part => new string(part))));
    }

    private static byte[] HashOf(string code) => SHA256.HashData(Encoding.UTF8.GetBytes(string.Concat(code.ToLowerInvariant().Where(char.IsAsciiLetterOrDigit))));

    /// <summary>Codes are asked for no more.</summary>
    public Task EndCodes(Guid person) => db.Run($"delete from code_key where person_id = {person}; delete from recovery_code where person_id = {person};");

    /// <summary>Neither codes nor passkeys: for somebody who lost them.</summary>
    public async Task EndAll(Guid person)
    {
        await EndCodes(person);
        await db.Set<IdentityUserPasskey<Guid>>().Where(p => p.UserId == person).ExecuteDeleteAsync();
    }

    /// <summary>What is asked for after a password that was right; the browser keeps that it was. Null where nothing is.</summary>
    /// <param name="at">The session at the identity provider; null after a password.</param>
    public async Task<SignInNext?> Next(HttpContext http, Person person, bool stay, ProviderSession? at = null)
    {
        if (!await HasCodes(person.Id))
            return null;
        _halves.Keep(http, new HalfSignIn(person.Id, stay, person.SecurityStamp ?? "", at is null ? null : at with { Token = "" }));
        return new SignInNext("code");
    }

    /// <summary>Is a code waited for in this browser?</summary>
    public bool Waits(HttpContext http) => _halves.Read(http) is not null;

    /// <summary>Whose password was right in this browser just now; null for nobody's.</summary>
    public async Task<(Person Person, bool Stay, ProviderSession? At)?> Half(HttpContext http)
    {
        if (_halves.Read(http) is not { } half)
            return null;
        return await db.Users.AsNoTracking().SingleOrDefaultAsync(p => p.Id == half.Person && p.Here) is { } person && person.SecurityStamp == half.Stamp
            ? (person, half.Stay, half.At)
            : null;
    }

    /// <summary>The sign-in is whole: nothing is waited for any more.</summary>
    public void Whole(HttpContext http) => _halves.Drop(http);
}
