using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>What is answered when an import was given work: small lists come back done with the answer; of large ones the page shows the progress.</summary>
public sealed class ImportAnswers(LanternDb db, ImportRunner runner, Workspace workspace, Patience patience, TimeProvider clock)
{
    private static readonly TimeSpan Moment = TimeSpan.FromSeconds(2.5);
    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(40);

    /// <summary>The import in the sieve, sifted if that takes a moment.</summary>
    public async Task<Ok<SieveView>> Settled(Guid id, CancellationToken cancel)
    {
        await Wait(id, cancel);
        return TypedResults.Ok((await ImportQueries.Open(db, id, workspace, clock.UtcNow()))!);
    }

    /// <summary>The import, taken in or back if that takes a moment.</summary>
    public async Task<Ok<ImportView>> Finished(Guid id, CancellationToken cancel)
    {
        await Wait(id, cancel);
        return TypedResults.Ok((await ImportQueries.One(db, id, clock.UtcNow()))!);
    }

    private async Task Wait(Guid id, CancellationToken cancel)
    {
        runner.Wake();
        for (var waited = TimeSpan.Zero; waited < patience.For(Moment); waited += Look)
        {
            if (
                !await db.Set<Import>().AnyAsync(i => i.Id == id && (i.State == Import.Sifting || i.State == Import.Taking || i.State == Import.TakingBack) && i.Tries == 0, cancel)
            )
                return;
            await Task.Delay(Look, cancel);
        }
    }
}
