using DapperLantern.App.Data;
using Npgsql;

namespace DapperLantern.App.Setup;

/// <summary>Reads the installation anew when another process set something up.</summary>
public sealed class SetupWatch(NpgsqlDataSource source, Installation installation, ILogger<SetupWatch> log) : BackgroundService
{
    protected override Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var changed = false;
        return Listening.Forever(
            source,
            Installation.Channel,
            told => changed |= !installation.IsOwn(told),
            Read,
            cancel => changed ? Read(cancel) : Task.CompletedTask,
            log,
            stoppingToken
        );

        async Task Read(CancellationToken cancel)
        {
            await installation.Load(cancel);
            changed = false;
        }
    }
}
