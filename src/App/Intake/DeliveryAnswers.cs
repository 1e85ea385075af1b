using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Intake;

/// <summary>What is answered when a delivery was given work: small lists come back done with the answer; of large ones the page shows the progress.</summary>
public sealed class DeliveryAnswers(LanternDb db, DeliveryRunner runner, Installation installation, Patience patience, TimeProvider clock)
{
    private static readonly TimeSpan Moment = TimeSpan.FromSeconds(2.5);
    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(40);

    /// <summary>The delivery in the sieve, sifted if that takes a moment.</summary>
    public async Task<Ok<SieveView>> Settled(Guid id, CancellationToken cancel)
    {
        await Wait(id, cancel);
        return TypedResults.Ok((await DeliveryQueries.Open(await db.Connection(), id, installation, clock.UtcNow()))!);
    }

    /// <summary>The delivery, taken in or back if that takes a moment.</summary>
    public async Task<Ok<DeliveryView>> Finished(Guid id, CancellationToken cancel)
    {
        await Wait(id, cancel);
        return TypedResults.Ok((await DeliveryQueries.One(await db.Connection(), id, clock.UtcNow()))!);
    }

    private async Task Wait(Guid id, CancellationToken cancel)
    {
        runner.Wake();
        var connection = await db.Connection();
        for (var waited = TimeSpan.Zero; waited < patience.For(Moment); waited += Look)
        {
            if (!await connection.QuerySingleAsync<bool>("select state in ('sifting', 'taking', 'taking_back') and tries = 0 from delivery where id = @id", new { id }))
                return;
            await Task.Delay(Look, cancel);
        }
    }
}
