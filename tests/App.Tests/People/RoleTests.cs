using System.Net;
using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.People;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.People;

/// <summary>Roles as a company keeps them: made, changed, put back, held by people; and the answer to what somebody sees.</summary>
public sealed class RoleTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private static readonly Reach[] All = [Reach.All];
    private static readonly Reach[] Own = [Reach.Own];
    private static readonly Reach[] None = [];

    private readonly TestServer _server = fixture.Server;
    private TestClient _samir = null!;

    public async ValueTask InitializeAsync() => _samir = await _server.SignIn("samir.haddow");

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task<RoleView> Role(string key) => (await _samir.Read<RolesView>("/api/setup/roles")).Roles.Single(r => r.Key == key);

    private Task<Answer> Change(RoleView role, RoleOrder order) => _samir.Put($"/api/setup/roles/{role.Key}", order, role.Version);

    private Task Give(string name, params string[] roles) => Execute("update person set roles = @roles where user_name = @name", new { name, roles });

    private async Task Execute(string sql, object parameters)
    {
        await using var connection = await _server.Connect();
        await connection.ExecuteAsync(sql, parameters);
    }

    [Fact]
    public async Task ACopyIsMadeGivenChangedAndTakenAwayAndHoldsFromTheNextRequestOn()
    {
        var rep = await Role(ShippedRoles.Rep);
        var narrow = rep.Role with { Name = "Field rep", Sees = new RoleSight(Own, Own, Own, Own) };
        var made = (await _samir.Post("/api/setup/roles", narrow)).Read<RolesView>().Roles.Single(r => r.Role.Name == "Field rep");
        (made.Key, made.IsShipped, made.Version, made.People.Count).ShouldBe(("field-rep", false, 1, 0));
        (await _samir.Post("/api/setup/roles", narrow)).Problem.ShouldBe("role-exists");
        // Somebody gets it beside another: the most of both.
        var effie = (await _samir.Read<PeopleView>("/api/setup/people")).People.Single(p => p.SignInName == "effie.marlowe");
        var order = new PersonOrder(effie.Name, effie.Email, [made.Key], effie.TimeZone, effie.Manager);
        (await _samir.Put($"/api/setup/people/{effie.Id}", order, effie.Version)).Status.ShouldBe(HttpStatusCode.OK);
        var client = await _server.SignIn("effie.marlowe");
        client.Session.Role.ShouldBe("Field rep");
        var seen = (await client.Read<LeadCount>("/api/leads/count")).All;
        seen.ShouldBe(await _server.Scalar<int>("select count(*)::int from lead l join person p on p.id = l.owner_id where p.user_name = 'effie.marlowe'"));
        // Another sight holds for the open session, too.
        (await Change(made, narrow with { Sees = new RoleSight(All, Own, Own, Own), May = [.. narrow.May, Act.ExportLeads] })).Status.ShouldBe(HttpStatusCode.OK);
        (await client.Read<LeadCount>("/api/leads/count")).All.ShouldBeGreaterThan(seen);
        (await client.Get("/api/leads.csv")).Status.ShouldBe(HttpStatusCode.OK);
        // Somebody else changed it meanwhile; what is held cannot go.
        (await Change(made, narrow)).Problem.ShouldBe("stale");
        var held = await _samir.Delete("/api/setup/roles/field-rep");
        (held.Problem, held.Body.Contains("Effie Marlowe", StringComparison.Ordinal)).ShouldBe(("role-held", true));
        var both = order with { Roles = [ShippedRoles.Qualifier, ShippedRoles.Marketer] };
        (await _samir.Put($"/api/setup/people/{effie.Id}", both, effie.Version + 1)).Status.ShouldBe(HttpStatusCode.OK);
        (await client.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        client = await _server.SignIn("effie.marlowe");
        client.Session.Role.ShouldBe("Qualifier, Marketer");
        client.Session.May.ShouldContain(Act.RunIntake);
        client.Session.May.ShouldContain(Act.TakeLeads);
        client.Session.OwnOnly.ShouldBeTrue();
        (await _samir.Delete("/api/setup/roles/field-rep")).Status.ShouldBe(HttpStatusCode.OK);
        (await _server.Scalar<int>("select count(*)::int from event where kind = 'rights' and said->>'what' = 'role' and said->>'key' = 'field-rep'")).ShouldBe(3);
    }

    [Fact]
    public async Task NobodyLocksThemselvesOrEverybodyOutAndWhatIsShippedComesBack()
    {
        var (administrator, coordinator) = (await Role(ShippedRoles.Administrator), await Role(ShippedRoles.Coordinator));
        (await Change(administrator, administrator.Role with { May = [.. administrator.Role.May.Where(a => a != Act.ManagePeople)] })).Problem.ShouldBe("role-administers");
        // Somebody who keeps people by a role of the company's own does not take that from themselves.
        await _samir.Post("/api/setup/roles", administrator.Role with { Name = "Office" });
        var office = await Role("office");
        await Give("ingrid.brekke", "office");
        var ingrid = await _server.SignIn("ingrid.brekke");
        var less = office.Role with { May = [.. office.Role.May.Where(a => a != Act.ManagePeople)] };
        (await ingrid.Put("/api/setup/roles/office", less, office.Version)).Problem.ShouldBe("role-locks-out");
        (await Change(office, less)).Status.ShouldBe(HttpStatusCode.OK);
        (await ingrid.Get("/api/setup/roles")).Status.ShouldBe(HttpStatusCode.Forbidden);
        // A shipped one is changed and put back.
        (await Change(coordinator, coordinator.Role with { May = [.. coordinator.Role.May.Where(a => a != Act.ExportLeads)] })).Status.ShouldBe(HttpStatusCode.OK);
        (await Role(ShippedRoles.Coordinator)).Version.ShouldBe(1);
        (await _samir.Delete("/api/setup/roles/coordinator")).Status.ShouldBe(HttpStatusCode.OK);
        var back = await Role(ShippedRoles.Coordinator);
        back.Version.ShouldBe(0);
        back.Role.May.ShouldBe(coordinator.Role.May);
        (await _samir.Delete("/api/setup/roles/coordinator")).Status.ShouldBe(HttpStatusCode.NotFound);
        // Those with places in teams keep being given leads.
        var rep = await Role(ShippedRoles.Rep);
        (await Change(rep, rep.Role with { GivenLeads = false })).Problem.ShouldBe("role-in-turns");
        (await Change(rep, rep.Role with { May = [.. rep.Role.May.Where(a => a != Act.WorkLeads)] })).Problem.ShouldBe("role-act-needs");
    }

    [Fact]
    public async Task FieldsThatARoleDoesNotSeeStandNowhereAndThoseItKeepsAreNotChanged()
    {
        var manager = await Role(ShippedRoles.Manager);
        await _samir.Post("/api/setup/roles", manager.Role with { Name = "Blind", PersonalData = false, ChangesContactData = false });
        await Give("harald.quist", "blind");
        var harald = await _server.SignIn("harald.quist");
        await using var connection = await _server.Connect();
        var (id, version) = await connection.QuerySingleAsync<(Guid, int)>(
            "update lead set job_title = 'Xylograph', language = 'no' where id = (select id from lead where email is not null and state = 'new' order by number limit 1) returning id, version"
        );
        var sheet = await harald.Get($"/api/leads/{id}");
        sheet.Body.ShouldNotContain("Xylograph");
        sheet.Read<LeadSheet>().Facts.Where(f => f.Hidden).Select(f => f.Key).ShouldBe(["job_title", "language", "decides"], ignoreOrder: true);
        var title = Uri.EscapeDataString(DapperLantern.App.Data.Json.Write(Condition.Where("job_title", TestOperator.In, "Xylograph")));
        (await harald.Read<LeadCount>($"/api/leads/count?where={title}")).All.ShouldBe(0);
        (await _samir.Read<LeadCount>($"/api/leads/count?where={title}")).All.ShouldBe(1);
        (await harald.Get("/api/leads.csv")).Body.ShouldNotContain("Xylograph");
        (await harald.Get("/api/leads/groups.csv?by=job_title")).Body.ShouldNotContain("Xylograph");
        (await _samir.Get("/api/leads.csv")).Body.ShouldContain("Xylograph");
        async Task<string> Edit(string field, string value) =>
            (await harald.Patch($"/api/leads/{id}", new { facts = new Dictionary<string, string> { [field] = value } }, version)).Problem ?? "";
        (await Edit("job_title", "Typesetter")).ShouldBe("field-locked");
        (await Edit("email", "other@other.example")).ShouldBe("field-locked");
        var bulk = new
        {
            act = new
            {
                kind = "fact",
                field = "language",
                value = "en",
            },
            leads = new[] { id },
        };
        (await harald.Post("/api/bulk-edits", bulk)).Problem.ShouldBe("field-locked");
        (await Edit("industry", "brewery")).ShouldBe("");
        (await connection.QuerySingleAsync<string>("select job_title from lead where id = @id", new { id })).ShouldBe("Xylograph");
    }

    [Fact]
    public async Task CostsAndMarginsStandNowhereForARoleThatDoesNotSeeThem()
    {
        var marketer = await Role(ShippedRoles.Marketer);
        await _samir.Post("/api/setup/roles", marketer.Role with { Name = "Costless", CostData = false });
        await _samir.Post("/api/setup/roles", marketer.Role with { Name = "Reads costs", ChangesCostData = false });
        (await _samir.Post("/api/custom-fields", new NewField("Landed cost", FieldType.Money, Currency: "EUR", Cost: true))).Status.ShouldBe(HttpStatusCode.Created);
        (await _samir.Read<RolesView>("/api/setup/roles")).CostFields.ShouldBe(["money spent on campaigns", "Landed cost"]);
        await using var connection = await _server.Connect();
        var id = await connection.QuerySingleAsync<Guid>(
            "update lead set custom = custom || '{\"landed_cost\": \"36925814\"}' where id = (select id from lead where state = 'new' order by number limit 1) returning id"
        );
        var campaign = await connection.QuerySingleAsync<string>("select campaign_key from campaign_cost group by 1 order by sum(amount) desc limit 1");
        await connection.ExecuteAsync("update campaign set budget = 9876543 where key = @campaign", new { campaign });
        var sheet = (await _samir.Read<CampaignSheet>($"/api/campaigns/{campaign}"));
        (sheet.ShowsCosts, sheet.ChangesCosts, sheet.Campaign.Budget, sheet.Costs.Count > 0).ShouldBe((true, true, 9876543m, true));
        CampaignOrder Order(decimal? budget) =>
            new(sheet.Campaign.Name, sheet.Campaign.Kind, sheet.Campaign.Starts, sheet.Campaign.Ends, budget, sheet.Campaign.Target, sheet.OwnerId, "Changed", false);
        async Task<int> Version() => await connection.QuerySingleAsync<int>("select version from campaign where key = @campaign", new { campaign });
        async Task<decimal> Budget() => await connection.QuerySingleAsync<decimal>("select budget from campaign where key = @campaign", new { campaign });
        var cost = new NewCost(Guid.CreateVersion7(), sheet.Campaign.Starts, "Posters", 12m);
        var where = Uri.EscapeDataString(DapperLantern.App.Data.Json.Write(Condition.Where("landed_cost", TestOperator.AtLeast, "36000000")));
        (await _samir.Read<LeadCount>($"/api/leads/count?where={where}")).All.ShouldBe(1);

        await Give("lucie.armand", "costless");
        var lucie = await _server.SignIn("lucie.armand");
        var seen = await lucie.Read<CampaignSheet>($"/api/campaigns/{campaign}");
        (seen.ShowsCosts, seen.Campaign.Budget, seen.Campaign.Spent, seen.Campaign.CostEach, seen.Costs.Count).ShouldBe((false, null, null, null, 0));
        (await lucie.Get("/api/campaigns")).Body.ShouldNotContain("9876543");
        (await lucie.Read<IntakeView>("/api/intake")).Sources.ShouldAllBe(s => s.CostEach == null);
        (await lucie.Get($"/api/leads/{id}")).Body.ShouldNotContain("36925814");
        (await lucie.Read<LeadCount>($"/api/leads/count?where={where}")).All.ShouldBe(0);
        (await lucie.Get("/api/leads.csv")).Body.ShouldNotContain("36925814");
        // A guess that is right is refused like one that is not.
        foreach (var guess in new[] { 9876543m, 9876544m })
            (await lucie.Put($"/api/campaigns/{campaign}", Order(guess), await Version())).Problem.ShouldBe("field-locked");
        (await lucie.Put($"/api/campaigns/{campaign}", Order(null), await Version())).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Budget()).ShouldBe(9876543m);
        (await lucie.Post($"/api/campaigns/{campaign}/costs", cost)).Problem.ShouldBe("field-locked");
        (await lucie.Delete($"/api/campaigns/{campaign}/costs/{sheet.Costs[0].Id}")).Problem.ShouldBe("field-locked");

        await Give("lucie.armand", "reads-costs");
        lucie = await _server.SignIn("lucie.armand");
        var read = await lucie.Read<CampaignSheet>($"/api/campaigns/{campaign}");
        (read.ShowsCosts, read.ChangesCosts, read.Campaign.Budget, read.Costs.Count).ShouldBe((true, false, 9876543m, sheet.Costs.Count));
        (await lucie.Put($"/api/campaigns/{campaign}", Order(9876544m), await Version())).Problem.ShouldBe("field-locked");
        (await lucie.Put($"/api/campaigns/{campaign}", Order(9876543m), await Version())).Status.ShouldBe(HttpStatusCode.NoContent);
        (await lucie.Post($"/api/campaigns/{campaign}/costs", cost)).Problem.ShouldBe("field-locked");
        var rights = await _samir.Read<PersonRights>($"/api/setup/rights/{await connection.QuerySingleAsync<Guid>("select id from person where user_name = 'lucie.armand'")}");
        (rights.HiddenFields.Contains("Landed cost"), rights.LockedFields.Contains("Landed cost"), rights.LockedFields.Contains("money spent on campaigns")).ShouldBe(
            (false, true, true)
        );
    }

    [Fact]
    public async Task WhatSomebodySeesIsToldAsTheDatabaseAnswersIt()
    {
        await using var connection = await _server.Connect();
        var tor = await connection.QuerySingleAsync<Guid>("select id from person where user_name = 'tor.vik'");
        await connection.ExecuteAsync(
            """
            update person set manager_id = @tor where id = (select id from person where 'qualifier' = any(roles) order by user_name limit 1);
            insert into record_share (id, person_id, lead_id, at) select gen_random_uuid(), @tor, id, now() from lead where owner_id is distinct from @tor order by number desc limit 5;
            """,
            new { tor }
        );
        // A role of its own, with no place in a team to lose.
        await _samir.Post("/api/setup/roles", (await Role(ShippedRoles.Rep)).Role with { Name = "Seer", GivenLeads = false });
        await connection.ExecuteAsync("delete from turn where person_id = @tor; update person set roles = '{seer}' where id = @tor", new { tor });
        await connection.ExecuteAsync(
            "insert into turn (team_key, person_id, position, weight, credit) select team_key, @tor, 99, 1, 0 from turn where team_key = 'north-sea' limit 1",
            new { tor }
        );
        var leads = (
            await connection.QueryAsync<Guid>("(select id from lead order by number desc limit 12) union (select distinct on (owner_id) id from lead order by owner_id, number)")
        ).ToArray();
        var (told, yes) = (0, 0);
        Reach[][] sights = [All, Own, [Reach.Team], [Reach.Reports], [Reach.Unowned], [Reach.Shared], [Reach.Own, Reach.Shared], None];
        foreach (var sight in sights)
        {
            var seer = await Role("seer");
            var may = sight.Length > 0 ? seer.Role.May : [.. seer.Role.May.Where(a => a is Act.SeeScoring or Act.WorkDeals)];
            (await Change(seer, seer.Role with { Sees = new RoleSight(sight, All, All, All), May = may, ContactData = sight })).Status.ShouldBe(HttpStatusCode.OK);
            var client = await _server.SignIn("tor.vik");
            foreach (var id in leads)
            {
                var answer = await _samir.Read<RecordRights>($"/api/setup/rights/{tor}/lead/{id}");
                answer.Sees.ShouldBe((await client.Get($"/api/leads/{id}")).Status == HttpStatusCode.OK, $"{string.Join(' ', sight)} {id}");
                answer.SeesContactData.ShouldBe(answer.Sees);
                if (answer.Sees)
                    answer.Parts.ShouldContain(p => p.IsIn == true && p.Roles.Count > 0);
                told++;
                yes += answer.Sees ? 1 : 0;
            }
            var rights = await _samir.Read<PersonRights>($"/api/setup/rights/{tor}");
            rights.Sees.Single(k => k.Kind == "lead").Seen.ShouldBe(sight.Length == 0 ? 0 : (await client.Read<LeadCount>("/api/leads/count")).All);
        }
        (told - yes).ShouldBeGreaterThan(20);
        yes.ShouldBeGreaterThan(20);
        (await _samir.Get($"/api/setup/rights/{tor}/quote/{tor}")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await _samir.Get($"/api/setup/rights/{Guid.NewGuid()}")).Status.ShouldBe(HttpStatusCode.NotFound);
    }
}
