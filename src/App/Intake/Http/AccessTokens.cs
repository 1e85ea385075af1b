using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using System.Text.Encodings.Web;
using DapperLantern.App.Data;
using Microsoft.AspNetCore.Authentication;
using Microsoft.Extensions.Options;

namespace DapperLantern.App.Intake.Http;

/// <summary>What a token may do. Each is a policy of its own.</summary>
public static class TokenScopes
{
    public const string Leads = "leads:write";
    public const string Events = "events:write";

    public const string Read = "leads:read";

    public static string[] All { get; } = [Leads, Events, Read];
}

/// <summary>Access for another system. Only a hash of the token is kept; it is shown once, when it is made.</summary>
public sealed class AccessTokenRow
{
    public Guid Id { get; set; }
    public string Name { get; set; } = "";

    /// <summary>Key of the source that what it sends comes from; null where it sends nothing.</summary>
    public string? Source { get; set; }
    public string[] Scopes { get; set; } = [];

    /// <summary>SHA-256 of the token; the token is 256 random bits, so that no slow hash is needed.</summary>
    public byte[] Hash { get; set; } = [];

    /// <summary>Its last four letters, by which people tell tokens apart.</summary>
    public string Ending { get; set; } = "";
    public DateTime CreatedAt { get; set; }

    /// <summary>The person with whom it ends: who made it, or whose it is.</summary>
    public Guid PersonId { get; set; }

    /// <summary>The person by whose rights it reads; null for a machine, which reads everything.</summary>
    public Guid? ReadsAsId { get; set; }

    /// <summary>From when it opens nothing more; null for no such time.</summary>
    public DateTime? EndsAt { get; set; }
    public DateTime? UsedAt { get; set; }
    public DateTime? RevokedAt { get; set; }

    /// <summary>A new token, and the hash that is kept of it.</summary>
    public static (string Token, byte[] Hash) Make()
    {
        var token = "lantern_" + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));
        return (token, HashOf(token));
    }

    public static byte[] HashOf(string token) => SHA256.HashData(Encoding.UTF8.GetBytes(token));
}

/// <summary>Signs in who sends <c>Authorization: Bearer TOKEN</c> (RFC 6750) with a token of ours that is not revoked.</summary>
public sealed class TokenSignIn(IOptionsMonitor<AuthenticationSchemeOptions> options, ILoggerFactory logger, UrlEncoder encoder, LanternDbFactory databases, TimeProvider clock)
    : AuthenticationHandler<AuthenticationSchemeOptions>(options, logger, encoder)
{
    public const string SchemeName = "token";

    /// <summary>The person by whose rights a token reads; missing for a machine, which reads everything.</summary>
    public const string ReadsAsClaim = "reads-as";
    private const string Prefix = "Bearer ";

    protected override async Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        var header = Request.Headers.Authorization.ToString();
        if (!header.StartsWith(Prefix, StringComparison.OrdinalIgnoreCase))
            return AuthenticateResult.NoResult();
        await using var db = await databases.Open(Context.RequestAborted);
        // Noted once a minute, so that busy senders do not write with every call.
        var hash = AccessTokenRow.HashOf(header[Prefix.Length..].Trim());
        var now = clock.UtcNow();
        var row = await db.Entity<AccessTokenRow>(
            $"""
            with used as (update access_token set used_at = {now} where hash = {hash} and revoked_at is null and (ends_at is null or ends_at > {now}) and (used_at is null or used_at < {now} - interval '1 minute'))
            select t.* from access_token t join person p on p.id = t.person_id where t.hash = {hash} and t.revoked_at is null and (t.ends_at is null or t.ends_at > {now}) and p.here
            """
        );
        if (row is null)
            return AuthenticateResult.Fail("unknown token");
        var claims = row
            .Scopes.Select(s => new Claim("scope", s))
            .Append(new Claim(ClaimTypes.NameIdentifier, row.Id.ToString()))
            .Append(new Claim(ClaimTypes.Name, row.Name))
            .Concat(row.Source is { } source ? [new Claim("source", source)] : [])
            .Concat(row.ReadsAsId is { } person ? [new Claim(ReadsAsClaim, person.ToString())] : []);
        return AuthenticateResult.Success(new AuthenticationTicket(new ClaimsPrincipal(new ClaimsIdentity(claims, Scheme.Name)), Scheme.Name));
    }

    protected override async Task HandleChallengeAsync(AuthenticationProperties properties)
    {
        Response.Headers.WWWAuthenticate = "Bearer";
        await ApiProblems.Of("unsigned").ExecuteAsync(Context);
    }

    protected override Task HandleForbiddenAsync(AuthenticationProperties properties) => ApiProblems.Of("forbidden").ExecuteAsync(Context);
}
