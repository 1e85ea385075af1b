using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads.Bulk;

/// <summary>
/// Does and undoes in the background what was ordered for many leads. Any number of processes run one; each order is worked on by one at a time, held by a lock that goes with its
/// db, and whoever goes on does so behind the last batch that was committed.
/// </summary>
public sealed class BulkRunner([FromKeyedServices(BulkRunner.Source)] LanternDbFactory databases, IServiceScopeFactory scopes, TimeProvider clock, ILogger<BulkRunner> log)
    : Worker(log)
{
    /// <summary>Names the connections it works on.</summary>
    public const string Source = "bulk";

    private const int MostTries = 5;
    private readonly SemaphoreSlim _wake = new(0);

    /// <summary>Tells this process that there is work.</summary>
    public void Wake() => _wake.Release();

    protected override Task Work(CancellationToken stop) =>
        WhileThereIs(
            async cancel =>
            {
                await using var db = await databases.Open(cancel);
                return await RunOne(db, stop);
            },
            _wake,
            stop
        );

    /// <summary>True while something that was ordered is not done yet, and is not given up.</summary>
    public static Task<bool> IsAtWork(LanternDb db) => db.Set<BulkEdit>().AnyAsync(x => (x.State == "doing" || x.State == "undoing") && x.Tries < MostTries);

    /// <summary>Works one order to its end. False when none waits that nobody else works on.</summary>
    public async Task<bool> RunOne(LanternDb db, CancellationToken cancel)
    {
        var waiting = await db.Set<BulkEdit>()
            .Where(x => (x.State == "doing" || x.State == "undoing") && x.Tries < MostTries)
            .OrderBy(x => x.Leads)
            .ThenBy(x => x.CreatedAt)
            .Select(x => new { x.Id, x.State })
            .ToListAsync();
        foreach (var order in waiting)
            if (await SessionLock.With(db, SessionLock.KeyOf(order.Id), () => Run(db, order.Id, order.State, cancel)))
                return true;
        return false;
    }

    private async Task Run(LanternDb db, Guid id, string state, CancellationToken cancel)
    {
        try
        {
            while (
                await (
                    state == BulkEdit.Doing
                        ? scopes.With<BulkExecutor, bool>(b => b.Step(db, id, clock.UtcNow(), cancel))
                        : scopes.With<BulkUndo, bool>(b => b.Step(db, id, clock.UtcNow(), cancel))
                )
            ) { }
        }
        catch (Exception e) when (e is not OperationCanceledException && db.IsConnected())
        {
            Log.LogError(e, "Order {Order} could not be worked on while {State}", id, state);
            await db.Set<BulkEdit>()
                .Where(b => b.Id == id)
                .ExecuteUpdateAsync(s =>
                    s.SetProperty(b => b.Tries, b => b.Tries + 1).SetProperty(b => b.Trouble, "The work stopped with an error of ours; what was done so far is kept.")
                );
        }
    }
}
