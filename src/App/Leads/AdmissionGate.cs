namespace DapperLantern.App.Leads;

/// <summary>
/// Where the acts of a process that need <see cref="Admission.Lock"/> wait. One holds the lock at a time; if the others waited for it inside the database, each would keep a
/// connection that those who only read could have used.
/// </summary>
public sealed class AdmissionGate : IDisposable
{
    // One at the lock, and some that read before it or commit.
    private const int AtOnce = 4;

    private readonly SemaphoreSlim _free = new(AtOnce);

    /// <summary>Waits for one's turn; before a connection is taken. It ends with what is returned.</summary>
    public async Task<IDisposable> Enter(CancellationToken cancel)
    {
        await _free.WaitAsync(cancel);
        return new Turn(_free);
    }

    public void Dispose() => _free.Dispose();

    private sealed class Turn(SemaphoreSlim free) : IDisposable
    {
        public void Dispose() => free.Release();
    }
}

/// <summary>Marks endpoints that take <see cref="Admission.Lock"/>.</summary>
public static class AdmissionTurns
{
    /// <summary>The endpoint waits for its turn before it takes a db.</summary>
    public static RouteHandlerBuilder TakesTurns(this RouteHandlerBuilder endpoint) =>
        endpoint.AddEndpointFilter(
            async (context, next) =>
            {
                using var turn = await context.HttpContext.RequestServices.GetRequiredService<AdmissionGate>().Enter(context.HttpContext.RequestAborted);
                return await next(context);
            }
        );
}
