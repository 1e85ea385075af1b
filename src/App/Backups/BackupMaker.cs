using System.Diagnostics;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Backups;

/// <summary>A backup that was made, or was not.</summary>
/// <param name="At">The moment whose state it is, UTC.</param>
/// <param name="File">Its name; null where none was made.</param>
/// <param name="Seconds">How long it took, its trial included.</param>
/// <param name="Tables">So many tables were put into the trial database and held the same rows; null where it was not tried.</param>
/// <param name="Rows">Rows in them.</param>
/// <param name="Problem">Why it was not made, or why its trial failed; null where all went well.</param>
public sealed record BackupRun(DateTime At, string? File, long Bytes, double Seconds, int? Tables, long Rows, string? Problem);

/// <summary>Makes backups, tries each by putting it into a database beside ours, and puts one into an empty place.</summary>
public sealed class BackupMaker(BackupSettings settings, MailboxSettings mailbox, IServiceProvider services, TimeProvider clock)
{
    private readonly DatabaseDump _dump = new(settings.Tools, clock);

    /// <summary>Makes a backup and tries it.</summary>
    /// <exception cref="BackupException">It could not be made. Nothing is left of it.</exception>
    public async Task<BackupRun> Make(string file, CancellationToken cancel)
    {
        var (at, took) = (clock.UtcNow(), Stopwatch.StartNew());
        var from = Connections.Read(services, Connections.Owning);
        var folder = Path.GetDirectoryName(Path.GetFullPath(file))!;
        Directory.CreateDirectory(folder);
        var (bytes, _) = await _dump.Look(from, cancel);
        // A dump is smaller than its database, and needs no more than that while it is written.
        if (new DriveInfo(folder).AvailableFreeSpace is var free && free < bytes)
            throw new BackupException($"There is no room for it: {free >> 20} MB are free in {folder}, and the database has {bytes >> 20} MB.");
        var dump = $"{file}.dump";
        try
        {
            // pg_dump would let others read it while it grows.
            await BackupFile.Own(dump).DisposeAsync();
            var (migration, rows) = await _dump.Write(from, dump, cancel);
            var about = new BackupAbout(BackupFile.Form, migration, at, await BackupFile.Sha256(dump, cancel), rows);
            await BackupFile.Write(file, about, Key, dump, mailbox.Folder, cancel);
            var problem = await Try(from, dump, rows, cancel);
            return new BackupRun(
                at,
                Path.GetFileName(file),
                new FileInfo(file).Length,
                took.Elapsed.TotalSeconds,
                settings.Trial is null || problem is not null ? null : rows.Count,
                rows.Values.Sum(),
                problem
            );
        }
        finally
        {
            File.Delete(dump);
            File.Delete($"{file}.part");
        }
    }

    private string Key => services.GetRequiredService<IConfiguration>()["Secrets:Key"]!;

    // What is wrong with it; null where it could be put back as it was.
    private async Task<string?> Try(NpgsqlConnectionStringBuilder from, string dump, IReadOnlyDictionary<string, long> rows, CancellationToken cancel)
    {
        if (settings.Trial is not { } trial || trial == from.Database)
            return null;
        var into = new NpgsqlConnectionStringBuilder(from.ConnectionString) { Database = trial };
        try
        {
            await _dump.Empty(into, cancel);
            await _dump.Read(into, dump, cancel);
            return Different(rows, await _dump.Count(into, cancel));
        }
        catch (Exception e) when (e is BackupException or NpgsqlException)
        {
            return $"It was made, and could not be tried: {e.Message}";
        }
        finally
        {
            await Leave(into);
        }
    }

    private async Task Leave(NpgsqlConnectionStringBuilder into)
    {
        try
        {
            await _dump.Empty(into, CancellationToken.None);
        }
        catch (NpgsqlException)
        {
            // It was told why already.
        }
    }

    private static string? Different(IReadOnlyDictionary<string, long> were, IReadOnlyDictionary<string, long> are) =>
        were.Where(t => are.GetValueOrDefault(t.Key, -1) != t.Value).Select(t => t.Key).ToList() is { Count: > 0 } other
            ? $"Put back, it holds other rows in {string.Join(", ", other.Take(5))}."
            : null;

    /// <summary>Puts a backup into the empty database of this place, with its key and its mailbox.</summary>
    /// <returns>What the backup says of itself.</returns>
    /// <exception cref="BackupException">There is data here already, or the file cannot be used. Nothing was changed.</exception>
    public async Task<BackupAbout> Restore(string file, CancellationToken cancel)
    {
        if (!File.Exists(file))
            throw new BackupException($"There is no file {file}.");
        var into = Connections.Read(services, Connections.Owning);
        if ((await _dump.Look(into, cancel)).HasTables)
            throw new BackupException("There is data in this place already, and nothing is written over it. Choose another place (LANTERN_PLACE), or move this one away.");
        var folder = Directory.CreateTempSubdirectory("lantern-restore");
        try
        {
            var (about, key, dump) = await BackupFile.Open(file, folder.FullName, cancel);
            await Known(about, into);
            await _dump.Read(into, dump, cancel);
            if (Different(about.Rows, await _dump.Count(into, cancel)) is { } different)
                throw new BackupException(different);
            await RestoredSecrets.Keep(services.GetRequiredService<IConfiguration>(), key, cancel);
            KeepLetters(BackupFile.MailboxIn(folder.FullName));
            return about;
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private async Task Known(BackupAbout about, NpgsqlConnectionStringBuilder into)
    {
        await using var source = NpgsqlDataSource.Create(into);
        await using var db = new LanternDbFactory(source, clock).CreateDbContext();
        if (!db.Database.GetMigrations().Contains(about.Migration))
            throw new BackupException("This backup is of a newer program than this one. Restore it with that one.");
    }

    private void KeepLetters(string from)
    {
        if (mailbox.Folder is not { } to || !Directory.Exists(from))
            return;
        foreach (var letter in Directory.EnumerateFiles(from, "*", SearchOption.AllDirectories))
        {
            var at = Path.Combine(to, Path.GetRelativePath(from, letter));
            Directory.CreateDirectory(Path.GetDirectoryName(at)!);
            File.Copy(letter, at, overwrite: false);
        }
    }
}
