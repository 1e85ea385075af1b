using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Scoring;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Leads;

public sealed class ScoreUpkeepTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private LeadRescore Rescore => fixture.Server.Services.GetRequiredService<LeadRescore>();

    [Fact]
    public async Task AfterTheHourlyUpkeepEveryStoredScoreIsTheComputedOneAndNoOpenEditorIsStale()
    {
        await using var connection = await fixture.Server.Connect();
        var later = DateTime.UtcNow.AddDays(11);
        var versions = await connection.QuerySingleAsync<long>("select sum(version) from lead");
        (await Rescore.Decay(connection, later)).ShouldBeGreaterThan(100);
        var model = (await fixture.Server.Services.GetRequiredService<Installation>().Model(connection)).Model;
        var stored = (await connection.QueryAsync<(Guid Id, int Fit, int Engagement, string Move)>("select id, fit, engagement, next_move from lead")).ToList();
        var events = await LeadStore.EventsOf(connection, [.. stored.Select(s => s.Id)]);
        foreach (var lead in stored)
        {
            var computed = EngagementScore.Explain(model, events[lead.Id], later.ToInstant()).Score;
            lead.Engagement.ShouldBe(computed);
            lead.Move.ShouldBe(NextMove.For(lead.Fit, computed, model.Bars));
        }
        (await Rescore.Decay(connection, later)).ShouldBe(0);
        (await connection.QuerySingleAsync<long>("select sum(version) from lead")).ShouldBe(versions);
    }

    [Fact]
    public async Task RescoringALeadAnewChangesNothing()
    {
        await using var connection = await fixture.Server.Connect();
        var now = DateTime.UtcNow;
        var ids = (await connection.QueryAsync<Guid>("select id from lead where state = 'in_work' limit 25")).ToList();
        async Task<string> Stored() =>
            (
                await connection.QuerySingleAsync<string>(
                    "select string_agg(concat_ws('/', id, fit, fit_low, fit_high, engagement, next_move), ' ' order by id) from lead where id = any(@ids)",
                    new { ids }
                )
            )!;
        foreach (var id in ids)
            await Rescore.Run(connection, id, now);
        var before = await Stored();
        foreach (var id in ids)
            await Rescore.Run(connection, id, now);
        (await Stored()).ShouldBe(before);
    }

    [Fact]
    public async Task TheMapHoldsEveryOpenLeadOnceAndItsQuartersToo()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var scoring = await ingrid.Read<ScoringView>("/api/scoring");
        await using var connection = await fixture.Server.Connect();
        var open = await connection.QuerySingleAsync<int>("select count(*)::int from lead where state in ('new', 'in_work', 'on_hold', 'qualified')");
        scoring.Map.Sum(c => c.Leads).ShouldBe(open);
        scoring.Quarters.Sum(q => q.Leads).ShouldBe(open);
        scoring.Map.ShouldAllBe(c => c.Fit % 5 == 0 && c.Fit <= 95 && c.Engagement <= 95);
        scoring.Fit.Single(c => c.Key == "industry").Lines[0].When.ShouldBe("industry is Fish farming");
    }
}
