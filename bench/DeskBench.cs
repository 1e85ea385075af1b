using System.Diagnostics;
using Dapper;
using DapperLantern.Bench.Fuzz;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>
/// What everybody asks all day: the Desk and the counts of the line, by 32 connections of all roles, as served, and with nothing shared, turn by turn in the same run. Over the base of
/// <see cref="WorklistBench"/>.
/// </summary>
internal static class DeskBench
{
    private const int Connections = 32;
    private const int Turns = 5;
    private static readonly TimeSpan Each = TimeSpan.FromSeconds(6);

    /// <param name="app">Started.</param>
    /// <param name="counting">The same on the same database, counting each time.</param>
    public static async Task Run(WebApplication app, WebApplication counting)
    {
        await using var connection = await app.Services.GetRequiredService<NpgsqlDataSource>().OpenConnectionAsync();
        var names = (await connection.QueryAsync<string>("select user_name from person where here order by user_name")).ToList();
        foreach (var path in new[] { "/api/desk", "/api/line" })
        {
            var (shared, plain) = (new List<double>(), new List<double>());
            for (var turn = 0; turn < Turns; turn++)
            {
                shared.Add(await Rate(app, names, path));
                plain.Add(await Rate(counting, names, path));
            }
            Console.WriteLine(
                $"{path}, {Connections} connections: {Measure.At(shared, 0.5):#,0} a second, counting each time {Measure.At(plain, 0.5):#,0} (medians of {Turns} turns); {Measure.At(shared, 0.5) / Measure.At(plain, 0.5):0.0} times as many"
            );
        }
    }

    private static async Task<double> Rate(WebApplication app, List<string> names, string path)
    {
        var clients = new List<HttpClient>();
        for (var i = 0; i < Connections; i++)
            clients.Add(await Served.SignIn(Served.Address(app), names[i % names.Count], TimeSpan.FromMinutes(1)));
        var (watch, answers) = (Stopwatch.StartNew(), 0);
        await Task.WhenAll(
            clients.Select(async client =>
            {
                while (watch.Elapsed < Each)
                {
                    using var answer = await client.GetAsync(new Uri(path, UriKind.Relative));
                    Measure.Require(answer.IsSuccessStatusCode, path);
                    await answer.Content.ReadAsByteArrayAsync();
                    Interlocked.Increment(ref answers);
                }
            })
        );
        var rate = answers / watch.Elapsed.TotalSeconds;
        clients.ForEach(c => c.Dispose());
        return rate;
    }
}
