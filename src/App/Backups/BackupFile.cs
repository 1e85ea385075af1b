using System.Formats.Tar;
using System.Security.Cryptography;
using System.Text;
using DapperLantern.App.Data;

namespace DapperLantern.App.Backups;

/// <summary>What a backup says of itself.</summary>
/// <param name="Form">Form of the file; 1.</param>
/// <param name="Migration">The last one of the database.</param>
/// <param name="At">The moment whose state it is, UTC.</param>
/// <param name="Sha256">Of the dump, in hexadecimal.</param>
/// <param name="Rows">Rows by table, counted in the dump's own snapshot.</param>
public sealed record BackupAbout(int Form, string Migration, DateTime At, string Sha256, IReadOnlyDictionary<string, long> Rows);

/// <summary>A file is no backup, or not whole; the message says why.</summary>
public sealed class BackupException(string sentence) : Exception(sentence);

/// <summary>
/// A backup as a file: a tar archive of <c>about.json</c>, <c>secrets.json</c> (the key without which nobody's links, sessions and barred people hold), <c>database.dump</c> (the
/// custom format of pg_dump) and the mailbox. Only its owner may read it.
/// </summary>
internal static class BackupFile
{
    public const int Form = 1;
    private const string About = "about.json";
    private const string Keys = "secrets.json";
    private const string Dump = "database.dump";
    private const string Mailbox = "mailbox/";
    private const UnixFileMode OwnerOnly = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    /// <summary>Writes the file beside its place and puts it there once it is whole.</summary>
    /// <param name="dump">The path of the dump.</param>
    /// <param name="mailbox">A Maildir; null for none.</param>
    public static async Task Write(string file, BackupAbout about, string key, string dump, string? mailbox, CancellationToken cancel)
    {
        var growing = $"{file}.part";
        await using (var stream = Own(growing))
        await using (var tar = new TarWriter(stream, TarEntryFormat.Pax))
        {
            await Add(tar, About, Json.Write(about), cancel);
            await Add(tar, Keys, Json.Write(new { Secrets = new { Key = key } }), cancel);
            foreach (var letter in mailbox is null || !Directory.Exists(mailbox) ? [] : Directory.EnumerateFiles(mailbox, "*", SearchOption.AllDirectories))
                await AddLetter(tar, letter, Mailbox + Path.GetRelativePath(mailbox!, letter), cancel);
            await tar.WriteEntryAsync(dump, Dump, cancel);
        }
        File.Move(growing, file, overwrite: true);
    }

    // A letter may be taken out of the mailbox meanwhile; it is in the database then.
    private static async Task AddLetter(TarWriter tar, string letter, string name, CancellationToken cancel)
    {
        try
        {
            await tar.WriteEntryAsync(letter, name, cancel);
        }
        catch (FileNotFoundException) { }
    }

    /// <summary>Opens a file that nobody but its owner may read.</summary>
    public static FileStream Own(string file)
    {
        var options = new FileStreamOptions { Mode = FileMode.Create, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = OwnerOnly;
        return new FileStream(file, options);
    }

    private static Task Add(TarWriter tar, string name, string text, CancellationToken cancel) =>
        tar.WriteEntryAsync(new PaxTarEntry(TarEntryType.RegularFile, name) { Mode = OwnerOnly, DataStream = new MemoryStream(Encoding.UTF8.GetBytes(text)) }, cancel);

    /// <summary>What is in a backup, taken apart into a folder.</summary>
    /// <returns>What it says of itself, its key, and the path of its dump.</returns>
    /// <exception cref="BackupException">It is none, or not whole.</exception>
    public static async Task<(BackupAbout About, string Key, string Dump)> Open(string file, string folder, CancellationToken cancel)
    {
        (BackupAbout? about, string? key, string? dump) = (null, null, null);
        try
        {
            await using var stream = File.OpenRead(file);
            await using var tar = new TarReader(stream);
            while (await tar.GetNextEntryAsync(cancellationToken: cancel) is { } entry)
                switch (entry.Name)
                {
                    case About:
                        about = await Read<BackupAbout>(entry, cancel);
                        break;
                    case Keys:
                        key = (await Read<KeptSecrets>(entry, cancel)).Secrets.Key;
                        break;
                    case Dump:
                        await entry.ExtractToFileAsync(dump = Path.Combine(folder, Dump), overwrite: true, cancel);
                        break;
                    case var name when name.StartsWith(Mailbox, StringComparison.Ordinal) && Inside(folder, name) is { } at:
                        Directory.CreateDirectory(Path.GetDirectoryName(at)!);
                        await entry.ExtractToFileAsync(at, overwrite: true, cancel);
                        break;
                }
        }
        catch (Exception e) when (e is EndOfStreamException or InvalidDataException or FormatException or System.Text.Json.JsonException)
        {
            throw new BackupException($"{file} is no backup of ours, or it is not whole: {e.Message}");
        }
        if (about is null || key is null || dump is null)
            throw new BackupException($"{file} is no backup of ours, or it is not whole.");
        if (about.Form != Form)
            throw new BackupException($"{file} was written by a newer program than this one.");
        if (await Sha256(dump, cancel) != about.Sha256)
            throw new BackupException($"{file} is damaged: what is in it is not what was written.");
        return (about, key, dump);
    }

    // A name that leads out of the folder is followed nowhere.
    private static string? Inside(string folder, string name) =>
        Path.GetFullPath(Path.Combine(folder, name)) is var at && at.StartsWith(Path.GetFullPath(folder) + Path.DirectorySeparatorChar, StringComparison.Ordinal) ? at : null;

    private static async Task<T> Read<T>(TarEntry entry, CancellationToken cancel)
    {
        using var reader = new StreamReader(entry.DataStream ?? throw new InvalidDataException($"{entry.Name} is empty"));
        return Json.Read<T>(await reader.ReadToEndAsync(cancel));
    }

    public static async Task<string> Sha256(string file, CancellationToken cancel)
    {
        await using var stream = File.OpenRead(file);
        return Convert.ToHexStringLower(await SHA256.HashDataAsync(stream, cancel));
    }

    /// <summary>The folder in which <see cref="Open"/> puts the mailbox.</summary>
    public static string MailboxIn(string folder) => Path.Combine(folder, "mailbox");

    private sealed record KeptSecrets(KeptKey Secrets);

    private sealed record KeptKey(string Key);
}
