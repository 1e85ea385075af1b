using System.Net;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Demo;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Setup;

public sealed class DemoTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static readonly DateTime Today = new(2026, 11, 23, 12, 0, 0, DateTimeKind.Utc);
    private static string Folder => Path.Combine(TestServer.Root, "demo");

    private async Task<int> Count(string sql)
    {
        await using var connection = await fixture.Server.Connect();
        return await connection.QuerySingleAsync<int>($"select count(*)::int from {sql}");
    }

    private List<DemoLead> Invent()
    {
        var catalogue = fixture.Server.Services.GetRequiredService<WorkspaceConfiguration>().Current.Catalogue;
        var people = new DemoPeople(DemoFiles.Read<DemoNames>(Folder, "names.json"), catalogue, Today, 71);
        return people.Leads(people.Companies(430), 400);
    }

    [Fact]
    public void TheSameDayMakesTheSamePeople()
    {
        static IEnumerable<string> Written(IEnumerable<DemoLead> leads) => leads.Select(l => $"{l.At:O} {l.Source} {Json.Facts(l.Facts.Known())} {string.Join(' ', l.Events)}");
        Written(Invent()).ShouldBe(Written(Invent()));
    }

    [Fact]
    public void EverybodyIsInvented()
    {
        foreach (var lead in Invent())
        {
            lead.Facts.Text("email")!.ShouldEndWith(".example");
            if (lead.Facts.Text("phone") is { } phone)
                phone.ShouldMatch(@"^\+(441632960\d{3}|1\d{3}55501\d{2}|493023125\d{3}|468465004\d{2}|3532091\d{5})$");
        }
    }

    [Fact]
    public async Task TheDemoHasTheAmountsItsScenarioNames()
    {
        (await Count("lead")).ShouldBeInRange(1100, 1300);
        (await Count("account")).ShouldBeInRange(190, 330);
        (await Count("contact")).ShouldBeInRange(350, 520);
        (await Count("deal")).ShouldBeInRange(250, 380);
        (await Count("lead_event")).ShouldBeGreaterThan(4500);
    }

    [Theory]
    [InlineData("lead l where not exists (select 1 from lead_event e where e.lead_id = l.id)")]
    [InlineData("lead l where not exists (select 1 from event e where e.record = l.id and e.kind = 'came_in' and e.at = l.created_at)")]
    [InlineData("event where at > now() or cause = 'unknown'")]
    [InlineData(
        "lead l where not exists (select 1 from lead_span s where s.lead_id = l.id and s.until is null and s.state = l.state and s.owner_id is not distinct from l.owner_id)"
    )]
    [InlineData("deal d where not exists (select 1 from deal_span s where s.deal_id = d.id and s.until is null and s.stage_key = d.stage_key and s.amount = d.amount)")]
    [InlineData("lead_span s where s.until is not null and not exists (select 1 from lead_span n where n.lead_id = s.lead_id and n.since = s.until)")]
    [InlineData("lead l where l.state = 'handed_over' and not exists (select 1 from event e where e.record = l.id and e.kind = 'handed')")]
    [InlineData(
        "deal d join stage g on g.pipeline_key = d.pipeline_key and g.key = d.stage_key where g.counts = 'won' and not exists (select 1 from event e where e.record = d.id and e.kind = 'won' and e.at = d.closed_at)"
    )]
    [InlineData("lead l where not exists (select 1 from routing_decision d where d.lead_id = l.id)")]
    [InlineData("lead where state = 'handed_over' and not exists (select 1 from handover h where h.lead_id = lead.id)")]
    [InlineData("lead where last_touch_at < created_at or last_touch_at > now()")]
    [InlineData("story_entry where at > now()")]
    [InlineData("deal d join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key where (s.counts = 'open') <> (d.closed_at is null)")]
    [InlineData("deal where lost_reason is null and stage_key = 'lost'")]
    [InlineData("(select team_key from turn group by team_key having sum(credit) <> 0) x")]
    public async Task NothingInItContradictsItself(string broken) => (await Count(broken)).ShouldBe(0);

    [Fact]
    public async Task ItsModelAndItsRulesAskOnlyWhatTheCatalogueKnows()
    {
        var workspace = fixture.Server.Services.GetRequiredService<WorkspaceConfiguration>().Current;
        await using var connection = await fixture.Server.Connect();
        var model = (await workspace.Model(connection.Over())).Model;
        var sheet = DemoFiles.Read<RuleSheet>(Folder, "rule-sheet.json");
        var conditions = model.Fit.SelectMany(c => c.Lines.Select(l => l.When)).Concat(sheet.Rules.Select(r => r.When));
        conditions.SelectMany(c => ConditionCheck.Check(c, workspace.Catalogue)).ShouldBeEmpty();
        var setup = DemoFiles.Read<DemoSetup>(Folder, "setup.json");
        sheet.Rules.Select(r => r.To.Team).OfType<string>().Except(setup.Teams.Select(t => t.Key)).ShouldBeEmpty();
        sheet.Rules.Select(r => r.To.Person).OfType<string>().Except(setup.People.Select(p => p.SignIn)).ShouldBeEmpty();
        setup.Sources.Select(s => s.EventKind).Except(model.Engagement.Select(e => e.Kind)).ShouldBeEmpty();
    }

    [Fact]
    public async Task AnEditionSurvivesItsJson()
    {
        var model = ModelFile.Read(File.ReadAllText(Path.Combine(Folder, "setup", "scoring-model.json"))).Model!;
        Json.Write(Json.Read<ScoringModel>(Json.Write(model))).ShouldBe(Json.Write(model));
        await using var connection = await fixture.Server.Connect();
        (await connection.QuerySingleAsync<int>("select count(*)::int from edition where state = 'live' and kind in ('scoring', 'rules')")).ShouldBe(2);
    }

    [Fact]
    public async Task TheDemoShowsOneOfEachRoleWhoCanSignInAndOut()
    {
        var stranger = new TestClient(fixture.Server.Address);
        var shown = await stranger.Read<List<DemoSignIn>>("/api/demo-sign-ins");
        shown.Select(s => s.Role).ShouldBeUnique();
        shown[0].Role.ShouldBe("Coordinator");
        foreach (var one in shown)
        {
            var client = new TestClient(fixture.Server.Address);
            await client.SignIn(one.Name, one.Password);
            (client.Session.Name, client.Session.Role).ShouldBe((one.DisplayName, one.Role));
            (await client.Delete("/api/session")).Status.ShouldBe(HttpStatusCode.NoContent);
            (await client.Get("/api/leads")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        }
    }
}
