using System.Net;
using Dapper;
using DapperLantern.App.Events;
using DapperLantern.Core.Events;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Events;

/// <summary>The log as administrators read and export it.</summary>
public sealed class LogTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private const string Administrator = "samir.haddow";

    [Theory]
    [InlineData("ingrid.brekke")]
    [InlineData("harald.quist")]
    [InlineData("ines.carvalhal")]
    public async Task OnlyAdministratorsReadIt(string name)
    {
        var client = await fixture.Server.SignIn(name);
        foreach (var path in new[] { "/api/log", "/api/log/choices", "/api/log.csv" })
            (await client.Get(path)).Status.ShouldBe(HttpStatusCode.Forbidden, path);
    }

    [Fact]
    public async Task ItIsNarrowedByPersonRecordGroupAndTime()
    {
        var (admin, ingrid) = (await fixture.Server.SignIn(Administrator), await fixture.Server.SignIn("ingrid.brekke"));
        var begun = DateTime.UtcNow;
        var lead = await ingrid.MakeLead("Registado", "Portugal");
        await ingrid.Patch($"/api/leads/{lead}", new { facts = new { city = "Sines" } });
        await ingrid.Patch($"/api/leads/{lead}", new { facts = new { city = "Lagos" } });
        await using var connection = await fixture.Server.Connect();
        var me = await connection.QuerySingleAsync<Guid>("select id from person where user_name = 'ingrid.brekke'");

        var whole = await admin.Read<LogPage>($"/api/log?record={lead}");
        whole.Lines[0].Text.ShouldBe("Changed place to Lagos");
        (whole.Lines[0].By, whole.Lines[0].Cause, whole.Lines[0].RecordName).ShouldBe(("Ingrid Brekke", "by hand", "Registado"));
        whole.Lines[0].Changes.ShouldBe([new LogChange("Place", "Sines", "Lagos")]);
        whole.Lines.ShouldBe(whole.Lines.OrderByDescending(l => l.At).ThenByDescending(l => l.Id));
        (await admin.Read<LogPage>($"/api/log?record={lead}&group=fact")).Lines.Select(l => l.Kind).ShouldBe(["fact", "fact"]);
        (await admin.Read<LogPage>($"/api/log?person={me}&from={begun:O}")).Lines.ShouldAllBe(l => l.By == "Ingrid Brekke" && l.At >= begun);
        (await admin.Read<LogPage>($"/api/log?record={lead}&to={begun:O}")).Lines.ShouldBeEmpty();
        (await admin.Get("/api/log?group=weather")).Problem.ShouldBe("log-group-unknown");
        (await admin.Get($"/api/log?from={begun:O}&to={begun:O}")).Problem.ShouldBe("period-range");
        foreach (var odd in new[] { "x", "1-2-3", "-1-5", "99999999999999999999-1" })
            (await admin.Get($"/api/log?after={odd}")).Problem.ShouldBe("page-unknown", odd);
    }

    [Fact]
    public async Task PagesFollowEachOtherWithoutGapOrRepetition()
    {
        var admin = await fixture.Server.SignIn(Administrator);
        var seen = new List<LogLine>();
        var to = $"{DateTime.UtcNow:O}";
        string? after = null;
        for (var page = 0; page < 6; page++)
        {
            var read = await admin.Read<LogPage>($"/api/log?group=state&to={to}{(after is null ? "" : $"&after={after}")}");
            seen.AddRange(read.Lines);
            after = read.Next.ShouldNotBeNull();
        }
        seen.Select(l => l.Id).ShouldBeUnique();
        await using var connection = await fixture.Server.Connect();
        var wanted = await connection.QueryAsync<long>(
            "select id from event where kind = any(@kinds) and at < @to::timestamptz order by at desc, id desc limit @n",
            new
            {
                kinds = AuditWords.Groups.Single(g => g.Key == "state").Kinds,
                to,
                n = seen.Count,
            }
        );
        seen.Select(l => l.Id).ShouldBe(wanted);
    }

    [Fact]
    public async Task AnExportHoldsTheSameAndIsLoggedItself()
    {
        var admin = await fixture.Server.SignIn(Administrator);
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = await ingrid.MakeLead("Exportado", "Portugal");
        await ingrid.Patch($"/api/leads/{lead}", new { facts = new { city = "=Sines" } });
        var file = await admin.Get($"/api/log.csv?record={lead}");
        file.Status.ShouldBe(HttpStatusCode.OK);
        var lines = file.Body.TrimStart('\uFEFF').TrimEnd().Split('\n');
        lines.Length.ShouldBe(1 + (await admin.Read<LogPage>($"/api/log?record={lead}")).Lines.Count);
        lines[1].ShouldContain("Changed place to =Sines");
        (await admin.Get("/api/leads.csv?where=%7B%22all%22%3A%5B%5D%7D")).Status.ShouldBe(HttpStatusCode.OK);
        (await admin.Read<LogPage>("/api/log?group=exported"))
            .Lines.Select(l => (l.Text, l.By))
            .ShouldBe([("Exported leads", "Samir Haddow"), ("Exported the log", "Samir Haddow")]);
    }

    /// <summary>Each kind stands in one group, so that whatever happens can be found.</summary>
    [Fact]
    public void EachKindStandsInOneGroup() => AuditWords.Groups.SelectMany(g => g.Kinds).Order(StringComparer.Ordinal).ShouldBe(Happening.Kinds);

    [Fact]
    public async Task EachKindThatHappenedHasWords()
    {
        await using var connection = await fixture.Server.Connect();
        var admin = await fixture.Server.SignIn(Administrator);
        foreach (var group in AuditWords.Groups)
        foreach (var line in (await admin.Read<LogPage>($"/api/log?group={group.Key}")).Lines)
            line.Text.ShouldNotBe(line.Kind, line.Kind);
        (await connection.QueryAsync<string>("select distinct kind from event")).ShouldBeSubsetOf(Happening.Kinds);
    }
}
