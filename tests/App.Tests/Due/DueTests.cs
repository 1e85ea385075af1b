using System.Net;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Desk;
using DapperLantern.App.Due;
using DapperLantern.App.Setup;
using DapperLantern.Tests.Shared;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Tests.Due;

/// <summary>What is due follows from the records; what fails holds nothing else up, is counted and kept, and can be tried again or left out.</summary>
public sealed class DueTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private const string Administrator = "samir.haddow";
    private NpgsqlConnection _connection = null!;

    public async ValueTask InitializeAsync() => _connection = await fixture.Server.Connect();

    public async ValueTask DisposeAsync() => await _connection.DisposeAsync();

    // Fails for some keys; else it deletes the row, as the record's trigger would.
    private sealed class Work(string kind, Func<Guid, Exception?> fails) : IDueWork
    {
        public string Words => kind;

        public List<Guid> Done { get; } = [];
        public string Kind => kind;
        public int Batch => 50;

        public async Task<int> Do(LanternDb db, Guid[] keys, DateTime now, CancellationToken cancel)
        {
            await using var transaction = await db.Database.BeginTransactionAsync(cancel);
            foreach (var key in keys)
                if (fails(key) is { } why)
                    throw why;
            await db.Set<DueRow>().Where(d => d.Kind == kind && keys.Contains(d.Key)).ExecuteDeleteAsync(cancel);
            await transaction.CommitAsync(cancel);
            Done.AddRange(keys);
            return keys.Length;
        }
    }

    private async Task<Guid[]> Put(string kind, int count, DateTime at)
    {
        var keys = (await _connection.QueryAsync<Guid>("select id from lead order by number limit @count", new { count })).ToArray();
        await _connection.ExecuteAsync(
            "insert into due (kind, key, at) select @kind, k, @at from unnest(@keys) k",
            new
            {
                kind,
                keys,
                at,
            }
        );
        return keys;
    }

    private Task<(DateTime At, int Tries, string? Problem, DateTime? GivenUp)> Row(string kind, Guid key) =>
        _connection.QuerySingleAsync<(DateTime, int, string?, DateTime?)>("select at, tries, problem, given_up_at from due where kind = @kind and key = @key", new { kind, key });

    [Fact]
    public async Task WhatIsDueOfALeadFollowsFromIt()
    {
        var random = new Random(7);
        var person = await _connection.QuerySingleAsync<Guid>("select id from person where user_name = 'sten.lindmark'");
        string[] states = ["new", "in_work", "on_hold", "disqualified"];
        var leads = (await _connection.QueryAsync<Guid>("select id from lead where state <> 'handed_over' order by number limit 12")).ToList();
        for (var round = 0; round < 120; round++)
        {
            DateTime? Some() => random.Next(3) == 0 ? null : DateTime.UtcNow.Date.AddDays(random.Next(1, 9));
            await _connection.ExecuteAsync(
                "update lead set state = @state, wake_at = @wake, clock_due_at = @clock, clock_ran_out_at = @out, owner_id = @owner where id = @id",
                new
                {
                    state = states[random.Next(4)],
                    wake = Some(),
                    clock = Some(),
                    @out = random.Next(3) == 0 ? DateTime.UtcNow : (DateTime?)null,
                    owner = random.Next(3) == 0 ? null : (Guid?)person,
                    id = leads[random.Next(leads.Count)],
                }
            );
        }
        const string wanted = """
            select 'wake' as kind, id as key, wake_at as at from lead where state = 'on_hold' and wake_at is not null
            union all select 'clock', id, clock_due_at from lead where state = 'new' and owner_id is not null and clock_due_at is not null and clock_ran_out_at is null
            """;
        (
            await _connection.QuerySingleAsync<int>(
                $"select count(*)::int from (({wanted}) except select kind, key, at from due union all (select kind, key, at from due where kind in ('wake', 'clock') except ({wanted}))) x"
            )
        ).ShouldBe(0);
        // A lead that goes takes it along, and brings it back.
        await using var transaction = await _connection.BeginTransactionAsync();
        await _connection.ExecuteAsync("delete from lead where id = any(@leads)", new { leads = leads.ToArray() });
        (await _connection.QuerySingleAsync<int>("select count(*)::int from due where key = any(@leads)", new { leads = leads.ToArray() })).ShouldBe(0);
    }

    [Fact]
    public async Task OneThatFailsHoldsNothingElseUpAndIsGivenUpInTheEnd()
    {
        var now = DateTime.UtcNow;
        var keys = await Put("test-fails", 5, now.AddMinutes(-1));
        var work = new Work("test-fails", k => k == keys[2] ? new InvalidOperationException("No such buoy.") : null);
        await using var db = _connection.Over();
        (await DueSteps.Step(db, work, now)).ShouldBe(4);
        work.Done.Order().ShouldBe(keys.Where(k => k != keys[2]).Order());
        var (at, tries, problem, givenUp) = await Row("test-fails", keys[2]);
        (at > now, tries, problem, givenUp).ShouldBe((true, 1, "No such buoy.", null));
        // Not due before its time; then again and again, each time later.
        (await DueSteps.Step(db, work, now)).ShouldBe(0);
        (await Row("test-fails", keys[2])).Tries.ShouldBe(1);
        var pauses = new List<TimeSpan> { at - now };
        for (now = at; (await Row("test-fails", keys[2])).GivenUp is null; )
        {
            await DueSteps.Step(db, work, now);
            var next = (await Row("test-fails", keys[2])).At;
            pauses.Add(next - now);
            now = next;
        }
        pauses.Count.ShouldBe(8);
        pauses.ShouldBe(pauses.Order());
        (await DueSteps.Step(db, work, now.AddDays(30))).ShouldBe(0);

        // It waits on the Desk of the administrator, who lets it be tried again; then it is done.
        var admin = await fixture.Server.SignIn(Administrator);
        (await admin.Read<DeskView>("/api/desk")).Groups.Single(g => g.Key == "failed").Items.ShouldContain(i => i.Line == "No such buoy.");
        var failed = (await admin.Read<List<FailedWork>>("/api/failed-work")).Single(f => f.Kind == "test-fails");
        (failed.Key, failed.Problem, failed.Tries, failed.NextAt).ShouldBe((keys[2], "No such buoy.", 8, null));
        (await admin.Post($"/api/failed-work/test-fails/{keys[2]}/again")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await admin.Post($"/api/failed-work/test-fails/{keys[2]}/again")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await DueSteps.Step(db, new Work("test-fails", _ => null), DateTime.UtcNow.AddSeconds(1))).ShouldBe(1);
        (await _connection.QuerySingleAsync<int>("select count(*)::int from event where kind = 'failed_work' and record = @key", new { key = keys[2] })).ShouldBe(1);
    }

    [Fact]
    public async Task WhatIsLeftOutIsNotTriedAnyMoreAndOnlyAdministratorsSayThat()
    {
        var now = DateTime.UtcNow;
        var key = (await Put("test-left", 1, now.AddMinutes(-1)))[0];
        await using var db = _connection.Over();
        await DueSteps.Step(db, new Work("test-left", _ => new InvalidOperationException("no")), now);
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        (await ingrid.Get("/api/failed-work")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await ingrid.Post($"/api/failed-work/test-left/{key}/leave")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await ingrid.Read<DeskView>("/api/desk")).Groups.ShouldNotContain(g => g.Key == "failed");
        var admin = await fixture.Server.SignIn(Administrator);
        (await admin.Post($"/api/failed-work/test-left/{key}/leave")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await _connection.QuerySingleAsync<int>("select count(*)::int from due where kind = 'test-left'")).ShouldBe(0);
        // What did not fail cannot be left out.
        var other = (await Put("test-well", 1, now.AddDays(1)))[0];
        (await admin.Post($"/api/failed-work/test-well/{other}/leave")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    /// <summary>An outage, and a set-up that changed just now, are no fault of the record.</summary>
    [Fact]
    public async Task WhatIsNoFaultOfTheRecordIsNotCounted()
    {
        var now = DateTime.UtcNow;
        var key = (await Put("test-away", 1, now.AddMinutes(-1)))[0];
        await using var db = _connection.Over();
        foreach (var e in new Exception[] { new NpgsqlException("away", new IOException()), new SnapshotBehindException(), new OperationCanceledException() })
            (await Record.ExceptionAsync(() => DueSteps.Step(db, new Work("test-away", _ => e), now))).ShouldBe(e);
        (await Row("test-away", key)).Tries.ShouldBe(0);
    }

    [Theory]
    [InlineData(0, 1)]
    [InlineData(3, 8)]
    [InlineData(8, 256)]
    [InlineData(9, 360)]
    [InlineData(900, 360)]
    public void ThePauseDoublesUpToSixHours(int before, int minutes) => DueSteps.Pause(before).ShouldBe(TimeSpan.FromMinutes(minutes));
}
