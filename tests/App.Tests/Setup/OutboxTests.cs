using System.Net;
using Dapper;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Setup;

/// <summary>Messages that leave: one by one, tried again with growing pauses, given up where a person sees it.</summary>
public sealed class OutboxTests
{
    [Fact]
    public void ThePauseGrowsFromAMinuteToADay()
    {
        OutboxSender.PauseAfter(1).ShouldBe(TimeSpan.FromMinutes(1));
        OutboxSender.PauseAfter(2).ShouldBe(TimeSpan.FromMinutes(2));
        OutboxSender.PauseAfter(60).ShouldBe(TimeSpan.FromDays(1));
        for (var i = 1; i < 40; i++)
            OutboxSender.PauseAfter(i + 1).ShouldBeGreaterThanOrEqualTo(OutboxSender.PauseAfter(i));
    }

    private static async Task<T> Eventually<T>(TestServer server, string sql, Func<T, bool> holds)
    {
        for (var i = 0; ; i++)
        {
            var now = await server.Scalar<T>(sql);
            if (holds(now) || i > 150)
                return now;
            await Task.Delay(100);
        }
    }

    [Fact]
    public async Task WhatCannotBeSentWaitsIsGivenUpAfterThreeDaysAndSentAgainOnAWord()
    {
        // A folder that cannot be made: a file stands in its place.
        var blocked = Path.Combine(Path.GetTempPath(), $"lantern-outbox-{Guid.NewGuid():N}");
        await File.WriteAllTextAsync(blocked, "");
        await using var server = await TestServer.Start($"--Outbox:Folder={blocked}");
        await using var connection = await server.Connect();
        var ingrid = await server.SignIn("ingrid.brekke");
        async Task<Guid> Message(string age)
        {
            var id = Guid.NewGuid();
            await connection.ExecuteAsync(
                $"insert into outbox (id, kind, to_email, subject, text, created_at, tries) values (@id, 'message', 'a@b.example', 'Buoy', 'It floats.', now() - interval '{age}', 0)",
                new { id }
            );
            return id;
        }
        var fresh = await Message("1 minute");
        (await Eventually<int>(server, $"select tries from outbox where id = '{fresh}'", t => t == 1)).ShouldBe(1);
        await Task.Delay(3000);
        var row = await connection.QuerySingleAsync<(int Tries, DateTime? Next, DateTime? GivenUp, DateTime? Claimed, string? Problem)>(
            "select tries, next_at, given_up_at, claimed_at, problem from outbox where id = @fresh",
            new { fresh }
        );
        // Not looped over: one try, and the next in a minute.
        row.Tries.ShouldBe(1);
        (row.Next - DateTime.UtcNow).ShouldNotBeNull().TotalSeconds.ShouldBeInRange(20, 61);
        (row.GivenUp, row.Claimed).ShouldBe((null, null));
        row.Problem.ShouldNotBeNull().ShouldContain("folder");

        var old = await Message("4 days");
        (await Eventually<bool>(server, $"select given_up_at is not null from outbox where id = '{old}'", g => g)).ShouldBeTrue();
        var desk = await ingrid.Get("/api/desk");
        desk.Body.ShouldContain("Messages that could not be sent");

        File.Delete(blocked);
        (await ingrid.Post($"/api/outbox/{old}/send-again")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Eventually<bool>(server, $"select sent_at is not null from outbox where id = '{old}'", s => s)).ShouldBeTrue();
        var letter = await File.ReadAllTextAsync(Path.Combine(blocked, "new", $"{old}.eml"));
        letter.ShouldContain(old.ToString());
        Directory.Delete(blocked, true);
    }

    [Fact]
    public async Task AMessageWhoseProcessEndedInTheMidstIsSentOnceMoreWithTheSameId()
    {
        var folder = Path.Combine(Path.GetTempPath(), $"lantern-outbox-{Guid.NewGuid():N}");
        await using var server = await TestServer.Start($"--Outbox:Folder={folder}");
        await using var connection = await server.Connect();
        var (doubtful, claimed) = (Guid.NewGuid(), Guid.NewGuid());
        foreach (var (id, ago) in new[] { (doubtful, "6 minutes"), (claimed, "1 minute") })
            await connection.ExecuteAsync(
                $"insert into outbox (id, kind, to_email, subject, text, created_at, tries, claimed_at) values (@id, 'message', 'a@b.example', 'Buoy', 'It floats.', now() - interval '10 minutes', 1, now() - interval '{ago}')",
                new { id }
            );
        (await Eventually<bool>(server, $"select sent_at is not null from outbox where id = '{doubtful}'", s => s)).ShouldBeTrue();
        (await server.Scalar<bool>($"select sent_at is null from outbox where id = '{claimed}'")).ShouldBeTrue();
        Directory.Delete(folder, true);
    }

    [Fact]
    public async Task AnOwnerIsToldInTheirOwnTimeWithCompanyWordsAndTheWayThere()
    {
        var folder = Path.Combine(Path.GetTempPath(), $"lantern-outbox-{Guid.NewGuid():N}");
        await using var server = await TestServer.Start($"--Outbox:Folder={folder}", "--Public:Address=http://localhost:5999");
        await using var connection = await server.Connect();
        var (owner, zone) = await connection.QuerySingleAsync<(Guid, string)>("select id, time_zone from person where user_name = 'tor.vik'");
        var (lead, company, interest) = await connection.QueryFirstAsync<(Guid, string, string)>(
            "select id, company, interest from lead where company is not null and interest is not null and length(interest) < 40 limit 1"
        );
        var id = Guid.NewGuid();
        await connection.ExecuteAsync(
            "insert into outbox (id, kind, person_id, lead_id, subject, text, created_at, tries) values (@id, 'lead-given', @owner, @lead, 'New lead', @text, now(), 0)",
            new
            {
                id,
                owner,
                lead,
                text = $"Answer by {MomentText.Of(new DateTime(2026, 12, 1, 12, 30, 0, DateTimeKind.Utc))}.",
            }
        );
        (await Eventually<bool>(server, $"select sent_at is not null from outbox where id = '{id}'", s => s)).ShouldBeTrue();
        var text = MimeKit.MimeMessage.Load(Path.Combine(folder, "new", $"{id}.eml")).TextBody!;
        text.ShouldContain(zone);
        text.ShouldNotContain("UTC");
        foreach (var said in new[] { company, interest, $"http://localhost:5999/leads/{lead}" })
            text.ShouldContain(said);
        Directory.Delete(folder, true);
    }
}
