using System.Net;
using Dapper;

namespace DapperLantern.App.Tests.Routing;

public sealed class FairnessTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task TwoProcessesAssigningAtOnceKeepEverybodysShare()
    {
        await using var other = await fixture.Server.Beside();
        TestClient[] clients = [await fixture.Server.SignIn("ingrid.brekke"), await other.SignIn("harald.quist")];
        await using var connection = await fixture.Server.Connect();
        var answers = await Task.WhenAll(Enumerable.Range(0, 40).Select(i => clients[i % 2].Post("/api/leads", Portuguese(i))));
        answers.ShouldAllBe(a => a.Status == HttpStatusCode.Created);
        var shares = (await connection.QueryAsync<int>("select count(*)::int from lead where email like 'fair%' group by owner_id")).ToList();
        shares.ShouldBe([20, 20]);
        (await connection.QuerySingleAsync<int>("select coalesce(sum(credit), 0)::int from turn where team_key = 'iberia'")).ShouldBe(0);
    }

    private static object Portuguese(int i) =>
        new
        {
            source = "telephone",
            facts = new Dictionary<string, string>
            {
                ["last_name"] = $"Justo{i}",
                ["email"] = $"fair{i}@fair{i}.example",
                ["country"] = "Portugal",
            },
            note = (string?)null,
        };
}
