using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Due;

/// <summary>Work that is done for records when their time has come.</summary>
public interface IDueWork
{
    /// <summary>Its name in the table.</summary>
    string Kind { get; }

    /// <summary>What it does, for people; shown where it failed.</summary>
    string Words { get; }

    /// <summary>How many are done in one transaction at most.</summary>
    int Batch { get; }

    /// <summary>
    /// Does it for those of the records that are still due and that no other process works on, in a transaction of its own. The record is locked and asked again: another process may have
    /// been before. What is done is due no more by what is written.
    /// </summary>
    /// <returns>For how many it was done.</returns>
    Task<int> Do(LanternDb db, Guid[] keys, DateTime now, CancellationToken cancel);
}

/// <summary>All due work, by its name.</summary>
public sealed class DueWorks(IEnumerable<IDueWork> works)
{
    /// <summary>What a kind of work does, for people; one that this program does not know stands with its key.</summary>
    public string Words(string kind) => works.FirstOrDefault(w => w.Kind == kind)?.Words ?? kind;
}

/// <summary>Takes what is due, in small steps. What fails is tried again after a pause that grows, alone, so that it holds nothing else up; in the end it is given up and waits for an administrator.</summary>
internal static class DueSteps
{
    private const int MostTries = 8;
    private const int LongestProblem = 500;
    private static readonly TimeSpan FirstPause = TimeSpan.FromMinutes(1);
    private static readonly TimeSpan LongestPause = TimeSpan.FromHours(6);

    /// <summary>Works off what is due by now, as the work itself. Gives for how many it was done.</summary>
    /// <param name="stop">After it no further step begins.</param>
    public static async Task<int> WorkOff(LanternDbFactory databases, IDueWork work, TimeProvider clock, CancellationToken stop, CancellationToken cancel)
    {
        using var acting = Acting.As(new Acting(null, work.Kind));
        await using var db = await databases.Open(cancel);
        var (all, step) = (0, work.Batch);
        while (step == work.Batch && !stop.IsCancellationRequested)
            all += step = await Step(db, work, clock.UtcNow(), cancel);
        return all;
    }

    /// <summary>One step. Gives for how many it was done.</summary>
    public static async Task<int> Step(LanternDb db, IDueWork work, DateTime now, CancellationToken cancel = default)
    {
        var (kind, most) = (work.Kind, work.Batch);
        // Not locked: a record is changed under its own lock, by which its row here changes; held the other way round two would wait for each other.
        Guid[] keys = await db.Set<DueRow>().Where(d => d.Kind == kind && d.At <= now && d.GivenUpAt == null).OrderBy(d => d.At).Select(d => d.Key).Take(most).ToArrayAsync(cancel);
        if (keys.Length > 1)
            try
            {
                return await work.Do(db, keys, now, cancel);
            }
            catch (Exception e) when (IsOfTheWork(e))
            {
                // Not all of them: each by itself, then.
                db.ChangeTracker.Clear();
            }
        var done = 0;
        foreach (var key in keys)
            try
            {
                done += await work.Do(db, [key], now, cancel);
            }
            catch (Exception e) when (IsOfTheWork(e))
            {
                await Failed(db, work, key, e, now);
            }
        return done;
    }

    // A database that is away, a set-up that has just changed, or a stop is no fault of the record.
    private static bool IsOfTheWork(Exception e) => e is not (OperationCanceledException or SnapshotBehindException) && !Outage.IsOutage(e);

    private static async Task Failed(LanternDb db, IDueWork work, Guid key, Exception why, DateTime now)
    {
        db.ChangeTracker.Clear();
        var (kind, problem) = (work.Kind, why.Message.Length > LongestProblem ? why.Message[..LongestProblem] : why.Message);
        var tries = await db.Set<DueRow>().Where(d => d.Kind == kind && d.Key == key).Select(d => (int?)d.Tries).SingleOrDefaultAsync();
        if (tries is not { } before)
            return;
        var next = now + Pause(before);
        await db.Set<DueRow>()
            .Where(d => d.Kind == kind && d.Key == key)
            .ExecuteUpdateAsync(s =>
                s.SetProperty(d => d.Tries, d => d.Tries + 1)
                    .SetProperty(d => d.Problem, problem)
                    .SetProperty(d => d.At, next)
                    .SetProperty(d => d.GivenUpAt, d => d.Tries + 1 >= MostTries ? now : null)
            );
    }

    /// <summary>How long is waited after so many failures before this one.</summary>
    public static TimeSpan Pause(int before) =>
        FirstPause.TotalMinutes * Math.Pow(2, before) is var minutes && minutes < LongestPause.TotalMinutes ? TimeSpan.FromMinutes(minutes) : LongestPause;
}

/// <summary>Looks every few seconds for what is due.</summary>
public sealed class DueWorker(LanternDbFactory databases, IEnumerable<IDueWork> works, ClockSettings settings, TimeProvider clock, ILogger<DueWorker> log) : Worker(log)
{
    protected override Task Work(CancellationToken stop) =>
        Every(
            settings.Look,
            async cancel =>
            {
                foreach (var work in works)
                    await DueSteps.WorkOff(databases, work, clock, stop, cancel);
            },
            stop
        );
}
