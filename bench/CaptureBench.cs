using System.Diagnostics;
using System.Globalization;
using Dapper;
using DapperLantern.Bench.Fuzz;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>
/// Posts to a public form, each committed before it is answered, with matching, scoring, routing, task, consent and story; against single-row
/// inserts into a copy of the lead table with its indexes, by pgbench, on the same server in the same run. Then at half the rate reached, for
/// the time an answer takes.
/// </summary>
internal static class CaptureBench
{
    private const int Senders = 32;

    public static async Task Run(WebApplication app, int seconds)
    {
        var address = Served.Address(app);
        var source = app.Services.GetRequiredService<NpgsqlDataSource>();
        await using var connection = await source.OpenConnectionAsync();
        await connection.ExecuteAsync("update person set capacity = 100000000; create table bench_lead (like lead including all)");
        // The posts are a program's: they come without the page and its waiting time.
        await connection.ExecuteAsync("""update edition set body = body || '{"minimumSeconds":0}' where body ? 'minimumSeconds'""");
        using var http = new HttpClient(new SocketsHttpHandler { MaxConnectionsPerServer = 256, AllowAutoRedirect = false }) { BaseAddress = address };
        await Flood(http, 3, "warm");

        var limit = await PgBench(source.ConnectionString, seconds);
        Console.WriteLine($"pgbench, single-row inserts into a copy of lead, {Senders} clients: {limit:#,0} a second");
        var before = await connection.QuerySingleAsync<int>("select count(*)::int from lead");
        var (count, elapsed) = await Flood(http, seconds, "full");
        var after = await connection.QuerySingleAsync<int>("select count(*)::int from lead");
        Measure.Require(after - before == count, $"{count} posts answered, {after - before} leads made");
        var rate = count / elapsed;
        Console.WriteLine($"posts to a form, {Senders} senders: {rate:#,0} a second, {100 * rate / limit:0} % of pgbench");
        var times = await Paced(http, rate / 2, seconds);
        Console.WriteLine(
            $"at half of it, {rate / 2:#,0} a second: median {Share(times, 0.5):0} ms, p99 {Share(times, 0.99):0} ms, longest {times[^1]:0} ms, of {times.Count} posts"
        );
    }

    private static double Share(List<double> sorted, double share) => sorted[(int)(share * (sorted.Count - 1))];

    private static async Task<(int Count, double Seconds)> Flood(HttpClient http, int seconds, string run)
    {
        var watch = Stopwatch.StartNew();
        var count = 0;
        await Task.WhenAll(
            Enumerable
                .Range(0, Senders)
                .Select(async sender =>
                {
                    for (var i = 0; watch.Elapsed.TotalSeconds < seconds; i++)
                    {
                        await Post(http, $"{run}-{sender}-{i}");
                        Interlocked.Increment(ref count);
                    }
                })
        );
        return (count, watch.Elapsed.TotalSeconds);
    }

    // Open loop: a post begins when its time has come, whether the ones before are answered or not; waiting for them counts.
    private static async Task<List<double>> Paced(HttpClient http, double rate, int seconds)
    {
        var watch = Stopwatch.StartNew();
        var running = new List<Task<double>>();
        for (var i = 0; i < rate * seconds; i++)
        {
            var due = i / rate;
            if (due - watch.Elapsed.TotalSeconds is > 0.001 and var wait)
                await Task.Delay(TimeSpan.FromSeconds(wait));
            running.Add(Timed(http, $"paced-{i}", watch, due));
        }
        return [.. (await Task.WhenAll(running)).Order()];
    }

    private static async Task<double> Timed(HttpClient http, string name, Stopwatch watch, double due)
    {
        await Post(http, name);
        return (watch.Elapsed.TotalSeconds - due) * 1000;
    }

    private static async Task Post(HttpClient http, string name)
    {
        using var form = new FormUrlEncodedContent([
            new("first_name", "Lea"),
            new("last_name", $"Of {name}"),
            new("company", $"Waters {name} Ltd"),
            new("email", $"lea@{name}.example"),
            new("country", "NO"),
            new("interest", "Two buoys with oxygen probes"),
            new("consent.answer", "yes"),
        ]);
        using var answer = await http.PostAsync("/f/site-survey", form);
        Measure.Require((int)answer.StatusCode == 303, $"a post was answered with {(int)answer.StatusCode}");
    }

    private static async Task<double> PgBench(string connection, int seconds)
    {
        var parts = new NpgsqlConnectionStringBuilder(connection);
        var script = Path.GetTempFileName();
        await File.WriteAllTextAsync(
            script,
            """
            \set n random(1, 2000000000)
            insert into bench_lead (id, first_name, last_name, company, company_key, email, country, interest, state, source, created_at, last_touch_at, fit, fit_low, fit_high, engagement, next_move, number)
              overriding system value values (gen_random_uuid(), 'Lea', 'Of ' || :n, 'Waters ' || :n, 'waters ' || :n, 'lea@' || :n || '.example', 'NO', 'Two buoys', 'new', 'form-survey', now(), now(), 1, 1, 1, 1, 'park', :n);
            """
        );
        var start = new ProcessStartInfo(
            "pgbench",
            ["-n", "-h", parts.Host!, "-p", $"{parts.Port}", "-U", parts.Username!, "-c", $"{Senders}", "-j", "2", "-T", $"{seconds}", "-f", script, parts.Database!]
        )
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        // What a data source tells of its connection string is without the password.
        start.Environment["PGPASSWORD"] = new NpgsqlConnectionStringBuilder(Environment.GetEnvironmentVariable("LANTERN_TEST_SERVER")).Password;
        using var run = Process.Start(start)!;
        var output = await run.StandardOutput.ReadToEndAsync();
        await run.WaitForExitAsync();
        File.Delete(script);
        var line = output.Split('\n').FirstOrDefault(l => l.StartsWith("tps = ", StringComparison.Ordinal));
        Measure.Require(line is not null, $"pgbench said nothing: {output}");
        return double.Parse(line!.Split(' ')[2], CultureInfo.InvariantCulture);
    }
}
