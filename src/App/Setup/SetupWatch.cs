using Npgsql;

namespace DapperLantern.App.Setup;

/// <summary>Reads the installation anew when another process set something up.</summary>
public sealed class SetupWatch(NpgsqlDataSource source, Installation installation, ILogger<SetupWatch> log) : BackgroundService
{
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(2);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
            try
            {
                await Watch(stoppingToken);
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                log.LogWarning(e, "The watch on the setup was cut off; it is begun again");
                await Task.Delay(Pause, stoppingToken);
            }
    }

    private async Task Watch(CancellationToken cancel)
    {
        await using var connection = await source.OpenConnectionAsync(cancel);
        var changed = false;
        connection.Notification += (_, e) => changed |= !installation.IsOwn(e.Payload);
        await using (var listen = new NpgsqlCommand($"listen {Installation.Channel}", connection))
            await listen.ExecuteNonQueryAsync(cancel);
        // What was changed before we listened.
        await installation.Load(cancel);
        while (true)
        {
            await connection.WaitAsync(cancel);
            if (changed)
                await installation.Load(cancel);
            changed = false;
        }
    }
}
