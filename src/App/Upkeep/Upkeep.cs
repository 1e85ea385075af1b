using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Events;
using Microsoft.EntityFrameworkCore;
using Quartz;

namespace DapperLantern.App.Upkeep;

/// <summary>A piece of upkeep that is done by the calendar.</summary>
/// <param name="Name">For the log and the health check.</param>
/// <param name="Do">Does it; gives what is wrong, or null.</param>
internal sealed record UpkeepPiece(string Name, Func<LanternDb, DateTime, CancellationToken, Task<string?>> Do);

/// <summary>The pieces by when they are done.</summary>
internal static class UpkeepPieces
{
    private const int Patience = 900;

    public static IReadOnlyList<UpkeepPiece> Hourly { get; } = [new("repeated requests", RequestKeys)];

    public static IReadOnlyList<UpkeepPiece> Nightly { get; } = [new("months of the log", Months), new("orphans", Orphans)];

    // Answers of requests are kept for those who press twice.
    private static async Task<string?> RequestKeys(LanternDb db, DateTime now, CancellationToken cancel)
    {
        await db.Set<RequestKeyRow>().Where(x => x.At < now - RepeatedRequests.Kept).ExecuteDeleteAsync(cancel);
        return null;
    }

    private static async Task<string?> Months(LanternDb db, DateTime now, CancellationToken cancel)
    {
        await EventMonths.Make(db, now);
        return null;
    }

    /// <summary>Rows that name a record that is not there are a fault of the program; they harm nobody at once, and are to be known.</summary>
    private static async Task<string?> Orphans(LanternDb db, DateTime now, CancellationToken cancel)
    {
        using var patient = db.Patient(Patience);
        var found = await RecordRegistry.Orphans(db);
        return found.Count == 0
            ? null
            : $"rows that belong to nothing: {string.Join(", ", found.OrderBy(f => f.Key, StringComparer.Ordinal).Select(f => $"{f.Value} by {f.Key}"))}";
    }
}

/// <summary>Does pieces of upkeep one after another; one that fails holds none of the others up, and is told to the health check until it goes well again.</summary>
[DisallowConcurrentExecution]
internal abstract class UpkeepJob(LanternDbFactory databases, TimeProvider clock, ILogger log, IReadOnlyList<UpkeepPiece> pieces) : IJob
{
    public Task Execute(IJobExecutionContext context) => Do(context.CancellationToken);

    /// <summary>Does all pieces now.</summary>
    internal async Task Do(CancellationToken cancel)
    {
        using var acting = Acting.As(new Acting(null, Acting.Work(GetType())));
        foreach (var piece in pieces)
            await Do(piece, cancel);
    }

    private async Task Do(UpkeepPiece piece, CancellationToken cancel)
    {
        try
        {
            await using var db = await databases.Open(cancel);
            Worker.Tell(piece.Name, await piece.Do(db, clock.UtcNow(), cancel));
        }
        catch (Exception e) when (!cancel.IsCancellationRequested)
        {
            log.LogError(e, "Upkeep failed: {Piece}; it is done again at its next time", piece.Name);
            Worker.Failed(piece.Name, e.Message);
        }
    }
}

internal sealed class HourlyUpkeep(LanternDbFactory databases, TimeProvider clock, ILogger<HourlyUpkeep> log) : UpkeepJob(databases, clock, log, UpkeepPieces.Hourly);

internal sealed class NightlyUpkeep(LanternDbFactory databases, TimeProvider clock, ILogger<NightlyUpkeep> log) : UpkeepJob(databases, clock, log, UpkeepPieces.Nightly);
