using System.Security.Cryptography;
using System.Text;

namespace DapperLantern.App.Data;

/// <summary>
/// The key of this workspace, from which others are derived. It lies in a file outside the database, <c>Secrets:File</c>, beside the passwords of the
/// database; only the user whom the service runs as may read that file.
/// </summary>
/// <param name="key">At least 32 bytes.</param>
public sealed class Secrets(byte[] key)
{
    private const int KeyBytes = 32;
    private const string PrintKey = "secrets-print";

    private sealed record KeptPrint(string Print);

    /// <summary>A key for one purpose, 32 bytes (HKDF, RFC 5869).</summary>
    public byte[] For(string purpose) => HKDF.DeriveKey(HashAlgorithmName.SHA256, key, KeyBytes, info: Encoding.UTF8.GetBytes(purpose));

    /// <summary>Adds the file's settings to the configuration.</summary>
    /// <exception cref="InvalidOperationException">The file is missing, or others may read it.</exception>
    public static void AddFile(ConfigurationManager configuration)
    {
        if (configuration["Secrets:File"] is not { Length: > 0 } file)
            return;
        var path = Path.GetFullPath(file);
        if (!File.Exists(path))
            throw new InvalidOperationException($"Secrets:File names {path}, which is not there.");
        const UnixFileMode Others = UnixFileMode.GroupRead | UnixFileMode.GroupWrite | UnixFileMode.OtherRead | UnixFileMode.OtherWrite;
        if (!OperatingSystem.IsWindows() && (File.GetUnixFileMode(path) & Others) != 0)
            throw new InvalidOperationException($"Others than its owner may read or write {path}, where the secrets are. Close it (chmod 600) and start again.");
        configuration.AddJsonFile(path, optional: false, reloadOnChange: false);
    }

    /// <exception cref="InvalidOperationException">There is no key, or it is too short.</exception>
    public static Secrets Of(IConfiguration configuration)
    {
        const string How = "Secrets:Key is to be 32 bytes or more in base64 (openssl rand -base64 32), in the file that Secrets:File names.";
        try
        {
            var key = Convert.FromBase64String(configuration["Secrets:Key"] ?? throw new InvalidOperationException($"There is no key. {How}"));
            return key.Length >= KeyBytes ? new Secrets(key) : throw new InvalidOperationException($"The key is too short. {How}");
        }
        catch (FormatException)
        {
            throw new InvalidOperationException($"The key cannot be read. {How}");
        }
    }

    /// <summary>Notes by which key this database is kept, the first time; afterwards makes sure that it is that one.</summary>
    /// <exception cref="InvalidOperationException">It is another: barred people would come in again, and nobody's links and sessions would hold.</exception>
    public async Task Check(LanternDb db)
    {
        var print = Convert.ToHexString(For("print"));
        await db.Run($"insert into setup_entry (key, body) values ({PrintKey}, {Json.Write(new KeptPrint(print))}::jsonb) on conflict (key) do nothing");
        if ((await SetupEntries.Read<KeptPrint>(db, PrintKey))!.Print != print)
            throw new InvalidOperationException(
                "Secrets:Key is another than the one this database is kept by. Put the old one back: without it barred people come in again, and no link in a mail holds. Nothing was changed."
            );
    }
}
