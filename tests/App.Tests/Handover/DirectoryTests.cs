using System.Net;
using Dapper;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;

namespace DapperLantern.App.Tests.Handover;

public sealed class DirectoryTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private Task<TestClient> Ingrid => fixture.Server.SignIn("ingrid.brekke");

    private Task<Guid> Id(string sql) => fixture.Server.Scalar<Guid>(sql);

    private static async Task<List<TItem>> Pages<TPage, TItem>(TestClient who, string list, Func<TPage, (IReadOnlyList<TItem> Items, string? Next)> read)
    {
        var (seen, next) = (new List<TItem>(), "");
        do
        {
            var (items, after) = read(await who.Read<TPage>($"/api/{list}?after={Uri.EscapeDataString(next)}"));
            seen.AddRange(items);
            next = after ?? "";
        } while (next.Length > 0);
        return seen;
    }

    [Fact]
    public async Task AccountsAreReadPageByPageEachOnceInTheOrderOfTheirNames()
    {
        var ingrid = await Ingrid;
        var seen = await Pages(ingrid, "accounts", (AccountPage p) => (p.Accounts, p.Next));
        seen.Count.ShouldBe(await fixture.Server.Scalar<int>("select count(*)::int from account"));
        seen.Select(a => a.Id).Distinct().Count().ShouldBe(seen.Count);
        (await ingrid.Read<AccountPage>("/api/accounts?kind=customer")).Accounts.ShouldAllBe(a => a.Kinds.Contains("customer"));
        (await ingrid.Read<AccountPage>("/api/accounts?q=fjord")).Accounts.ShouldAllBe(a => a.Name.StartsWith("Fjord", StringComparison.OrdinalIgnoreCase));
    }

    [Fact]
    public async Task ContactsAreReadPageByPageEachOnceAndFoundByNameAddressKindAndAccount()
    {
        var ingrid = await Ingrid;
        var seen = await Pages(ingrid, "contacts", (ContactPage p) => (p.Contacts, p.Next));
        seen.Count.ShouldBe(await fixture.Server.Scalar<int>("select count(*)::int from contact"));
        seen.Select(c => c.Id).ShouldBeUnique();
        var one = seen.First(c => c.Email is not null && c.AccountId is not null);
        (await ingrid.Read<ContactPage>($"/api/contacts?q={Uri.EscapeDataString(one.Email![..^3].ToUpperInvariant())}")).Contacts.ShouldContain(c => c.Id == one.Id);
        (await ingrid.Read<ContactPage>($"/api/contacts?q={Uri.EscapeDataString(one.Name[1..])}")).Contacts.ShouldContain(c => c.Id == one.Id);
        (await ingrid.Read<ContactPage>($"/api/contacts?account={one.AccountId}"))
            .Contacts.Select(c => c.Id)
            .Order()
            .ShouldBe(seen.Where(c => c.AccountId == one.AccountId).Select(c => c.Id).Order());
        (await ingrid.Patch($"/api/contacts/{one.Id}", new { kind = "supplier", owner = ingrid.Session.Id })).Read<ContactSheet>().OwnerName.ShouldBe("Ingrid Brekke");
        (await ingrid.Read<ContactPage>("/api/contacts?kind=supplier")).Contacts.ShouldAllBe(c => c.Kind == "supplier");
        (await ingrid.Read<ContactPage>("/api/contacts?q=no%20such%20person")).Contacts.ShouldBeEmpty();
    }

    [Fact]
    public async Task AnAccountIsMadeByHandRenamedOwnedAndMadeAHousehold()
    {
        var ingrid = await Ingrid;
        (await ingrid.Post("/api/accounts", new NewAccount("Kelp works", Website: "not a site"))).Status.ShouldBe(System.Net.HttpStatusCode.UnprocessableEntity);
        var made = (await ingrid.Post("/api/accounts", new NewAccount(" Kelp  works ", Country: "norway", Website: "https://www.kelp.example/about"))).Read<AccountSheet>();
        (made.Name, made.Household).ShouldBe(("Kelp works", false));
        (await fixture.Server.Scalar<string>($"select concat_ws(' ', facts->>'country', facts->>'website') from account where id = '{made.Id}'")).ShouldBe("NO kelp.example");
        var change = new AccountChange("Kelp & kin", true, Segments: [], Owner: ingrid.Session.Id);
        var changed = (await ingrid.Patch($"/api/accounts/{made.Id}", change)).Read<AccountSheet>();
        (changed.Name, changed.Household, changed.OwnerId).ShouldBe(("Kelp & kin", true, ingrid.Session.Id));
        changed.Story[0].Text.ShouldBe("Changed name to Kelp & kin, to a household, segments to none, owner to Ingrid Brekke");
    }

    [Fact]
    public async Task AnAccountTellsEverythingThatBelongsToIt()
    {
        var id = await Id("select account_id from deal where account_id in (select account_id from contact group by 1 having count(*) > 1) and closed_at is null limit 1");
        var account = await (await Ingrid).Read<AccountSheet>($"/api/accounts/{id}");
        account.Contacts.Count.ShouldBe(await fixture.Server.Scalar<int>($"select count(*)::int from contact where account_id = '{id}'"));
        account.Deals.Count.ShouldBe(await fixture.Server.Scalar<int>($"select count(*)::int from deal where account_id = '{id}'"));
        account.Story.ShouldNotBeEmpty();
        account.Contacts[0].Depth.ShouldBe(0);
        account.Contacts.Skip(1).ShouldAllBe(c => c.Depth > 0);
    }

    [Fact]
    public async Task WhoReportsToWhomIsATreeAndNeverACircle()
    {
        var ingrid = await Ingrid;
        var (boss, report) = (await Id("select reports_to from contact where reports_to is not null limit 1"), Guid.Empty);
        report = await Id($"select id from contact where reports_to = '{boss}' limit 1");
        (await ingrid.Patch($"/api/contacts/{boss}", new { reportsTo = report })).Problem.ShouldBe("report-circle");
        (await ingrid.Patch($"/api/contacts/{report}", new { reportsTo = report })).Read<ContactSheet>().ReportsTo.ShouldBeNull();
        (await ingrid.Patch($"/api/contacts/{boss}", new { reportsTo = report })).Read<ContactSheet>().ReportsTo!.Id.ShouldBe(report);
    }

    [Fact]
    public async Task TwoWhoWouldCloseACircleTogetherCannot()
    {
        var ingrid = await Ingrid;
        var made = new List<Guid>();
        foreach (var name in new[] { "Circle One", "Circle Two" })
            made.Add((await ingrid.Post("/api/accounts", new { name })).Read<AccountSheet>().Id);
        var answers = await Task.WhenAll(ingrid.Patch($"/api/accounts/{made[0]}", new { parent = made[1] }), ingrid.Patch($"/api/accounts/{made[1]}", new { parent = made[0] }));
        answers.Select(a => a.Problem).ShouldBe([null, "parent-circle"], ignoreOrder: true);
        var (a, b) = (
            await Id("select id from contact where reports_to is null order by id limit 1"),
            await Id("select id from contact where reports_to is null order by id offset 1 limit 1")
        );
        var reports = await Task.WhenAll(ingrid.Patch($"/api/contacts/{a}", new { reportsTo = b }), ingrid.Patch($"/api/contacts/{b}", new { reportsTo = a }));
        reports.Select(r => r.Problem).ShouldBe([null, "report-circle"], ignoreOrder: true);
    }

    [Fact]
    public async Task AnAddressIsCopiedFromAnotherAndStandsByItselfThen()
    {
        var ingrid = await Ingrid;
        var id = await Id("select id from account where facts ? 'city' and facts ? 'country' limit 1");
        var copied = (await ingrid.Post($"/api/accounts/{id}/addresses/copy", new { kind = "billing" })).Read<AccountSheet>();
        var (main, billing) = (copied.Addresses.Single(a => a.Kind == "main"), copied.Addresses.Single(a => a.Kind == "billing"));
        (billing.City, billing.Country).ShouldBe((main.City, main.Country));
        var changed = (
            await ingrid.Put(
                $"/api/accounts/{id}/addresses/{billing.Id}",
                new
                {
                    kind = "billing",
                    street = "Quay 4",
                    city = "Oban",
                    country = "United Kingdom",
                }
            )
        ).Read<AccountSheet>();
        changed.Addresses.Single(a => a.Kind == "billing").Country.ShouldBe("GB");
        changed.Addresses.Single(a => a.Kind == "main").City.ShouldBe(main.City);
        (
            await ingrid.Post(
                $"/api/accounts/{id}/addresses",
                new
                {
                    kind = "billing",
                    city = "Oban",
                    country = "Nowhereland",
                }
            )
        ).Problem.ShouldBe("country-unknown");
        (await ingrid.Post($"/api/accounts/{id}/addresses", new { kind = "holiday", city = "Oban" })).Problem.ShouldBe("address-kind-unknown");
        (await ingrid.Delete($"/api/accounts/{id}/addresses/{billing.Id}")).Read<AccountSheet>().Addresses.ShouldHaveSingleItem();
    }

    [Fact]
    public async Task WhoGoesElsewhereKeepsWhereTheyWere()
    {
        var ingrid = await Ingrid;
        var contact = await Id("select id from contact where account_id is not null limit 1");
        var before = await Id($"select account_id from contact where id = '{contact}'");
        var other = await Id($"select id from account where id <> '{before}' limit 1");
        var sheet = (await ingrid.Patch($"/api/contacts/{contact}", new { account = other })).Read<ContactSheet>();
        sheet.Accounts.Select(a => (a.AccountId, a.Until is null)).ShouldBe([(other, true), (before, false)]);
        (await ingrid.Read<AccountSheet>($"/api/accounts/{before}")).Contacts.Single(c => c.Id == contact).Former.ShouldBeTrue();
        sheet.Story[0].Text.ShouldStartWith("Changed account to ");
    }

    [Fact]
    public async Task AKindIsAddedInOneActWhereItIsNeededByWhoMayAndOnce()
    {
        var (ingrid, tor) = (await Ingrid, await fixture.Server.SignIn("tor.vik"));
        (await tor.Post("/api/lists/contact-kinds", new { label = "Inspector" })).Status.ShouldBe(HttpStatusCode.Forbidden);
        var made = (await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => ingrid.Post("/api/lists/contact-kinds", new { label = "Inspector" })))).Select(a =>
            a.Read<ChoiceView>().Key
        );
        made.Distinct().ShouldBe(["inspector"]);
        (await ingrid.Read<PickListView>("/api/lists/contact-kinds")).Values.Count(v => v.Label == "Inspector").ShouldBe(1);
        var contact = await Id("select id from contact limit 1");
        (await ingrid.Patch($"/api/contacts/{contact}", new { kind = "inspector" })).Read<ContactSheet>().KindName.ShouldBe("Inspector");
        (await ingrid.Patch($"/api/contacts/{contact}", new { kind = "nonsense" })).Problem.ShouldBe("kind-unknown");
        (await ingrid.Patch("/api/setup/lists/contact-kinds/inspector", new { label = "Water inspector" })).Status.ShouldBe(HttpStatusCode.OK);
        (await ingrid.Read<ContactSheet>($"/api/contacts/{contact}")).KindName.ShouldBe("Water inspector");
        (await ingrid.Get("/api/lists/no-such-list")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task ARepChangesOnlyTheirOwn()
    {
        var tor = await fixture.Server.SignIn("tor.vik");
        var others = await Id($"select id from account where owner_id <> '{tor.Session.Id}' limit 1");
        (await tor.Patch($"/api/accounts/{others}", new { kinds = new[] { "partner" } })).Problem.ShouldBe("not-yours");
        (await tor.Post($"/api/accounts/{others}/addresses", new { kind = "billing", city = "Oban" })).Problem.ShouldBe("not-yours");
        var own = await Id($"select id from account where owner_id = '{tor.Session.Id}' limit 1");
        (await tor.Patch($"/api/accounts/{own}", new { kinds = new[] { "partner", "customer" } })).Read<AccountSheet>().Kinds.ShouldBe(["partner", "customer"]);
    }

    [Fact]
    public async Task MergedContactsBringTheirPartsInDealsAndTheirReportsAlong()
    {
        var ingrid = await Ingrid;
        var (keep, go) = (
            await Id("select contact_id from deal_person group by 1 order by 1 limit 1"),
            await Id("select contact_id from deal_person group by 1 order by 1 offset 1 limit 1")
        );
        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync(
            "insert into duplicate (id, kind, a, b, bits, sure, evidence, state, found_at) values (gen_random_uuid(), 'contact', least(@keep, @go), greatest(@keep, @go), 20, false, '[]', 'open', now())",
            new { keep, go }
        );
        var parts = await fixture.Server.Scalar<int>($"select count(*)::int from deal_person where contact_id in ('{keep}', '{go}')");
        var duplicate = await Id($"select id from duplicate where a in ('{keep}', '{go}') and b in ('{keep}', '{go}')");
        (await ingrid.Post($"/api/duplicates/{duplicate}/merge", new { keep, take = new { } })).Status.ShouldBe(HttpStatusCode.OK);
        (await fixture.Server.Scalar<int>($"select count(*)::int from deal_person where contact_id = '{keep}'")).ShouldBe(parts);
    }
}
