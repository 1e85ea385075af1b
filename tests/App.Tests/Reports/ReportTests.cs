using Dapper;
using DapperLantern.App.Intake;
using DapperLantern.App.Reports;
using DapperLantern.App.Routing;

namespace DapperLantern.App.Tests.Reports;

/// <summary>Numbers on a screen are those of the rows behind them.</summary>
public sealed class ReportTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private async Task<int> Count(string sql)
    {
        await using var connection = await fixture.Server.Connect();
        return await connection.QuerySingleAsync<int>($"select count(*)::int from {sql}");
    }

    [Fact]
    public async Task WhatComesOfEachSourceIsCountedFromItsLeads()
    {
        var report = await (await fixture.Server.SignIn("lucie.armand")).Read<SourceReport>("/api/reports/sources");
        report.Sources.Sum(s => s.Arrived).ShouldBe(await Count("lead where created_at > now() - interval '365 days'"));
        report.Sources.Sum(s => s.HandedOver).ShouldBe(await Count("lead where created_at > now() - interval '365 days' and state = 'handed_over'"));
        report.Sources.ShouldAllBe(s => s.Won <= s.HandedOver && s.HandedOver <= s.Arrived);
        report.Sentence.ShouldContain($"{report.Sources.Sum(s => s.Won)} were won");
    }

    [Fact]
    public async Task TheIntakePictureAddsUpToItsNumber()
    {
        var intake = await (await fixture.Server.SignIn("lucie.armand")).Read<IntakeView>("/api/intake");
        intake.Sources.ShouldAllBe(s => s.Days.Count == 30 && s.Days.Sum() == s.Arrivals && s.Cleared <= s.Arrivals);
        intake.Imports.ShouldAllBe(d => d.Counts.Balances);
    }

    [Fact]
    public async Task TheRuleSheetCountsEveryDecisionOnce()
    {
        var routing = await (await fixture.Server.SignIn("ingrid.brekke")).Read<RoutingView>("/api/routing");
        (routing.Hits.Values.Sum() + routing.GuardHits + routing.NoRule).ShouldBe(await Count("routing_decision where at > now() - interval '90 days'"));
        routing.Waiting.Count.ShouldBe(await Count("lead where owner_id is null and state in ('new', 'in_work')"));
        var fish = routing.Live.Sheet.Rules.ToList().FindIndex(r => r.Key == "no-fish");
        routing.Live.Words[fish].Cells.ShouldBe(["Norway", "", "Fish farming"]);
    }

    [Fact]
    public async Task OneOfEachTeamIsNextAndNeverWhoIsAwayOrFull()
    {
        var routing = await (await fixture.Server.SignIn("ingrid.brekke")).Read<RoutingView>("/api/routing");
        foreach (var team in routing.Teams)
        {
            var next = team.Members.Single(m => m.Next);
            next.Away.ShouldBeFalse(team.Name);
            next.Open.ShouldBeLessThan(next.Capacity, team.Name);
        }
        routing.Teams.SelectMany(t => t.Members).ShouldContain(m => m.Away);
    }
}
