using System.Net;
using Dapper;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Routing;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Routing;

/// <summary>Rule sheets drafted, checked, tried, published and gone back from, over the demo's staff and leads. Each test leaves no draft behind.</summary>
public sealed class SheetTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _ingrid = null!;

    public async ValueTask InitializeAsync() => _ingrid = await fixture.Server.SignIn("ingrid.brekke");

    public async ValueTask DisposeAsync() => await _ingrid.Delete("/api/routing/draft");

    private Task<RoutingView> Now() => _ingrid.Read<RoutingView>("/api/routing");

    private static string Json<T>(T value) => DapperLantern.App.Data.Json.Write(value);

    private static Rule Rule(string key, Condition when, RuleOutcome to) => new(key, key, when, to);

    private static Condition In(string field, params string[] values) => Condition.Where(field, TestOperator.In, values);

    private async Task<CheckView> Check(RuleSheet sheet) => (await _ingrid.Post("/api/routing/check", sheet)).Read<CheckView>();

    private Task<Guid> Lead(string name, string country) => _ingrid.MakeLead(name, country);

    [Fact]
    public async Task TheShippedSheetCanGoLiveAndHasNothingThatIsNeverReached()
    {
        var check = await Check((await Now()).Live.Sheet);
        check.Whole.ShouldBeTrue();
        check.Findings.Where(f => f.Blocks || f.Problem.Code == "rule-covered").ShouldBeEmpty();
    }

    [Fact]
    public async Task ARuleBehindTheOneThatCoversItIsSaidOnItsRow()
    {
        var sheet = (await Now()).Live.Sheet;
        var check = await Check(sheet with { Rules = sheet.Rules.Add(Rule("late", In("country", "DE"), new RuleOutcome(Team: "iberia"))) });
        var finding = check.Findings.Single(f => f.Problem.Code == "rule-covered");
        finding.Problem.Path.ShouldBe($"rules/{sheet.Rules.Length}");
        sheet.Rules[finding.Others.Single()].Key.ShouldBe("rhine");
    }

    [Fact]
    public async Task AHoleCountsTheLeadsThatFellInIt()
    {
        var sheet = (await Now()).Live.Sheet;
        var holes = (await _ingrid.Post("/api/routing/check/holes", sheet)).Read<List<HoleView>>();
        holes.ShouldNotBeEmpty();
        await using var connection = await fixture.Server.Connect();
        var recent = await connection.QuerySingleAsync<int>("select count(*)::int from lead where created_at > now() - interval '90 days'");
        // A sheet without rules is one hole with everybody in it.
        var all = (await _ingrid.Post("/api/routing/check/holes", sheet with { Rules = [] })).Read<List<HoleView>>();
        all.ShouldHaveSingleItem().Leads.ShouldBe(recent);
        (await Check(sheet with { Rules = sheet.Rules.Add(Rule("rest", Condition.Always, new RuleOutcome(Hold: "the rest"))) })).Holes.ShouldBeEmpty();
    }

    [Fact]
    public async Task ASheetIsDraftedPublishedRoutesAndIsGoneBackFrom()
    {
        var before = await Now();
        var sheet = before.Live.Sheet with
        {
            Rules = before.Live.Sheet.Rules.Insert(
                0,
                Rule("pt", In("country", "PT"), new RuleOutcome(Person: "sten.lindmark")) with
                {
                    Task = "Call Lisbon",
                    AnswerWithinMinutes = 30,
                }
            ),
        };
        var draft = (await _ingrid.Put("/api/routing/draft", new SheetOrder(sheet, "Portugal goes north"), 0)).Read<DraftSheet>();
        draft.Shown.Words[0].To.ShouldBe("Sten Lindmark");
        var live = (await _ingrid.Post("/api/routing/publish", version: draft.Version)).Read<RoutingView>();
        (live.Edition, live.Draft).ShouldBe((draft.Number, null));

        var lead = await Lead("Trocatudo", "Portugal");
        await using var connection = await fixture.Server.Connect();
        var task = await connection.QuerySingleAsync<string>("select subject from task where lead_id = @lead", new { lead });
        task.ShouldBe("Call Lisbon");
        var decision = (await _ingrid.Read<List<DecisionView>>($"/api/leads/{lead}/routing")).ShouldHaveSingleItem();
        (decision.Edition, decision.Owner).ShouldBe((draft.Number, "Sten Lindmark"));
        decision.Lines.Select(l => l.Words).ShouldBe(["Rule 1, pt, fits (country Portugal).", "To Sten Lindmark."]);

        var backs = await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => _ingrid.Post($"/api/routing/editions/{before.Edition}/publish")));
        var back = backs.Select(b => b.Read<RoutingView>()).DistinctBy(b => b.Edition).ShouldHaveSingleItem();
        back.Edition.ShouldBe(draft.Number + 1);
        Json(back.Live.Sheet).ShouldBe(Json(before.Live.Sheet));
        // What it was decided by then is told by the sheet of then.
        (await _ingrid.Read<List<DecisionView>>($"/api/leads/{lead}/routing"))
            .Single()
            .Verdicts.Single()
            .Name.ShouldBe("pt");
    }

    [Fact]
    public async Task AFieldThatTheLiveSheetAsksStaysAndAnUrgentTaskStandsFirst()
    {
        (await _ingrid.Post("/api/custom-fields", new { label = "Berth", type = "yesNo" })).Status.ShouldBe(HttpStatusCode.Created);
        var before = await Now();
        var rule = Rule("berth", In("berth", "yes"), new RuleOutcome(Person: "sten.lindmark")) with { Task = "Ring at once", Urgent = true };
        var draft = (await _ingrid.Put("/api/routing/draft", new SheetOrder(before.Live.Sheet with { Rules = before.Live.Sheet.Rules.Insert(0, rule) }), 0)).Read<DraftSheet>();
        (await _ingrid.Post("/api/routing/publish", version: draft.Version)).Status.ShouldBe(HttpStatusCode.OK);
        var stays = await _ingrid.Delete("/api/custom-fields/berth");
        (stays.Status, stays.Problem).ShouldBe((HttpStatusCode.Conflict, "field-asked"));
        stays.Sentence.ShouldBe("This field is asked by the live rule sheet, so it stays.");

        var lead = await _ingrid.MakeLead("Kaiplass", "Portugal", ("berth", "yes"));
        var sten = await fixture.Server.SignIn("sten.lindmark");
        await sten.Post(
            $"/api/leads/{lead}/tasks",
            new
            {
                subject = "Before all others",
                dueAt = DateTime.UtcNow.AddMinutes(1),
                owner = (await sten.Read<SessionView>("/api/session")).Id,
            }
        );
        var tasks = (await sten.Read<LeadSheet>($"/api/leads/{lead}")).Tasks;
        tasks.Select(t => (t.Subject, t.Urgent)).ShouldBe([("Ring at once", true), ("Before all others", false)]);
        (await _ingrid.Post("/api/bulk-edits", new { act = new { kind = "remove" }, leads = new[] { lead } })).Status.ShouldBe(HttpStatusCode.Accepted);
        await using var connection = await fixture.Server.Connect();
        for (var i = 0; i < 100 && await connection.QuerySingleAsync<bool>("select exists (select 1 from lead where id = @lead)", new { lead }); i++)
            await Task.Delay(50);

        await _ingrid.Post($"/api/routing/editions/{before.Edition}/publish");
        (await _ingrid.Delete("/api/custom-fields/berth")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await _ingrid.Post($"/api/routing/editions/{draft.Number}/publish")).Problem.ShouldBe("sheet-unfit");
    }

    [Fact]
    public async Task ARuleForQualificationGivesTheLeadOnAsItIsQualified()
    {
        var before = await Now();
        var sheet = before.Live.Sheet with
        {
            Moments = [RoutingMoment.Arrival, RoutingMoment.GivenBack, RoutingMoment.Qualified],
            Rules = before.Live.Sheet.Rules.Add(Rule("closer", Condition.Always, new RuleOutcome(Person: "sten.lindmark")) with { Moments = [RoutingMoment.Qualified] }),
        };
        var draft = (await _ingrid.Put("/api/routing/draft", new SheetOrder(sheet), 0)).Read<DraftSheet>();
        (await _ingrid.Post("/api/routing/publish", version: draft.Version)).Status.ShouldBe(HttpStatusCode.OK);
        var lead = await Lead("Qualificado", "Portugal");
        var sure = new { certainty = "confirmed", evidence = "said so" };
        await _ingrid.Put(
            $"/api/leads/{lead}/qualification",
            new
            {
                findings = new
                {
                    need = sure,
                    budget = sure,
                    authority = sure,
                    timing = sure,
                },
            }
        );
        (await _ingrid.Put($"/api/leads/{lead}/state", new { state = "qualified" })).Status.ShouldBe(HttpStatusCode.OK);
        var decisions = await _ingrid.Read<List<DecisionView>>($"/api/leads/{lead}/routing");
        decisions.Select(d => (d.Moment, d.Owner == "Sten Lindmark")).ShouldBe([("qualified", true), ("arrival", false)]);
        await using var connection = await fixture.Server.Connect();
        (await connection.QuerySingleAsync<string>("select p.user_name from lead l join person p on p.id = l.owner_id where l.id = @lead", new { lead })).ShouldBe("sten.lindmark");
        (await _ingrid.Post($"/api/routing/editions/{before.Edition}/publish")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task ARuleForHandoverSaysWhoseTheDealIsAndTheLeadStaysWithWhomItIs()
    {
        var before = await Now();
        var sheet = before.Live.Sheet with
        {
            Moments = [RoutingMoment.Arrival, RoutingMoment.GivenBack, RoutingMoment.Handover],
            Guards = [],
            Rules = before.Live.Sheet.Rules.Add(Rule("keys", In("industry", "port"), new RuleOutcome(Person: "sten.lindmark")) with { Moments = [RoutingMoment.Handover] }),
        };
        var draft = (await _ingrid.Put("/api/routing/draft", new SheetOrder(sheet), 0)).Read<DraftSheet>();
        (await _ingrid.Post("/api/routing/publish", version: draft.Version)).Status.ShouldBe(HttpStatusCode.OK);
        await using var connection = await fixture.Server.Connect();
        var (meant, other) = (await _ingrid.MakeLead("Havnesjef", "Portugal", ("industry", "Port or harbour")), await _ingrid.MakeLead("Annen", "Portugal"));
        foreach (var lead in new[] { meant, other })
        {
            await connection.ExecuteAsync("update lead set state = 'qualified' where id = @lead", new { lead });
            var had = await connection.QuerySingleAsync<string>("select p.display_name from lead l join person p on p.id = l.owner_id where l.id = @lead", new { lead });
            var wanted = lead == meant ? "Sten Lindmark" : had;
            // Looking takes no turn and writes nothing; the sheet shows who it will be.
            var shown = await _ingrid.Read<HandoverPreview>($"/api/leads/{lead}/handover");
            shown.OwnerName.ShouldBe(wanted);
            (await connection.QuerySingleAsync<int>("select count(*)::int from routing_decision where lead_id = @lead and moment = 'handover'", new { lead })).ShouldBe(0);
            var proposal = shown.Proposals[0];
            var order = new HandoverOrder(null, false, null, [], proposal.Pipeline, proposal.Name, 1000, "EUR", proposal.ExpectedClose);
            var became = (await _ingrid.Post($"/api/leads/{lead}/handover", order)).Read<BecameView>();
            (
                await connection.QuerySingleAsync<string>("select p.display_name from deal d join person p on p.id = d.owner_id where d.id = @DealId", new { became.DealId })
            ).ShouldBe(wanted);
            (await connection.QuerySingleAsync<string>("select p.display_name from lead l join person p on p.id = l.owner_id where l.id = @lead", new { lead })).ShouldBe(had);
            // What was decided is kept with its reasons, as on arrival.
            var decided = (await _ingrid.Read<List<DecisionView>>($"/api/leads/{lead}/routing"))[0];
            (decided.Moment, decided.Owner).ShouldBe(("handover", wanted));
            if (lead == meant)
                decided.Lines[0].Words.ShouldContain("keys, fits (industry Port or harbour)");
        }
        await fixture.Server.Heard();
        (
            await connection.QuerySingleAsync<int>(
                "select count(*)::int from outbox o join person p on p.id = o.person_id where o.subject like 'New deal: %' and p.user_name = 'sten.lindmark'"
            )
        ).ShouldBe(1);
        (await _ingrid.Post($"/api/routing/editions/{before.Edition}/publish")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task EditionsAreListedAndReadAgainEach()
    {
        var editions = await _ingrid.Read<List<EditionLine>>("/api/routing/editions");
        editions.Select(e => e.Number).ShouldBe(editions.Select(e => e.Number).OrderDescending());
        editions.Count(e => e.State == "live").ShouldBe(1);
        foreach (var edition in editions)
        {
            var sheet = await _ingrid.Read<SheetView>($"/api/routing/editions/{edition.Number}");
            sheet.Words.Count().ShouldBe(sheet.Sheet.Rules.Length);
        }
    }

    [Fact]
    public async Task WhatCouldNotWorkIsKeptAsADraftAndCannotGoLive()
    {
        var sheet = (await Now()).Live.Sheet;
        var broken = sheet with
        {
            Rules =
            [
                Rule("gone", In("country", "NO"), new RuleOutcome(Person: "nobody.here")),
                Rule("field", Condition.Where("no_field", TestOperator.Known), new RuleOutcome(Team: "no-team")),
            ],
        };
        var draft = (await _ingrid.Put("/api/routing/draft", new SheetOrder(broken), 0)).Read<DraftSheet>();
        (await Check(broken))
            .Findings.Where(f => f.Blocks)
            .Select(f => $"{f.Problem.Path} {f.Problem.Code}")
            .ShouldBe(["rules/0/to person-gone", "rules/1 field-unknown", "rules/1/to team-gone"]);
        var refused = await _ingrid.Post("/api/routing/publish", version: draft.Version);
        (refused.Status, refused.Problem).ShouldBe((HttpStatusCode.UnprocessableEntity, "sheet-unfit"));
        (await Now()).Draft.ShouldNotBeNull();
    }

    [Fact]
    public async Task TwoWhoDraftAtOnceDoNotOverwriteEachOther()
    {
        var sheet = (await Now()).Live.Sheet;
        var answers = await Task.WhenAll(Enumerable.Range(0, 6).Select(i => _ingrid.Put("/api/routing/draft", new SheetOrder(sheet, $"Nr {i}"), 0)));
        answers.Count(a => a.Status == HttpStatusCode.OK).ShouldBe(1, string.Join("\n", answers.Select(a => a.Body)));
        answers.Count(a => a.Problem == "stale").ShouldBe(5);
    }

    [Theory]
    [InlineData("json")]
    [InlineData("dmn")]
    [InlineData("csv")]
    public async Task ASheetGoesOutAsAFileAndComesBackAsADraft(string form)
    {
        var routing = await Now();
        var file = (await _ingrid.Get($"/api/routing/editions/{routing.Edition}/file?form={form}")).Body;
        var answer = await _ingrid.PostText($"/api/routing/draft/file?form={form}", file, 0);
        answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
        var read = answer.Read<SheetImport>();
        read.Problems.ShouldBeEmpty();
        // A table of values holds the rules only.
        var shown =
            form == "csv"
                ? routing.Live.Sheet with
                {
                    Guards = read.Draft.Shown.Sheet.Guards,
                    Moments = read.Draft.Shown.Sheet.Moments,
                    Clock = read.Draft.Shown.Sheet.Clock,
                }
                : routing.Live.Sheet;
        Json(read.Draft.Shown.Sheet).ShouldBe(Json(shown));
        var garbage = await _ingrid.PostText($"/api/routing/draft/file?form={form}", "{ not that", read.Draft.Version);
        garbage.Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Now()).Draft!.Version.ShouldBe(read.Draft.Version);
    }

    [Fact]
    public async Task ACellOfAFileThatSaysSomethingElseIsNamedWithItsPlace()
    {
        var routing = await Now();
        var file = (await _ingrid.Get($"/api/routing/editions/{routing.Edition}/file?form=csv")).Body;
        var answer = await _ingrid.PostText("/api/routing/draft/file?form=csv", file.Replace("\"\"private\"\"", "private", StringComparison.Ordinal), 0);
        (answer.Status, answer.Problem).ShouldBe((HttpStatusCode.UnprocessableEntity, "cell-unreadable"));
        answer.Body.ShouldContain("line 2, industry");
    }

    private async Task<string> Everything()
    {
        await using var connection = await fixture.Server.Connect();
        return await connection.QuerySingleAsync<string>(
            """
            select concat((select count(*) from routing_decision), ' ', (select string_agg(t::text, '' order by t::text) from turn t), (select string_agg(l.id::text || l.version, '' order by l.id) from lead l),
              (select count(*) from outbox), (select count(*) from task))
            """
        );
    }

    [Fact]
    public async Task PlayingTheLastLeadsAgainCountsEachOnceAndWritesNothing()
    {
        var before = await Everything();
        var sheet = (await Now()).Live.Sheet;
        var play = (await _ingrid.Post("/api/routing/trial", new PlayOrder(sheet, 500))).Read<PlayView>();
        play.Leads.ShouldBe(500);
        (play.Hits.Sum() + play.Guarded + play.NoRule).ShouldBe(500);
        play.Shares.Sum(s => s.Now).ShouldBe(500 - play.NoRule - play.Held);
        play.Changes.Count.ShouldBe(Math.Min(play.Changed, Replay.MostChanges));

        var desk = (
            await _ingrid.Post("/api/routing/trial", new PlayOrder(sheet with { Rules = [Rule("all", Condition.Always, new RuleOutcome(Hold: "x"))], Guards = [] }, 500))
        ).Read<PlayView>();
        (desk.Held, desk.Shares.Sum(s => s.Now)).ShouldBe((500, 0));
        (await Everything()).ShouldBe(before);
    }

    [Fact]
    public async Task OneLeadIsTriedWithWordsForEveryRuleThatDoesNotFit()
    {
        var sheet = (await Now()).Live.Sheet;
        var tried = (
            await _ingrid.Post("/api/routing/try", new TryOrder(sheet, new Dictionary<string, string> { ["country"] = "Germany", ["industry"] = "Brewery" }))
        ).Read<TryView>();
        tried.Owner.ShouldBe("Katrin Oberholz");
        tried.Verdicts.Count(v => v.Failed is null).ShouldBe(1);
        tried.Verdicts[^1].Key.ShouldBe("rhine");
        tried.Lines[^1].Hit.ShouldBeTrue();
        var wrong = await _ingrid.Post("/api/routing/try", new TryOrder(sheet, new Dictionary<string, string> { ["country"] = "Atlantis" }));
        wrong.Problem.ShouldBe("country-unknown");
    }

    [Theory]
    [InlineData("tor.vik")]
    [InlineData("harald.quist")]
    public async Task OnlyWhoSetsUpChangesTheSheetOrTheStaff(string name)
    {
        var other = await fixture.Server.SignIn(name);
        var sheet = (await other.Read<RoutingView>("/api/routing")).Live.Sheet;
        (await other.Put("/api/routing/draft", new SheetOrder(sheet), 0)).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await other.Post("/api/routing/publish", version: 1)).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await other.Delete("/api/staff/teams/iberia")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await other.Get("/api/staff")).Status.ShouldBe(HttpStatusCode.OK);
    }
}
