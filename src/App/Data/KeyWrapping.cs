using System.Security.Cryptography;
using System.Text;
using System.Xml.Linq;
using Microsoft.AspNetCore.DataProtection.XmlEncryption;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Data;

/// <summary>
/// Wraps the keys that seal cookies and links, which lie in the database, by one that does not: AES-256-GCM under a key derived from <see cref="Secrets"/>.
/// Whoever has the database alone can open none of them.
/// </summary>
public sealed class KeyWrapping(Secrets secrets) : IXmlEncryptor
{
    // As data protection marks what it has encrypted, and what it would like to.
    private static readonly XNamespace Protection = "http://schemas.asp.net/2015/03/dataProtection";
    private static readonly XName Needs = Protection + "requiresEncryption";

    public EncryptedXmlInfo Encrypt(XElement plaintextElement)
    {
        var plain = Encoding.UTF8.GetBytes(plaintextElement.ToString(SaveOptions.DisableFormatting));
        var (nonce, tag, wrapped) = (RandomNumberGenerator.GetBytes(AesGcm.NonceByteSizes.MaxSize), new byte[AesGcm.TagByteSizes.MaxSize], new byte[plain.Length]);
        using var aes = new AesGcm(KeyOf(secrets), tag.Length);
        aes.Encrypt(nonce, plain, wrapped, tag);
        return new EncryptedXmlInfo(new XElement("wrapped", Convert.ToBase64String([.. nonce, .. tag, .. wrapped])), typeof(KeyUnwrapping));
    }

    /// <summary>Wraps the keys that were kept before there was anything to wrap them by.</summary>
    public async Task WrapKept(LanternDb db)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var keys = await db.DataProtectionKeys.FromSql($"select * from data_protection_key for update").ToListAsync();
        foreach (var key in keys)
            if (key.Xml is not null && Wrapped(XElement.Parse(key.Xml)) is { } wrapped)
                key.Xml = wrapped;
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
    }

    // Null when nothing in it needs wrapping.
    private string? Wrapped(XElement key)
    {
        var open = key.DescendantsAndSelf().Where(e => (bool?)e.Attribute(Needs) == true).ToList();
        foreach (var element in open)
        {
            var info = Encrypt(element);
            element.ReplaceWith(new XElement(Protection + "encryptedSecret", new XAttribute("decryptorType", info.DecryptorType.AssemblyQualifiedName!), info.EncryptedElement));
        }
        return open.Count == 0 ? null : key.ToString(SaveOptions.DisableFormatting);
    }

    internal static byte[] KeyOf(Secrets secrets) => secrets.For("key-wrapping");
}

/// <summary>Opens what <see cref="KeyWrapping"/> wrapped; data protection makes it by its name.</summary>
public sealed class KeyUnwrapping(IServiceProvider services) : IXmlDecryptor
{
    /// <exception cref="CryptographicException">It was wrapped by another key, or changed.</exception>
    public XElement Decrypt(XElement encryptedElement)
    {
        var all = Convert.FromBase64String(encryptedElement.Value).AsSpan();
        var (nonce, tag) = (AesGcm.NonceByteSizes.MaxSize, AesGcm.TagByteSizes.MaxSize);
        var plain = new byte[all.Length - nonce - tag];
        using var aes = new AesGcm(KeyWrapping.KeyOf(services.GetRequiredService<Secrets>()), tag);
        aes.Decrypt(all[..nonce], all[(nonce + tag)..], all.Slice(nonce, tag), plain);
        return XElement.Parse(Encoding.UTF8.GetString(plain));
    }
}
