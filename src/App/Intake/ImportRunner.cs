using System.Collections.Concurrent;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>
/// Works on imports in the background: sifts, takes in, takes back. Any number of processes run one; an import is claimed by a lock that
/// belongs to the database db, so it is free again the moment its process or connection is gone, and whoever claims it goes on behind the last batch that was committed.
/// </summary>
public sealed class ImportRunner(LanternDbFactory databases, IServiceScopeFactory scopes, TimeProvider clock, ILogger<ImportRunner> log) : Worker(log)
{
    /// <summary>Imports one process works on at once: a small list need not wait for a large one.</summary>
    private const int AtOnce = 2;

    /// <summary>After so many failures an import waits for a person.</summary>
    public const int MostTries = 5;

    private readonly SemaphoreSlim _wake = new(0);
    private readonly ConcurrentDictionary<Guid, byte> _mine = [];

    /// <summary>Tells this process that there is work.</summary>
    public void Wake() => _wake.Release(AtOnce);

    protected override Task Work(CancellationToken stop) => Task.WhenAll(Enumerable.Range(0, AtOnce).Select(_ => WhileThereIs(_ => RunOne(stop), _wake, stop)));

    private async Task<bool> RunOne(CancellationToken cancel)
    {
        await using var db = await databases.Open(cancel);
        var waiting = await db.Set<Import>()
            .Where(x => (x.State == "sifting" || x.State == "taking" || x.State == "taking_back") && x.Tries < MostTries)
            .OrderBy(x => x.Size)
            .ThenBy(x => x.CreatedAt)
            .Select(x => x.Id)
            .ToListAsync();
        foreach (var id in waiting)
        {
            if (!_mine.TryAdd(id, 0))
                continue;
            try
            {
                if (await SessionLock.With(db, SessionLock.KeyOf(id), () => Run(db, id, cancel)))
                    return true;
            }
            finally
            {
                _mine.TryRemove(id, out _);
            }
        }
        return false;
    }

    /// <summary>Does what the import's state asks for, to the end. Trouble that is the file's or ours is kept with the import in a sentence; the work is tried a few times.</summary>
    public async Task Run(LanternDb db, Guid id, CancellationToken cancel)
    {
        var import = await db.Set<Import>().Where(x => x.Id == id).Select(x => new { x.State, x.Tries }).SingleOrDefaultAsync();
        var (state, tries) = (import?.State, import?.Tries ?? 0);
        try
        {
            await (
                state switch
                {
                    Import.Sifting => scopes.With<Sieve>(s => s.Run(db, id, clock.UtcNow(), cancel)),
                    Import.Taking => scopes.With<TakeIn>(t => t.Run(db, id, cancel)),
                    Import.TakingBack => scopes.With<TakeBack>(t => t.Run(db, id, clock.UtcNow(), cancel)),
                    _ => Task.CompletedTask,
                }
            );
        }
        catch (SnapshotBehindException)
        {
            // Goes on behind the last batch, by the set-up as it is now.
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            Log.LogError(e, "Import {Import} could not be worked on while {State}", id, state);
            var sentence =
                Workbook.IsBroken(e) || e is System.Text.Json.JsonException
                    ? "The file cannot be read to its end; what was read so far is kept."
                    : "The work stopped with an error of ours; what was done so far is kept.";
            // Who was told to try again meanwhile does so, and the trouble of before is not told any more.
            // On a connection of its own: the one it ran on may be what broke.
            await using var fresh = await databases.Open(cancel);
            await fresh
                .Set<Import>()
                .Where(x => x.Id == id && x.Tries == tries)
                .ExecuteUpdateAsync(s => s.SetProperty(x => x.Tries, x => x.Tries + 1).SetProperty(x => x.Trouble, sentence));
        }
    }
}
