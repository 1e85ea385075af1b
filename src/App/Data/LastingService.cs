using System.Collections.Concurrent;

namespace DapperLantern.App.Data;

/// <summary>Background work that nothing ends but the stop of the host: whatever it throws is logged and told to the health check, and it is begun again after a pause that grows.</summary>
public abstract class LastingService(ILogger log) : BackgroundService
{
    private static readonly TimeSpan ShortestPause = TimeSpan.FromSeconds(1);
    private static readonly TimeSpan LongestPause = TimeSpan.FromMinutes(1);

    // Work that went on for so long was well; its next failure begins with the shortest pause.
    private static readonly TimeSpan Well = TimeSpan.FromMinutes(2);

    protected ILogger Log => log;

    /// <summary>What goes wrong now, by the name of the work; empty when all is well.</summary>
    public static ConcurrentDictionary<string, string> Failing { get; } = new();

    /// <summary>The work, until it is stopped. Returning means that there is nothing to do in this process.</summary>
    protected abstract Task Work(CancellationToken stop);

    /// <summary>Tells the health check that the work goes on well, or what is wrong with it.</summary>
    protected void Tell(string? wrong)
    {
        if (wrong is null)
            Failing.TryRemove(GetType().Name, out _);
        else
            Failing[GetType().Name] = wrong;
    }

    protected sealed override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var acting = Acting.As(new Acting(null, Acting.Work(GetType())));
        for (var pause = ShortestPause; !stoppingToken.IsCancellationRequested; )
        {
            var begun = DateTime.UtcNow;
            try
            {
                await Work(stoppingToken);
                return;
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception e)
            {
                if (DateTime.UtcNow - begun > Well)
                    pause = ShortestPause;
                log.LogError(e, "{Work} broke; it is begun again in {Seconds} s", GetType().Name, pause.TotalSeconds);
                Tell(e.Message);
            }
            try
            {
                await Task.Delay(pause, stoppingToken);
            }
            catch (OperationCanceledException)
            {
                return;
            }
            pause = pause * 2 < LongestPause ? pause * 2 : LongestPause;
        }
    }
}
