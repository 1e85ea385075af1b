using System.Security.Cryptography;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.DataProtection;

namespace DapperLantern.App.Campaigns;

/// <summary>What a link in a mail to somebody outside carries, sealed.</summary>
/// <param name="Ask">For a consent to be confirmed.</param>
/// <param name="Person">For withdrawing: <see cref="PersonHash"/> of the email address; the SHA-256 alone in a link from before there was a key.</param>
/// <param name="Keyed">True when the hash is under the key.</param>
/// <param name="Until">When the link stops to hold; null for one that always does.</param>
public sealed record LinkToken(string Language, Guid? Ask = null, byte[]? Person = null, DateTime? Until = null, bool Keyed = false);

/// <summary>The addresses that mails to people outside name. Sealed, so that nobody can make one up. <c>Public:Address</c> is where this workspace is reached.</summary>
public sealed class PublicLinks(IDataProtectionProvider protection, PublicSettings settings, PersonHash hashes, TimeProvider clock)
{
    private readonly IDataProtector _protector = protection.CreateProtector("public-link");

    /// <summary>How long a consent can be confirmed by its link.</summary>
    public static readonly TimeSpan ConfirmHolds = TimeSpan.FromDays(14);

    /// <summary>Without a slash at the end.</summary>
    public string Address { get; } = settings.Of("");

    public string Form(string key) => $"{Address}/f/{key}";

    public string Confirm(Guid ask, string language) => $"{Address}/consent/confirm/{Seal(new LinkToken(language, Ask: ask, Until: clock.UtcNow() + ConfirmHolds))}";

    /// <summary>Where the owner of an email address withdraws what they agreed to.</summary>
    public string Withdraw(string email, string language) => $"{Address}/consent/withdraw/{Seal(new LinkToken(language, Person: hashes.Of(email), Keyed: true))}";

    /// <summary>Null for what is not ours, was changed, or holds no more.</summary>
    public LinkToken? Open(string given)
    {
        try
        {
            var token = Json.Read<LinkToken>(_protector.Unprotect(given));
            return token.Until < clock.UtcNow() ? null
                : token is { Keyed: false, Person: { } plain } ? token with { Person = hashes.Keyed(plain), Keyed = true }
                : token;
        }
        catch (Exception e) when (e is CryptographicException or JsonException or FormatException)
        {
            return null;
        }
    }

    private string Seal(LinkToken token) => _protector.Protect(Json.Write(token));
}
