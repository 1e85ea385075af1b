using System.Net;
using Dapper;
using DapperLantern.App.Deals;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads;

namespace DapperLantern.App.Tests.Handover;

public sealed class HandoverTests : IAsyncLifetime
{
    private TestServer _server = null!;
    private TestClient _ingrid = null!;
    private Guid _ragna;

    public async ValueTask InitializeAsync()
    {
        _server = await TestServer.Start();
        _ingrid = await _server.SignIn("ingrid.brekke");
        _ragna = await Scalar<Guid>("select id from lead where email = 'ragna@fjordnaer.example'");
    }

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    private async Task<T> Scalar<T>(string sql)
    {
        await using var connection = await _server.Connect();
        return (await connection.ExecuteScalarAsync<T>(sql))!;
    }

    private Task<HandoverPreview> Sheet(Guid? id = null) => _ingrid.Read<HandoverPreview>($"/api/leads/{id ?? _ragna}/handover");

    private static HandoverOrder Order(HandoverPreview sheet, Guid? account = null, bool newAccount = false, params string[] take) =>
        new(account, newAccount, null, take, "instruments", sheet.DealName, 84600, "EUR", sheet.ExpectedClose);

    private async Task<Answer> HandOver(Guid? id = null, Guid? account = null, bool newAccount = false, params string[] take) =>
        await _ingrid.Post($"/api/leads/{id ?? _ragna}/handover", Order(await Sheet(id), account, newAccount, take));

    [Fact]
    public async Task AccountContactAndDealAreMadeInOneActAndTheLeadPointsToThem()
    {
        var became = (await HandOver()).Read<BecameView>();
        var lead = await _ingrid.Read<LeadSheet>($"/api/leads/{_ragna}");
        (lead.State, lead.Became!.DealId).ShouldBe(("handed_over", became.DealId));
        became.AccountName.ShouldBe("Fjordnær Laks AS");
        var deal = await _ingrid.Read<DealSheet>($"/api/deals/{became.DealId}");
        (deal.Deal.Amount, deal.StageName, deal.SourceName).ShouldBe((84600, "Scoping", "Price guide"));
    }

    [Fact]
    public async Task EveryFactNoteAndTaskArrivesOnTheOtherSide()
    {
        await _ingrid.Patch($"/api/leads/{_ragna}", new { facts = new { water_body = "Torgfjorden" } });
        await _ingrid.Post($"/api/leads/{_ragna}/touches", new { kind = "note", text = "Two cages north of the sound." });
        var facts = (await Sheet()).Lines.Where(l => l.Field is not ("source" or "campaign")).ToDictionary(l => l.Field, l => l.Stored);
        var story = (await _ingrid.Read<LeadSheet>($"/api/leads/{_ragna}")).Story.Count;
        var tasks = await Scalar<int>($"select count(*)::int from task where lead_id = '{_ragna}'");
        var became = (await HandOver()).Read<BecameView>();
        foreach (var (field, stored) in facts)
            (
                await Scalar<string>(
                    $"select coalesce(a.facts->>'{field}', c.facts->>'{field}', d.facts->>'{field}') from account a, contact c, deal d where a.id = '{became.AccountId}' and c.id = '{became.ContactId}' and d.id = '{became.DealId}'"
                )
            ).ShouldBe(stored, field);
        (await Scalar<int>($"select count(*)::int from story_entry where deal_id = '{became.DealId}' and contact_id is not null and account_id is not null")).ShouldBe(story + 1);
        (await Scalar<int>($"select count(*)::int from task where deal_id = '{became.DealId}'")).ShouldBe(tasks);
    }

    [Fact]
    public async Task HandedOverTwiceEvenAtOnceThereIsOneDeal()
    {
        var order = Order(await Sheet());
        var answers = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => _ingrid.Post($"/api/leads/{_ragna}/handover", order)));
        answers.Count(a => a.Status == HttpStatusCode.OK).ShouldBe(1);
        answers.Where(a => a.Status != HttpStatusCode.OK).ShouldAllBe(a => a.Status == HttpStatusCode.Conflict);
        (await Scalar<int>($"select count(*)::int from deal where lead_id = '{_ragna}'")).ShouldBe(1);
    }

    [Fact]
    public async Task AHandedOverLeadIsReadOnly()
    {
        await HandOver();
        (await _ingrid.Patch($"/api/leads/{_ragna}", new { facts = new { city = "Oban" } })).Problem.ShouldBe("handed-over");
        (await _ingrid.Put($"/api/leads/{_ragna}/state", new { state = "in_work" })).Problem.ShouldBe("handed-over");
    }

    private async Task<Guid> Colleague(string domain)
    {
        await using var connection = await _server.Connect();
        return await connection.QuerySingleAsync<Guid>(
            """
            insert into lead (id, source, state, next_move, created_at, last_touch_at, first_name, last_name, company, email, website, country, fit, fit_low, fit_high, engagement, industry)
            values (gen_random_uuid(), 'mailbox', 'qualified', 'park', now(), now(), 'Arne', 'Fjeld', 'FJORDNAER LAKS', @mail, @domain, 'NO', 0, 0, 0, 0, 'port') returning id
            """,
            new { mail = $"arne@{domain}", domain }
        );
    }

    [Fact]
    public async Task AnAccountFoundByItsWebDomainIsLinkedAndNeverDuplicated()
    {
        var first = (await HandOver()).Read<BecameView>();
        var arne = await Colleague("fjordnaer.example");
        (await HandOver(arne)).Problem.ShouldBe("account-exists");
        var sheet = await Sheet(arne);
        sheet.Accounts[0].Id.ShouldBe(first.AccountId!.Value);
        sheet.Accounts[0].Evidence.ShouldContain("same web domain, fjordnaer.example");
        (await HandOver(arne, first.AccountId)).Read<BecameView>().AccountId.ShouldBe(first.AccountId);
        (await Scalar<int>("select count(*)::int from account where domain = 'fjordnaer.example'")).ShouldBe(1);
    }

    [Fact]
    public async Task WhereTheAccountDiffersOursStaysUnlessTheLeadsIsTaken()
    {
        var first = (await HandOver()).Read<BecameView>();
        var arne = await Colleague("fjordnaer.example");
        (await Sheet(arne)).Lines.Single(l => l.Field == "industry").Differs.ShouldBeTrue();
        await HandOver(arne, first.AccountId);
        (await Scalar<string>($"select facts->>'industry' from account where id = '{first.AccountId}'")).ShouldBe("fish_farming");
        await _ingrid.Post($"/api/leads/{arne}/handover/take-back");
        await HandOver(arne, first.AccountId, false, "industry");
        (await Scalar<string>($"select facts->>'industry' from account where id = '{first.AccountId}'")).ShouldBe("port");
    }

    [Fact]
    public async Task AHandoverTakenBackLeavesNothingBehind()
    {
        var before = await Scalar<string>("select concat((select count(*) from account), '/', (select count(*) from contact), '/', (select count(*) from deal))");
        await HandOver();
        (await _ingrid.Post($"/api/leads/{_ragna}/handover/take-back")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Scalar<string>("select concat((select count(*) from account), '/', (select count(*) from contact), '/', (select count(*) from deal))")).ShouldBe(before);
        (await _ingrid.Read<LeadSheet>($"/api/leads/{_ragna}")).State.ShouldBe("qualified");
        (await HandOver()).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task WorkDoneOnTheDealKeepsTheHandover()
    {
        var became = (await HandOver()).Read<BecameView>();
        await _ingrid.Patch($"/api/deals/{became.DealId}", new { amount = 90000 });
        (await _ingrid.Post($"/api/leads/{_ragna}/handover/take-back")).Problem.ShouldBe("worked-on");
    }

    [Theory]
    [InlineData("amount", -1, "EUR", "instruments", "amount-unfit")]
    [InlineData("currency", 1, "euro", "instruments", "currency-unfit")]
    [InlineData("pipeline", 1, "EUR", "nonsense", "pipeline-unknown")]
    public async Task ABadOrderIsRefusedAndNothingIsMade(string _, int amount, string currency, string pipeline, string problem)
    {
        var order = Order(await Sheet()) with { Amount = amount, Currency = currency, Pipeline = pipeline };
        (await _ingrid.Post($"/api/leads/{_ragna}/handover", order)).Problem.ShouldBe(problem);
        (await _ingrid.Read<LeadSheet>($"/api/leads/{_ragna}")).State.ShouldBe("qualified");
    }

    [Fact]
    public async Task AnUnqualifiedLeadIsNotHandedOver()
    {
        var id = await Scalar<Guid>("select id from lead where state = 'in_work' limit 1");
        (await HandOver(id)).Problem.ShouldBe("not-qualified");
    }
}
