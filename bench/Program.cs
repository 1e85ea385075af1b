using System.Security.Cryptography;
using Dapper;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>
/// Measures on this machine, against the plain limit in the same run. Arguments: what to measure (<c>intake</c>, <c>capture</c>, <c>worklist</c>, <c>search</c>, <c>matching</c>, <c>scoring</c>, <c>routing</c>, <c>handover</c>, <c>sign-in</c>, <c>desk</c>, <c>lists</c>, <c>fuzz</c>; default all but the last), and
/// its numbers; or <c>pairs</c> with the addresses of two running servers. Needs <c>LANTERN_TEST_SERVER</c>; <c>./lantern bench</c> sets it.
/// </summary>
public static class Program
{
    private const string Database = "lantern_bench";

    public static async Task Main(string[] args)
    {
        DefaultTypeMap.MatchNamesWithUnderscores = true;
        var what = args.Length > 0 ? args[0] : "all";
        if (what == "pairs")
        {
            await PairsBench.Run(args[1], args[2], args.Length > 3 ? args[3] : null);
            return;
        }
        int Number(int at, int otherwise) => args.Length > at ? int.Parse(args[at], null) : otherwise;
        var server = Environment.GetEnvironmentVariable("LANTERN_TEST_SERVER") ?? throw new InvalidOperationException("run ./lantern bench");
        await using (var connection = new NpgsqlConnection($"{server};Database=postgres"))
            await connection.ExecuteAsync($"create database {Database}");
        var key = Convert.ToBase64String(RandomNumberGenerator.GetBytes(32));
        await using var app = Build($"{server};Database={Database};Include Error Detail=true", key);
        await App.Program.Prepare(app);
        Console.WriteLine($"{Environment.ProcessorCount} cores, {GC.GetGCMemoryInfo().TotalAvailableMemoryBytes >> 30} GiB");
        if (what is "all" or "intake")
            await IntakeBench.Run(app, Number(1, 100_000), Number(2, 100_000));
        if (what is "all" or "worklist")
        {
            await WorklistBench.Run(app, what == "all" ? 100_000 : Number(1, 1_000_000));
            await ScopeBench.Run(app);
        }
        if (what is "all" or "search")
            await SearchBench.Run(app, what == "all" ? 100_000 : Number(1, 1_000_000));
        if (what is "all" or "matching")
            MatchingBench.Run(
                app.Services.GetRequiredService<WorkspaceConfiguration>().Current.Catalogue,
                what == "all" ? 5_000 : Number(1, 20_000),
                what == "all" ? 1 : Number(2, 3),
                Number(4, 1)
            );
        if (what == "matching" && Number(3, 0) is > 0 and var large)
            MatchingBench.Large(app.Services.GetRequiredService<WorkspaceConfiguration>().Current.Catalogue, large);
        if (what is "all" or "scoring")
        {
            ScoringBench.Core(app.Services.GetRequiredService<WorkspaceConfiguration>().Current.Catalogue, 1_000_000);
            if ((what == "all" ? 100_000 : Number(1, 1_000_000)) is > 0 and var stored)
                await ScoringBench.Stored(app, stored);
        }
        if (what is "all" or "routing")
        {
            RoutingBench.Core(app.Services.GetRequiredService<WorkspaceConfiguration>().Current.Catalogue, 1_000_000);
            await RoutingBench.Stored(app, what == "all" ? 20_000 : Number(1, 100_000));
        }
        // What asks over HTTP comes last: what works in the background would disturb the others.
        if (what is not ("all" or "capture" or "handover" or "sign-in" or "desk" or "lists" or "fuzz"))
            return;
        if (what is "all" or "handover")
            await HandoverBench.Fill(app, what == "all" ? 100_000 : Number(1, 1_000_000), what == "all" ? 20_000 : Number(2, 200_000));
        await app.StartAsync();
        if (what is "all" or "capture")
            await CaptureBench.Run(app, what == "all" ? 15 : Number(1, 15));
        if (what is "all" or "handover")
            await HandoverBench.Run(app);
        if (what is "all" or "sign-in")
        {
            await SignInBench.Run(app, 200);
            await SignInBench.Nine(app, 200);
        }
        if (what is "all" or "desk")
        {
            if (what == "desk")
                await WorklistBench.Base(app, Number(1, 1_000_000));
            await using var counting = Build($"{server};Database={Database};Include Error Detail=true", key, "--Desk:SharedSeconds=0");
            await App.Program.Prepare(counting);
            await counting.StartAsync();
            await DeskBench.Run(app, counting);
            await counting.StopAsync();
        }
        if (what is "all" or "lists")
            await ListsBench.Run(app, Number(1, 320), Number(2, 7));
        if (what == "fuzz")
            await FuzzBench.Run(app, Number(1, 100_000), Number(2, 19));
        await app.StopAsync();
    }

    private static WebApplication Build(string connection, string key, params string[] more) =>
        App.Program.Build([
            .. more,
            $"--ConnectionStrings:Lantern={connection}",
            $"--Secrets:Key={key}",
            "--Demo:Enabled=true",
            "--Demo:Folder=demo",
            "--Serilog:MinimumLevel:Default=Error",
            "--urls=http://127.0.0.1:0",
            "--Forms:PostsPerMinute=100000000",
            "--SignIn:PerMinute=100000000",
            "--Http:CallsPerMinute=100000000",
            "--Reading:PeoplePerHour=100000000",
            "--Upkeep:Runs=false",
        ]);
}
