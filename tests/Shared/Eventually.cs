using System.Diagnostics;

namespace DapperLantern.Tests.Shared;

/// <summary>Waits for what comes to hold by itself.</summary>
internal static class Eventually
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(60);

    /// <exception cref="TimeoutException">It does not come to hold within a minute.</exception>
    public static async Task Holds(Func<Task<bool>> holds)
    {
        for (var watch = Stopwatch.StartNew(); !await holds(); await Task.Delay(50))
            if (watch.Elapsed > Patience)
                throw new TimeoutException("it did not come to hold");
    }
}
