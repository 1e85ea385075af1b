using DapperLantern.App.Data;
using Npgsql;

namespace DapperLantern.App.Setup;

/// <summary>
/// Reads the workspace anew when another process set something up: at once when it is told so, and within seconds where the telling was lost, since a connection may die
/// without a word.
/// </summary>
public sealed class ConfigurationWatcher(NpgsqlDataSource source, WorkspaceConfiguration workspace, ILogger<ConfigurationWatcher> log) : Worker(log)
{
    private static readonly TimeSpan LookAgain = TimeSpan.FromSeconds(4);
    private readonly SemaphoreSlim _one = new(1);

    protected override Task Work(CancellationToken stop) => Task.WhenAll(Listen(stop), Look(stop));

    private Task Listen(CancellationToken stop)
    {
        var changed = false;
        return DatabaseListener.Forever(
            source,
            WorkspaceConfiguration.Channel,
            told => changed |= !workspace.IsOwn(told),
            Read,
            cancel => changed ? Read(cancel) : Task.CompletedTask,
            Log,
            stop
        );

        async Task Read(CancellationToken cancel)
        {
            await Load(cancel);
            changed = false;
        }
    }

    private Task Look(CancellationToken stop) =>
        Every(
            LookAgain,
            async cancel =>
            {
                if (await workspace.IsBehind(cancel))
                    await Load(cancel);
            },
            stop
        );

    private async Task Load(CancellationToken cancel)
    {
        await _one.WaitAsync(cancel);
        try
        {
            await workspace.Load(cancel);
        }
        finally
        {
            _one.Release();
        }
    }
}
