using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Scoring;

/// <summary>
/// Works off runs of rescoring, one process at a time, going on behind the last batch that was committed. Where the live model asks how long ago something was, a run is begun each day.
/// </summary>
public sealed class RescoreRunner(LanternDbFactory databases, WorkspaceConfiguration configuration, IServiceScopeFactory scopes, TimeProvider clock, ILogger<RescoreRunner> log)
    : Worker(log)
{
    private const int MostTries = 5;
    private readonly SemaphoreSlim _wake = new(0);

    /// <summary>Tells this process that there is work.</summary>
    public void Wake() => _wake.Release();

    protected override Task Work(CancellationToken stop) =>
        WhileThereIs(
            async cancel =>
            {
                await using var db = await databases.Open(cancel);
                await Daily(db);
                await RunOne(db, stop);
                return false;
            },
            _wake,
            stop
        );

    /// <summary>Works the open run to its end. False when there is none, or somebody else works on it.</summary>
    public async Task<bool> RunOne(LanternDb db, CancellationToken cancel)
    {
        var run = await db.Set<RescoreRun>()
            .Where(x => x.EndedAt == null && x.Tries < MostTries)
            .OrderByDescending(x => x.StartedAt)
            .Select(x => (Guid?)x.Id)
            .FirstOrDefaultAsync();
        return run is { } id && await SessionLock.With(db, SessionLock.KeyOf(id), () => Run(db, id, cancel));
    }

    private async Task Run(LanternDb db, Guid run, CancellationToken cancel)
    {
        try
        {
            await scopes.With<BatchRescorer>(r => r.Run(db, run, cancel));
        }
        catch (Exception e) when (e is not OperationCanceledException && db.IsConnected())
        {
            Log.LogError(e, "Run {Run} could not be worked on", run);
            await db.Set<RescoreRun>()
                .Where(r => r.Id == run)
                .ExecuteUpdateAsync(s =>
                    s.SetProperty(r => r.Tries, r => r.Tries + 1).SetProperty(r => r.Trouble, "The work stopped with an error of ours; what was scored so far is kept.")
                );
        }
    }

    // Two who come to it at once: the second finds the first one's run.
    private async Task Daily(LanternDb db)
    {
        if (await NotYetToday(db) is null || !(await configuration.Current.Model(db)).Model.Moves)
            return;
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockUntilEnd(SessionLock.KeyOf(Guid.Empty));
        if (await NotYetToday(db) is { } live)
            await scopes.With<BatchRescorer>(r => r.Begin(db, live, again: true));
        await transaction.CommitAsync();
    }

    // The live edition, where no run has begun today; null where one has, or none is live.
    private Task<Guid?> NotYetToday(LanternDb db) =>
        db.Row<Guid?>(
            $"""select id as "Value" from edition where kind = {Edition.Scoring} and state = 'live' and not exists (select 1 from rescore_run where started_at > {clock.UtcNow().Date})"""
        );
}
