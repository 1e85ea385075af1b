using System.Net;
using System.Text;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.Routing;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Routing;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.App.Tests.Routing;

/// <summary>Leads exchanged and handed on, who leaves, and what the new owner is told at once.</summary>
public sealed class ByHandTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _ingrid = null!;
    private NpgsqlConnection _connection = null!;

    public async ValueTask InitializeAsync() => (_ingrid, _connection) = (await fixture.Server.SignIn("ingrid.brekke"), await fixture.Server.Connect());

    public async ValueTask DisposeAsync() => await _connection.DisposeAsync();

    private Task<Guid?> OwnerOf(Guid lead) => _connection.QuerySingleAsync<Guid?>("select owner_id from lead where id = @lead", new { lead });

    private Task<Guid> Person(string signIn) => _connection.QuerySingleAsync<Guid>("select id from person where user_name = @signIn", new { signIn });

    private async Task<BulkEditView> Bulk(object order)
    {
        var answer = await _ingrid.Post("/api/bulk-edits", order);
        answer.Status.ShouldBe(HttpStatusCode.Accepted, answer.Body);
        return await _ingrid.Ended(answer.Read<BulkEditView>());
    }

    [Fact]
    public async Task ALeadWithoutOwnerIsTakenOnceByThoseWhoTakeLeads()
    {
        var lead = await _ingrid.MakeLead("Tomada", "Portugal");
        await _connection.ExecuteAsync("update lead set owner_id = null where id = @lead", new { lead });
        (await _ingrid.Post($"/api/leads/{lead}/take")).Problem.ShouldBe("takes-no-leads");
        (await OwnerOf(lead)).ShouldBeNull();
        var (tor, mateo) = (await fixture.Server.SignIn("tor.vik"), await fixture.Server.SignIn("mateo.ruvio"));
        var both = await Task.WhenAll(tor.Post($"/api/leads/{lead}/take"), mateo.Post($"/api/leads/{lead}/take"));
        both.Count(b => b.Status == HttpStatusCode.OK).ShouldBe(1);
        (await OwnerOf(lead)).ShouldBe(both[0].Status == HttpStatusCode.OK ? tor.Session.Id : mateo.Session.Id);
    }

    [Fact]
    public async Task TwoLeadsExchangeOwnersWithTheirTasksAndBack()
    {
        var (a, b) = (await _ingrid.MakeLead("Troca", "Portugal"), await _ingrid.MakeLead("Cambio", "Spain"));
        var (hadA, hadB) = (await OwnerOf(a), await OwnerOf(b));
        hadA.ShouldNotBe(hadB);
        var act = new { kind = "give", swap = true };
        (await _ingrid.Post("/api/bulk-edits", new { act, leads = new[] { a } })).Problem.ShouldBe("swap-two");
        (await _ingrid.Post("/api/bulk-edits", new { act, where = "{\"all\":[]}" })).Problem.ShouldBe("swap-two");
        var preview = (await _ingrid.Post("/api/bulk-edits/preview", new { act, leads = new[] { a, b } })).Read<BulkPreview>();
        preview.Samples.Select(s => (s.Before, s.After)).ShouldBe([(preview.Samples[1].After, preview.Samples[1].Before), (preview.Samples[0].After, preview.Samples[0].Before)]);

        var edit = await Bulk(new { act, leads = new[] { a, b } });
        (edit.State, edit.Changed, edit.Words).ShouldBe(("done", 2, "Owners exchanged"));
        ((await OwnerOf(a)), (await OwnerOf(b))).ShouldBe((hadB, hadA));
        (
            await _connection.QuerySingleAsync<int>(
                "select count(*)::int from task t join lead l on l.id = t.lead_id and l.owner_id = t.owner_id where l.id = any(@ids)",
                new { ids = new[] { a, b } }
            )
        ).ShouldBe(2);
        (await _ingrid.Ended((await _ingrid.Post($"/api/bulk-edits/{edit.Id}/undo")).Read<BulkEditView>())).State.ShouldBe("undone");
        ((await OwnerOf(a)), (await OwnerOf(b))).ShouldBe((hadA, hadB));
    }

    [Fact]
    public async Task OneOfTwoThatNobodyHasLeavesTheOtherWhereItIs()
    {
        var (a, b) = (await _ingrid.MakeLead("Sozinho", "Portugal"), await _ingrid.MakeLead("Ninguem", "Japan"));
        var had = await OwnerOf(a);
        (await OwnerOf(b)).ShouldBeNull();
        var edit = await Bulk(new { act = new { kind = "give", swap = true }, leads = new[] { a, b } });
        (edit.Changed, edit.LeftAlone).ShouldBe((0, 2));
        edit.Left.Select(l => l.Why).Order().ShouldBe(["nobody has it", "the other one cannot change hands"]);
        (await OwnerOf(a)).ShouldBe(had);
    }

    [Fact]
    public async Task LeadsOfSomebodyAreHandedOnByTheRulesAndNotBackToThem()
    {
        var lead = await _ingrid.MakeLead("Adiante", "Portugal");
        var had = await OwnerOf(lead);
        var mine = (await _connection.QueryAsync<Guid>("select id from lead where owner_id = @had and state in ('new', 'in_work', 'on_hold', 'qualified')", new { had })).ToArray();
        var where = $$"""{"all":[{"field":"owner","is":"in","values":["{{had}}"]},{"field":"state","is":"in","values":["new","in_work","on_hold","qualified"]}]}""";
        var edit = await Bulk(
            new
            {
                act = new
                {
                    kind = "give",
                    to = Array.Empty<Guid>(),
                    byRules = true,
                    onward = true,
                },
                where,
            }
        );
        (edit.State, edit.Changed, edit.Words).ShouldBe(("done", mine.Length, "Handed on by the rules"));
        (await _connection.QuerySingleAsync<int>("select count(*)::int from lead where id = any(@mine) and owner_id = @had", new { mine, had })).ShouldBe(0);
        // Each with its trace; the new owners are told once each, and not of every lead.
        (
            await _connection.QuerySingleAsync<int>(
                "select count(distinct lead_id)::int from routing_decision where lead_id = any(@mine) and at >= @CreatedAt",
                new { mine, edit.CreatedAt }
            )
        ).ShouldBe(mine.Length);
        await fixture.Server.Heard();
        (
            await _connection.QuerySingleAsync<int>(
                "select count(*)::int from outbox where kind = 'lead-given' and lead_id = any(@mine) and created_at >= @CreatedAt",
                new { mine, edit.CreatedAt }
            )
        ).ShouldBe(0);
        (await _ingrid.Ended((await _ingrid.Post($"/api/bulk-edits/{edit.Id}/undo")).Read<BulkEditView>())).Restored.ShouldBe(mine.Length);
        (await _connection.QuerySingleAsync<int>("select count(*)::int from lead where id = any(@mine) and owner_id = @had", new { mine, had })).ShouldBe(mine.Length);
    }

    [Fact]
    public async Task LeadsOfWhoLeavesWaitOnTheDeskAndNobodyIsLeftWithThemUnseen()
    {
        var wren = await Person("wren.castillo");
        var (open, closed) = (await _ingrid.MakeLead("Saida", "Japan"), await _ingrid.MakeLead("Fechada", "Japan"));
        await _connection.ExecuteAsync("update lead set owner_id = @wren where id = any(@ids)", new { wren, ids = new[] { open, closed } });
        await _connection.ExecuteAsync("update lead set state = 'disqualified', state_reason = 'no_need' where id = @closed", new { closed });
        var samir = await fixture.Server.SignIn("samir.haddow");
        (await samir.Post($"/api/setup/people/{wren}/suspend")).Status.ShouldBe(HttpStatusCode.OK);
        ((await OwnerOf(open)), (await OwnerOf(closed))).ShouldBe((null, wren));
        // Whatever writes them, an open lead is with nobody who is gone: it waits where the coordinator sees it.
        await _connection.ExecuteAsync("update lead set owner_id = @wren where id = @open", new { wren, open });
        (await OwnerOf(open)).ShouldBeNull();
        await _connection.ExecuteAsync("update lead set state = 'in_work' where id = @closed", new { closed });
        (await OwnerOf(closed)).ShouldBeNull();
        await _connection.ExecuteAsync(
            "insert into lead (id, source, state, next_move, last_name, owner_id, fit, fit_low, fit_high, engagement, band, created_at, last_touch_at) values (gen_random_uuid(), 'telephone', 'new', 'park', 'Nascida', @wren, 0, 0, 0, 0, 0, now(), now())",
            new { wren }
        );
        (await _connection.QuerySingleAsync<Guid?>("select owner_id from lead where last_name = 'Nascida'")).ShouldBeNull();
        await Should.ThrowAsync<PostgresException>(() => _connection.ExecuteAsync("update lead set owner_id = gen_random_uuid() where id = @open", new { open }));
        (await samir.Post($"/api/setup/people/{wren}/return")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task ANewOwnerIsToldAtOnceAndNobodyElseIs()
    {
        using var stop = new CancellationTokenSource(TimeSpan.FromSeconds(30));
        var (tor, sten) = (await fixture.Server.SignIn("tor.vik"), await fixture.Server.SignIn("sten.lindmark"));
        using var heard = new StreamReader(await (await tor.Watch("/api/notices/live", stop.Token)).Content.ReadAsStreamAsync(stop.Token));
        using var others = new StreamReader(await (await sten.Watch("/api/notices/live", stop.Token)).Content.ReadAsStreamAsync(stop.Token));
        (await heard.ReadLineAsync(stop.Token)).ShouldBe("event: here");
        (await others.ReadLineAsync(stop.Token)).ShouldBe("event: here");
        await _ingrid.MakeLead("Hastverk", "NO", ("industry", "Fish farming"));
        var brattli = await _ingrid.MakeLead("Brattli", "Japan");
        (await _ingrid.Put($"/api/leads/{brattli}/owner", new { owner = await Person("sten.lindmark") })).Status.ShouldBe(HttpStatusCode.OK);
        (await Told(heard, stop.Token)).ShouldContain("Hastverk");
        (await Told(others, stop.Token)).ShouldContain("Brattli");
        (await new TestClient(fixture.Server.Address).Get("/api/notices/live")).Status.ShouldBe(HttpStatusCode.Unauthorized);
    }

    private static async Task<string> Told(StreamReader from, CancellationToken cancel)
    {
        while (await from.ReadLineAsync(cancel) is { } line)
            if (line == "event: notice")
                return (await from.ReadLineAsync(cancel))!;
        return "";
    }

    [Fact]
    public async Task ALeadThatClearsTheBarIsAskedAboutOnceAndGoesWhereTheSheetSays()
    {
        var before = await _ingrid.Read<RoutingView>("/api/routing");
        var sheet = before.Live.Sheet with
        {
            Moments = [RoutingMoment.Arrival, RoutingMoment.GivenBack, RoutingMoment.Cleared],
            Rules = before.Live.Sheet.Rules.Add(
                new Rule("closer", "closer", Condition.Always, new RuleOutcome(Person: "sten.lindmark")) with
                {
                    Moments = [RoutingMoment.Cleared],
                }
            ),
        };
        var draft = (await _ingrid.Put("/api/routing/draft", new SheetOrder(sheet), 0)).Read<DraftSheet>();
        (await _ingrid.Post("/api/routing/publish", version: draft.Version)).Status.ShouldBe(HttpStatusCode.OK);
        var (clears, stays) = (await _ingrid.MakeLead("Passou", "Portugal"), await _ingrid.MakeLead("Ficou", "Portugal"));
        var had = await OwnerOf(stays);
        await _connection.ExecuteAsync(
            "insert into crossing (id, lead_id, kind, at, fit, engagement, by_edition) values (gen_random_uuid(), @clears, 'cleared', now(), 70, 60, false)",
            new { clears }
        );
        var watch = fixture.Server.Services.GetRequiredService<ResponseDeadlineWorker>();
        (await watch.Cleared(_connection.Over(), DateTime.UtcNow)).ShouldBe(1);
        (await OwnerOf(clears)).ShouldBe(await Person("sten.lindmark"));
        (await OwnerOf(stays)).ShouldBe(had);
        (await watch.Cleared(_connection.Over(), DateTime.UtcNow)).ShouldBe(0);
        (await _ingrid.Read<LeadSheet>($"/api/leads/{clears}")).Story.Select(s => s.Text).ShouldContain("Cleared the bar; given to Sten Lindmark");
        await _ingrid.Post($"/api/routing/editions/{before.Edition}/publish");
    }

    [Fact]
    public async Task AListIsPlayedThroughADraftAndNothingIsKept()
    {
        var live = (await _ingrid.Read<RoutingView>("/api/routing")).Live.Sheet;
        var draft = live with
        {
            Rules = live.Rules.Insert(0, new Rule("pt", "Portugal", Condition.Where("country", TestOperator.In, "PT"), new RuleOutcome(Person: "sten.lindmark"))),
        };
        var list = Encoding.UTF8.GetBytes(
            "Last name,Mail,Country,Company\nAlves,a@alves.example,Portugal,Alves Lda\nBarros,b@barros.example,Spain,\nCosta,c@costa.example,Portugal,\nDias,d@dias.example,Portugal,Alves Lda\n,,,\nEmpty,,Portugal,\n"
        );
        const string Everything =
            "select (select count(*) from lead) + (select count(*) from import) + (select count(*) from arrival) + (select count(*) from routing_decision) + (select sum(abs(credit)) from turn)";
        var before = await _connection.QuerySingleAsync<decimal>(Everything);

        var played = (await _ingrid.SendFile("/api/routing/trial/list", "fair.csv", list, ("sheet", Json.Write(draft)))).Read<PlayView>();
        // Row 4 follows row 1 of its company; row 2 is now the first of its team, so it goes to somebody else as well.
        (played.Leads, played.Aside, played.Hits[0], played.Guarded, played.Changed).ShouldBe((4, 1, 2, 1, 4));
        played.Changes.Where(c => c.Now == "Sten Lindmark").Select(c => (c.Lead, c.Number)).ShouldBe([(null, 1), (null, 3), (null, 4)]);
        played.Shares.Single(s => s.Name == "Sten Lindmark").Now.ShouldBe(3);
        // By the live sheet the second lead of a company follows the first.
        var same = (await _ingrid.SendFile("/api/routing/trial/list", "fair.csv", list, ("sheet", Json.Write(live)))).Read<PlayView>();
        (same.Changed, same.Guarded, same.Changes.Count).ShouldBe((0, 1, 0));
        (await _connection.QuerySingleAsync<decimal>(Everything)).ShouldBe(before);

        (await _ingrid.SendFile("/api/routing/trial/list", "fair.csv", list, ("sheet", "no sheet"))).Problem.ShouldBe("sheet-untried");
        (await _ingrid.SendFile("/api/routing/trial/list", "fair.csv", list)).Problem.ShouldBe("request-unreadable");
        (await _ingrid.SendFile("/api/routing/trial/list", "x.png", [0x89, 0x50, 0x4E, 0x47, 13, 10, 26, 10], ("sheet", Json.Write(draft)))).Status.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
        (await (await fixture.Server.SignIn("tor.vik")).SendFile("/api/routing/trial/list", "fair.csv", list, ("sheet", Json.Write(draft)))).Status.ShouldBe(
            HttpStatusCode.Forbidden
        );
    }
}
