using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Deals;
using DapperLantern.App.Handover;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Routing;
using DapperLantern.App.Tests.Routing;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Qualifying;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Setup;

/// <summary>What cannot be taken is refused with a reason of its own and a sentence, and nothing is other than before.</summary>
public sealed class RefusalTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private static readonly Guid Nobody = Guid.NewGuid();
    private static readonly string Long = new('x', 4001);
    private static readonly DateTime Soon = DateTime.UtcNow.AddDays(2);

    private TestClient _ingrid = null!;
    private readonly List<string> _odd = [];

    public async ValueTask InitializeAsync() => _ingrid = await fixture.Server.SignIn("ingrid.brekke");

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task Refused(string problem, string method, string path, object? body = null, TestClient? who = null)
    {
        var answer = await (who ?? _ingrid).Ask(method, path, body);
        if ((int)answer.Status is < 400 or > 499 || answer.Problem != problem || answer.Sentence is not { Length: > 10 } said || said[^1] is not ('.' or '!' or '?'))
            _odd.Add($"{method} {path}: wanted {problem}, got {(int)answer.Status} {answer.Body}");
    }

    // Those of its lines that people write; what was counted lies beside them.
    private const string Said = "(select * from setup_entry where key in ('value-lists', 'custom-fields', 'step-plans'))";

    // What these requests would have written to; what processes in the background write is left out.
    private Task<string> Kept() =>
        fixture.Server.Scalar<string>(
            string.Join(
                    " || ",
                    new[]
                    {
                        "absence",
                        "account",
                        "account_address",
                        "campaign",
                        "campaign_cost",
                        "contact",
                        "contact_account",
                        "deal",
                        "import",
                        "edition",
                        "form",
                        "holiday",
                        "holiday_calendar",
                        "meeting",
                        "person",
                        "pipeline",
                        "resource",
                        "setup_entry",
                        "source",
                        "stage",
                        "story_entry",
                        "tag",
                        "task",
                        "team",
                        "turn",
                    }.Select(t =>
                        $"(select concat('{t} ', md5(coalesce(string_agg(md5(to_jsonb(x)::text), '' order by md5(to_jsonb(x)::text)), '')), E'\\n') from {(t == "setup_entry" ? Said : t)} x)"
                    )
                )
                .Insert(0, "select ")
        );

    private async Task NothingIsWritten(Func<Task> asks)
    {
        var before = await Kept();
        await asks();
        _odd.ShouldBeEmpty();
        (await Kept()).Split('\n').Except(before.Split('\n')).ShouldBeEmpty();
    }

    [Fact]
    public async Task OfTheStaff()
    {
        var m = (await _ingrid.Read<StaffView>("/api/staff")).People[0];
        var order = StaffTests.Order(m);
        var today = DateOnly.FromDateTime(DateTime.UtcNow);
        await NothingIsWritten(async () =>
        {
            var person = $"/api/staff/people/{m.Id}";
            await Refused("number-range", "PUT", person, order with { CapacityToday = 1001 });
            await Refused("language-not-listed", "PUT", person, order with { Languages = ["xx"] });
            await Refused("skill-unknown", "PUT", person, order with { Skills = ["juggling"] });
            await Refused("place-unknown", "PUT", person, order with { Serves = ["ZZ-1"] });
            await Refused("not-found", "PUT", $"/api/staff/people/{Nobody}", order);
            await Refused("not-found", "PUT", person, order with { Holidays = "none-such" });
            await Refused("name-missing", "POST", "/api/staff/teams", new TeamOrder(" ", false, []));
            await Refused("name-missing", "POST", "/api/staff/teams", new TeamOrder("…", false, []));
            await Refused("team-exists", "POST", "/api/staff/teams", new TeamOrder("Iberia", false, []));
            await Refused("at-place", "PUT", "/api/staff/teams/iberia", new TeamOrder("Iberia", false, [new PlaceOrder(m.Id, 0)]));
            await Refused("place-twice", "PUT", "/api/staff/teams/iberia", new TeamOrder("Iberia", false, [new PlaceOrder(m.Id, 1), new PlaceOrder(m.Id, 2)]));
            await Refused("not-found", "PUT", "/api/staff/teams/river", new TeamOrder("River", false, []));
            await Refused("absence-range", "POST", "/api/staff/absences", new AbsenceOrder(m.Id, today, today.AddDays(-1), null));
            await Refused("absence-range", "POST", "/api/staff/absences", new AbsenceOrder(m.Id, today, today.AddDays(400), null));
            await Refused("stand-in-self", "POST", "/api/staff/absences", new AbsenceOrder(m.Id, today, today, m.Id));
            await Refused("too-long", "POST", "/api/staff/absences", new AbsenceOrder(m.Id, today, today, null, Long));
            await Refused("not-found", "POST", "/api/staff/absences", new AbsenceOrder(Nobody, today, today, null));
            await Refused("not-found", "DELETE", $"/api/staff/absences/{Nobody}");
            await Refused("skill-unfit", "PUT", "/api/staff/skills", new[] { new { key = "two words", name = "Two words" } });
            await Refused("name-missing", "POST", "/api/staff/calendars?name=%20", "BEGIN:VCALENDAR");
            await Refused("calendar-other", "POST", "/api/staff/calendars?name=Days", "no calendar");
            await Refused("not-found", "DELETE", "/api/staff/calendars/none-such");
        });
    }

    [Fact]
    public async Task OfNextStepsAndMeetings()
    {
        var lead = await _ingrid.MakeLead("Avslag", "Portugal");
        var sten = await fixture.Server.SignIn("sten.lindmark");
        await _ingrid.Post($"/api/leads/{lead}/tasks", new TaskWrite("Ingrid's own", Soon));
        var task = await fixture.Server.Scalar<Guid>($"select id from task where lead_id = '{lead}' and subject = 'Ingrid''s own'");
        await NothingIsWritten(async () =>
        {
            var tasks = $"/api/leads/{lead}/tasks";
            await Refused("subject-missing", "POST", tasks, new TaskWrite(" ", Soon));
            await Refused("due-range", "POST", tasks, new TaskWrite("Call", Soon.AddYears(6)));
            await Refused("repeat-unknown", "POST", tasks, new TaskWrite("Call", Soon, Repeat: "often"));
            await Refused("owner-unknown", "POST", tasks, new TaskWrite("Call", Soon, Nobody));
            await Refused("not-found", "POST", $"/api/leads/{Nobody}/tasks", new TaskWrite("Call", Soon));
            await Refused("not-found", "POST", $"/api/leads/{lead}/steps", new StepsOrder("none-such"));
            await Refused("subject-missing", "PUT", $"/api/tasks/{task}", new TaskWrite("", Soon));
            await Refused("not-yours", "PUT", $"/api/tasks/{task}", new TaskWrite("Mine now", Soon), sten);
            await Refused("not-yours", "DELETE", $"/api/tasks/{task}", null, sten);
            await Refused("not-yours", "POST", $"/api/tasks/{task}/done", null, sten);
            await Refused("not-found", "PUT", $"/api/tasks/{Nobody}", new TaskWrite("Call", Soon));
            await Refused("not-found", "DELETE", $"/api/tasks/{Nobody}");
            await Refused("not-found", "DELETE", $"/api/tasks/{Nobody}/done");
            var plan = new StepPlan("a", "A", [new PlannedStep("Call", 1)]);
            async Task Plans(string problem, params StepPlan[] plans) => await Refused(problem, "PUT", "/api/step-plans", plans);
            await Plans("plan-unfit", plan with { Label = " " });
            await Plans("plan-unfit", plan with { Steps = [] });
            await Plans("at-place", plan with { Steps = [new PlannedStep("Call", 731)] });
            await Plans("plan-twice", plan, plan);

            var (meetings, good) = ($"/api/leads/{lead}/meetings", new MeetingWrite("Walk round the cages", Soon, Soon.AddHours(1)));
            await Refused("subject-missing", "POST", meetings, good with { Subject = "" });
            await Refused("meeting-span", "POST", meetings, good with { EndsAt = Soon });
            await Refused("meeting-span", "POST", meetings, good with { EndsAt = Soon.AddDays(15) });
            await Refused("too-long", "POST", meetings, good with { Goal = Long });
            await Refused("list-too-long", "POST", meetings, good with { Guests = [.. Enumerable.Repeat("Ragna", 31)] });
            await Refused("person-unknown", "POST", meetings, good with { People = [Nobody] });
            await Refused("resource-unknown", "POST", meetings, good with { Resources = ["submarine"] });
            await Refused("not-found", "PUT", $"/api/meetings/{Nobody}", good);
            await Refused("number-range", "PUT", $"/api/meetings/{Nobody}/result", new MeetingResult("Well", 6));
            await Refused("text-missing", "PUT", $"/api/meetings/{Nobody}/result", new MeetingResult(" "));
            await Refused("not-found", "PUT", $"/api/meetings/{Nobody}/result", new MeetingResult("Well"));
            await Refused("not-found", "DELETE", $"/api/meetings/{Nobody}");
            await Refused("name-missing", "PUT", "/api/resources/van", new ResourceView("van", " ", false));
        });
    }

    [Fact]
    public async Task OfCampaignsAndForms()
    {
        var there = await fixture.Server.Scalar<string>("select name from campaign order by key limit 1");
        var campaign = await fixture.Server.Scalar<string>("select key from campaign order by key limit 1");
        var form = await fixture.Server.Scalar<string>("select key from form order by key limit 1");
        var good = new CampaignOrder("Ice week", "webinar", new DateOnly(2026, 11, 1), new DateOnly(2026, 11, 5));
        var cost = new NewCost(Guid.NewGuid(), new DateOnly(2026, 11, 1), "Hall", 100);
        await NothingIsWritten(async () =>
        {
            await Refused("name-missing", "POST", "/api/campaigns", good with { Name = "…" });
            await Refused("kind-unknown", "POST", "/api/campaigns", good with { Kind = "circus" });
            await Refused("date-range", "POST", "/api/campaigns", good with { Starts = new DateOnly(1980, 1, 1) });
            await Refused("ends-first", "POST", "/api/campaigns", good with { Ends = new DateOnly(2026, 10, 1) });
            await Refused("number-range", "POST", "/api/campaigns", good with { Budget = -1 });
            await Refused("number-range", "POST", "/api/campaigns", good with { Target = 0 });
            await Refused("too-long", "POST", "/api/campaigns", good with { About = Long });
            await Refused("owner-unknown", "POST", "/api/campaigns", good with { Owner = Nobody });
            await Refused("campaign-exists", "POST", "/api/campaigns", good with { Name = there.ToUpperInvariant() });
            await Refused("stale", "PUT", $"/api/campaigns/{campaign}", good);
            await Refused("not-found", "PUT", "/api/campaigns/none-such", good);
            await Refused("not-found", "GET", "/api/campaigns/none-such");
            await Refused("what-missing", "POST", $"/api/campaigns/{campaign}/costs", cost with { What = " " });
            await Refused("cost-unfit", "POST", $"/api/campaigns/{campaign}/costs", cost with { Amount = 0 });
            await Refused("cost-unfit", "POST", $"/api/campaigns/{campaign}/costs", cost with { Amount = 1.005m });
            await Refused("date-range", "POST", $"/api/campaigns/{campaign}/costs", cost with { SpentOn = new DateOnly(2300, 1, 1) });
            await Refused("not-found", "POST", "/api/campaigns/none-such/costs", cost);

            var settings = new
            {
                name = "Survey",
                eventKind = "form.other",
                campaign = (string?)null,
            };
            await Refused("name-missing", "POST", "/api/forms", new { name = " " });
            await Refused("not-found", "GET", "/api/forms/none-such");
            await Refused("version-missing", "PUT", $"/api/forms/{form}/draft", (await _ingrid.Read<App.Intake.Forms.FormView>($"/api/forms/{form}")).Draft);
            await Refused("too-long", "PUT", $"/api/forms/{form}/settings", settings with { name = Long });
            await Refused("name-missing", "PUT", $"/api/forms/{form}/settings", settings with { name = " " });
            await Refused("campaign-unknown", "PUT", $"/api/forms/{form}/settings", settings with { campaign = "none-such" });
            await Refused("kind-unknown", "PUT", $"/api/forms/{form}/settings", settings with { eventKind = "form.circus" });
            await Refused("not-found", "PUT", "/api/forms/none-such/settings", settings);
            await Refused("not-found", "POST", "/api/forms/none-such/publish");
            await Refused("not-found", "PUT", "/api/forms/none-such/paused", new { paused = true });
            await Refused("not-found", "POST", $"/api/forms/{form}/editions/99/draft");
        });
    }

    [Fact]
    public async Task OfALists()
    {
        var sieve = (await _ingrid.Drop("avslag.csv", "Last name,Mail,City\nSollid,avslag@sollid.example,Bergen\n"u8.ToArray())).Read<SieveView>();
        for (var i = 0; i < 300 && sieve.Import.State == Import.Sifting; i++)
        {
            await Task.Delay(100);
            sieve = await _ingrid.Read<SieveView>($"/api/imports/{sieve.Import.Id}");
        }
        var reading = new
        {
            encoding = sieve.Reading.Encoding,
            separator = sieve.Reading.Separator,
            sheet = "",
            headingRow = (int?)1,
        };
        ColumnChange[] columns = [.. sieve.Matching.Select(c => new ColumnChange(c.Target ?? ""))];
        var terms = new TermsChange(sieve.Import.Source, sieve.Constants, sieve.Policies);
        var rep = await fixture.Server.Scalar<Guid>("select person_id from turn order by team_key, position limit 1");
        var path = $"/api/imports/{sieve.Import.Id}";
        await NothingIsWritten(async () =>
        {
            await Refused("encoding-unknown", "PUT", $"{path}/reading", reading with { encoding = "morse" });
            await Refused("separator-unfit", "PUT", $"{path}/reading", reading with { separator = "ab" });
            await Refused("number-range", "PUT", $"{path}/reading", reading with { headingRow = 1001 });
            await Refused("targets-count", "PUT", $"{path}/matching", new MatchingChange(columns[1..]));
            await Refused("country-unknown", "PUT", $"{path}/matching", new MatchingChange(columns, "ZZ"));
            await Refused("field-unknown", "PUT", $"{path}/matching", new MatchingChange([new ColumnChange("shoe_size"), .. columns[1..]]));
            await Refused("target-twice", "PUT", $"{path}/matching", new MatchingChange([new ColumnChange("company"), new ColumnChange("company"), .. columns[2..]]));
            await Refused("source-unknown", "PUT", $"{path}/terms", terms with { Source = "none-such" });
            async Task Constants(string problem, ImportConstants constants) => await Refused(problem, "PUT", $"{path}/terms", terms with { Constants = constants });
            await Constants("campaign-unknown", new ImportConstants("none-such"));
            await Constants("response-unknown", new ImportConstants(Response: "yawned"));
            await Constants("owner-and-team", new ImportConstants(Owner: rep, Team: "iberia"));
            await Constants("worker-unknown", new ImportConstants(Owner: Nobody));
            await Constants("team-unknown", new ImportConstants(Team: "river"));
            await Constants("consent-incomplete", new ImportConstants(Consent: new ConsentGiven("news", " ", Soon)));
            await Constants("tag-unknown", new ImportConstants(Tags: ["none-such"]));
            await Refused(
                "field-unknown",
                "PUT",
                $"{path}/terms",
                terms with
                {
                    Policies = new ImportPolicies(Fields: System.Collections.Immutable.ImmutableDictionary<string, MergePolicy>.Empty.Add("shoe_size", MergePolicy.FillBlanks)),
                }
            );
            await Refused("not-taken", "POST", $"{path}/take-back");
            foreach (var (method, what) in new[] { ("POST", "take-in"), ("POST", "take-back"), ("POST", "try-again") })
                await Refused("not-found", method, $"/api/imports/{Nobody}/{what}");
            await Refused("not-found", "PUT", $"/api/imports/{Nobody}/matching", new MatchingChange(columns));
        });
    }

    [Fact]
    public async Task OfAccountsContactsAndDuplicates()
    {
        var account = await fixture.Server.Scalar<Guid>("select id from account order by name limit 1");
        var contact = await fixture.Server.Scalar<Guid>("select id from contact order by name limit 1");
        await NothingIsWritten(async () =>
        {
            await Refused("name-missing", "POST", "/api/accounts", new NewAccount(" "));
            await Refused("country-unknown", "POST", "/api/accounts", new NewAccount("Laks", Country: "Atlantis"));
            await Refused("name-missing", "PATCH", $"/api/accounts/{account}", new AccountChange(" "));
            await Refused("kind-unknown", "PATCH", $"/api/accounts/{account}", new AccountChange(Kinds: ["ghost"]));
            await Refused("segment-unknown", "PATCH", $"/api/accounts/{account}", new AccountChange(Segments: ["ghost"]));
            await Refused("owner-unknown", "PATCH", $"/api/accounts/{account}", new AccountChange(Owner: Nobody));
            await Refused("account-unknown", "PATCH", $"/api/accounts/{account}", new AccountChange(Parent: Nobody));
            await Refused("not-found", "PATCH", $"/api/accounts/{Nobody}", new AccountChange("Laks"));
            await Refused("not-found", "GET", $"/api/accounts/{Nobody}");
            await Refused("kind-unknown", "PATCH", $"/api/contacts/{contact}", new { kind = "ghost" });
            await Refused("owner-unknown", "PATCH", $"/api/contacts/{contact}", new { owner = Nobody });
            await Refused("account-unknown", "PATCH", $"/api/contacts/{contact}", new { account = Nobody });
            await Refused("contact-unknown", "PATCH", $"/api/contacts/{contact}", new { reportsTo = Nobody });
            await Refused("not-found", "PATCH", $"/api/contacts/{Nobody}", new { kind = "" });
            await Refused("not-found", "GET", $"/api/contacts/{Nobody}");
            foreach (var (method, path) in new[] { ("GET", ""), ("POST", "/merge"), ("POST", "/distinct"), ("POST", "/ask") })
                await Refused("not-found", method, $"/api/duplicates/{Nobody}{path}", method == "POST" ? new { } : null);
            await Refused("not-found", "POST", $"/api/merges/{Nobody}/take-apart");
        });
    }

    [Fact]
    public async Task OfPipelinesAndSheets()
    {
        var pipeline = (await _ingrid.Read<PipelineSetups>("/api/setup/pipelines")).Pipelines[0];
        var good = new PipelineWrite(pipeline.Name, pipeline.NameForm, pipeline.UsualDays, pipeline.Currency, pipeline.Questions, pipeline.Threshold, pipeline.Stages);
        var (path, first) = ($"/api/setup/pipelines/{pipeline.Key}", pipeline.Stages[0]);
        var lead = await _ingrid.MakeLead("Ark", "Japan");
        await NothingIsWritten(async () =>
        {
            await Refused("name-missing", "POST", "/api/setup/pipelines", new { label = "…" });
            await Refused("pipeline-exists", "POST", "/api/setup/pipelines", new { label = pipeline.Key });
            await Refused("name-missing", "POST", $"{path}/stages", new { label = " " });
            await Refused("not-found", "POST", "/api/setup/pipelines/none-such/stages", new { label = "Trial" });
            await Refused("not-found", "PUT", "/api/setup/pipelines/none-such", good);
            await Refused("name-missing", "PUT", path, good with { Name = " " });
            await Refused("number-range", "PUT", path, good with { UsualDays = -1 });
            await Refused("currency-unfit", "PUT", path, good with { Currency = "euro" });
            await Refused("question-unfit", "PUT", path, good with { Questions = [new Question("q", " ", "")] });
            await Refused("condition-unreadable", "PUT", path, good with { Threshold = "{" });
            await Refused("condition-unreadable", "PUT", path, good with { Threshold = "null" });
            await Refused("field-unknown", "PUT", path, good with { Threshold = """{"field":"shoe_size","is":"known","values":[]}""" });
            await Refused("stages-missing", "PUT", path, good with { Stages = [first] });
            await Refused("name-missing", "PUT", path, good with { Stages = [first with { Name = " " }, .. good.Stages.Skip(1)] });
            await Refused("at-place", "PUT", path, good with { Stages = [first with { Probability = 101 }, .. good.Stages.Skip(1)] });
            await Refused("stage-unfit", "PUT", path, good with { Stages = [first with { Colour = "puce" }, .. good.Stages.Skip(1)] });
            await Refused("stage-twice", "PUT", path, good with { Stages = [first, .. good.Stages] });

            await Refused("not-found", "GET", "/api/routing/editions/99");
            await Refused("not-found", "GET", "/api/routing/editions/99/file");
            await Refused("form-unknown", "GET", "/api/routing/editions/1/file?form=xls");
            await Refused("not-found", "POST", "/api/routing/editions/99/publish");
            await Refused("version-missing", "POST", "/api/routing/publish");
            await Refused("version-missing", "POST", "/api/scoring/publish");
            await Refused(
                "list-null",
                "POST",
                "/api/routing/check",
                new
                {
                    columns = Array.Empty<string>(),
                    rules = new object?[] { null },
                    answerWithinMinutes = 60,
                    task = "Call",
                }
            );
            await Refused("owner-none", "POST", $"/api/leads/{lead}/give-back", new { reason = "No room" });
            await Refused("not-found", "POST", $"/api/leads/{Nobody}/take");
            await Refused("not-found", "GET", $"/api/leads/{lead}/routing/why-not?person={Nobody}");
        });
    }
}
