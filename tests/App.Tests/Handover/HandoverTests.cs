using System.Net;
using Dapper;
using DapperLantern.App.Deals;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.Core.Handover;

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

    private async Task Execute(string sql)
    {
        await using var connection = await _server.Connect();
        await connection.ExecuteAsync(sql);
    }

    private async Task<List<string>> Differs(string before)
    {
        var (was, now) = (before.Split('\n'), (await Everything()).Split('\n'));
        return [.. was.Except(now).Select(l => $"was {l}"), .. now.Except(was).Select(l => $"now {l}")];
    }

    private Task<HandoverPreview> Sheet(Guid? id = null, string more = "") => _ingrid.Read<HandoverPreview>($"/api/leads/{id ?? _ragna}/handover{more}");

    private static HandoverOrder Order(HandoverPreview sheet, Guid? account = null, bool newAccount = false, params string[] take)
    {
        var proposal = sheet.Proposals.Single(p => p.Pipeline == "instruments");
        return new HandoverOrder(account, newAccount, null, take, "instruments", proposal.Name, 84600, "EUR", proposal.ExpectedClose);
    }

    private async Task<Answer> HandOver(Guid? id = null, Guid? account = null, bool newAccount = false, params string[] take) =>
        await _ingrid.Post($"/api/leads/{id ?? _ragna}/handover", Order(await Sheet(id), account, newAccount, take));

    // Everything a handover could leave behind, as text: what two moments differ in shows at once.
    private Task<string> Everything() =>
        Scalar<string>(
            """
            select concat(
              (select string_agg(to_jsonb(a)::text, E'\n' order by id) from account a), E'\n', (select string_agg(to_jsonb(c)::text, E'\n' order by id) from contact c), E'\n',
              (select string_agg(to_jsonb(d)::text, E'\n' order by id) from deal d), E'\n', (select string_agg(to_jsonb(p)::text, E'\n' order by id) from deal_person p), E'\n',
              (select string_agg(to_jsonb(p)::text, E'\n' order by id) from contact_account p), E'\n', (select string_agg(to_jsonb(p)::text, E'\n' order by id) from deal_product p), E'\n',
              (select string_agg((to_jsonb(l) - array['version', 'last_touch_at', 'decay', 'engagement', 'band', 'next_move', 'move_until', 'look_again_at', 'scored_at'])::text, E'\n' order by id) from lead l), E'\n',
              (select string_agg(to_jsonb(t)::text, E'\n' order by id) from task t), E'\n',
              (select string_agg(to_jsonb(t)::text, E'\n' order by id) from story_entry t))
            """
        );

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
        (await _ingrid.Read<DealSheet>($"/api/deals/{became.DealId}")).Story.Count.ShouldBe(story + 1);
        (await _ingrid.Read<ContactSheet>($"/api/contacts/{became.ContactId}")).Story.Count.ShouldBe(story + 1);
        (await _ingrid.Read<AccountSheet>($"/api/accounts/{became.AccountId}")).Story.Count.ShouldBe(story + 1);
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

    private async Task<Guid> Colleague(string domain, string name = "Arne")
    {
        await using var connection = await _server.Connect();
        return await connection.QuerySingleAsync<Guid>(
            """
            insert into lead (id, source, state, next_move, created_at, last_touch_at, first_name, last_name, company, email, website, country, fit, fit_low, fit_high, engagement, industry)
            values (gen_random_uuid(), 'mailbox', 'qualified', 'park', now(), now(), @name, 'Fjeld', 'FJORDNAER LAKS', @mail, @domain, 'NO', 0, 0, 0, 0, 'port') returning id
            """,
            new
            {
                name,
                mail = $"{name}@{domain}".ToLowerInvariant(),
                domain,
            }
        );
    }

    [Fact]
    public async Task AnAccountFoundByItsWebDomainIsLinkedAndNeverDuplicated()
    {
        var first = (await HandOver()).Read<BecameView>();
        var arne = await Colleague("fjordnaer.example");
        var sheet = await Sheet(arne);
        sheet.Accounts[0].Id.ShouldBe(first.AccountId!.Value);
        sheet.Accounts[0].Evidence.ShouldContain("same web domain, fjordnaer.example");
        // Named or not: it is the same beyond doubt, so the lead joins it.
        var joined = (await HandOver(arne)).Read<BecameView>();
        (joined.AccountId, joined.MadeAccount).ShouldBe((first.AccountId, false));
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
    public async Task AHandoverTakenBackLeavesEverythingAsItWas()
    {
        var before = await Everything();
        await HandOver();
        (await Everything()).ShouldNotBe(before);
        (await _ingrid.Post($"/api/leads/{_ragna}/handover/take-back")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Differs(before)).ShouldBeEmpty();
        (await _ingrid.Read<LeadSheet>($"/api/leads/{_ragna}")).State.ShouldBe("qualified");
        (await HandOver()).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task FactsFilledInByAHandoverAreTakenBackUnlessChangedSince()
    {
        var first = (await HandOver()).Read<BecameView>();
        await _ingrid.Patch($"/api/accounts/{first.AccountId}/facts", new { facts = new { city = "" }, was = new { city = "Brønnøysund" } });
        var arne = await Colleague("fjordnaer.example");
        await Execute($"update lead set city = 'Oban', employees = 40 where id = '{arne}'");
        var before = await Everything();
        var order = Order(await Sheet(arne), first.AccountId) with { ContactId = first.ContactId, Take = ["industry"] };
        (await _ingrid.Post($"/api/leads/{arne}/handover", order)).Status.ShouldBe(HttpStatusCode.OK);
        (await Scalar<string>($"select facts->>'city' || ' ' || (facts->>'employees') || ' ' || (facts->>'industry') from account where id = '{first.AccountId}'")).ShouldBe(
            "Oban 40 port"
        );
        await _ingrid.Patch($"/api/accounts/{first.AccountId}/facts", new { facts = new { employees = "55" }, was = new { employees = "40" } });
        (await _ingrid.Post($"/api/leads/{arne}/handover/take-back")).Status.ShouldBe(HttpStatusCode.NoContent);
        (
            await Scalar<string>($"select coalesce(facts->>'city', '-') || ' ' || (facts->>'employees') || ' ' || (facts->>'industry') from account where id = '{first.AccountId}'")
        ).ShouldBe("- 55 fish_farming");
        await Execute($"update account set facts = facts - 'employees' where id = '{first.AccountId}'");
        (await Differs(before)).ShouldBeEmpty();
    }

    [Fact]
    public async Task WorkDoneOnTheDealIsToldAndMayBeKeptWhileTheLeadComesBack()
    {
        var became = (await HandOver()).Read<BecameView>();
        await _ingrid.Patch($"/api/deals/{became.DealId}", new { amount = 90000 });
        var look = await _ingrid.Read<TakeBackLook>($"/api/leads/{_ragna}/handover/take-back");
        look.Since.Single().Text.ShouldBe("Amount changed from 84600 EUR to 90000 EUR");
        var refused = await _ingrid.Post($"/api/leads/{_ragna}/handover/take-back");
        (refused.Problem, refused.Sentence.Contains("Amount changed", StringComparison.Ordinal)).ShouldBe(("worked-on", true));
        (await _ingrid.Post($"/api/leads/{_ragna}/handover/take-back", new { keep = true })).Status.ShouldBe(HttpStatusCode.NoContent);
        (await _ingrid.Read<LeadSheet>($"/api/leads/{_ragna}")).State.ShouldBe("qualified");
        (await _ingrid.Read<DealSheet>($"/api/deals/{became.DealId}")).Deal.Amount.ShouldBe(90000);
    }

    [Fact]
    public async Task TheSameRequestAgainIsAnsweredAsTheFirstTime()
    {
        var order = Order(await Sheet());
        var answers = await Task.WhenAll(Enumerable.Range(0, 5).Select(_ => _ingrid.Post($"/api/leads/{_ragna}/handover", order, key: "press-1")));
        answers.Select(a => a.Read<BecameView>().DealId).Distinct().ShouldHaveSingleItem();
        (await Scalar<int>($"select count(*)::int from handover where lead_id = '{_ragna}'")).ShouldBe(1);
        // Taken back, the same request is a new one.
        await _ingrid.Post($"/api/leads/{_ragna}/handover/take-back");
        (await _ingrid.Post($"/api/leads/{_ragna}/handover", Order(await Sheet()), key: "press-1")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task TwoPeopleAtTwoProcessesHandOverOnce()
    {
        await using var second = await _server.Beside();
        var other = await second.SignIn("harald.quist");
        var order = Order(await Sheet());
        var answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(i => (i % 2 == 0 ? _ingrid : other).Post($"/api/leads/{_ragna}/handover", order, key: $"{i}")));
        answers.Count(a => a.Status == HttpStatusCode.OK).ShouldBe(1);
        answers.Where(a => a.Status != HttpStatusCode.OK).ShouldAllBe(a => a.Problem == "handed-over");
        (await Scalar<int>($"select count(*)::int from deal where lead_id = '{_ragna}'")).ShouldBe(1);
    }

    [Fact]
    public async Task EightLeadsOfOneCompanyHandedOverAtOnceShareOneAccount()
    {
        await using var second = await _server.Beside();
        var other = await second.SignIn("harald.quist");
        var orders = new List<(Guid Lead, HandoverOrder Order)> { (_ragna, Order(await Sheet())) };
        foreach (var name in new[] { "Bo", "Cecilie", "Dagfinn", "Eva", "Frida", "Gard", "Hedda" })
        {
            var lead = await Colleague("fjordnaer.example", name);
            orders.Add((lead, Order(await Sheet(lead)) with { DealName = $"Of {name}", Take = ["industry", "city"] }));
        }
        var answers = await Task.WhenAll(orders.Select((o, i) => (i % 2 == 0 ? _ingrid : other).Post($"/api/leads/{o.Lead}/handover", o.Order)));
        var became = answers.Select(a => a.Read<BecameView>()).ToList();
        became.Count(b => b.MadeAccount).ShouldBe(1);
        became.Select(b => b.AccountId).Distinct().ShouldHaveSingleItem();
        became.Select(b => b.ContactId).Distinct().Count().ShouldBe(8);
        became.Select(b => b.DealId).Distinct().Count().ShouldBe(8);
        // Who joins fills blanks; the first word on the account stays, whatever was to be taken over from a sheet without it.
        var first = became.Single(b => b.MadeAccount);
        var maker = orders[became.IndexOf(first)].Lead;
        (await Scalar<string>($"select facts->>'industry' from account where id = '{first.AccountId}'")).ShouldBe(
            await Scalar<string>($"select industry from lead where id = '{maker}'")
        );
        (await Scalar<int>("select count(*)::int from account where domain = 'fjordnaer.example'")).ShouldBe(1);
    }

    [Fact]
    public async Task WhatIsLeftBehindIsLeftByNameAndCounted()
    {
        var order = Order(await Sheet()) with { Drop = ["sites", "interest"] };
        var became = (await _ingrid.Post($"/api/leads/{_ragna}/handover", order)).Read<BecameView>();
        (became.Carried!.Known, became.Carried.Found).ShouldBe((11, 9));
        became.Carried.Left.Select(l => l.Field).ShouldBe(["sites", "interest"], ignoreOrder: true);
        (await Scalar<bool>($"select facts ? 'sites' from account where id = '{became.AccountId}'")).ShouldBeFalse();
        (await _ingrid.Read<LeadSheet>($"/api/leads/{_ragna}")).Story[0].Text.ShouldContain("left behind on purpose: sites, interest");
    }

    [Fact]
    public async Task TheDealIsNamedByTheConventionAndWorthWhatIsWanted()
    {
        var sheet = await Sheet();
        var proposal = sheet.Proposals.Single(p => p.Pipeline == "instruments");
        proposal.Name.ShouldStartWith("Fjordnær Laks AS, Skerry S4 and Oxygen probe, ");
        proposal.Currency.ShouldBe("NOK");
        proposal.Amount.ShouldBe(proposal.Products.Sum(p => p.Quantity * p.Price!.Value));
        sheet.Proposals.Single(p => p.Pipeline == "service").Name.ShouldStartWith("Fjordnær Laks AS, service 20");
        var order = Order(sheet) with { Products = [new OrderedProduct("skerry-s4", 2, 14800), new OrderedProduct("probe-oxygen", 6, 1450)], Role = "decision_maker" };
        var became = (await _ingrid.Post($"/api/leads/{_ragna}/handover", order)).Read<BecameView>();
        var deal = await _ingrid.Read<DealSheet>($"/api/deals/{became.DealId}");
        deal.Products.Select(p => (p.Product, p.Total)).ShouldBe([("skerry-s4", 29600), ("probe-oxygen", 8700)]);
        (deal.People.Single().RoleName, deal.Stages.Single().Name).ShouldBe(("Decision maker", "Scoping"));
        deal.Findings.Single(f => f.Key == "need").Finding.Evidence.ShouldNotBeEmpty();
    }

    [Fact]
    public async Task OtherOpenLeadsOfTheCompanyComeAlongAsFurtherContactsAndGoBackWithIt()
    {
        var arne = await Colleague("fjordnaer.example");
        await Execute(
            $"update lead set company_key = (select company_key from lead where id = '{_ragna}'), state = 'on_hold', wake_at = now() + interval '9 days', interest = 'pH probes' where id = '{arne}'"
        );
        var before = await Everything();
        var sheet = await Sheet();
        sheet.Along.Single().Name.ShouldBe("Arne Fjeld");
        var order = Order(sheet) with { Along = [new AlongOrder(arne, "user")] };
        var became = (await _ingrid.Post($"/api/leads/{_ragna}/handover", order)).Read<BecameView>();
        var deal = await _ingrid.Read<DealSheet>($"/api/deals/{became.DealId}");
        deal.People.Select(p => (p.Name, p.RoleName)).ShouldBe([("Ragna Sollid", null), ("Arne Fjeld", "User")]);
        var along = (await _ingrid.Read<LeadSheet>($"/api/leads/{arne}")).Became!;
        (along.DealId, along.AccountId, along.Carried!.IsWhole).ShouldBe((became.DealId, became.AccountId, true));
        (await Scalar<string>($"select facts->>'interest' from contact where id = '{along.ContactId}'")).ShouldBe("pH probes");
        (await _ingrid.Read<TakeBackLook>($"/api/leads/{_ragna}/handover/take-back")).Along.ShouldBe(["Arne Fjeld"]);
        // What was done with somebody who came along is not thrown away either.
        await _ingrid.Patch($"/api/contacts/{along.ContactId}/facts", new { facts = new { job_title = "Skipper" }, was = new { } });
        (await _ingrid.Post($"/api/leads/{_ragna}/handover/take-back")).Problem.ShouldBe("worked-on");
        // As if it had never happened.
        await Execute($"set session_replication_role = replica; delete from event where record = '{along.ContactId}'; set session_replication_role = origin");
        (await _ingrid.Post($"/api/leads/{_ragna}/handover/take-back")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Differs(before)).ShouldBeEmpty();
    }

    [Fact]
    public async Task OnlyOpenLeadsOfTheSameCompanyComeAlong()
    {
        var other = await Colleague("elsewhere.example");
        await Execute($"update lead set company_key = 'elsewhere' where id = '{other}'");
        (await _ingrid.Post($"/api/leads/{_ragna}/handover", Order(await Sheet()) with { Along = [new AlongOrder(other)] })).Problem.ShouldBe("along-other");
        await Execute(
            $"update lead set company_key = (select company_key from lead where id = '{_ragna}'), state = 'disqualified', state_reason = 'no_match' where id = '{other}'"
        );
        (await _ingrid.Post($"/api/leads/{_ragna}/handover", Order(await Sheet()) with { Along = [new AlongOrder(other)] })).Problem.ShouldBe("along-gone");
        (await _ingrid.Read<LeadSheet>($"/api/leads/{_ragna}")).State.ShouldBe("qualified");
    }

    [Fact]
    public async Task APrivatePersonBecomesContactAndDealAndAHouseholdWhereItIsWanted()
    {
        var id = await Colleague("post.example");
        await Execute($"update lead set company = null, company_key = null, website = null where id = '{id}'");
        var sheet = await Sheet(id);
        sheet.Makes.ShouldBe(AccountKind.None);
        var became = (await HandOver(id)).Read<BecameView>();
        (became.AccountId, became.Carried!.IsWhole).ShouldBe((null, true));
        (await Scalar<string>($"select facts->>'country' from contact where id = '{became.ContactId}'")).ShouldBe("NO");
        await _ingrid.Post($"/api/leads/{id}/handover/take-back");
        var household = await Sheet(id, "?makes=household");
        household.AccountName.ShouldBe("Household Fjeld");
        var made = (await _ingrid.Post($"/api/leads/{id}/handover", Order(household) with { Makes = AccountKind.Household })).Read<BecameView>();
        (await Scalar<string>($"select name || ' ' || household || ' ' || (facts->>'country') from account where id = '{made.AccountId}'")).ShouldBe("Household Fjeld true NO");
    }

    [Fact]
    public async Task AContactOfAnotherAccountKeepsItAndHasThisOneBeside()
    {
        var first = (await HandOver()).Read<BecameView>();
        var again = await Colleague("second.example");
        await Execute(
            $"update lead set company = 'Second Works', company_key = 'second works', first_name = 'Ragna', last_name = 'Sollid', email = 'ragna@fjordnaer.example', website = 'second.example' where id = '{again}'"
        );
        var sheet = await Sheet(again);
        sheet.Contacts[0].Id.ShouldBe(first.ContactId);
        (await HandOver(again)).Problem.ShouldBe("contact-exists");
        var became = (await _ingrid.Post($"/api/leads/{again}/handover", Order(sheet, newAccount: true) with { ContactId = first.ContactId })).Read<BecameView>();
        (await Scalar<Guid>($"select account_id from contact where id = '{first.ContactId}'")).ShouldBe(first.AccountId!.Value);
        (await Scalar<Guid>($"select account_id from contact_account where contact_id = '{first.ContactId}' and until is null")).ShouldBe(became.AccountId!.Value);
    }

    [Fact]
    public async Task WhoIsNamedIsMeantWhateverElseIsSaid()
    {
        var first = (await HandOver()).Read<BecameView>();
        var arne = await Colleague("fjordnaer.example");
        var order = Order(await Sheet(arne), first.AccountId, newAccount: true) with { ContactId = first.ContactId, NewContact = true, Makes = AccountKind.None };
        var became = (await _ingrid.Post($"/api/leads/{arne}/handover", order)).Read<BecameView>();
        (became.AccountId, became.ContactId, became.Carried!.IsWhole).ShouldBe((first.AccountId, first.ContactId, true));
    }

    [Fact]
    public async Task AnAccountChangedMeanwhileIsWaitedForAndNothingIsLost()
    {
        var first = (await HandOver()).Read<BecameView>();
        for (var i = 0; i < 6; i++)
        {
            var arne = await Colleague($"fjordnaer.example");
            await Execute($"update lead set email = 'arne{i}@fjordnaer.example', last_name = 'Fjeld{i}', city = 'Place{i}' where id = '{arne}'");
            var order = Order(await Sheet(arne), first.AccountId) with { NewContact = true };
            var city = await Scalar<string>($"select coalesce(facts->>'city', '') from account where id = '{first.AccountId}'");
            var both = await Task.WhenAll(
                _ingrid.Post($"/api/leads/{arne}/handover", order),
                _ingrid.Patch($"/api/accounts/{first.AccountId}/facts", new { facts = new { city = i % 2 == 0 ? "" : $"Town{i}" }, was = new { city } })
            );
            both.ShouldAllBe(a => (int)a.Status < 500);
            both[0].Read<BecameView>().Carried!.IsWhole.ShouldBeTrue();
        }
    }

    [Fact]
    public async Task AStageThatNeedsSomethingIsNotBegunWithoutIt()
    {
        await Execute("update stage set needs = '{products,role:decision_maker}' where key = 'scoping'");
        await using var second = await _server.Beside();
        var ingrid = await second.SignIn("ingrid.brekke");
        var order = Order(await Sheet());
        var refused = await ingrid.Post($"/api/leads/{_ragna}/handover", order);
        (refused.Problem, refused.Sentence).ShouldBe(("stage-needs", "Before a deal is in Scoping, it needs: at least one product; somebody as decision maker."));
        var whole = order with { Products = [new OrderedProduct("skerry-s4", 1, 14800)], Role = "decision_maker" };
        (await ingrid.Post($"/api/leads/{_ragna}/handover", whole)).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task SeveralAreReviewedFirstAndThenHandedOverAtOnceAndTakenBackAtOnce()
    {
        var ready = await _ingrid.Read<List<ReadyLead>>("/api/handover");
        var ids = ready.Select(r => r.Id).ToArray();
        var review = (await _ingrid.Post("/api/handover/review", new { leads = ids, pipeline = "instruments" })).Read<List<ReviewLine>>();
        review.Select(r => r.Id).ShouldBe(ids);
        review.ShouldAllBe(r => r.Refused == null && r.DealName!.Length > 0);
        var before = await Everything();
        var edit = (await _ingrid.Post("/api/bulk-edits", new { act = new { kind = "hand_over", key = "instruments" }, leads = ids })).Read<BulkEditView>();
        edit = await _ingrid.Ended(edit);
        edit.Changed.ShouldBe(ids.Length);
        foreach (var line in review)
            (await Scalar<string>($"select name from deal where lead_id = '{line.Id}'")).ShouldBe(line.DealName);
        await _ingrid.Post($"/api/bulk-edits/{edit.Id}/undo");
        (await _ingrid.Ended((await _ingrid.Read<BulkEditView>($"/api/bulk-edits/{edit.Id}")))).Restored.ShouldBe(ids.Length);
        (await Differs(before)).ShouldBeEmpty();
    }

    [Fact]
    public async Task OfManyAtOnceACompanyIsOneAccountAndAPersonOneContact()
    {
        var (arne, again) = (await Colleague("fjordnaer.example"), await Colleague("fjordnaer.example"));
        await Execute($"update lead set phone = '+4790999001' where id = '{again}'");
        var edit = (
            await _ingrid.Post("/api/bulk-edits", new { act = new { kind = "hand_over", key = "instruments" }, leads = new[] { _ragna, arne, again } })
        ).Read<BulkEditView>();
        (await _ingrid.Ended(edit)).Changed.ShouldBe(3);
        (await Scalar<int>("select count(*)::int from account where domain = 'fjordnaer.example'")).ShouldBe(1);
        (await Scalar<int>($"select count(distinct account_id)::int from handover where lead_id in ('{_ragna}', '{arne}', '{again}')")).ShouldBe(1);
        (await Scalar<int>($"select count(distinct contact_id)::int from handover where lead_id in ('{arne}', '{again}')")).ShouldBe(1);
        (await Scalar<string>("select phone from contact where email = 'arne@fjordnaer.example'")).ShouldBe("+4790999001");
        (await Scalar<int>($"select count(*)::int from deal where lead_id in ('{_ragna}', '{arne}', '{again}')")).ShouldBe(3);
    }

    [Fact]
    public async Task WhatOthersUseByNowStaysAndTheRestIsTakenBack()
    {
        var first = (await HandOver()).Read<BecameView>();
        var arne = await Colleague("fjordnaer.example");
        await HandOver(arne, first.AccountId);
        (await _ingrid.Read<TakeBackLook>($"/api/leads/{_ragna}/handover/take-back")).Stays.ShouldBe([$"the account {first.AccountName}"]);
        (await _ingrid.Post($"/api/leads/{_ragna}/handover/take-back")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Scalar<int>($"select count(*)::int from account where id = '{first.AccountId}'")).ShouldBe(1);
        (await Scalar<int>($"select count(*)::int from deal where id = '{first.DealId}'")).ShouldBe(0);
    }

    [Fact]
    public async Task TheNewOwnerOfTheDealIsToldOnce()
    {
        await _server.Heard();
        var before = await Scalar<int>("select count(*)::int from outbox where subject like 'New deal:%'");
        var order = Order(await Sheet());
        await Task.WhenAll(Enumerable.Range(0, 3).Select(_ => _ingrid.Post($"/api/leads/{_ragna}/handover", order, key: "once")));
        await _server.Heard();
        (await Scalar<int>("select count(*)::int from outbox where subject like 'New deal:%'")).ShouldBe(before + 1);
    }

    [Theory]
    [InlineData("amount", -1, "EUR", "instruments", "number-range")]
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
        (await HandOver(id)).Problem.ShouldBe("handover-unqualified");
    }
}
