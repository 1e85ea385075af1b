using System.Diagnostics;

namespace DapperLantern.Bench;

internal static class Measure
{
    public static async Task<double> Time(Func<Task> work)
    {
        var watch = Stopwatch.StartNew();
        await work();
        return watch.Elapsed.TotalSeconds;
    }

    public static void Say(string what, long count, double seconds, string unit) => Console.WriteLine($"{what}: {seconds:0.00} s, {count / seconds:#,0} {unit} a second");

    /// <summary>What collecting garbage took so far, of this process.</summary>
    public static string Collections() =>
        $"collected {GC.CollectionCount(0)}, {GC.CollectionCount(1)}, {GC.CollectionCount(2)} times, {GC.GetTotalPauseDuration().TotalSeconds:0.0} s of pauses, {GC.GetTotalAllocatedBytes() >> 20} MB allocated";

    /// <summary>The most memory this process has had so far, in MB (VmHWM of the kernel).</summary>
    public static int PeakMemory() =>
        int.Parse(File.ReadLines("/proc/self/status").First(l => l.StartsWith("VmHWM", StringComparison.Ordinal)).Split(' ', StringSplitOptions.RemoveEmptyEntries)[1], null)
        / 1024;

    /// <summary>The value that a share of the times lie at or under: 0.5 is the median.</summary>
    public static double At(List<double> times, double share) => times.Order().ElementAt((int)Math.Min(times.Count - 1, share * times.Count));

    public static void Require(bool holds, string found)
    {
        if (!holds)
            throw new InvalidOperationException($"the measurement is void: {found}");
    }
}
