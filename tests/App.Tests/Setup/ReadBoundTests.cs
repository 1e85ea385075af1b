using System.Net;
using Dapper;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Setup;

/// <summary>What takes too long is ended with a sentence; what nobody waits for is ended in the database.</summary>
public sealed class ReadBoundTests
{
    // A list whose every row takes a while, as a plan that went wrong would.
    private const string Slow = """
        alter table source rename to source_kept;
        create view source as select * from source_kept where pg_sleep(0.05) is not null;
        grant select on source to public
        """;

    private static async Task<long> AtWork(System.Data.IDbConnection connection) =>
        await connection.QuerySingleAsync<long>(
            "select count(*) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid() and state = 'active' and query like '%source%'"
        );

    [Fact]
    public async Task AReadThatTakesTooLongIsEndedWithASentence()
    {
        await using var server = await TestServer.Start("--Patience=1");
        var client = await server.SignIn("ingrid.brekke");
        await using var connection = await server.Connect();
        await connection.ExecuteAsync(Slow.Replace("0.05", "30", StringComparison.Ordinal));
        var answer = await client.Get("/api/reports/sources");
        (answer.Status, answer.Problem).ShouldBe((HttpStatusCode.ServiceUnavailable, "read-too-long"), answer.Body);
        answer.Sentence.ShouldBe("This took longer than 10 seconds and was ended. Ask for less at once, or try again later.");
        (await client.Get("/api/tags")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Theory]
    [InlineData("/api/reports/sources")]
    [InlineData("/api/leads")]
    public async Task WhatNobodyWaitsForIsEndedInTheDatabase(string path)
    {
        await using var server = await TestServer.Start();
        var client = await server.SignIn("ingrid.brekke");
        await using var connection = await server.Connect();
        await connection.ExecuteAsync(Slow.Replace("0.05", "60", StringComparison.Ordinal));
        using var leave = new CancellationTokenSource();
        var asked = client.Watch(path, leave.Token);
        await Eventually.Holds(async () => await AtWork(connection) > 0);
        await leave.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(() => asked);
        await Eventually.Holds(async () => await AtWork(connection) == 0, seconds: 20);
    }

    /// <summary>A page keeps its connection while it is read; a stream that is open for hours has none.</summary>
    [Fact]
    public async Task MoreStreamsThanConnectionsAreOpenAtOnceAndReadingGoesOn()
    {
        const int Streams = 60;
        await using var server = await TestServer.Start("--Patience=1");
        var client = await server.SignIn("ingrid.brekke");
        var lead = await server.Scalar<string>("select id::text from lead order by number limit 1");
        using var stop = new CancellationTokenSource(TimeSpan.FromSeconds(60));
        var open = new List<HttpResponseMessage>();
        for (var i = 0; i < Streams; i++)
            open.Add(await client.Watch($"/api/leads/{lead}/live", stop.Token));
        open.ShouldAllBe(o => o.StatusCode == HttpStatusCode.OK);
        foreach (var path in (string[])["/api/leads", $"/api/leads/{lead}", "/api/deals", "/api/people"])
            (await client.Get(path)).Status.ShouldBe(HttpStatusCode.OK, path);
        open.ForEach(o => o.Dispose());
    }
}
