using System.Security.Cryptography;
using DapperLantern.App.Data;
using Microsoft.AspNetCore.DataProtection;

namespace DapperLantern.App.Setup.SignIn;

/// <summary>What a browser keeps for us between two steps of a sign-in: sealed, for the sign-in alone, and for five minutes.</summary>
internal sealed class BriefCookie<T>(string name, IDataProtectionProvider protection, TimeProvider clock)
    where T : class
{
    private static readonly TimeSpan Holds = TimeSpan.FromMinutes(5);

    private readonly IDataProtector _protector = protection.CreateProtector(name);

    private sealed record Kept(T Of, DateTime At);

    public void Keep(HttpContext http, T value) =>
        http.Response.Cookies.Append(name, _protector.Protect(Json.Write(new Kept(value, clock.UtcNow()))), SignInTry.CookieOf(http, Holds));

    /// <summary>Null where nothing is kept, it is too old, or it is not ours.</summary>
    public T? Read(HttpContext http)
    {
        try
        {
            return http.Request.Cookies[name] is { } cookie && Json.Read<Kept>(_protector.Unprotect(cookie)) is { } kept && clock.UtcNow() - kept.At <= Holds ? kept.Of : null;
        }
        catch (CryptographicException)
        {
            return null;
        }
    }

    public void Drop(HttpContext http) => http.Response.Cookies.Delete(name, SignInTry.CookieOf(http, null));
}
