using System.Net;
using System.Text.Json;
using Dapper;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;

namespace DapperLantern.App.Tests.Leads;

public sealed class LeadTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task SeveralWhoAskForOneCompanyAreShownTogether()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var (key, all) = await connection.QueryFirstAsync<(string, int)>(
            "select company_key, count(*)::int from lead where company_key is not null group by 1 having count(*) between 3 and 15 order by 1 limit 1"
        );
        var leads = (await connection.QueryAsync<Guid>("select id from lead where company_key = @key", new { key })).ToList();
        var sheet = await ingrid.Read<LeadSheet>($"/api/leads/{leads[0]}");
        sheet.Company.Count.ShouldBe(all - 1);
        sheet.Company.Select(c => c.Id).Order().ShouldBe(leads.Skip(1).Order());
    }

    private readonly TestServer _server = fixture.Server;

    private async Task<Guid> Id(string where)
    {
        await using var connection = await _server.Connect();
        return await connection.QueryFirstAsync<Guid>($"select id from lead where {where} order by number limit 1");
    }

    private static object Capture(string mail, string country = "Norway", string source = "telephone") =>
        new
        {
            source,
            facts = new Dictionary<string, string>
            {
                ["last_name"] = "Prøve",
                ["email"] = mail,
                ["country"] = country,
            },
            note = "Rang about probes.",
        };

    [Fact]
    public async Task ConditionsSelectAndTheSentenceSaysThem()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var where = """{"all":[{"field":"country","is":"in","values":["NO"]},{"field":"fit","is":"at-least","values":[60]}]}""";
        var page = await ingrid.Read<LeadPage>($"/api/leads?where={Uri.EscapeDataString(where)}");
        page.Sentence.ShouldBe("country is Norway, fit is 60 or more");
        page.Leads.ShouldNotBeEmpty();
        page.Leads.ShouldAllBe(l => l.Fit >= 60);
    }

    [Theory]
    [InlineData("where={", "condition-unreadable")]
    [InlineData("where={\"field\":\"nonsense\",\"is\":\"known\"}", "field-unknown")]
    [InlineData("order=sideways", "order-unknown")]
    [InlineData("after=bm90IG91cnM=", "cursor-unreadable")]
    public async Task ABadQuestionGetsAClearAnswer(string query, string problem)
    {
        var answer = await (await _server.SignIn("ingrid.brekke")).Get($"/api/leads?{query}");
        (answer.Status, answer.Problem).ShouldBe((HttpStatusCode.UnprocessableEntity, problem));
    }

    [Fact]
    public async Task TheScoreShownIsTheSumOfItsReasons()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        foreach (var lead in (await ingrid.Read<LeadPage>("/api/leads?order=-engagement")).Leads.Take(20))
        {
            var sheet = await ingrid.Read<LeadSheet>($"/api/leads/{lead.Id}");
            sheet.Score.Fit.ShouldBe(sheet.Score.FitReasons.Sum(r => r.Points));
            sheet.Score.Engagement.ShouldBe(sheet.Score.EngagementReasons.Sum(r => r.Points));
            (sheet.Score.Fit, sheet.Score.NextMove).ShouldBe((lead.Fit, lead.NextMove));
        }
    }

    [Fact]
    public async Task AnEditIsNormalisedRescoredToldAndKnowsItsOrigin()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var lead = await ingrid.Read<LeadSheet>($"/api/leads/{await Id("industry is null and state = 'in_work' and company is not null")}");
        var now = (await ingrid.Patch($"/api/leads/{lead.Id}", new { facts = new { industry = "Aquaculture" } }, lead.Version)).Read<LeadSheet>();
        now.Facts.Single(f => f.Key == "industry").Stored.ShouldBe("fish_farming");
        now.Facts.Single(f => f.Key == "industry").From.ShouldBe("Ingrid Brekke");
        now.Score.FitReasons.ShouldContain(r => r.Label == "Fish farming");
        now.Story[0].Text.ShouldBe("Changed industry to Fish farming");
    }

    [Fact]
    public async Task OfTwoPeopleWritingAtOnceTheSecondIsToldAndNothingIsLost()
    {
        var (ingrid, harald) = (await _server.SignIn("ingrid.brekke"), await _server.SignIn("harald.quist"));
        var lead = await ingrid.Read<LeadSheet>($"/api/leads/{await Id("state = 'in_work'")}");
        var answers = await Task.WhenAll(
            ingrid.Patch($"/api/leads/{lead.Id}", new { facts = new { city = "Bodø" } }, lead.Version),
            harald.Patch($"/api/leads/{lead.Id}", new { facts = new { city = "Oban" } }, lead.Version)
        );
        answers.Select(a => a.Status).Order().ShouldBe([HttpStatusCode.OK, HttpStatusCode.PreconditionFailed]);
        var winner = answers.Single(a => a.Status == HttpStatusCode.OK).Read<LeadSheet>();
        (await ingrid.Read<LeadSheet>($"/api/leads/{lead.Id}")).Facts.Single(f => f.Key == "city").Stored.ShouldBe(winner.Facts.Single(f => f.Key == "city").Stored);
    }

    [Theory]
    [InlineData("email", "nonsense", "email-unreadable")]
    [InlineData("sites", "many", "number-unreadable")]
    [InlineData("shoe_size", "44", "field-unknown")]
    public async Task ABadValueIsRefusedNextToItsField(string field, string value, string problem)
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var answer = await ingrid.Patch($"/api/leads/{await Id("state = 'in_work'")}", new { facts = new Dictionary<string, string> { [field] = value } });
        answer.Problem.ShouldBe(problem);
        JsonDocument.Parse(answer.Body).RootElement.GetProperty("field").GetString().ShouldBe(field);
    }

    [Fact]
    public async Task TheLastWayToReachALeadCannotBeEmptied()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var answer = await ingrid.Patch($"/api/leads/{await Id("phone is null and state = 'in_work'")}", new { facts = new { email = "" } });
        answer.Problem.ShouldBe("no-way-to-reach");
    }

    [Fact]
    public async Task ACapturedLeadIsRoutedAtOnceWithATaskAndAClock()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var made = (await ingrid.Post("/api/leads", Capture("new.one@captured.example"))).Read<LeadMade>();
        var sheet = await ingrid.Read<LeadSheet>($"/api/leads/{made.Id}");
        sheet.OwnerName.ShouldNotBeNull();
        sheet.Clock.ShouldNotBeNull();
        sheet.Tasks.ShouldHaveSingleItem().Subject.ShouldBe("First call");
        sheet.Routing!.Lines[^1].Hit.ShouldBeTrue();
        sheet.Story.ShouldContain(s => s.Text == "Rang about probes.");
    }

    [Fact]
    public async Task TheSamePersonCapturedTwiceEvenAtOnceIsOneLead()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var answers = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => ingrid.Post("/api/leads", Capture("twice@captured.example"))));
        answers.Count(a => a.Status == HttpStatusCode.Created).ShouldBe(1);
        answers.Where(a => a.Status != HttpStatusCode.Created).ShouldAllBe(a => a.Read<LeadMade>().Known!.StartsWith("Already lead", StringComparison.Ordinal));
        answers.Select(a => a.Read<LeadMade>().Id).Distinct().Count().ShouldBe(1);
    }

    [Fact]
    public async Task ALeadThatNoRuleFitsWaitsWithTheReasons()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var made = (await ingrid.Post("/api/leads", Capture("far@captured.example", "Japan"))).Read<LeadMade>();
        var sheet = await ingrid.Read<LeadSheet>($"/api/leads/{made.Id}");
        sheet.OwnerId.ShouldBeNull();
        sheet.Routing!.Lines[^1].Words.ShouldContain("waits on the Desk");
    }

    [Fact]
    public async Task ACallStopsTheClockAndOpeningThePageDoesNot()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var made = (await ingrid.Post("/api/leads", Capture("clock@captured.example"))).Read<LeadMade>();
        (await ingrid.Read<LeadSheet>($"/api/leads/{made.Id}")).Clock.ShouldNotBeNull();
        var called = (await ingrid.Post($"/api/leads/{made.Id}/touches", new { kind = "call", text = "Talked." })).Read<LeadSheet>();
        called.Clock.ShouldBeNull();
        called.State.ShouldBe("in_work");
        called.Score.EngagementReasons.ShouldContain(r => r.Label == "Call reached, today");
    }

    [Fact]
    public async Task QualifiedNeedsTheThresholdThatIsWrittenDown()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var id = await Id("state = 'in_work' and qualification = '{}'");
        (await ingrid.Put($"/api/leads/{id}/state", new { state = "qualified" })).Problem.ShouldBe("not-qualified");
        var sure = new { certainty = "confirmed", evidence = "said so" };
        await ingrid.Put(
            $"/api/leads/{id}/qualification",
            new
            {
                findings = new
                {
                    need = sure,
                    budget = sure,
                    authority = sure,
                    timing = new { certainty = "unknown", evidence = "" },
                },
            }
        );
        (await ingrid.Put($"/api/leads/{id}/state", new { state = "qualified" })).Read<LeadSheet>().State.ShouldBe("qualified");
    }

    [Fact]
    public async Task ARepWorksOnlyOwnLeads()
    {
        var tor = await _server.SignIn("tor.vik");
        var others = await Id($"state = 'in_work' and owner_id <> '{tor.Session.Id}'");
        (await tor.Patch($"/api/leads/{others}", new { facts = new { city = "Bodø" } })).Problem.ShouldBe("not-yours");
        (await tor.Post($"/api/leads/{others}/touches", new { kind = "note", text = "x" })).Problem.ShouldBe("not-yours");
        var own = await Id($"state = 'in_work' and owner_id = '{tor.Session.Id}'");
        (await tor.Post($"/api/leads/{own}/touches", new { kind = "note", text = "x" })).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task ALeadGivenByHandGetsAFreshClockAndTaskAndItsStorySaysSo()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var people = await ingrid.Read<List<PersonView>>("/api/people");
        var made = (await ingrid.Post("/api/leads", Capture("given@captured.example", "Japan"))).Read<LeadMade>();
        var given = (await ingrid.Put($"/api/leads/{made.Id}/owner", new { owner = people[0].Id })).Read<LeadSheet>();
        given.OwnerName.ShouldBe(people[0].Name);
        given.Clock.ShouldNotBeNull();
        given.Tasks.ShouldHaveSingleItem();
        given.Story[0].Text.ShouldBe($"Given to {people[0].Name} by hand");
    }

    [Fact]
    public async Task TheCompanyDirectoryFillsBlanksWhenAskedAndNothingThatIsKnown()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        var made = (await ingrid.Post("/api/leads", Capture("lookup@holmboe-hav.example", "Norway"))).Read<LeadMade>();
        (await ingrid.Patch($"/api/leads/{made.Id}", new { facts = new { employees = "", industry = "Port or harbour" } })).Status.ShouldBe(HttpStatusCode.OK);
        (await ingrid.Post($"/api/leads/{made.Id}/look-up")).Read<FilledView>().Fields.ShouldContain("Employees");
        var lead = await ingrid.Read<LeadSheet>($"/api/leads/{made.Id}");
        var facts = lead.Facts.ToDictionary(f => f.Key);
        (facts["employees"].Value, facts["employees"].From, facts["industry"].Value).ShouldBe(("55", "the company directory", "Port or harbour"));
        lead.Story[0].Text.ShouldStartWith("Filled from the company directory: ");
        (await ingrid.Post($"/api/leads/{made.Id}/look-up")).Read<FilledView>().Fields.ShouldBeEmpty();
    }
}
