using Dapper;

namespace DapperLantern.App.Tests.Routing;

public sealed class FairnessTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Theory]
    [InlineData("Justo", "Portugal", "iberia", 2)]
    [InlineData("Evenly", "United States", "serves:US", 5)]
    public async Task TwoProcessesAssigningAtOnceKeepEverybodysShare(string name, string country, string team, int places)
    {
        await using var other = await fixture.Server.Beside();
        TestClient[] clients = [await fixture.Server.SignIn("ingrid.brekke"), await other.SignIn("harald.quist")];
        await using var connection = await fixture.Server.Connect();
        await Task.WhenAll(Enumerable.Range(0, 40).Select(i => clients[i % 2].MakeLead($"{name}{i}", country)));
        var shares = (await connection.QueryAsync<int>("select count(*)::int from lead where last_name like @like group by owner_id", new { like = $"{name}%" })).ToList();
        shares.ShouldBe(Enumerable.Repeat(40 / places, places));
        (await connection.QuerySingleAsync<long>("select coalesce(sum(credit), 0)::bigint from turn where team_key = @team", new { team })).ShouldBe(0);
    }
}
