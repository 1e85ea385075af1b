using System.Diagnostics;

namespace DapperLantern.Tests.Shared;

/// <summary>Waits for what comes to hold by itself.</summary>
internal static class Eventually
{
    /// <exception cref="TimeoutException">It does not come to hold in so many seconds.</exception>
    public static async Task Holds(Func<Task<bool>> holds, int seconds = 60)
    {
        for (var watch = Stopwatch.StartNew(); !await holds(); await Task.Delay(50))
            if (watch.Elapsed.TotalSeconds > seconds)
                throw new TimeoutException("it did not come to hold");
    }
}
