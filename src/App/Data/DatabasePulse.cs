using DapperLantern.App.Setup;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>
/// Asks the database every half a second whether it answers. While it does not, requests are answered at once with 503, also those that wait for it: nobody waits for a
/// time-out to learn what is known.
/// </summary>
public sealed class DatabasePulse(IServiceProvider services, Patience patience, ILogger<DatabasePulse> log) : Worker(log)
{
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(500);
    private readonly TimeSpan _longest = patience.For(TimeSpan.FromSeconds(2));

    // One failure may be a full machine; the second is an answer.
    private const int FailuresUntilAway = 2;

    private int Seconds => (int)Math.Ceiling(_longest.TotalSeconds);

    private volatile TaskCompletionSource _away = new(TaskCreationOptions.RunContinuationsAsynchronously);

    public bool IsAway => _away.Task.IsCompleted;

    /// <summary>Completes when the database is found away.</summary>
    public Task WhenAway => _away.Task;

    protected override async Task Work(CancellationToken stop)
    {
        // A connection of its own, outside of the pool: it must not wait behind others.
        var own = Connections.Read(services, Connections.Working);
        (own.Pooling, own.Timeout, own.CommandTimeout, own.CancellationTimeout) = (false, Seconds, Seconds, -1);
        var failures = 0;
        NpgsqlConnection? connection = null;
        try
        {
            for (; ; await Task.Delay(Pause, stop))
            {
                if (await Beat(own.ConnectionString, connection, stop) is { } alive)
                {
                    (connection, failures) = (alive, 0);
                    if (IsAway)
                    {
                        Log.LogInformation("The database answers again");
                        _away = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
                    }
                    Tell(null);
                    continue;
                }
                connection = null;
                if (++failures != FailuresUntilAway)
                    continue;
                Log.LogError("The database does not answer; requests are refused until it does");
                Tell("the database does not answer");
                _away.TrySetResult();
            }
        }
        finally
        {
            if (connection is not null)
                await connection.DisposeAsync();
        }
    }

    // The connection that answered; null when none did in time.
    private async Task<NpgsqlConnection?> Beat(string own, NpgsqlConnection? connection, CancellationToken stop)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(stop);
        limit.CancelAfter(_longest);
        try
        {
            if (connection is null)
            {
                connection = new NpgsqlConnection(own);
                await connection.OpenAsync(limit.Token);
            }
            await using var ask = new NpgsqlCommand("select 1", connection);
            await ask.ExecuteScalarAsync(limit.Token);
            return connection;
        }
        catch (Exception e)
            when (!stop.IsCancellationRequested
                && e is NpgsqlException or OperationCanceledException or TimeoutException or System.Net.Sockets.SocketException or IOException or InvalidOperationException
            )
        {
            if (connection is not null)
                await connection.DisposeAsync();
            return null;
        }
    }
}
