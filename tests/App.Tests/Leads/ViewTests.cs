using System.Net;
using DapperLantern.App.Leads;
using DapperLantern.Core.Conditions;

namespace DapperLantern.App.Tests.Leads;

/// <summary>Whose views are seen and changed by whom.</summary>
public sealed class ViewTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static ViewWrite View(string name, string scope, params string[] teams) =>
        new(
            name,
            scope,
            teams,
            scope == "fixed" ? ["give", "export"] : [],
            new ViewBody(Condition.Where("country", TestOperator.In, "NO"), "-fit", [new("country", 120), new("tag")], "state", true)
        );

    private static async Task<ViewView?> Seen(TestClient who, string name) => (await who.Read<List<ViewView>>("/api/views")).SingleOrDefault(v => v.Name == name);

    [Fact]
    public async Task TheViewsThatShipHoldWhatTheyCount()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var views = await ingrid.Read<List<ViewView>>("/api/views");
        views.Select(v => v.Name).ShouldContain("Came back to life");
        foreach (var view in views)
        {
            view.Broken.ShouldBeNull(view.Name);
            var count = await ingrid.Read<LeadCount>($"/api/views/{view.Id}/count");
            var query = $"where={Uri.EscapeDataString(DapperLantern.App.Data.Json.Write(view.Body.Where))}&order={view.Body.Order}&group={view.Body.Group}";
            (await ingrid.Read<LeadPage>($"/api/leads?{query}")).Count.ShouldBe(count.All, view.Name);
            if (view.Name != "My leads")
                count.All.ShouldBeGreaterThan(0, view.Name);
        }
    }

    [Fact]
    public async Task APersonalViewIsSeenByNobodyElse()
    {
        var (tor, ingrid) = (await fixture.Server.SignIn("tor.vik"), await fixture.Server.SignIn("ingrid.brekke"));
        var made = (await tor.Post("/api/views", View("Mine alone", "personal"))).Read<Guid>();
        var mine = (await Seen(tor, "Mine alone"))!;
        (mine.MayChange, mine.Body.Dense, mine.Body.Group, mine.Sentence, mine.Body.Columns[0]).ShouldBe(
            (true, true, "state", "country is Norway", new ViewColumn("country", 120))
        );
        (await Seen(ingrid, "Mine alone")).ShouldBeNull();
        (await ingrid.Get($"/api/views/{made}/count")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await ingrid.Put($"/api/views/{made}", View("Taken", "personal"))).Status.ShouldBe(HttpStatusCode.NotFound);
        (await ingrid.Delete($"/api/views/{made}")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await tor.Delete($"/api/views/{made}")).Status.ShouldBe(HttpStatusCode.NoContent);
    }

    [Fact]
    public async Task ASharedViewIsSeenByItsTeamsAndChangedByItsMaker()
    {
        var (tor, effie) = (await fixture.Server.SignIn("tor.vik"), await fixture.Server.SignIn("effie.marlowe"));
        var made = (await tor.Post("/api/views", View("For the north", "shared", "north-sea"))).Read<Guid>();
        (await Seen(effie, "For the north")).ShouldBeNull();
        (await tor.Put($"/api/views/{made}", View("For the small", "shared", "small-waters"), 1)).Status.ShouldBe(HttpStatusCode.NoContent);
        var seen = (await Seen(effie, "For the small"))!;
        (seen.MayChange, seen.Owner).ShouldBe((false, "Tor Vik"));
        (await effie.Put($"/api/views/{made}", View("Mine now", "personal"), seen.Version)).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await tor.Put($"/api/views/{made}", View("Too late", "shared"), 1)).Status.ShouldBe(HttpStatusCode.PreconditionFailed);
    }

    [Fact]
    public async Task OnlyCoordinatorsFixAViewAndItSaysWhatItsTeamMayDo()
    {
        var (tor, ingrid) = (await fixture.Server.SignIn("tor.vik"), await fixture.Server.SignIn("ingrid.brekke"));
        (await tor.Post("/api/views", View("Fixed", "fixed"))).Status.ShouldBe(HttpStatusCode.Forbidden);
        var made = (await ingrid.Post("/api/views", View("Fixed", "fixed", "north-sea"))).Read<Guid>();
        var seen = (await Seen(tor, "Fixed"))!;
        (seen.MayChange, string.Join(' ', seen.MayDo)).ShouldBe((false, "give export"));
        (await Seen(ingrid, "Fixed"))!.MayDo.ShouldBeEmpty();
        (await Seen(ingrid, "Fixed"))!.MayChange.ShouldBeTrue();
        (await tor.Delete($"/api/views/{made}")).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task WhereAViewSaysSoItsTeamDownloadsWhatItHoldsAndNoMore()
    {
        var (tor, effie, ingrid) = (await fixture.Server.SignIn("tor.vik"), await fixture.Server.SignIn("effie.marlowe"), await fixture.Server.SignIn("ingrid.brekke"));
        (await tor.Get("/api/leads.csv")).Status.ShouldBe(HttpStatusCode.Forbidden);
        var silent = (await ingrid.Post("/api/views", View("To look at", "fixed", "north-sea") with { Acts = ["give"] })).Read<Guid>();
        var made = (await ingrid.Post("/api/views", View("To download", "fixed", "north-sea"))).Read<Guid>();
        (await tor.Get($"/api/leads.csv?view={silent}")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await effie.Get($"/api/leads.csv?view={made}")).Status.ShouldBe(HttpStatusCode.Forbidden);
        var everything = Uri.EscapeDataString("""{"field":"country","is":"known"}""");
        var file = await tor.Get($"/api/leads.csv?view={made}&where={everything}");
        var count = await ingrid.Read<LeadCount>($"/api/views/{made}/count");
        file.Status.ShouldBe(HttpStatusCode.OK);
        file.Body.Split('\n', StringSplitOptions.RemoveEmptyEntries).Length.ShouldBe(count.All + 1);
    }

    [Fact]
    public async Task AViewThatCannotBeShownIsRefused()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var good = View("Good", "personal");
        await Refused(good with { Name = "  " }, "name-missing");
        await Refused(good with { Scope = "public" }, "view-scope-unknown");
        await Refused(good with { Teams = ["nobody"] }, "team-not-ours");
        await Refused(good with { Scope = "fixed", Acts = ["burn"] }, "view-act-unknown");
        await Refused(good with { Body = good.Body with { Order = "luck" } }, "order-unknown");
        await Refused(good with { Body = good.Body with { Columns = [new("luck")] } }, "field-unknown");
        await Refused(good with { Body = good.Body with { Columns = [new("country", 4)] } }, "at-place");
        await Refused(good with { Body = good.Body with { Group = "tag" } }, "group-unknown");
        await Refused(good with { Body = good.Body with { Where = Condition.Where("luck", TestOperator.Known) } }, "field-unknown");
        await Refused(good with { Body = good.Body with { Quick = [new("", Condition.Always)] } }, "quick-unfit");
        async Task Refused(ViewWrite view, string problem) => (await ingrid.Post("/api/views", view)).Problem.ShouldBe(problem);
    }
}
