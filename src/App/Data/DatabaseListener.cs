using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>Hears what processes tell one another through the database (LISTEN).</summary>
public static class DatabaseListener
{
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(2);

    /// <summary>Listens until it is stopped; where it is cut off it begins again.</summary>
    /// <param name="heard">Is given each payload.</param>
    /// <param name="begun">Is called each time listening begins: what was told before is not known.</param>
    /// <param name="woken">Is called after something was heard.</param>
    public static async Task Forever(
        NpgsqlDataSource source,
        string channel,
        Action<string> heard,
        Func<CancellationToken, Task> begun,
        Func<CancellationToken, Task> woken,
        ILogger log,
        CancellationToken stop
    )
    {
        while (!stop.IsCancellationRequested)
            try
            {
                await using var connection = await source.OpenConnectionAsync(stop);
                connection.Notification += (_, e) => heard(e.Payload);
                await using (var listen = new NpgsqlCommand($"listen {channel}", connection))
                    await listen.ExecuteNonQueryAsync(stop);
                await begun(stop);
                while (true)
                {
                    await connection.WaitAsync(stop);
                    await woken(stop);
                }
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                log.LogWarning(e, "Listening on {Channel} was cut off; it is begun again", channel);
                await Task.Delay(Pause, stop);
            }
    }
}
