using System.Security.Cryptography;
using System.Text;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.Core.Events;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup.SignIn;

/// <summary>Who tries to sign in: the name as typed, the address it comes from, the cookie of a known device if there is one.</summary>
public sealed record SignInTry(string Name, string Address, string? Device)
{
    /// <summary>Cookie by which a device is known again.</summary>
    internal const string DeviceCookie = "lantern-device";

    /// <summary>How cookies are kept that only the sign-in reads.</summary>
    /// <param name="age">Null for one that goes.</param>
    internal static CookieOptions CookieOf(HttpContext http, TimeSpan? age) =>
        new()
        {
            HttpOnly = true,
            SameSite = SameSiteMode.Strict,
            Secure = http.Request.IsHttps,
            MaxAge = age,
            Path = "/api/session",
        };

    public static SignInTry Of(HttpContext http, string name) => new(name, Sessions.AddressOf(http), http.Request.Cookies[DeviceCookie]);
}

/// <summary>
/// Slows down guessing by the pair of name and address, by name, and by address; nobody is locked out. A device that signed in before as this person is not slowed down
/// by what strangers try, only by its own failures. The answer, and the time it takes, are the same for names that exist and names that do not.
/// </summary>
public sealed class SignInGuard(IPasswordHasher<Person> hasher, TimeProvider clock)
{
    private static readonly TimeSpan Forgotten = TimeSpan.FromHours(1);

    // Free tries, then each failure doubles the wait from one second up to the most.
    private static readonly (string Kind, int Free, int MostSeconds)[] Counts = [("pair", 5, 900), ("name", 30, 60), ("address", 60, 300), ("device", 10, 900)];

    // A hash costs a tenth of a second of a core: one at a time, so that trying many passwords does not stop everybody else.
    private static readonly SemaphoreSlim OneAtATime = new(1);

    // What is verified for a name that does not exist, so that it takes as long.
    private readonly Lazy<string> _nobody = new(() => hasher.HashPassword(new Person(), Convert.ToHexString(RandomNumberGenerator.GetBytes(16))));

    /// <summary>Seconds to wait before the next try is looked at; 0 when it may be.</summary>
    public async Task<int> Wait(LanternDb db, SignInTry tried)
    {
        var known = await IsKnown(db, tried);
        var keys = Keys(tried, known).ToList();
        var rows = (
            await db.Set<SignInFailureRow>().AsNoTracking().Where(x => keys.Select(k => k.Key).ToArray().Contains(x.Key) && x.LastAt > (clock.UtcNow() - Forgotten)).ToListAsync()
        ).ToDictionary(r => Convert.ToHexString(r.Key));
        var wait = 0.0;
        foreach (var (kind, key) in keys)
            if (rows.TryGetValue(Convert.ToHexString(key), out var row) && Counts.Single(c => c.Kind == kind) is var count && row.Failures >= count.Free)
                wait = Math.Max(wait, Math.Min(count.MostSeconds, Math.Pow(2, Math.Min(20, row.Failures - count.Free))) - (clock.UtcNow() - row.LastAt).TotalSeconds);
        return (int)Math.Ceiling(Math.Max(0, wait));
    }

    /// <summary>Why the try is not looked at yet; null where it is. The answer says after how long it would be.</summary>
    public async Task<Problem?> Refuse(LanternDb db, SignInTry tried, HttpContext http)
    {
        if (await Wait(db, tried) is not (> 0 and var seconds))
            return null;
        http.Response.Headers.RetryAfter = seconds.ToString(System.Globalization.CultureInfo.InvariantCulture);
        return Problem.Of("too-many-tries", "", seconds < 90 ? $"{seconds} seconds" : $"{(seconds + 59) / 60} minutes");
    }

    /// <summary>Is this the person's password? For nobody it takes as long, and is not. Somebody who left is nobody.</summary>
    public async Task<bool> Check(Person? person, string password)
    {
        var result = await InTurn(() => hasher.VerifyHashedPassword(person ?? new Person(), person?.PasswordHash ?? _nobody.Value, password));
        return result != PasswordVerificationResult.Failed && person is { Here: true };
    }

    /// <summary>The hash by which a password is kept.</summary>
    public Task<string> Hash(Person person, string password) => InTurn(() => hasher.HashPassword(person, password));

    private static async Task<T> InTurn<T>(Func<T> work)
    {
        await OneAtATime.WaitAsync();
        try
        {
            return work();
        }
        finally
        {
            OneAtATime.Release();
        }
    }

    /// <summary>Why somebody who is signed in has not shown by their password that it is them; null where they have.</summary>
    /// <param name="field">Name of the password in the request.</param>
    public async Task<Problem?> Disproof(LanternDb db, HttpContext http, Person person, string password, string field)
    {
        var tried = SignInTry.Of(http, person.UserName!);
        if (await Refuse(db, tried, http) is { } wait)
            return wait;
        if (await Check(person, password))
            return null;
        await Missed(db, tried, person.Id);
        return new Problem("wrong-password", field);
    }

    /// <summary>Counts a failure, and logs it.</summary>
    /// <param name="person">Whose name it was; null for nobody's.</param>
    public async Task Missed(LanternDb db, SignInTry tried, Guid? person)
    {
        await Failed(db, tried);
        await db.Log(EventLog.Person, person, new SignInFailed(tried.Name, tried.Address));
    }

    /// <summary>Counts a failure; what was counted long ago begins anew.</summary>
    public async Task Failed(LanternDb db, SignInTry tried)
    {
        var known = await IsKnown(db, tried);
        var since = clock.UtcNow() - Forgotten;
        var keys = Keys(tried, known).Select(k => k.Key).ToArray();
        var now = clock.UtcNow();
        await db.Run(
            $"""
            insert into sign_in_failure as f (key, failures, last_at) select k, 1, {now} from unnest({keys}) k
            on conflict (key) do update set failures = case when f.last_at < {since} then 1 else f.failures + 1 end, last_at = {now};
            delete from sign_in_failure where last_at < {since};
            """
        );
    }

    /// <summary>Forgets what this pair and device failed, and knows the device from now on.</summary>
    public async Task Welcome(HttpContext http, LanternDb db, SignInTry tried, Guid person)
    {
        var device = tried.Device is { Length: 64 } ? tried.Device : Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));
        await Succeeded(db, tried with { Device = device }, person);
        http.Response.Cookies.Append(SignInTry.DeviceCookie, device, SignInTry.CookieOf(http, TimeSpan.FromDays(365)));
    }

    private async Task Succeeded(LanternDb db, SignInTry tried, Guid person)
    {
        var keys = new[] { KeyOf("pair", $"{Folded(tried.Name)}|{tried.Address}"), KeyOf("device", $"{tried.Device}|{Folded(tried.Name)}") };
        var hash = KeyOf("known", $"{tried.Device}|{Folded(tried.Name)}");
        var now = clock.UtcNow();
        await db.Run(
            $"""
            delete from sign_in_failure where key = any({keys});
            insert into known_device (hash, person_id, seen_at) values ({hash}, {person}, {now}) on conflict (hash) do update set seen_at = {now};
            """
        );
    }

    private static Task<bool> IsKnown(LanternDb db, SignInTry tried) => db.Set<KnownDeviceRow>().AnyAsync(x => x.Hash == KeyOf("known", $"{tried.Device}|{Folded(tried.Name)}"));

    private static IEnumerable<(string Kind, byte[] Key)> Keys(SignInTry tried, bool known)
    {
        if (known)
        {
            yield return ("device", KeyOf("device", $"{tried.Device}|{Folded(tried.Name)}"));
            yield break;
        }
        yield return ("pair", KeyOf("pair", $"{Folded(tried.Name)}|{tried.Address}"));
        yield return ("name", KeyOf("name", Folded(tried.Name)));
        yield return ("address", KeyOf("address", tried.Address));
    }

    private static string Folded(string name) => name.Trim().ToUpperInvariant();

    private static byte[] KeyOf(string kind, string of) => SHA256.HashData(Encoding.UTF8.GetBytes($"{kind}:{of}"));
}
