using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using Dapper;
using DapperLantern.App.Intake.Letters;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Tests.Shared;
using Npgsql;

namespace DapperLantern.App.Tests.Setup;

/// <summary>The way to the database, which can be cut, and can be held so that nothing comes through.</summary>
internal sealed class DatabaseWay : IDisposable
{
    private readonly TcpListener _door = new(IPAddress.Loopback, 0);
    private readonly List<TcpClient> _open = [];
    private readonly (string Host, int Port) _to;
    private volatile bool _cut;
    private volatile TaskCompletionSource _goes = Done();

    public DatabaseWay(string host, int port)
    {
        _to = (host, port);
        _door.Start();
        Port = ((IPEndPoint)_door.LocalEndpoint).Port;
        _ = Serve();
    }

    public int Port { get; }

    /// <summary>Every connection breaks, and none is made.</summary>
    public void Cut()
    {
        _cut = true;
        lock (_open)
        {
            _open.ForEach(c => c.Dispose());
            _open.Clear();
        }
    }

    /// <summary>Connections stand, and nothing comes through.</summary>
    public void Hold() => _goes = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);

    public void Open()
    {
        _cut = false;
        _goes.TrySetResult();
    }

    public void Dispose()
    {
        _door.Dispose();
        Cut();
    }

    private static TaskCompletionSource Done()
    {
        var done = new TaskCompletionSource();
        done.SetResult();
        return done;
    }

    private async Task Serve()
    {
        while (true)
            try
            {
                var near = await _door.AcceptTcpClientAsync();
                if (_cut)
                {
                    near.Dispose();
                    continue;
                }
                var far = new TcpClient();
                await far.ConnectAsync(_to.Host, _to.Port);
                lock (_open)
                    _open.AddRange([near, far]);
                _ = Carry(near, far);
                _ = Carry(far, near);
            }
            catch (Exception e) when (e is SocketException or ObjectDisposedException)
            {
                if (e is ObjectDisposedException || !_door.Server.IsBound)
                    return;
            }
    }

    private async Task Carry(TcpClient from, TcpClient to)
    {
        try
        {
            var buffer = new byte[1 << 14];
            for (int read; (read = await from.GetStream().ReadAsync(buffer)) > 0; )
            {
                await _goes.Task;
                await to.GetStream().WriteAsync(buffer.AsMemory(0, read));
            }
        }
        catch (Exception e) when (e is IOException or ObjectDisposedException or InvalidOperationException)
        {
            // Cut.
        }
        finally
        {
            from.Dispose();
            to.Dispose();
        }
    }
}

/// <summary>The database is away, does not answer, or has too little room: people are told so, nothing is lost, and it goes on by itself.</summary>
public sealed class OutageTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private async Task<(DatabaseWay Way, TestServer Server)> ThroughAWay(params string[] settings)
    {
        var at = new NpgsqlConnectionStringBuilder(TestServer.As("lantern_app", new NpgsqlConnectionStringBuilder(fixture.Server.ConnectionString).Database!));
        var way = new DatabaseWay(at.Host!, at.Port);
        at.Port = way.Port;
        return (way, await TestServer.Serve(at.Database!, [$"--ConnectionStrings:Lantern={at.ConnectionString}", "--Patience=1", .. settings]));
    }

    private static HttpClient Visitor(TestServer server) =>
        new(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = new Uri(server.Address), Timeout = TimeSpan.FromSeconds(15) };

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task WhileTheDatabaseIsAwayOrHungEverybodyIsToldAndAfterwardsItGoesOn(bool cut)
    {
        var (way, server) = await ThroughAWay();
        using (way)
        await using (server)
        {
            var ingrid = await server.SignIn("ingrid.brekke");
            using var visitor = Visitor(server);
            if (cut)
                way.Cut();
            else
                way.Hold();

            var read = await ingrid.Get("/api/desk");
            (read.Status, read.Problem).ShouldBe((HttpStatusCode.ServiceUnavailable, "database-away"));
            using var post = await visitor.PostAsync(
                "/f/price-guide",
                new FormUrlEncodedContent([new("first_name", "Signe"), new("email", "signe@torv.example"), new("note", "Two \"buoys\" & <one> sonde")])
            );
            post.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
            post.Headers.RetryAfter.ShouldNotBeNull();
            var page = await post.Content.ReadAsStringAsync();
            page.ShouldContain("signe@torv.example");
            page.ShouldContain("Two &quot;buoys&quot; &amp; &lt;one&gt; sonde");
            (await visitor.GetAsync("/health/live")).StatusCode.ShouldBe(HttpStatusCode.OK);
            using var ready = await visitor.GetAsync("/health/ready");
            ready.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
            (await ready.Content.ReadAsStringAsync()).ShouldContain("away");

            way.Open();
            await Eventually.Holds(async () => (await ingrid.Get("/api/desk")).Status == HttpStatusCode.OK, seconds: 30);
            await Eventually.Holds(async () => (await visitor.GetAsync("/health/ready")).IsSuccessStatusCode, seconds: 30);
        }
    }

    [Fact]
    public async Task WithTooFewConnectionsReadersWaitAndNobodyGetsAFault()
    {
        await using var server = await fixture.Server.Beside(
            $"--ConnectionStrings:Lantern={TestServer.As("lantern_app", new NpgsqlConnectionStringBuilder(fixture.Server.ConnectionString).Database!)};Maximum Pool Size=8;Timeout=3"
        );
        var ingrid = await server.SignIn("ingrid.brekke");
        var answers = await Task.WhenAll(Enumerable.Range(0, 80).Select(i => ingrid.Get(i % 2 == 0 ? "/api/desk" : "/api/leads")));
        answers.ShouldAllBe(a => a.Status == HttpStatusCode.OK || a.Status == HttpStatusCode.ServiceUnavailable);
        answers.ShouldContain(a => a.Status == HttpStatusCode.OK);
    }

    [Fact]
    public async Task WhoWaitsForTheAdmissionLockTakesNoConnectionFromReaders()
    {
        await using var server = await fixture.Server.Beside(
            $"--ConnectionStrings:Lantern={TestServer.As("lantern_app", new NpgsqlConnectionStringBuilder(fixture.Server.ConnectionString).Database!)};Maximum Pool Size=16;Timeout=5"
        );
        var (ingrid, samir) = (await server.SignIn("ingrid.brekke"), await server.SignIn("samir.haddow"));
        var lead = await ingrid.MakeLead("Gatewaiter", "NO");
        var token = (
            await samir.Post(
                "/api/tokens",
                new
                {
                    name = "events of the gate",
                    source = "website",
                    scopes = new[] { "events:write" },
                }
            )
        ).Read<App.Intake.Http.TokenMade>().Token;
        using var machine = Visitor(server);
        machine.DefaultRequestHeaders.Authorization = new("Bearer", token);
        machine.Timeout = TimeSpan.FromMinutes(2);

        await using var holder = await fixture.Server.Connect();
        await using var transaction = await holder.BeginTransactionAsync();
        await Admission.Lock(holder.Over());
        var events = Enumerable
            .Range(0, 40)
            .Select(i =>
                machine.PostAsJsonAsync(
                    "/api/v1/events",
                    new
                    {
                        email = "gatewaiter@gatewaiter.example",
                        kind = "page.viewed",
                        detail = $"{i}",
                    }
                )
            )
            .ToList();
        var moves = Enumerable.Range(0, 20).Select(_ => ingrid.Post($"/api/leads/{lead}/give-back", new { reason = "Not my region" })).ToList();
        var letters = Enumerable
            .Range(0, 20)
            .Select(i =>
                ingrid.DropLetter(
                    System.Text.Encoding.ASCII.GetBytes(
                        $"From: gatewaiter@gatewaiter.example\r\nTo: sales@lantern.example\r\nMessage-ID: <away-{i}@gatewaiter.example>\r\nAuto-Submitted: auto-replied\r\nSubject: Away\r\n\r\nBack on Monday.\r\n"
                    )
                )
            )
            .ToList();
        await Eventually.Holds(async () => await fixture.Server.Scalar<int>("select count(*)::int from pg_locks where locktype = 'advisory' and not granted") > 0, seconds: 30);
        // The lock is held, many wait for it, and whoever reads goes on.
        var reads = await Task.WhenAll(Enumerable.Range(0, 24).Select(_ => ingrid.Get("/api/desk")));
        reads.Select(a => a.Status).Distinct().ShouldBe([HttpStatusCode.OK]);
        await transaction.CommitAsync();
        (await Task.WhenAll(events)).ShouldAllBe(a => a.StatusCode == HttpStatusCode.Created);
        (await Task.WhenAll(moves)).ShouldAllBe(a => (int)a.Status < 500);
        (await Task.WhenAll(letters)).SelectMany(a => a.Read<List<LetterResult>>()).ShouldAllBe(l => l.Kind == "automatic");
    }
}
