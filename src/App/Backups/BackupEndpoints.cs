using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Backups;

/// <param name="Bytes">Its size.</param>
public sealed record BackupLine(string Name, long Bytes, DateTime At);

/// <summary>How backups stand, for an administrator.</summary>
/// <param name="IsOn">True where one is made each night.</param>
/// <param name="IsTried">True where each is tried in a database beside ours.</param>
/// <param name="Folder">Where they lie on the machine; null where none are made.</param>
/// <param name="IsMaking">True while one is being made.</param>
public sealed record BackupsView(bool IsOn, bool IsTried, string? Folder, int Keep, bool IsMaking, BackupRun? Last, BackupRun? Good, IReadOnlyList<BackupLine> Files);

/// <summary>The last backup and its trial, told to administrators; and one more by hand.</summary>
public static class BackupEndpoints
{
    internal static void MapBackups(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/setup/backups").Requires(Act.ManagePeople).WithTags("Setup");
        group.MapGet("", Open).WithSummary("The last backup, its trial, and those that are kept");
        group.MapPost("", Make).WithSummary("Make a backup now");
    }

    private static async Task<Ok<BackupsView>> Open(LanternDb db, BackupKeeper keeper, BackupSettings settings) => TypedResults.Ok(await View(db, keeper, settings));

    private static async Task<BackupsView> View(LanternDb db, BackupKeeper keeper, BackupSettings settings)
    {
        var state = await BackupKeeper.State(db);
        return new BackupsView(
            settings.Folder is not null,
            settings.Trial is not null,
            settings.Folder,
            settings.Keep,
            keeper.IsMaking,
            state.Last,
            state.Good,
            [.. keeper.Files.Select(f => new BackupLine(f.Name, f.Length, f.LastWriteTimeUtc))]
        );
    }

    private static async Task<Results<Ok<BackupsView>, ProblemHttpResult>> Make(LanternDb db, BackupKeeper keeper, BackupSettings settings, IHostApplicationLifetime life)
    {
        if (settings.Folder is null)
            return ApiProblems.Of("no-backup-folder");
        // It goes on when the page is left.
        _ = Task.Run(() => keeper.Make(life.ApplicationStopping), life.ApplicationStopping);
        await Task.Yield();
        return TypedResults.Ok(await View(db, keeper, settings) with { IsMaking = true });
    }
}
