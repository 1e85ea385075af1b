using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Http;

namespace DapperLantern.App.Tests.Campaigns;

/// <summary>Campaigns, their money, and what people did about them, by every way in.</summary>
public sealed class CampaignTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _lucie = null!;
    private string _key = "";

    public async ValueTask InitializeAsync()
    {
        _lucie = await fixture.Server.SignIn("lucie.armand");
        _key = (await _lucie.Post("/api/campaigns", Said($"Tank week {Guid.NewGuid():N}"))).Read<string>();
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private static Dictionary<string, object?> Said(string name, string kind = "webinar") =>
        new()
        {
            ["name"] = name,
            ["kind"] = kind,
            ["starts"] = "2026-11-01",
            ["ends"] = "2026-11-30",
            ["budget"] = 5000,
            ["target"] = 20,
        };

    private Task<CampaignSheet> Sheet() => _lucie.Read<CampaignSheet>($"/api/campaigns/{_key}");

    private async Task<RateView?> Rate(string response) => (await Sheet()).Rates.FirstOrDefault(r => r.Response == response);

    private Task<T> Scalar<T>(string sql) => fixture.Server.Scalar<T>(sql);

    private Task<Guid[]> Leads(int count, string where = "true") => Many($"select id from lead where {where} order by number limit {count}");

    private async Task<Guid[]> Many(string sql)
    {
        await using var connection = await fixture.Server.Connect();
        return [.. await connection.QueryAsync<Guid>(sql)];
    }

    private async Task<ResponsesRecorded> Record(object order) => (await _lucie.Post($"/api/campaigns/{_key}/responses", order)).Read<ResponsesRecorded>();

    private async Task<Guid> TakeIn(string list, object constants)
    {
        var sieve = (await _lucie.Drop("list.csv", Encoding.UTF8.GetBytes(list))).Read<SieveView>();
        var terms = new
        {
            source = "list-webinar",
            constants,
            policies = sieve.Policies,
        };
        (await _lucie.Put($"/api/imports/{sieve.Import.Id}/terms", terms)).Status.ShouldBe(HttpStatusCode.OK);
        (await _lucie.Post($"/api/imports/{sieve.Import.Id}/take-in")).Read<ImportView>().State.ShouldBe("taken");
        return sieve.Import.Id;
    }

    [Theory]
    [InlineData("name", "", "name-missing")]
    [InlineData("kind", "carnival", "kind-unknown")]
    [InlineData("ends", "2026-10-01", "ends-first")]
    [InlineData("starts", "0001-01-01", "date-range")]
    [InlineData("budget", -5, "number-range")]
    [InlineData("target", 0, "number-range")]
    [InlineData("owner", "00000000-0000-0000-0000-000000000001", "owner-unknown")]
    [InlineData("name", "Bloom season guide", "campaign-exists")]
    public async Task WhatACampaignCannotBeIsSaid(string field, object value, string problem)
    {
        var said = Said($"Odd {Guid.NewGuid():N}");
        said[field] = value;
        (await _lucie.Post("/api/campaigns", said)).Problem.ShouldBe(problem);
    }

    [Fact]
    public async Task ANewCampaignCanBeNamedByListsAndLinksAtOnce()
    {
        var name = (await Sheet()).Campaign.Name;
        var sieve = (await _lucie.Drop("list.csv", "Mail,Company\nx@one.example,One\n"u8.ToArray())).Read<SieveView>();
        sieve.Choices.Campaigns.ShouldContain(c => c.Label == name);
    }

    [Fact]
    public async Task AChangeFromAStaleSheetIsNotWritten()
    {
        var sheet = await Sheet();
        var said = Said(sheet.Campaign.Name, "fair");
        (await _lucie.Put($"/api/campaigns/{_key}", said, sheet.Version)).Status.ShouldBe(HttpStatusCode.NoContent);
        (await _lucie.Put($"/api/campaigns/{_key}", said, sheet.Version)).Problem.ShouldBe("stale");
        (await Sheet()).Campaign.Kind.ShouldBe("fair");
    }

    [Fact]
    public async Task MoneySpentAddsUpAndATwiceSentEntryCountsOnce()
    {
        var entry = new
        {
            id = Guid.NewGuid(),
            spentOn = "2026-11-02",
            what = "Hall",
            amount = 1250.50m,
        };
        await _lucie.Post($"/api/campaigns/{_key}/costs", entry);
        await _lucie.Post($"/api/campaigns/{_key}/costs", entry);
        await _lucie.Post($"/api/campaigns/{_key}/costs", entry with { id = Guid.NewGuid(), what = "Given back", amount = -250.50m });
        (await Sheet()).Campaign.Spent.ShouldBe(1000m);
        await _lucie.Delete($"/api/campaigns/{_key}/costs/{entry.id}");
        (await Sheet()).Campaign.Spent.ShouldBe(-250.50m);
        (await _lucie.Post($"/api/campaigns/{_key}/costs", entry with { id = Guid.NewGuid(), amount = 1.005m })).Problem.ShouldBe("cost-unfit");
    }

    [Fact]
    public async Task AListSaysWhatEachRowDidAndRatesTellKnownPeopleFromNewOnes()
    {
        var id = await TakeIn(
            $"""
            First name,Last name,Mail,Response
            Ragna,Sollid,ragna@fjordnaer.example,opened
            Una,Frost,una@{_key}.example,
            Pia,Frost,pia@{_key}.example,Registered
            """,
            new { campaign = _key }
        );
        var sheet = await Sheet();
        (sheet.Campaign.Members, sheet.Campaign.Fresh, sheet.KnownMembers).ShouldBe((3, 2, 1));
        sheet.Rates.Select(r => (r.Response, r.Known, r.Fresh)).ShouldBe([("opened", 1, 0), ("registered", 0, 1), ("attended", 0, 1)]);
        // What each did counts for engagement as what it was.
        (await Scalar<string>($"select kind from lead_event e join lead l on l.id = e.lead_id where l.email = 'una@{_key}.example'")).ShouldBe("webinar.attended");
        (await Scalar<string>($"select kind from lead_event e join lead l on l.id = e.lead_id where l.email = 'pia@{_key}.example'")).ShouldBe("event.registered");

        await _lucie.Post($"/api/imports/{id}/take-back");
        (await Sheet()).Campaign.Members.ShouldBe(0);
    }

    [Fact]
    public async Task AListOfWhomWeWroteToIsNoSignOfInterest()
    {
        var before = await Scalar<int>("select engagement from lead where email = 'ragna@fjordnaer.example'");
        await TakeIn($"First name,Last name,Mail\nRagna,Sollid,ragna@fjordnaer.example\nOda,Frost,oda@{_key}.example\n", new { campaign = _key, response = "sent" });
        (await Rate("sent"))!.People.ShouldBe(2);
        (await Scalar<int>("select engagement from lead where email = 'ragna@fjordnaer.example'")).ShouldBe(before);
        (await Scalar<long>($"select count(*) from lead_event e join lead l on l.id = e.lead_id where l.email = 'oda@{_key}.example'")).ShouldBe(0);
    }

    [Fact]
    public async Task AColumnOfResponsesNeedsACampaign()
    {
        var sieve = (await _lucie.Drop("list.csv", "Mail,Company,Response\nx@two.example,Two,attended\n"u8.ToArray())).Read<SieveView>();
        var terms = new
        {
            source = "mailbox",
            constants = new { },
            policies = sieve.Policies,
        };
        await _lucie.Put($"/api/imports/{sieve.Import.Id}/terms", terms);
        (await _lucie.Post($"/api/imports/{sieve.Import.Id}/take-in")).Problem.ShouldBe("response-without-campaign");
    }

    [Fact]
    public async Task ResponsesComeOverHttpAndSentOnesCountNothing()
    {
        var made = (
            await (await fixture.Server.SignIn("samir.haddow")).Post(
                "/api/tokens",
                new
                {
                    name = "Mailer",
                    source = "website",
                    scopes = TokenScopes.All,
                }
            )
        ).Read<TokenMade>();
        using var http = new HttpClient { BaseAddress = new Uri(fixture.Server.Address) };
        http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", made.Token);
        async Task<string> Send(object sent) => await (await http.PostAsJsonAsync("/api/v1/events", sent, Json.Options)).Content.ReadAsStringAsync();

        await Send(
            new
            {
                email = "ragna@fjordnaer.example",
                campaign = _key,
                response = "sent",
            }
        );
        await Send(
            new
            {
                email = "ragna@fjordnaer.example",
                campaign = _key,
                response = "clicked",
            }
        );
        (await Send(new { email = "ragna@fjordnaer.example", response = "clicked" })).ShouldContain("response-unfit");
        (
            await Send(
                new
                {
                    email = "ragna@fjordnaer.example",
                    kind = "page.viewed",
                    campaign = _key,
                    response = "sent",
                }
            )
        ).ShouldContain("response-not-theirs");
        (await Send(new { email = "ragna@fjordnaer.example" })).ShouldContain("kind-missing");
        (await Sheet()).Rates.Select(r => r.Response).ShouldBe(["sent", "clicked"]);
        var kinds = await Scalar<string>(
            "select string_agg(kind, ' ') from lead_event e join lead l on l.id = e.lead_id where l.email = 'ragna@fjordnaer.example' and e.kind like 'link.%'"
        );
        kinds.ShouldBe("link.clicked");
    }

    [Fact]
    public async Task AFormPostIsAResponseToTheCampaignItsLinkNames()
    {
        using var http = new HttpClient { BaseAddress = new Uri(fixture.Server.Address) };
        var post = new Dictionary<string, string>
        {
            ["first_name"] = "Eir",
            ["last_name"] = "Holm",
            ["email"] = $"eir@{_key}.example",
            ["company"] = "Holm",
            ["country"] = "NO",
            ["utm_campaign"] = _key,
            ["consent.answer"] = "yes",
        };
        (await http.PostAsJsonAsync("/f/price-guide", post)).IsSuccessStatusCode.ShouldBeTrue();
        (await Rate("attended"))!.Fresh.ShouldBe(1);
    }

    [Fact]
    public async Task WhatIsEnteredByHandIsKeptOnceAndTakenBackWhole()
    {
        var leads = await Leads(40);
        await using var connection = await fixture.Server.Connect();
        const string scores = "select string_agg(number || ':' || engagement, ' ' order by number) from lead where id = any(@leads)";
        // Settled first, so that the passing of time is no change.
        (await Record(new { response = "downloaded", leads })).Recorded.ShouldBe(40);
        (await Record(new { response = "downloaded", leads })).Recorded.ShouldBe(0);
        var before = await connection.QuerySingleAsync<string>(scores, new { leads });
        var done = await Record(new { response = "answered", leads });
        (await connection.QuerySingleAsync<int>("select count(*)::int from lead_event where kind = 'campaign.answered' and lead_id = any(@leads)", new { leads })).ShouldBe(40);
        (await _lucie.Delete($"/api/campaigns/{_key}/responses/{done.Entry}")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Rate("answered")).ShouldBeNull();
        (await connection.QuerySingleAsync<string>(scores, new { leads })).ShouldBe(before);
        (await _lucie.Delete($"/api/campaigns/{_key}/responses/{done.Entry}")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task AllLeadsAConditionHoldsForBecomeMembers()
    {
        const string where = """{"field":"country","is":"in","values":["NO"]}""";
        var done = await Record(new { response = "planned", where });
        done.Recorded.ShouldBe((int)await Scalar<long>("select count(*) from lead where country = 'NO'"));
        var page = await _lucie.Read<MemberPage>($"/api/campaigns/{_key}/members?response=planned");
        page.Count.ShouldBe(done.Recorded);
        page.Members.Count.ShouldBe(50);
        var next = await _lucie.Read<MemberPage>($"/api/campaigns/{_key}/members?response=planned&after={page.Next}");
        next.Members.Select(m => m.Lead).Intersect(page.Members.Select(m => m.Lead)).ShouldBeEmpty();
    }

    [Theory]
    [InlineData("""{"response":"sent"}""", "for-whom")]
    [InlineData("""{"response":"waved","leads":[]}""", "response-unknown")]
    [InlineData("""{"response":"sent","leads":[],"of":"planned"}""", "for-whom")]
    [InlineData("""{"response":"sent","of":"planned","at":"2077-01-01T00:00:00Z"}""", "moment-range")]
    [InlineData("""{"response":"sent","of":"planned","purpose":"dancing"}""", "purpose-unfit")]
    [InlineData("""{"response":"sent","where":"{\"field\":\"shoe\",\"is\":\"known\"}"}""", "field-unknown")]
    public async Task AnOrderThatMakesNoSenseIsRefused(string order, string problem) =>
        (await _lucie.Post($"/api/campaigns/{_key}/responses", System.Text.Json.JsonDocument.Parse(order).RootElement)).Problem.ShouldBe(problem);

    [Fact]
    public async Task OnlyWhoAgreedIsWrittenToAndTheOthersAreCounted()
    {
        var mark = _key.Replace("-", "", StringComparison.Ordinal);
        var consent = new
        {
            purpose = "news",
            wording = "Yes, write to me",
            at = "2026-11-01T00:00:00Z",
        };
        await TakeIn(
            $"First name,Last name,Mail\nAda,Agreed,agreed@{mark}.example\nWim,Withdrew,withdrew@{mark}.example\nBea,Barred,bea@barred{mark}.example\n",
            new { campaign = _key, consent }
        );
        await TakeIn($"First name,Last name,Mail\nNed,Never,never@{mark}.example\n", new { campaign = _key });
        await TakeIn("First name,Last name,Phone,Country\nPip,Phoneonly,07700 900 777,GB\n", new { campaign = _key, consent });
        var withdrew = await Scalar<Guid>($"select id from lead where email = 'withdrew@{mark}.example'");
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        (await ingrid.Post($"/api/leads/{withdrew}/consents", new { purpose = "news", state = "withdrawn" })).Status.ShouldBe(HttpStatusCode.NoContent);
        await ingrid.Post(
            "/api/barred",
            new
            {
                kind = "domain",
                value = $"barred{mark}.example",
                why = "blocked",
            }
        );

        (await _lucie.Read<AddressCount>($"/api/campaigns/{_key}/addresses?purpose=news")).ShouldBe(new AddressCount(1, 1, 1, 2));
        var file = (await _lucie.Get($"/api/campaigns/{_key}/addresses.csv?purpose=news")).Body;
        file.ShouldContain($"agreed@{mark}.example");
        file.Split('\n', StringSplitOptions.RemoveEmptyEntries).Length.ShouldBe(2);
        (
            await Record(
                new
                {
                    response = "sent",
                    of = "any",
                    purpose = "news",
                }
            )
        ).Recorded.ShouldBe(1);
    }

    [Fact]
    public async Task WhoMaySeeIntakeOnlySeesAndARepDoesNot()
    {
        (await (await fixture.Server.SignIn("harald.quist")).Post("/api/campaigns", Said("No"))).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await (await fixture.Server.SignIn("harald.quist")).Get($"/api/campaigns/{_key}")).Status.ShouldBe(HttpStatusCode.OK);
        (await (await fixture.Server.SignIn("tor.vik")).Get("/api/campaigns")).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task WhatASourceCostIsSharedOverAllLeadsOfItsCampaigns()
    {
        var intake = await _lucie.Read<IntakeView>("/api/intake");
        const string spent = "select sum(amount) from campaign_cost where campaign_key = 'expo' and spent_on > now()::date - 29";
        const string leads = "select count(*) from lead where campaign = 'expo' and created_at > now()::date - 29";
        const string ofList = "select count(*) filter (where campaign = 'expo')::numeric / count(*) from lead where source = 'list-expo' and created_at > now()::date - 29";
        var expected = await Scalar<decimal>($"select round(({spent}) / ({leads}) * ({ofList}), 2)");
        intake.Sources.Single(s => s.Key == "list-expo").CostEach.ShouldBe(expected);
        intake.Sources.Single(s => s.Key == "telephone").CostEach.ShouldBeNull();
    }
}
