using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;

namespace DapperLantern.App.Setup;

/// <summary>Seals secrets of one kind for the database.</summary>
/// <param name="purpose">What is sealed for one purpose is opened for no other.</param>
internal sealed class SecretSeal(IDataProtectionProvider protection, string purpose)
{
    private readonly IDataProtector _protector = protection.CreateProtector(purpose);

    public string Seal(string secret) => _protector.Protect(secret);

    /// <summary>Null for none, and for one that was sealed under a key that is gone: whoever is asked with it then says that it is missing.</summary>
    public string? Open(string? secret)
    {
        try
        {
            return secret is null ? null : _protector.Unprotect(secret);
        }
        catch (CryptographicException)
        {
            return null;
        }
    }
}
