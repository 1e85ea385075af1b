using System.Net;
using System.Text;
using DapperLantern.App.Deals;
using DapperLantern.App.Desk;
using DapperLantern.App.Handover;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.People;
using DapperLantern.App.Setup;
using DapperLantern.App.Starting;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;

namespace DapperLantern.App.Tests.Starting;

/// <summary>Each starting set: sound by itself, and used for a week by a made-up company.</summary>
public sealed class SetTests
{
    private const string Password = "seven quiet herons";

    public static TheoryData<string> Sets => [.. StartingSets.Keys];

    [Theory]
    [MemberData(nameof(Sets))]
    public void ASetIsSound(string key)
    {
        var set = StartingSets.Find(key, "PL")!;
        set.Key.ShouldBe(key);
        var lists = new Dictionary<string, System.Collections.Immutable.ImmutableArray<Choice>>(set.ValueLists)
        {
            ["source"] = [.. set.Sources.Select(s => new Choice(s.Key, s.Name))],
        };
        var catalogue = FieldCatalogue.Build(lists, set.CustomFields);
        var model = StartingDesk.Model(set);
        model.Fit.SelectMany(c => c.Lines).SelectMany(l => ConditionCheck.Check(l.When, catalogue)).ShouldBeEmpty();
        model.Fit.SelectMany(c => c.Lines).SelectMany(l => ConditionFields.Of(l.When)).ShouldContain("country");
        set.Sources.ShouldAllBe(s => s.EventKind == "other" || model.Engagement.Any(e => e.Kind == s.EventKind));
        set.Sources.ShouldAllBe(s => Ways.All.Any(w => w.Key == s.Way));
        set.Forms.ShouldAllBe(f => set.Sources.Any(s => s.Key == f.Source && s.Channel == "form"));
        set.Forms.SelectMany(f => FormCheck.Problems(f.Sheet, catalogue, [.. set.ValueLists[FieldCatalogue.Purposes].Select(p => p.Key)])).ShouldBeEmpty();
        set.Templates.ShouldAllBe(t => MessageTemplates.Wrong(t, catalogue) == null);
        set.Views.SelectMany(v => ConditionCheck.Check(v.Where, catalogue, ConditionReach.Database)).ShouldBeEmpty();
        set.Views.SelectMany(v => v.Columns).ShouldAllBe(c => catalogue.All.Any(f => f.Key == c));
        var rules = set.Rules.Rules;
        rules.SelectMany(r => ConditionCheck.Check(r.When, catalogue)).ShouldBeEmpty();
        rules.ShouldAllBe(r => set.Teams.Any(t => t.Key == r.To.Team));
        rules[^1].When.ShouldBeOfType<AllOf>().Parts.ShouldBeEmpty();
        set.Pipelines.ShouldAllBe(p => p.Stages.Count(s => s.Counts == "won") == 1 && p.Stages.Count(s => s.Counts == "lost") == 1 && p.Stages[0].Counts == "open");
    }

    [Theory]
    [MemberData(nameof(Sets))]
    public async Task AMadeUpCompanyWorksAWeekWithIt(string key)
    {
        await using var server = await TestServer.StartEmpty("--Reading:PeoplePerHour=100000");
        var company = await MadeUpCompany.Begin(server);
        await company.Sets(key);
        // Nothing has to be added by hand: every page of the set-up and of the day's work answers.
        foreach (
            var page in (string[])
                [
                    "line",
                    "desk",
                    "intake",
                    "views",
                    "scoring",
                    "routing",
                    "staff",
                    "deals",
                    "reports/sources",
                    "sources",
                    "handover",
                    "forms",
                    "setup/pipelines",
                    "message-templates",
                ]
        )
            (await company.Chief.Get($"/api/{page}")).Status.ShouldBe(HttpStatusCode.OK, page);

        // Monday: 200 rows, and a form.
        var sieve = await company.Import(Rows(key));
        sieve.State.ShouldBe("taken");
        (await server.Scalar<int>("select count(*)::int from lead")).ShouldBeGreaterThan(190);
        (await server.Scalar<int>("select count(*)::int from lead where owner_id is null")).ShouldBe(0);
        (await server.Scalar<int>("select count(distinct owner_id)::int from lead")).ShouldBe(3);
        (await server.Scalar<int>("select count(distinct fit)::int from lead")).ShouldBeGreaterThan(3);
        foreach (var form in StartingSets.Find(key, "PL")!.Forms)
            await company.Post(form);
        (await server.Scalar<int>("select count(*)::int from lead where source like 'form-%'")).ShouldBe(StartingSets.Find(key, "PL")!.Forms.Count);
        (await server.Scalar<int>("select count(*)::int from lead where source like 'form-%' and (owner_id is null or clock_due_at is null)")).ShouldBe(0);

        // Tuesday to Thursday: calls, qualifying, handover.
        var deals = new List<Guid>();
        foreach (var rep in company.Reps)
            deals.Add(await company.WorkOne(rep));
        // Friday: one is won, one lost, one goes on.
        var pipeline = StartingSets.Find(key, "PL")!.Pipelines[0];
        await company.Close(company.Reps[0], deals[0], "won");
        await company.Close(company.Reps[1], deals[1], "lost");
        (await company.Chief.Patch($"/api/deals/{deals[2]}", new { stage = pipeline.Stages[1].Key })).Status.ShouldBe(HttpStatusCode.OK);
        (await server.Scalar<string>("select string_agg(distinct currency, ',') from deal")).ShouldBe("PLN");
        (await company.Chief.Get("/api/reports/sources")).Status.ShouldBe(HttpStatusCode.OK);
        // A letter from the set's templates, and a lead that is not wanted, by one of the set's reasons.
        var other = await server.Scalar<Guid>($"select id from lead where state = 'new' and owner_id = '{company.Reps[0].Session.Id}' limit 1");
        (await company.Reps[0].Post($"/api/leads/{other}/messages/draft", new { template = "thanks" })).Status.ShouldBe(HttpStatusCode.OK);
        (await company.Reps[0].Put($"/api/leads/{other}/state", new { state = "disqualified", reason = "not_interested" })).Status.ShouldBe(HttpStatusCode.OK);
        (await server.Scalar<int>("select count(*)::int from due where problem is not null")).ShouldBe(0);
    }

    // Half of the rows of the set for both are organisations.
    private static byte[] Rows(string key)
    {
        var text = new StringBuilder("First name,Last name,Company,Job title,Employees,Email,Telephone,Postal code,City,Country,Interest\n");
        for (var i = 0; i < 200; i++)
        {
            var isOrganisation = key == "organisations" || key == "both" && i % 2 == 0;
            var name = $"{(char)('A' + i % 26)}bc{i}";
            var company = isOrganisation ? $"Zaklad {name}" : "";
            text.AppendLine(
                null,
                $"Jan{i},Nowak{name},{company},{(isOrganisation && i % 3 == 0 ? "Owner" : "")},{(isOrganisation ? $"{5 + i * 3}" : "")},jan{i}@{(isOrganisation ? $"zaklad{i}" : "post")}.example,,{(i % 4 == 0 ? "" : $"00-{i:000}")},Lublin,{(i % 5 == 0 ? "DE" : "PL")},{(i % 2 == 0 ? "A greenhouse" : "")}"
            );
        }
        return Encoding.UTF8.GetBytes(text.ToString());
    }

    /// <summary>A company that is not the demo, with a team of its own: an administrator, a manager, three reps.</summary>
    private sealed class MadeUpCompany(TestServer server, TestClient chief)
    {
        public TestClient Chief => chief;
        public List<TestClient> Reps { get; } = [];

        public static async Task<MadeUpCompany> Begin(TestServer server)
        {
            var chief = await server.First("Zofia Lipka", "zofia@lipka.example", "Europe/Warsaw");
            chief.Session.Begins.ShouldBeTrue();
            var named = new
            {
                name = "Lipka Szklarnie",
                street = "Ogrodowa 7",
                postalCode = "20-001",
                city = "Lublin",
                country = "PL",
                currency = "PLN",
                timeZone = "Europe/Warsaw",
                dates = "dayFirst",
                fiscalMonth = 1,
                taxNumber = "PL 000 000 00 00",
                colour = "#2F5D3A",
            };
            (await chief.Put("/api/setup/company", named, 0)).Status.ShouldBe(HttpStatusCode.OK);
            var company = new MadeUpCompany(server, chief);
            await company.Invite();
            return company;
        }

        private async Task Invite()
        {
            const string Text =
                "Name;Email;Role\nOla Sroka;ola@lipka.example;rep\nTomek Wilga;tomek@lipka.example;rep\nIga Czyz;iga@lipka.example;qualifier\nAdam Kos;adam@lipka.example;manager";
            var read = (await chief.Post("/api/setup/people/read", new { text = Text })).Read<List<PersonRead>>();
            read.ShouldAllBe(p => p.Problem == null);
            var orders = read.Select(p => new PersonOrder(p.Name, p.Email, [p.Role], "Europe/Warsaw", null, [])).ToList();
            foreach (var invited in (await chief.Post("/api/setup/people/several", new SeveralOrder(orders))).Read<List<Invited>>())
            {
                var client = new TestClient(server.Address);
                (await client.WayIn(invited.Link.Address, new { password = Password })).Status.ShouldBe(HttpStatusCode.NoContent);
                if (client.Session.Role != "Manager")
                    Reps.Add(client);
            }
        }

        public async Task Sets(string key)
        {
            (await chief.Put("/api/start/ways", new { ways = Ways.All.Select(w => w.Key) })).Status.ShouldBe(HttpStatusCode.OK);
            var start = (await chief.Post("/api/start/set", new { set = key, teams = new { } })).Read<StartView>();
            start.Set.ShouldBe(key);
            start.Steps.Where(s => s.Done).Select(s => s.Key).ShouldBe(["company", "people", "ways", "set"]);
        }

        public async Task<ImportView> Import(byte[] rows)
        {
            var dropped = (await chief.SendFile("/api/imports", "klienci.csv", rows)).Read<SieveView>();
            var source = dropped.Choices.Sources.First(s => s.Key == "list-bought").Key;
            (await chief.Put($"/api/imports/{dropped.Import.Id}/terms", new TermsChange(source, dropped.Constants, dropped.Policies))).Status.ShouldBe(HttpStatusCode.OK);
            return (await chief.Post($"/api/imports/{dropped.Import.Id}/take-in")).Read<ImportView>();
        }

        /// <summary>Fills a form in as a visitor would, a little after the page was opened.</summary>
        public async Task Post(SetForm form)
        {
            using var visitor = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false });
            var page = await visitor.GetStringAsync($"{server.Address}/f/{form.Key}");
            page.ShouldContain("Lipka Szklarnie");
            page.ShouldContain(form.Sheet.Text.Title);
            var answers = form.Sheet.Fields.ToDictionary(f => f.Key, f => Answer(f.Key, form.Key));
            foreach (var consent in form.Sheet.Consents.Where(c => c.Required))
                answers[FormReader.ConsentName(consent.Purpose)] = "yes";
            answers["_t"] = server.SealOfPage();
            using var posted = await visitor.PostAsync($"{server.Address}/f/{form.Key}", new FormUrlEncodedContent(answers));
            posted.StatusCode.ShouldBe(HttpStatusCode.SeeOther, await posted.Content.ReadAsStringAsync());
        }

        private static string Answer(string field, string form) =>
            field switch
            {
                "email" => $"ewa@{form}-works.example",
                "phone" => $"+48 22 123 45 {10 + form.Length}",
                "country" => "PL",
                "best_time" => "evening",
                "needed_by" => "2027-05-01",
                "employees" => "40",
                "first_name" => form == "contact" ? "Beata" : "Ewa",
                "last_name" => form switch
                {
                    "contact" => "Gołąb",
                    "offer" => "Jaworska",
                    _ => "Sikora",
                },
                "company" => form == "call-me-back" ? ""
                : form == "contact" ? "Gołąb Ogrody"
                : "Jaworska Meble",
                _ => "A greenhouse of glass",
            };

        /// <summary>Takes a lead of the rep from its first call to a deal.</summary>
        public async Task<Guid> WorkOne(TestClient rep)
        {
            var lead = await server.Scalar<Guid>($"select id from lead where owner_id = '{rep.Session.Id}' and state = 'new' order by number limit 1");
            (await rep.Post($"/api/leads/{lead}/touches", new { kind = "call", text = "Wants it before spring." })).Status.ShouldBe(HttpStatusCode.OK);
            var findings = new
            {
                need = new { certainty = "confirmed", evidence = "Too small now" },
                budget = new { certainty = "confirmed", evidence = "Set aside" },
                authority = new { certainty = "confirmed", evidence = "Decides alone" },
                timing = new { certainty = "confirmed", evidence = "Before spring" },
            };
            (await rep.Put($"/api/leads/{lead}/qualification", new { findings })).Status.ShouldBe(HttpStatusCode.OK);
            (await rep.Put($"/api/leads/{lead}/state", new { state = "qualified" })).Status.ShouldBe(HttpStatusCode.OK);
            // A qualifier hands nothing over: the administrator does.
            var by = rep.Session.Role == "Qualifier" ? chief : rep;
            var sheet = await by.Read<HandoverPreview>($"/api/leads/{lead}/handover");
            var proposal = sheet.Proposals[0];
            var order = new HandoverOrder(null, true, null, [], proposal.Pipeline, proposal.Name, 12_500, proposal.Currency, proposal.ExpectedClose);
            return (await by.Post($"/api/leads/{lead}/handover", order)).Read<BecameView>().DealId;
        }

        public async Task Close(TestClient rep, Guid deal, string how)
        {
            object change = how == "lost" ? new { stage = how, lostReason = "chose_another" } : new { stage = how };
            var closed = await chief.Patch($"/api/deals/{deal}", change);
            closed.Status.ShouldBe(HttpStatusCode.OK, closed.Body);
            closed.Read<DealSheet>().Deal.StageKey.ShouldBe(how);
            rep.Session.ShouldNotBeNull();
        }
    }
}
