using Npgsql;

namespace DapperLantern.App.Tests.Setup;

/// <summary>Five thousand requests made from the server's own description, most of them spoilt. <c>./lantern bench fuzz 100000</c> sends more.</summary>
public sealed class FuzzTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private const int Seed = 19;
    private const int Count = 5000;

    [Fact]
    public async Task NoRequestIsAnsweredByAFaultOfOursOrRefusedWithoutASentence()
    {
        await using var owner = NpgsqlDataSource.Create(fixture.Server.ConnectionString);
        var outcome = await new Bench.Fuzz.Range(new Uri(fixture.Server.Address), owner, Path.Combine(TestServer.Root, "demo")).Run(Seed, Count);
        outcome.Statuses.Values.Sum().ShouldBe(Count);
        // The barrage reaches what lies behind the checks.
        outcome.Statuses.GetValueOrDefault(200).ShouldBeGreaterThan(Count / 20);
        outcome.Hits.ShouldBeEmpty(string.Join('\n', outcome.Hits.Take(10).Select(h => $"{h.Number} {h.Operation} as {h.Who}: {h.Status} {h.Words}\n{h.Path}\n{h.Body}")));
    }
}
