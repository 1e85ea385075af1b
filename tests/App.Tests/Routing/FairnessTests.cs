using Dapper;
using DapperLantern.App.Routing;
using Microsoft.EntityFrameworkCore;

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

    /// <summary>An import opens the context with each batch, on one connection; what was read for an earlier batch must not stand for a later one.</summary>
    [Fact]
    public async Task LoadsAndAbsencesAreReadAnewEachTime()
    {
        await using var connection = await fixture.Server.Connect();
        await using var transaction = await connection.BeginTransactionAsync();
        await using var db = connection.Over();
        await db.Database.UseTransactionAsync(transaction);
        var now = DateTime.UtcNow;
        var before = await RoutingContext.Open(db, now, hold: false);
        var rep = before.Reps.Values.First(r => r.Open > 0 && !r.Away);
        await connection.ExecuteAsync("update rep_load set open = open + 5 where person_id = @Id", new { rep.Id }, transaction);
        await connection.ExecuteAsync(
            "insert into absence (id, person_id, starts, ends, why) values (gen_random_uuid(), @Id, @from, @to, '')",
            new
            {
                rep.Id,
                from = now.AddDays(-1),
                to = now.AddDays(1),
            },
            transaction
        );
        var after = (await RoutingContext.Open(db, now, hold: false)).Reps[rep.Id];
        (after.Open, after.Away).ShouldBe((rep.Open + 5, true));
    }
}
