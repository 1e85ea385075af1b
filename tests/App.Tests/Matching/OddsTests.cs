using System.Net;
using DapperLantern.App.Matching;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Matching;

public sealed class OddsTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task OddsAreLearntAsADraftPublishedAndTakenBack()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var shipped = await ingrid.Read<OddsView>("/api/matching");
        (shipped.Edition, shipped.Draft).ShouldBe((0, null));
        shipped.Comparisons.SelectMany(c => c.Levels).ShouldAllBe(l => l.Live == l.Shipped);
        (await ingrid.Post("/api/matching/publish")).Problem.ShouldBe("no-draft");
        (await ingrid.Post("/api/matching/back")).Problem.ShouldBe("as-shipped");

        var learnt = (await ingrid.Post("/api/matching/learn")).Read<OddsView>();
        learnt.Draft.ShouldBe(1);
        learnt.Pairs.ShouldBeGreaterThan(300);
        learnt.Comparisons.SelectMany(c => c.Levels).ShouldAllBe(l => l.Live == l.Shipped && l.Draft != null);
        learnt.Comparisons.SelectMany(c => c.Levels).ShouldContain(l => Math.Abs(l.Draft!.Value - l.Shipped) > .5);
        var again = (await ingrid.Post("/api/matching/learn")).Read<OddsView>();
        again.Comparisons.SelectMany(c => c.Levels).Select(l => l.Draft).ShouldBe(learnt.Comparisons.SelectMany(c => c.Levels).Select(l => l.Draft));

        var live = (await ingrid.Post("/api/matching/publish")).Read<OddsView>();
        live.Edition.ShouldBeGreaterThan(0);
        live.Comparisons.SelectMany(c => c.Levels).Select(l => l.Live).ShouldBe(learnt.Comparisons.SelectMany(c => c.Levels).Select(l => l.Draft!.Value));
        var back = (await ingrid.Post("/api/matching/back")).Read<OddsView>();
        back.Edition.ShouldBe(0);
        back.Comparisons.SelectMany(c => c.Levels).ShouldAllBe(l => l.Live == l.Shipped);
    }

    [Fact]
    public async Task ARepMayNotTouchTheOdds() => (await (await fixture.Server.SignIn("tor.vik")).Post("/api/matching/learn")).Status.ShouldBe(HttpStatusCode.Forbidden);
}

/// <summary>Duplicates in a list without a server.</summary>
public sealed class MatchFileTests
{
    private const string List = """
        rec_id,given_name,surname,street_number,address_1,suburb,postcode,date_of_birth,entity
        1,michaela,neumann,8,stanley street,miami,4223,19151111,A
        2,micheala,neuman,8,stanley st,miami,4223,19151111,A
        3,courtney,painter,12,pinkerton circuit,bega flats,4560,19160304,B
        4,painter,courtney,12,pinkerton cct,begaflats,4560,19160403,B
        5,charles,green,38,salkauskas crescent,dapto,4566,19480930,C
        6,vanessa,green,38,salkauskas crescent,dapto,4566,19520312,D
        """;

    private static async Task<(int Code, string Output, string Told)> Run(params string[] arguments)
    {
        var (output, told) = (new StringWriter(), new StringWriter());
        var code = await MatchFile.Run(arguments, output, told);
        return (code, output.ToString(), told.ToString());
    }

    private static string Keep(string text)
    {
        var path = Path.Combine(Directory.CreateTempSubdirectory("lantern-match").FullName, "list.csv");
        File.WriteAllText(path, text);
        return path;
    }

    [Fact]
    public async Task DuplicatesInAListAreFoundWithTheirEvidenceAndARelativeIsNone()
    {
        var (code, output, told) = await Run(Keep(List), "--country", "AU", "--truth", "entity");
        code.ShouldBe(0, told);
        told.ShouldContain("linked: precision 1.0000, recall 1.0000, F1 1.0000");
        var lines = output.Split("\r\n", StringSplitOptions.RemoveEmptyEntries);
        lines.Length.ShouldBe(3);
        lines[1].ShouldStartWith("list.csv,1,list.csv,2,");
        lines.ShouldContain(l => l.Contains("day and month the other way round", StringComparison.Ordinal));
    }

    [Fact]
    public async Task AcrossTwoListsOnlyPairsBetweenThemCount()
    {
        var lines = List.Split('\n');
        var (code, output, _) = await Run(
            Keep(string.Join('\n', lines[0], lines[1], lines[3], lines[5])),
            Keep(string.Join('\n', lines[0], lines[2], lines[4], lines[6])),
            "--country",
            "AU"
        );
        code.ShouldBe(0);
        output.Split("\r\n", StringSplitOptions.RemoveEmptyEntries).Length.ShouldBe(3);
    }

    [Theory]
    [InlineData("nowhere.csv")]
    [InlineData("--truth", "entity")]
    public async Task WhatCannotBeDoneIsSaid(params string[] arguments)
    {
        var (code, output, told) = await Run(arguments);
        code.ShouldBe(2);
        output.ShouldBeEmpty();
        told.ShouldNotBeEmpty();
    }
}
