using System.Buffers.Binary;
using System.Security.Cryptography;
using System.Text;

namespace DapperLantern.App.Data;

/// <summary>
/// Hashes of normalised email addresses, telephone numbers and domains, by which people are barred and consents kept after their data is erased:
/// HMAC-SHA-256, under a key outside the database, of the SHA-256. There are few enough telephone numbers to try them all; without the key that tells nothing.
/// The database computes the same in <c>person_key</c>, from the setting <see cref="Setting"/> of the db.
/// </summary>
/// <param name="key">32 bytes.</param>
public sealed class PersonHash(byte[] key)
{
    /// <summary>Name of the connection's setting that holds the key as hexadecimal digits.</summary>
    public const string Setting = "lantern.person_key";

    /// <summary>32 bytes.</summary>
    public byte[] Of(string normalised)
    {
        var hash = new byte[HMACSHA256.HashSizeInBytes];
        Write(normalised, hash);
        return hash;
    }

    /// <summary>The hash of a person of whom only the SHA-256 is known.</summary>
    public byte[] Keyed(ReadOnlySpan<byte> plain) => HMACSHA256.HashData(key, plain);

    /// <summary>A hash's first eight bytes: enough to find it, short enough to look up many at once.</summary>
    public static long KeyOf(ReadOnlySpan<byte> hash) => BinaryPrimitives.ReadInt64BigEndian(hash);

    /// <summary>The first eight bytes of a text's hash.</summary>
    public long KeyOf(string normalised)
    {
        Span<byte> hash = stackalloc byte[HMACSHA256.HashSizeInBytes];
        Write(normalised, hash);
        return KeyOf(hash);
    }

    private void Write(string normalised, Span<byte> hash)
    {
        Span<byte> plain = stackalloc byte[SHA256.HashSizeInBytes];
        Span<byte> letters = stackalloc byte[256];
        if (Encoding.UTF8.TryGetBytes(normalised, letters, out var written))
            SHA256.HashData(letters[..written], plain);
        else
            SHA256.HashData(Encoding.UTF8.GetBytes(normalised), plain);
        HMACSHA256.HashData(key, plain, hash);
    }
}
