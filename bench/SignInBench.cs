using System.Diagnostics;
using System.Net.Http.Json;
using Dapper;
using DapperLantern.Bench.Fuzz;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>
/// What the time of an answer tells of a name: wrong passwords for names that exist and for names that do not, in turn. And nine o'clock: many sign in at once from one address, while others
/// are at work.
/// </summary>
internal static class SignInBench
{
    private const int Warm = 10;

    /// <param name="app">Started, with the demo.</param>
    /// <param name="tries">Of each kind.</param>
    public static async Task Run(WebApplication app, int tries)
    {
        var source = app.Services.GetRequiredService<NpgsqlDataSource>();
        await using var connection = await source.OpenConnectionAsync();
        var names = (await connection.QueryAsync<string>("select user_name from person where here order by user_name")).ToList();
        using var http = new HttpClient { BaseAddress = Served.Address(app) };
        foreach (var (words, slowed) in new[] { ("looked at", false), ("slowed down", true) })
        {
            var (known, unknown, statuses) = (new List<double>(), new List<double>(), new HashSet<int>());
            for (var n = -Warm; n < tries; n++)
            {
                // The same letters, so that only being there differs.
                var name = names[(n + Warm) % names.Count];
                foreach (var (list, tried) in new[] { (known, name), (unknown, $"{name[..^1]}{(name[^1] == 'q' ? 'x' : 'q')}") })
                {
                    if (!slowed)
                        await connection.ExecuteAsync("delete from sign_in_failure");
                    var watch = Stopwatch.StartNew();
                    using var answer = await http.PostAsJsonAsync("/api/session", new { name = tried, password = "no password of anybody" });
                    await answer.Content.ReadAsStringAsync();
                    if (n >= 0)
                        list.Add(watch.Elapsed.TotalMilliseconds);
                    statuses.Add((int)answer.StatusCode);
                }
                if (slowed && n == -Warm)
                    await connection.ExecuteAsync("update sign_in_failure set failures = 100");
            }
            var (a, b) = (Measure.At(known, 0.5), Measure.At(unknown, 0.5));
            Console.WriteLine(
                $"wrong passwords, {words}, {tries} tries of each: names that exist {a:0.0} ms, names that do not {b:0.0} ms, apart {Math.Abs(a - b):0.00} ms (medians); answered {string.Join(", ", statuses.Order())}"
            );
        }
    }

    private static readonly string[] Work = ["/api/desk", "/api/line", "/api/leads"];

    /// <summary>How long it takes until everybody is in who signs in at the same moment, and what those wait who are at work meanwhile.</summary>
    /// <param name="app">Started, with the demo.</param>
    /// <param name="people">That sign in at once.</param>
    public static async Task Nine(WebApplication app, int people)
    {
        await using var connection = await app.Services.GetRequiredService<NpgsqlDataSource>().OpenConnectionAsync();
        await connection.ExecuteAsync(
            """
            delete from sign_in_failure;
            create temporary table early as select * from person where 'rep' = any(roles) and here order by user_name limit 1;
            update early set calendar_hash = null;
            insert into person select (jsonb_populate_record(e, jsonb_build_object('id', gen_random_uuid(), 'user_name', 'early.' || n, 'normalized_user_name', 'EARLY.' || n, 'email', n || '@early.example',
              'normalized_email', n || '@EARLY.EXAMPLE'))).* from early e, generate_series(1, @people) n;
            """,
            new { people }
        );
        var address = Served.Address(app);
        using var worker = await Served.SignIn(address, "ingrid.brekke", TimeSpan.FromMinutes(2));
        await Requests(worker, TimeSpan.FromSeconds(3));
        var alone = await Requests(worker, TimeSpan.FromSeconds(10));
        using var all = new CancellationTokenSource();
        var working = Requests(worker, TimeSpan.FromMinutes(10), all.Token);
        var watch = Stopwatch.StartNew();
        var answers = await Task.WhenAll(
            Enumerable
                .Range(1, people)
                .Select(async n =>
                {
                    using var client = new HttpClient { BaseAddress = address, Timeout = TimeSpan.FromMinutes(5) };
                    using var answer = await client.PostAsJsonAsync("/api/session", new { name = $"early.{n}", password = App.Setup.SessionEndpoints.DemoPassword });
                    return (int)answer.StatusCode;
                })
        );
        var seconds = watch.Elapsed.TotalSeconds;
        await all.CancelAsync();
        var beside = await working;
        Console.WriteLine(
            $"{people} sign in at once from one address: all answered in {seconds:0.0} s ({string.Join(", ", answers.CountBy(a => a).Select(a => $"{a.Value} by {a.Key}"))}); somebody at work waits {Measure.At(beside, 0.5):0} ms, p95 {Measure.At(beside, 0.95):0} ms, alone {Measure.At(alone, 0.5):0} and {Measure.At(alone, 0.95):0} ({Measure.At(beside, 0.95) / Measure.At(alone, 0.95):0.00} times)"
        );
    }

    // The times of what somebody at work asks, one after another, in milliseconds.
    private static async Task<List<double>> Requests(HttpClient worker, TimeSpan during, CancellationToken stop = default)
    {
        var (times, watch) = (new List<double>(), Stopwatch.StartNew());
        while (watch.Elapsed < during && !stop.IsCancellationRequested)
        {
            var begun = watch.Elapsed;
            using var answer = await worker.GetAsync(new Uri(Work[times.Count % Work.Length], UriKind.Relative), CancellationToken.None);
            await answer.Content.ReadAsByteArrayAsync(CancellationToken.None);
            Measure.Require(answer.IsSuccessStatusCode, $"{answer.StatusCode}");
            times.Add((watch.Elapsed - begun).TotalMilliseconds);
        }
        return times;
    }
}
