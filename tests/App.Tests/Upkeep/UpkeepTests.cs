using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Upkeep;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Upkeep;

/// <summary>What is done by the calendar, and that its times are kept in the database.</summary>
public sealed class UpkeepTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private TestServer Server => fixture.Server;

    private static Task Do<TJob>(TestServer server)
        where TJob : UpkeepJob => server.Services.GetRequiredService<TJob>().Do(CancellationToken.None);

    [Fact]
    public async Task AtNightMonthsAreMadeAndOrphansAreCounted()
    {
        await using var connection = await Server.Connect();
        await connection.ExecuteAsync($"drop table event_{DateTime.UtcNow.AddMonths(13):yyyy_MM}");
        await Do<NightlyUpkeep>(Server);
        (await connection.QuerySingleAsync<bool>($"select to_regclass('event_{DateTime.UtcNow.AddMonths(13):yyyy_MM}') is not null")).ShouldBeTrue();
        Worker.Failing.ShouldNotContainKey("orphans");

        await connection.ExecuteAsync("insert into lead_tag (lead_id, tag_key) select gen_random_uuid(), key from tag limit 1");
        await Do<NightlyUpkeep>(Server);
        Worker.Failing["orphans"].ShouldContain("1 by lead_tag.lead_id");
        await connection.ExecuteAsync("delete from lead_tag t where not exists (select from lead l where l.id = t.lead_id)");
        await Do<NightlyUpkeep>(Server);
        Worker.Failing.ShouldNotContainKey("orphans");
    }

    [Fact]
    public async Task EachHourAnswersOfRequestsAreForgottenThatNobodyAsksForAnyMore()
    {
        await using var connection = await Server.Connect();
        await connection.ExecuteAsync("insert into request_key (key, request, at) values ('old', '', now() - interval '25 hours'), ('young', '', now() - interval '23 hours')");
        await Do<HourlyUpkeep>(Server);
        (await connection.QueryAsync<string>("select convert_from(key, 'UTF8') from request_key where key in ('old', 'young')")).ShouldBe(["young"]);
    }

    [Fact]
    public async Task APieceThatFailsHoldsNoneOfTheOthersUp()
    {
        await using var server = await TestServer.Start();
        await using var connection = await server.Connect();
        await connection.ExecuteAsync("alter function event_months rename to event_months_away");
        await Do<NightlyUpkeep>(server);
        Worker.Failing["months of the log"].ShouldContain("event_months");
        Worker.Failures["months of the log"].ShouldBeGreaterThan(0);
        await connection.ExecuteAsync("alter function event_months_away rename to event_months");
        await Do<NightlyUpkeep>(server);
        Worker.Failing.ShouldNotContainKey("months of the log");
    }

    [Fact]
    public async Task TheTimesLieInTheDatabaseOnceForAllProcesses()
    {
        await using var one = await TestServer.Start("--Upkeep:Runs=true");
        await using var two = await one.Beside("--Upkeep:Runs=true");
        await using var connection = await one.Connect();
        await Eventually.Holds(async () => await connection.QuerySingleAsync<int>("select count(*)::int from qrtz_scheduler_state") == 2);
        var times = await connection.QueryAsync<(string Name, string Times)>("select trigger_name, cron_expression from qrtz_cron_triggers order by 1");
        times.ShouldBe([("hourly", "0 7 * * * ?"), ("nightly", "0 20 2 * * ?")]);
        // A time that comes is met by one of them.
        await connection.ExecuteAsync(
            "insert into request_key (key, request, at) values ('met', '', now() - interval '25 hours'); update qrtz_triggers set next_fire_time = @now where trigger_name = 'hourly'",
            new { now = DateTime.UtcNow.AddSeconds(-1).Ticks }
        );
        await Eventually.Holds(async () => await connection.QuerySingleAsync<int>("select count(*)::int from request_key where key = 'met'") == 0);
    }
}
