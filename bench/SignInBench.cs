using System.Diagnostics;
using System.Net.Http.Json;
using Dapper;
using DapperLantern.Bench.Fuzz;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>What the time of an answer tells of a name: wrong passwords for names that exist and for names that do not, in turn.</summary>
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
}
