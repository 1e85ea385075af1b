using Dapper;
using DapperLantern.App.Desk;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Desk;

/// <summary>The Desk is counted once for those for whom it comes out the same, and exact for a person who has just written.</summary>
public sealed class DeskTests
{
    private static async Task<int> Unrouted(TestClient client) => (await client.Read<DeskView>("/api/desk")).Groups.FirstOrDefault(g => g.Key == "unrouted")?.Count ?? 0;

    [Fact]
    public async Task WhatIsCountedIsSharedAndWhoeverWritesSeesWhatTheyDid()
    {
        await using var server = await TestServer.Start("--Desk:SharedSeconds=60");
        await using var connection = await server.Connect();
        var (ingrid, again, tor) = (await server.SignIn("ingrid.brekke"), await server.SignIn("ingrid.brekke"), await server.SignIn("tor.vik"));
        var before = await Unrouted(ingrid);
        var leads = (await connection.QueryAsync<Guid>("select id from lead where state = 'in_work' and owner_id is not null order by number limit 2")).ToArray();
        await connection.ExecuteAsync("update lead set owner_id = null where id = any(@leads)", new { leads });
        // Written by nobody of whom the Desk knows.
        (await Unrouted(ingrid)).ShouldBe(before);
        (await Unrouted(again)).ShouldBe(before);
        (await ingrid.Post($"/api/leads/{leads[0]}/touches", new { kind = "note", text = "Seen" })).Status.ShouldBe(System.Net.HttpStatusCode.OK);
        (await Unrouted(ingrid)).ShouldBe(before + 2);
        (await Unrouted(again)).ShouldBe(before + 2);
        // A rep has a Desk of their own.
        (await tor.Read<DeskView>("/api/desk")).Groups.ShouldNotContain(g => g.Key == "unrouted");
        (await ingrid.Read<LineView>("/api/line")).Routing.ShouldBe(before + 2);
    }

    [Fact]
    public async Task ManyWhoAskAtOnceAreAnsweredAlike()
    {
        await using var server = await TestServer.Start("--Desk:SharedSeconds=1");
        var client = await server.SignIn("ingrid.brekke");
        var answers = await Task.WhenAll(Enumerable.Range(0, 60).Select(_ => client.Get("/api/desk")));
        answers.Select(a => a.Body).Distinct().Count().ShouldBe(1);
    }
}
