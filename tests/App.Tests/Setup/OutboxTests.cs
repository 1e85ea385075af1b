using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Setup;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;
using Npgsql;

namespace DapperLantern.App.Tests.Setup;

public sealed class OutboxTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private OutboxDoor Door(NpgsqlDataSource source, string folder) =>
        new(
            source,
            new ConfigurationBuilder().AddInMemoryCollection([new("Outbox:Folder", folder)]).Build(),
            fixture.Server.Services.GetRequiredService<PublicLinks>(),
            TimeProvider.System,
            NullLogger<OutboxDoor>.Instance
        );

    [Fact]
    public async Task AMessageGoesOutOnceThoughTwoProcessesSend()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        for (var i = 0; i < 5; i++)
            await ingrid.Post(
                "/api/leads",
                new
                {
                    source = "telephone",
                    facts = new Dictionary<string, string>
                    {
                        ["last_name"] = "Post",
                        ["email"] = $"post{i}@post.example",
                        ["country"] = "Spain",
                    },
                    note = (string?)null,
                }
            );
        var folder = Directory.CreateTempSubdirectory("lantern-outbox").FullName;
        await using var source = NpgsqlDataSource.Create(fixture.Server.ConnectionString);
        using var one = Door(source, folder);
        using var two = Door(source, folder);
        await Task.WhenAll(one.StartAsync(default), two.StartAsync(default));
        await using var connection = await fixture.Server.Connect();
        for (var i = 0; i < 240 && await Waiting(connection) > 0; i++)
            await Task.Delay(250);
        await Task.WhenAll(one.StopAsync(default), two.StopAsync(default));

        (await Waiting(connection)).ShouldBe(0);
        (await connection.QuerySingleAsync<int>("select max(tries) from outbox")).ShouldBe(1);
        // Clocks that run out send theirs meanwhile.
        var messages = Directory
            .GetFiles(Path.Combine(folder, "new"))
            .Select(File.ReadAllText)
            .Where(m => m.Contains("Subject: New lead: Post", StringComparison.Ordinal))
            .ToList();
        messages.Count.ShouldBe(5);
        messages.ShouldAllBe(m => m.Contains("@tarnhollow.example", StringComparison.Ordinal));
        Directory.Delete(folder, true);
    }

    [Fact]
    public async Task BehindAMailToSomebodyOutsideStandsThePageOnWhichTheyWithdraw()
    {
        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync(
            "insert into outbox (id, kind, to_email, language, subject, text, created_at, tries) values (gen_random_uuid(), 'news', 'outside@withdraw.example', 'de', 'Neuigkeiten', 'Guten Tag', now(), 0)"
        );
        var folder = Directory.CreateTempSubdirectory("lantern-outbox").FullName;
        await using var source = NpgsqlDataSource.Create(fixture.Server.ConnectionString);
        using var door = Door(source, folder);
        await door.StartAsync(default);
        for (var i = 0; i < 240 && await Waiting(connection) > 0; i++)
            await Task.Delay(250);
        await door.StopAsync(default);
        var message = Directory
            .GetFiles(Path.Combine(folder, "new"))
            .Select(f => MimeKit.MimeMessage.Load(f))
            .Single(m => m.To.ToString().Contains("outside@withdraw.example", StringComparison.Ordinal));
        message.Headers["List-Unsubscribe"]!.ShouldContain("/consent/withdraw/");
        message.Headers["List-Unsubscribe-Post"].ShouldBe("List-Unsubscribe=One-Click");
        message.TextBody!.ShouldContain("schreiben dürfen: http");
        Directory.Delete(folder, true);
    }

    private static Task<int> Waiting(NpgsqlConnection connection) => connection.QuerySingleAsync<int>("select count(*)::int from outbox where sent_at is null");
}
