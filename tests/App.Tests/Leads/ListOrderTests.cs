using System.Net;
using Dapper;
using DapperLantern.App.Leads;

namespace DapperLantern.App.Tests.Leads;

public sealed class ListOrderTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static string Where(string condition) => $"/api/leads?where={Uri.EscapeDataString(condition)}";

    [Fact]
    public async Task TheMostEngagedComeFirstByTheScoreThatIsShown()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var shown = (await ingrid.Read<LeadPage>("/api/leads?order=-engagement")).Leads.Select(l => l.Engagement).ToList();
        // The stored score is right to the hour, the shown one to the moment: a point apart at most.
        shown.Zip(shown.Skip(1)).ShouldAllBe(p => p.First + 1 >= p.Second);
    }

    [Fact]
    public async Task ALeadThatComesInWhileOneTurnsPagesDoublesNobody()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var first = await ingrid.Read<LeadPage>("/api/leads?order=-created_at");
        await ingrid.Post(
            "/api/leads",
            new
            {
                source = "telephone",
                facts = new Dictionary<string, string> { ["last_name"] = "Between", ["email"] = "between@pages.example" },
                note = (string?)null,
            }
        );
        var second = await ingrid.Read<LeadPage>($"/api/leads?order=-created_at&after={Uri.EscapeDataString(first.Next!)}");
        first.Leads.Select(l => l.Id).Intersect(second.Leads.Select(l => l.Id)).ShouldBeEmpty();
        second.Leads[0].CreatedAt.ShouldBeLessThanOrEqualTo(first.Leads[^1].CreatedAt);
    }

    [Theory]
    [InlineData("'; drop table lead; --")]
    [InlineData("%")]
    [InlineData("_")]
    [InlineData("\\")]
    [InlineData("\" or 1=1")]
    public async Task WhatLooksLikeAProgramIsOnlySearchedFor(string text)
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var condition = System.Text.Json.JsonSerializer.Serialize(
            new
            {
                field = "company",
                @is = "contains",
                values = new[] { text },
            }
        );
        (await ingrid.Read<LeadPage>(Where(condition))).Count.ShouldBe(0);
    }

    [Fact]
    public async Task LeadsWithoutOwnerAreThoseNobodyHas()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var page = await ingrid.Read<LeadPage>(Where("""{"all":[{"not":{"field":"owner","is":"known"}},{"field":"state","is":"in","values":["new","in_work"]}]}"""));
        page.Leads.ShouldNotBeEmpty();
        page.Leads.ShouldAllBe(l => l.OwnerId == null && l.Clock == null);
        page.WithoutOwner.ShouldBe(page.Count);
    }

    [Fact]
    public async Task ACustomFieldIsFilledFilteredAndEmptiedLikeAnyOther()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var id = await connection.QueryFirstAsync<Guid>("select id from lead where state = 'in_work' limit 1");
        await ingrid.Patch($"/api/leads/{id}", new { facts = new { water_body = "Loch Etive" } });
        var found = await ingrid.Read<LeadPage>(Where("""{"field":"water_body","is":"contains","values":["etive"]}"""));
        found.Leads.ShouldHaveSingleItem().Id.ShouldBe(id);
        await ingrid.Patch($"/api/leads/{id}", new { facts = new { water_body = "" } });
        (await ingrid.Read<LeadPage>(Where("""{"field":"water_body","is":"known"}"""))).Count.ShouldBe(0);
    }

    [Fact]
    public async Task AnEmptiedFactIsUnknownAgainAndTheFitIsARange()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var id = await connection.QueryFirstAsync<Guid>("select id from lead where state = 'in_work' and industry is not null and sites is not null limit 1");
        var sheet = (await ingrid.Patch($"/api/leads/{id}", new { facts = new { industry = "", sites = "" } })).Read<LeadSheet>();
        sheet.Score.Unknown.Select(u => u.Field).ShouldContain("industry");
        sheet.Score.FitHigh.ShouldBeGreaterThan(sheet.Score.Fit);
        sheet.Facts.Single(f => f.Key == "sites").Value.ShouldBeNull();
    }

    [Fact]
    public async Task AnUnknownLeadIsNotFoundWithASentence()
    {
        var answer = await (await fixture.Server.SignIn("ingrid.brekke")).Get($"/api/leads/{Guid.NewGuid()}");
        (answer.Status, answer.Problem, answer.Sentence).ShouldBe((HttpStatusCode.NotFound, "not-found", "There is no such lead."));
    }

    [Theory]
    [InlineData("note", "", "text-missing")]
    [InlineData("telepathy", "hm", "touch-unknown")]
    public async Task ATouchThatSaysNothingIsRefused(string kind, string text, string problem)
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = (await ingrid.Read<LeadPage>("/api/leads")).Leads[0];
        (await ingrid.Post($"/api/leads/{lead.Id}/touches", new { kind, text })).Problem.ShouldBe(problem);
    }

    [Fact]
    public async Task ANoteOfAnyLengthUpToTheLimitIsKeptToTheLetter()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = (await ingrid.Read<LeadPage>("/api/leads")).Leads[0];
        var text = string.Concat(Enumerable.Repeat("Ærlig talt: <b>50 %</b> & \"så\".\n", 300)).Trim();
        (await ingrid.Post($"/api/leads/{lead.Id}/touches", new { kind = "note", text })).Read<LeadSheet>().Story[0].Text.ShouldBe(text);
        (await ingrid.Post($"/api/leads/{lead.Id}/touches", new { kind = "note", text = new string('x', 10_001) })).Problem.ShouldBe("too-long");
    }

    [Fact]
    public async Task ATaskDoneTwiceIsDoneOnce()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var task = await connection.QueryFirstAsync<Guid>("select id from task where done_at is null limit 1");
        await ingrid.Post($"/api/tasks/{task}/done");
        var first = await connection.QuerySingleAsync<DateTime>("select done_at from task where id = @task", new { task });
        await ingrid.Post($"/api/tasks/{task}/done");
        (await connection.QuerySingleAsync<DateTime>("select done_at from task where id = @task", new { task })).ShouldBe(first);
    }

    [Theory]
    [InlineData("{}")]
    [InlineData("{\"facts\":null}")]
    [InlineData("{\"facts\":{\"city\":7}}")]
    public async Task ABodyThatLacksWhatItMustHaveIsABadRequest(string body)
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = (await ingrid.Read<LeadPage>("/api/leads")).Leads[0];
        (await ingrid.Patch($"/api/leads/{lead.Id}", System.Text.Json.Nodes.JsonNode.Parse(body)!)).Status.ShouldBe(HttpStatusCode.BadRequest);
    }
}
