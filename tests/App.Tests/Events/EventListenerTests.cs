using System.Collections.Concurrent;
using System.Net;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Tests.Shared;
using Npgsql;

namespace DapperLantern.App.Tests.Events;

/// <summary>What follows from events: each is heard once, whatever commits first, also where a process or a listener fails.</summary>
public sealed class EventListenerTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private NpgsqlConnection _connection = null!;

    public async ValueTask InitializeAsync() => _connection = await fixture.Server.Connect();

    public async ValueTask DisposeAsync()
    {
        await _connection.ExecuteAsync("delete from event_listener where listener like 'test-%'; delete from due where kind like 'test-%'");
        await _connection.DisposeAsync();
    }

    private sealed class Listener(string name, Func<HeardEvent, Exception?>? fails = null) : EventListener
    {
        public ConcurrentBag<string> Told { get; } = [];
        public override string Kind => name;
        public override string Words => "Tell the test";
        public override IReadOnlyCollection<string> Heard => ["deal_named"];
        public override int Batch => 50;

        protected override Task Hear(LanternDb db, IReadOnlyList<HeardEvent> heard, DateTime now, CancellationToken cancel)
        {
            foreach (var e in heard)
                if (fails?.Invoke(e) is { } why)
                    throw why;
            foreach (var e in heard)
                Told.Add(((DealNamed)e.Happening).To!);
            return Task.CompletedTask;
        }
    }

    // Only this test hears of these; the server knows no such listener.
    private async Task<EventListener> Listens(Listener listener)
    {
        await _connection.ExecuteAsync(
            "insert into event_listener (kind, listener) select k, @Name from unnest(@kinds) k",
            new { Name = listener.Kind, kinds = listener.Heard.ToArray() }
        );
        return listener;
    }

    private static Task Name(NpgsqlConnection connection, Guid lead, string name) => connection.Over().Log(EventLog.Lead, lead, new DealNamed("before", name));

    private Task<Guid> Lead(int at = 0) =>
        _connection.QuerySingleAsync<Guid>("select id from lead where owner_id is not null and state = 'in_work' order by number offset @at limit 1", new { at });

    [Fact]
    public async Task WhatCommitsLateIsHeardToo()
    {
        var listener = new Listener("test-late");
        var work = await Listens(listener);
        var lead = await Lead();
        await using var slow = await fixture.Server.Connect();
        await using var db = slow.Over();
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            await db.Log(EventLog.Lead, lead, new DealNamed("before", "first"));
            await Name(_connection, lead, "second");
            await DueSteps.Step(_connection.Over(), work, DateTime.UtcNow.AddSeconds(1));
            listener.Told.ShouldBe(["second"]);
            await transaction.CommitAsync();
        }
        await DueSteps.Step(_connection.Over(), work, DateTime.UtcNow.AddSeconds(1));
        listener.Told.Order().ShouldBe(["first", "second"]);
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            await db.Log(EventLog.Lead, lead, new DealNamed("before", "never"));
            await transaction.RollbackAsync();
        }
        (await DueSteps.Step(_connection.Over(), work, DateTime.UtcNow.AddSeconds(1))).ShouldBe(0);
    }

    [Fact]
    public async Task SeveralProcessesHearEachEventOnce()
    {
        var listener = new Listener("test-once");
        var work = await Listens(listener);
        var lead = await Lead();
        for (var i = 0; i < 120; i++)
            await Name(_connection, lead, $"{i}");
        var then = DateTime.UtcNow.AddSeconds(1);
        await Task.WhenAll(
            Enumerable
                .Range(0, 4)
                .Select(async _ =>
                {
                    await using var connection = await fixture.Server.Connect();
                    await using var db = connection.Over();
                    while (await DueSteps.Step(db, work, then) > 0) { }
                })
        );
        listener.Told.Order(StringComparer.Ordinal).ShouldBe(Enumerable.Range(0, 120).Select(i => $"{i}").Order(StringComparer.Ordinal));
    }

    [Fact]
    public async Task OneThatCannotBeHeardHoldsNothingUpAndIsSeen()
    {
        var listener = new Listener("test-fails", e => e.Happening is DealNamed { To: "broken" } ? new InvalidOperationException("No such buoy.") : null);
        var work = await Listens(listener);
        var lead = await Lead();
        foreach (var name in (string[])["a", "broken", "c"])
            await Name(_connection, lead, name);
        await DueSteps.Step(_connection.Over(), work, DateTime.UtcNow.AddSeconds(1));
        listener.Told.Order().ShouldBe(["a", "c"]);
        var samir = await fixture.Server.SignIn("samir.haddow");
        var failed = (await samir.Read<List<FailedWork>>("/api/failed-work")).Single(f => f.Kind == "test-fails");
        var display = await _connection.QuerySingleAsync<string>("select trim(concat_ws(' ', first_name, last_name)) from lead where id = @lead", new { lead });
        (failed.Problem, failed.Tries, failed.Name).ShouldBe(("No such buoy.", 1, display));
        (await samir.Post($"/api/failed-work/{failed.Kind}/{failed.Key}/leave")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await _connection.QuerySingleAsync<int>("select count(*)::int from event where kind = 'failed_work' and record = @lead", new { lead })).ShouldBe(1);
    }

    [Fact]
    public async Task TheKeyOfAnEventIsTheSameInBoth()
    {
        var random = new Random(5);
        for (var i = 0; i < 200; i++)
        {
            var (at, id) = (DateTime.UnixEpoch.AddMicroseconds(random.NextInt64(4_000_000_000_000_000)), random.NextInt64(1L << random.Next(1, 62)));
            var key = await _connection.QuerySingleAsync<Guid>("select event_key(@at, @id)", new { at, id });
            EventKey.Of(key).ShouldBe(new EventKey(at, id));
            if (at.Year < 2040)
                (await _connection.QuerySingleAsync<DateTime>("select event_moment(@key)", new { key })).ShouldBe(at);
        }
        (await _connection.QuerySingleAsync<DateTime?>("select event_moment(@key)", new { key = Guid.CreateVersion7() })).ShouldBeNull();
    }

    /// <summary>Whoever writes the owner, and by which statement: the new one is told.</summary>
    [Fact]
    public async Task AnOwnerIsToldWhateverStatementGaveTheLead()
    {
        var lead = await Lead(3);
        var to = await _connection.QuerySingleAsync<Guid>(
            "select id from person where 'rep' = any(roles) and here and id <> (select owner_id from lead where id = @lead) order by user_name limit 1",
            new { lead }
        );
        await _connection.ExecuteAsync("update lead set owner_id = @to, version = version + 1 where id = @lead", new { lead, to });
        await fixture.Server.Heard();
        var told = await _connection.QuerySingleAsync<(Guid Event, long Number, string Subject)>(
            "select event_key(e.at, e.id), o.event_id, o.subject from outbox o join event e on e.id = o.event_id where o.lead_id = @lead and o.person_id = @to",
            new { lead, to }
        );
        told.Subject.ShouldStartWith("New lead: ");
        // The same event heard again, as after a process that ended before it knew: no second message.
        await _connection.ExecuteAsync("insert into due (kind, key, at) values ('notices', @Event, now())", new { told.Event });
        await fixture.Server.Heard();
        (await _connection.QuerySingleAsync<int>("select count(*)::int from outbox where event_id = @Number", new { told.Number })).ShouldBe(1);
    }
}
