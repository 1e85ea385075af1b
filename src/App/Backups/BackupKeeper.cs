using System.Globalization;
using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Setup;
using DapperLantern.App.Upkeep;
using Quartz;

namespace DapperLantern.App.Backups;

/// <summary>How backups stand.</summary>
/// <param name="Last">The latest, whatever came of it.</param>
/// <param name="Good">The latest that went well.</param>
public sealed record BackupState(BackupRun? Last, BackupRun? Good);

/// <summary>Makes the backups of the night, one at a time, keeps the latest, and remembers how they went.</summary>
public sealed class BackupKeeper(BackupMaker maker, BackupSettings settings, LanternDbFactory databases, TimeProvider clock, ILogger<BackupKeeper> log)
{
    private const string Entry = "backups";
    private const string Name = "lantern-";
    private readonly SemaphoreSlim _one = new(1);

    /// <summary>True while one is being made.</summary>
    public bool IsMaking => _one.CurrentCount == 0;

    /// <summary>The backups that are kept, newest first.</summary>
    public IReadOnlyList<FileInfo> Files =>
        settings.Folder is { } folder && Directory.Exists(folder)
            ? [.. new DirectoryInfo(folder).EnumerateFiles($"{Name}*.tar").OrderByDescending(f => f.Name, StringComparer.Ordinal)]
            : [];

    public static async Task<BackupState> State(LanternDb db) => await SetupEntries.Read<BackupState>(db, Entry) ?? new BackupState(null, null);

    /// <summary>Makes one now, unless one is being made. What goes wrong is remembered and told to the health check.</summary>
    public async Task Make(CancellationToken cancel)
    {
        if (settings.Folder is not { } folder || !await _one.WaitAsync(0, cancel))
            return;
        try
        {
            var at = clock.UtcNow();
            var file = Path.Combine(folder, $"{Name}{at.ToString("yyyy-MM-dd-HHmmss", CultureInfo.InvariantCulture)}.tar");
            var run = await Tried(file, at, cancel);
            if (run.Problem is not null)
                log.LogError("The backup failed: {Problem}", run.Problem);
            await Remember(run, cancel);
            Worker.Tell("backup", run.Problem);
            foreach (var old in Files.Skip(settings.Keep))
                old.Delete();
        }
        finally
        {
            _one.Release();
        }
    }

    private async Task<BackupRun> Tried(string file, DateTime at, CancellationToken cancel)
    {
        try
        {
            return await maker.Make(file, cancel);
        }
        catch (Exception e) when (e is BackupException or IOException or UnauthorizedAccessException or Npgsql.NpgsqlException)
        {
            return new BackupRun(at, null, 0, (clock.UtcNow() - at).TotalSeconds, null, 0, e.Message);
        }
    }

    private async Task Remember(BackupRun run, CancellationToken cancel)
    {
        await using var db = await databases.Open(cancel);
        var before = await State(db);
        await SetupEntries.Save(db, Entry, Json.Write(new BackupState(run, run.Problem is null ? run : before.Good)));
    }
}

/// <summary>The backup of the night.</summary>
[DisallowConcurrentExecution]
internal sealed class BackupJob(BackupKeeper keeper) : IJob
{
    public Task Execute(IJobExecutionContext context) => keeper.Make(context.CancellationToken);
}

/// <summary>Backups: by night, by hand, each tried.</summary>
internal sealed class BackupsCapability : ICapability
{
    // By UTC, at an hour at which few are at work.
    private const string Nightly = "0 40 2 * * ?";

    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<BackupMaker>().AddSingleton<BackupKeeper>().AddTransient<BackupJob>();
        if (Settings.Read<BackupSettings>(builder.Configuration).Folder is not null)
            builder.AddNightly<BackupJob>("backup", Nightly);
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api) => api.MapBackups();

    public IReadOnlyList<RecordTable> Tables => [];
}
