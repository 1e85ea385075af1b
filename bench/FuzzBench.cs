using DapperLantern.Bench.Fuzz;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>Requests made from the server's own description and spoilt: none may be answered 5xx, and no refusal may come without a sentence.</summary>
internal static class FuzzBench
{
    /// <param name="app">Started, with the demo.</param>
    public static async Task Run(WebApplication app, int count, int seed)
    {
        var address = Served.Address(app);
        Console.WriteLine($"{count:#,0} requests, seed {seed}: ./lantern bench fuzz {count} {seed}");
        var watch = System.Diagnostics.Stopwatch.StartNew();
        var outcome = await new Fuzz.Range(address, app.Services.GetRequiredService<NpgsqlDataSource>(), "demo").Run(
            seed,
            count,
            sent =>
            {
                if (sent % 50_000 == 0)
                    Console.WriteLine($"  {sent:#,0} sent after {watch.Elapsed.TotalSeconds:0} s");
            }
        );
        Measure.Say("requests", count, watch.Elapsed.TotalSeconds, "requests");
        Console.WriteLine(string.Join(", ", outcome.Statuses.Select(s => $"{s.Key}: {s.Value:#,0}")));
        Console.WriteLine(
            "longest: " + string.Join(", ", outcome.Seconds.OrderByDescending(s => s.Value.All).Take(12).Select(s => $"{s.Key} {s.Value.All:0} s, at most {s.Value.Most:0.0}"))
        );
        foreach (var hit in outcome.Hits.GroupBy(h => (h.Operation, h.Status)).Select(g => g.First()).Take(40))
            Console.WriteLine($"{hit.Number} {hit.Operation} as {(hit.Who.Length == 0 ? "nobody" : hit.Who)}: {hit.Status} {hit.Words}\n   {hit.Path}\n   {hit.Body}");
        Measure.Require(outcome.Hits.Count == 0, $"{outcome.Hits.Count} answers must not be");
    }
}
