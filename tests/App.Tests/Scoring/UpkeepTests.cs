using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Scoring;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Scoring;

public sealed class UpkeepTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private LeadRescore Rescore => fixture.Server.Services.Scoped<LeadRescore>();

    [Fact]
    public async Task TheDatabaseComputesTheEngagementThatCoreDoes()
    {
        await using var connection = await fixture.Server.Connect();
        var kept = (await connection.QueryAsync<double[]>("select decay from lead where decay is not null")).ToList();
        kept.Count.ShouldBeGreaterThan(100);
        foreach (var days in new[] { 0, 0.5, 3, 17, 60, 91, 200, 2000, 40_000 })
        {
            var at = DateTime.UtcNow.AddDays(days).ToInstant();
            var computed = (
                await connection.QueryAsync<int>("select engagement_at(decay, @day) from lead where decay is not null", new { day = EngagementDecay.DayOf(at) })
            ).ToList();
            computed.Order().ShouldBe(kept.Select(g => EngagementDecaySql.Read(g).Score(at)).Order());
        }
    }

    [Theory]
    [InlineData(100)]
    [InlineData(50)]
    [InlineData(0)]
    public async Task TheKneeIsTheSameInTheDatabase(double knee)
    {
        await using var connection = await fixture.Server.Connect();
        foreach (var points in new[] { -20, 0, 0.4, 0.5, 3, 49.5, 50, 99.4, 140, 1000 })
        {
            var decay = new EngagementDecay(knee, 0, 20_000, double.PositiveInfinity, [new DecayTerm(points, 30)]);
            (await connection.QuerySingleAsync<int>("select engagement_at(@decay, 20000)", new { decay = EngagementDecaySql.Write(decay) })).ShouldBe(
                Saturation.Whole(Saturation.Of(points, knee)),
                $"{points} points, knee at {knee}"
            );
        }
    }

    [Fact]
    public async Task WhatIsDueIsLookedAtAndNothingElseIsWritten()
    {
        await using var connection = await fixture.Server.Connect();
        var watch = fixture.Server.Services.GetRequiredService<EngagementDecayWorker>();
        var later = DateTime.UtcNow.AddDays(40);
        var versions = await connection.QuerySingleAsync<long>("select sum(version) from lead");
        var due = await connection.QuerySingleAsync<int>("select count(*)::int from lead where look_again_at <= @later", new { later });
        due.ShouldBeGreaterThan(50);
        (await watch.Look(connection.Over(), later)).ShouldBe(due);
        (await watch.Look(connection.Over(), later)).ShouldBe(0);
        (await connection.QuerySingleAsync<int>("select count(*)::int from lead where scored_at = @later", new { later = Microseconds(later) })).ShouldBe(due);
        (await connection.QuerySingleAsync<long>("select sum(version) from lead")).ShouldBe(versions);

        // Band and move are what follows from all that happened.
        var live = await fixture.Server.Services.GetRequiredService<WorkspaceConfiguration>().Current.Model(connection.Over());
        var stored = (await connection.QueryAsync<(Guid Id, int Fit, int Band, string Move)>("select id, fit, band, next_move from lead")).ToList();
        var events = await LeadStore.EventsOf(connection.Over(), [.. stored.Select(s => s.Id)]);
        foreach (var lead in stored)
        {
            var engagement = live.Engagement.Score(events.GetValueOrDefault(lead.Id) ?? [], later.ToInstant());
            lead.Band.ShouldBe(engagement / LeadScoreState.BandWidth);
            Cleared.Of(lead.Move).Next(lead.Fit, engagement, live.Model.Bars).Move.ShouldBe(lead.Move);
        }
    }

    [Fact]
    public async Task FallingUnderTheBarIsNotedWithItsMoment()
    {
        await using var connection = await fixture.Server.Connect();
        // Another test looks at days to come; those it scored are brought back to today, whichever runs first.
        var now = DateTime.UtcNow;
        foreach (var ahead in (await connection.QueryAsync<Guid>("select id from lead where scored_at > @now", new { now })).ToList())
            await Rescore.Run(connection.Over(), ahead, now);
        var (lead, until) = await connection.QueryFirstAsync<(Guid, DateTime)>(
            "select id, move_until from lead where next_move = 'hand_over' and move_until > @now order by move_until limit 1",
            new { now }
        );
        await fixture.Server.Services.GetRequiredService<EngagementDecayWorker>().Look(connection.Over(), until.AddMinutes(3));
        var crossing = await connection.QuerySingleAsync<CrossingRow>("select * from crossing where lead_id = @lead order by at desc limit 1", new { lead });
        (crossing.Kind, crossing.At, crossing.ByEdition).ShouldBe((CrossingRow.Fell, until, false));
        (await connection.QuerySingleAsync<string>("select next_move from lead where id = @lead", new { lead })).ShouldBe(NextMove.Nurture);
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
                    "select string_agg(concat_ws('/', id, fit, fit_low, fit_high, engagement, next_move, decay, band, move_until, look_again_at), ' ' order by id) from lead where id = any(@ids)",
                    new { ids }
                )
            )!;
        foreach (var id in ids)
            await Rescore.Run(connection.Over(), id, now);
        var before = await Stored();
        foreach (var id in ids)
            await Rescore.Run(connection.Over(), id, now);
        (await Stored()).ShouldBe(before);
    }

    private static DateTime Microseconds(DateTime moment) => moment.AddTicks(-(moment.Ticks % 10));
}
