using System.Collections.Concurrent;

namespace DapperLantern.App.Data;

/// <summary>
/// The one base of background work. Nothing ends it but the stop of the host: a step that fails is logged, counted and told to the health check, and tried again after a pause that grows. When
/// the host stops, no new step begins, and one that is at work has some seconds to come to its end.
/// </summary>
public abstract class Worker(ILogger log) : BackgroundService
{
    private static readonly TimeSpan ShortestPause = TimeSpan.FromSeconds(1);
    private static readonly TimeSpan LongestPause = TimeSpan.FromMinutes(1);
    private static readonly TimeSpan Draining = TimeSpan.FromSeconds(10);
    private static readonly TimeSpan LookAgain = TimeSpan.FromSeconds(2);

    protected ILogger Log => log;

    /// <summary>What goes wrong now, by the name of the work; empty when all is well.</summary>
    public static ConcurrentDictionary<string, string> Failing { get; } = new();

    /// <summary>Steps that failed since the process began, by the name of the work.</summary>
    public static ConcurrentDictionary<string, int> Failures { get; } = new();

    /// <summary>The work, until it is stopped. Returning means that there is nothing to do in this process.</summary>
    protected abstract Task Work(CancellationToken stop);

    /// <summary>Tells the health check that the work goes on well, or what is wrong with it.</summary>
    protected void Tell(string? wrong) => Tell(GetType().Name, wrong);

    /// <summary>The same for work of another shape, by its name.</summary>
    internal static void Tell(string work, string? wrong)
    {
        if (wrong is null)
            Failing.TryRemove(work, out _);
        else
            Failing[work] = wrong;
    }

    /// <summary>Counts a failure of work, and tells the health check of it.</summary>
    internal static void Failed(string work, string why)
    {
        Failures.AddOrUpdate(work, 1, (_, before) => before + 1);
        Tell(work, why);
    }

    /// <summary>Does a step again and again, with a pause between.</summary>
    /// <param name="step">Is given a token that is cancelled some seconds after the stop.</param>
    /// <param name="atOnce">False to begin with the pause.</param>
    protected async Task Every(TimeSpan pause, Func<CancellationToken, Task> step, CancellationToken stop, bool atOnce = false)
    {
        using var finish = new CancellationTokenSource();
        await using var draining = stop.Register(() => finish.CancelAfter(Draining));
        using var timer = new PeriodicTimer(pause);
        var failed = 0;
        if (!atOnce)
            await timer.WaitForNextTickAsync(stop);
        do failed = await Try(() => step(finish.Token), failed, stop);
        while (await timer.WaitForNextTickAsync(stop));
    }

    /// <summary>Does what waits piece by piece: again at once while there is some, else when somebody says that there is, or after a pause.</summary>
    /// <param name="one">Does one piece; false when there is none to go on with. Is given a token that is cancelled some seconds after the stop.</param>
    /// <param name="wake">Released by whoever leaves a piece.</param>
    protected async Task WhileThereIs(Func<CancellationToken, Task<bool>> one, SemaphoreSlim wake, CancellationToken stop)
    {
        using var finish = new CancellationTokenSource();
        await using var draining = stop.Register(() => finish.CancelAfter(Draining));
        for (var failed = 0; !stop.IsCancellationRequested; )
        {
            var more = false;
            failed = await Try(async () => more = await one(finish.Token), failed, stop);
            if (!more && failed == 0)
                await wake.WaitAsync(LookAgain, stop);
        }
    }

    // Gives how often it failed in a row, having waited after a failure.
    private async Task<int> Try(Func<Task> step, int failed, CancellationToken stop)
    {
        try
        {
            await step();
        }
        catch (Setup.NotSetUpException)
        {
            // Nothing can wait for it in a workspace that is not set up.
        }
        catch (Exception e) when (!stop.IsCancellationRequested)
        {
            await Failed(e, failed, stop);
            return failed + 1;
        }
        Tell(null);
        return 0;
    }

    // Ends at the stop without a word: whoever goes on looks for it.
    private async Task Failed(Exception e, int failed, CancellationToken stop)
    {
        var pause = Growing(failed);
        log.LogError(e, "{Work} failed; it is tried again in {Seconds} s", GetType().Name, pause.TotalSeconds);
        Failed(GetType().Name, e.Message);
        await Task.Delay(pause, stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
    }

    /// <summary>How long is waited after so many failures before this one: a second, doubled, at most a minute.</summary>
    private static TimeSpan Growing(int failed) => failed >= 6 ? LongestPause : ShortestPause * (1 << failed);

    protected sealed override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var acting = Acting.As(new Acting(null, Acting.Work(GetType())));
        // Work that waits for what comes to it, and begins anew with what it holds open.
        for (var failed = 0; !stoppingToken.IsCancellationRequested; failed++)
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
                // Work that went on for longer than the longest pause was well.
                if (DateTime.UtcNow - begun > LongestPause)
                    failed = 0;
                await Failed(e, failed, stoppingToken);
            }
        }
    }
}
