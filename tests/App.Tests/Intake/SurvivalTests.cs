using System.Diagnostics;
using System.Text;
using Dapper;
using DapperLantern.App.Intake;
using Npgsql;

namespace DapperLantern.App.Tests.Intake;

/// <summary>The server and the database are killed while a list is sifted and taken in: nothing is lost, nothing doubled. A server process and a database cluster of its own.</summary>
public sealed class SurvivalTests : IAsyncLifetime
{
    private const int RowCount = 24_000;
    private readonly string _folder = Directory.CreateTempSubdirectory("lantern-survival").FullName;

    // Under those that the system gives to whoever calls out.
    private int _port = Random.Shared.Next(10_000, 19_000);
    private readonly System.Collections.Concurrent.ConcurrentQueue<string> _said = [];
    private Process? _app;

    private string Data => Path.Combine("/var/tmp", Path.GetFileName(_folder), "pg");
    private string Connection => $"Host=127.0.0.1;Port={_port};Username=lantern;Password={File.ReadAllText(Data + ".password")};Database=survival;Pooling=false;Timeout=5";
    private string Address => $"http://127.0.0.1:{_port + 1}";

    public async ValueTask InitializeAsync()
    {
        // The port may be taken.
        for (var tries = 0; !Ran("start", Data, _port.ToString(null, null)); tries++)
            _port = tries < 5 ? Random.Shared.Next(10_000, 19_000) : throw new InvalidOperationException("no cluster could be started");
        await StartApp();
    }

    public ValueTask DisposeAsync()
    {
        _app?.Kill();
        Cluster("stop", Data);
        Process.Start("rm", ["-rf", Path.GetDirectoryName(Data)!, _folder]).WaitForExit();
        return ValueTask.CompletedTask;
    }

    [Fact]
    public async Task KilledAtAnyMomentAListIsSiftedAndTakenInWholeAndOnce()
    {
        var id = await Drop();
        await Interrupted("sifting", "sifted");
        (await Scalar<int>("select rows_read from import where file_name = 'survival.csv'")).ShouldBe(RowCount);
        (await Scalar<int>($"select count(*)::int from arrival where import_id = '{id}'")).ShouldBe(RowCount);

        var expected = await Scalar<int>($"select rows_new from import where id = '{id}'");
        await (await SignIn()).Post($"/api/imports/{id}/take-in");
        await Interrupted("taking", "taken");
        (await Scalar<int>($"select count(*)::int from lead where import_id = '{id}'")).ShouldBe(expected);
        (await Scalar<int>($"select count(distinct email)::int from lead where import_id = '{id}'")).ShouldBe(expected);
        (await Scalar<int>($"select count(*)::int from lead_event where import_id = '{id}'")).ShouldBe(RowCount);
        (await Scalar<int>($"select count(*)::int from routing_decision d join lead l on l.id = d.lead_id where l.import_id = '{id}'")).ShouldBe(expected);
        (await Scalar<int>("select coalesce(sum(credit), 0)::int from turn")).ShouldBe(0);
        (
            await Scalar<int>("select count(*)::int from rep_load r where open <> (select count(*) from lead l where l.owner_id = r.person_id and state in ('new', 'in_work'))")
        ).ShouldBe(0);
    }

    [Fact]
    public async Task KilledWhileFormsAreSentWhatWasAnsweredIsKeptOnce()
    {
        const int Senders = 6;
        const int Each = 60;
        var done = 0;
        var sending = Task.WhenAll(
            Enumerable
                .Range(0, Senders)
                .Select(async sender =>
                {
                    using var http = new HttpClient { Timeout = TimeSpan.FromSeconds(10) };
                    for (var i = 0; i < Each; i++)
                    {
                        while (!await Sent(http, $"s{sender}-{i}@survival.example"))
                            await Task.Delay(100);
                        Interlocked.Increment(ref done);
                    }
                })
        );
        foreach (var (from, database) in new[] { (40, false), (120, true), (200, false) })
        {
            for (var n = 0; n < 600 && done < from; n++)
                await Task.Delay(50);
            if (database)
                Cluster("kill", Data);
            else
                _app!.Kill();
            if (database)
                Cluster("start", Data, _port.ToString(null, null));
            else
                await StartApp();
        }
        await sending.WaitAsync(TimeSpan.FromMinutes(3));
        const string Ours = "email like 's%-%@survival.example'";
        (await Scalar<string>($"select count(*) || ' ' || count(distinct email) from lead where {Ours}")).ShouldBe($"{Senders * Each} {Senders * Each}");
        (await Scalar<int>("select count(*)::int from single_arrival where raw->>'email' like 's%-%@survival.example'")).ShouldBe(Senders * Each);
        (await Scalar<int>($"select count(*)::int from lead_event e join lead l on l.id = e.lead_id where l.{Ours}")).ShouldBe(Senders * Each);
        (await Scalar<int>("select coalesce(sum(credit), 0)::int from turn")).ShouldBe(0);
    }

    // True once the server said it is kept; a sender that hears nothing sends the same again.
    private async Task<bool> Sent(HttpClient http, string email)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, $"{Address}/f/price-guide");
        request.Headers.Add("Idempotency-Key", email);
        request.Content = new StringContent($$"""{"last_name":"Survivor","email":"{{email}}","consent.answer":true}""", Encoding.UTF8, "application/json");
        try
        {
            using var answer = await http.SendAsync(request);
            return answer.IsSuccessStatusCode;
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException)
        {
            return false;
        }
    }

    // Kills the server, then the database, each after some more rows, and starts them again.
    private async Task Interrupted(string during, string until)
    {
        var reached = 0;
        foreach (var database in new[] { false, true, false })
        {
            reached = await Eventually<int>(
                $"select case when state = '{during}' and through > {reached} then through when state = '{until}' then -1 end from import where file_name = 'survival.csv'"
            );
            if (reached < 0)
                break;
            if (database)
            {
                Cluster("kill", Data);
                Cluster("start", Data, _port.ToString(null, null));
            }
            else
            {
                _app!.Kill();
                await _app.WaitForExitAsync();
                await StartApp();
            }
        }
        reached.ShouldNotBe(0);
        await Eventually<int>($"select 1 from import where file_name = 'survival.csv' and state = '{until}'");
    }

    private async Task<Guid> Drop()
    {
        var text = new StringBuilder("Name,Mail,Country\n");
        for (var i = 0; i < RowCount; i++)
            // Each tenth is the same person as the one before.
            text.Append(null, $"Given{i - (i % 10 == 9 ? 1 : 0)} Family,p{i - (i % 10 == 9 ? 1 : 0)}@survival.example,{(i % 2 == 0 ? "Norway" : "Spain")}\n");
        var answer = await (await SignIn()).Drop("survival.csv", Encoding.UTF8.GetBytes(text.ToString()));
        return answer.Read<SieveView>().Import.Id;
    }

    private async Task<TestClient> SignIn()
    {
        var client = new TestClient(Address);
        await client.SignIn("ingrid.brekke", App.Setup.SessionEndpoints.DemoPassword);
        return client;
    }

    private async Task StartApp()
    {
        var start = new ProcessStartInfo(Path.Combine(TestServer.Root, "artifacts/bin/App/release/DapperLantern.App"), ["--urls", Address])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["ConnectionStrings__Lantern"] = Connection;
        start.Environment["Secrets__Key"] = TestServer.Key;
        start.Environment["Demo__Enabled"] = "true";
        start.Environment["Demo__Folder"] = Path.Combine(TestServer.Root, "demo");
        start.Environment["Forms__PostsPerMinute"] = "1000000";
        _app = Process.Start(start)!;
        _app.OutputDataReceived += (_, line) => _said.Enqueue(line.Data ?? "");
        _app.BeginOutputReadLine();
        _app.BeginErrorReadLine();
        using var http = new HttpClient();
        for (var n = 0; n < 600; n++)
        {
            try
            {
                if ((await http.GetAsync($"{Address}/health")).IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException)
            {
                _app.HasExited.ShouldBeFalse("the server ended while it started");
            }
            await Task.Delay(200);
        }
        throw new TimeoutException("the server did not start");
    }

    private async Task<T> Scalar<T>(string sql)
    {
        await using var connection = new NpgsqlConnection(Connection);
        return (await connection.ExecuteScalarAsync<T>(sql))!;
    }

    // While the database starts again it cannot be asked; that is waited for too.
    private async Task<T> Eventually<T>(string sql)
        where T : struct
    {
        for (var n = 0; n < 1200; n++)
        {
            try
            {
                if (await Scalar<T?>(sql) is { } found)
                    return found;
            }
            catch (NpgsqlException)
            {
                // Asked again below.
            }
            await Task.Delay(50);
        }
        throw new TimeoutException($"{sql}; the server said last:\n{string.Join('\n', _said.TakeLast(40))}");
    }

    private static void Cluster(string what, params string[] arguments) => (Ran(what, arguments) || what == "stop").ShouldBeTrue($"cluster {what}");

    private static bool Ran(string what, params string[] arguments)
    {
        using var run = Process.Start(new ProcessStartInfo(Path.Combine(TestServer.Root, "lantern"), ["cluster", what, .. arguments]) { WorkingDirectory = TestServer.Root })!;
        run.WaitForExit();
        return run.ExitCode == 0;
    }
}
