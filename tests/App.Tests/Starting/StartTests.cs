using System.Net;
using DapperLantern.App.People;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.App.Starting;
using DapperLantern.Core.Rights;

namespace DapperLantern.App.Tests.Starting;

/// <summary>The first hour: step by step, left and taken up, a set put in place and taken back.</summary>
public sealed class StartTests : IAsyncLifetime
{
    private const string Password = "seven quiet herons";

    private TestServer _server = null!;
    private TestClient _first = null!;

    public async ValueTask InitializeAsync()
    {
        _server = await TestServer.StartEmpty();
        _first = await _server.First("Åse Fjell", "ase@fjell.example", "Europe/Oslo");
    }

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    private Task<StartView> Start() => _first.Read<StartView>("/api/start");

    private Task<Answer> Put(string set, object? teams = null) => _first.Post("/api/start/set", new { set, teams = teams ?? new { } });

    private async Task<PersonLine> Invite(string name, string role = ShippedRoles.Rep) =>
        (await _first.Post("/api/setup/people", new PersonOrder(name, $"{name.ToLowerInvariant().Replace(' ', '.')}@fjell.example", [role], "Europe/Oslo"))).Read<PersonLine>();

    // What the set-up holds, as text.
    private Task<string> SetUp() =>
        _server.Scalar<string>(
            """
            select concat((select count(*) from pipeline), ' ', (select count(*) from stage), ' ', (select count(*) from source), ' ', (select count(*) from form), ' ', (select count(*) from edition), ' ',
              (select count(*) from lead_view), ' ', (select count(*) from team), ' ', (select count(*) from turn), ' ',
              (select count(*) from setup_entry where key in ('value-lists', 'custom-fields', 'message-templates', 'step-plans')))
            """
        );

    [Fact]
    public async Task StepsAreDoneOrLeftAndTheHourEnds()
    {
        var start = await Start();
        start.Ended.ShouldBeFalse();
        start.Steps.ShouldAllBe(s => !s.Done && !s.Left);
        start.Sets.Select(s => s.Key).ShouldBe(StartingSets.Keys);
        _first.Session.Begins.ShouldBeTrue();
        (await _first.Post("/api/start/leave", new { step = "mail" })).Read<StartView>().Steps.Single(s => s.Left).Key.ShouldBe("mail");
        (await _first.Post("/api/start/leave", new { step = "lunch" })).Problem.ShouldBe("step-unknown");
        (await _first.Put("/api/start/ways", new { ways = Array.Empty<string>() })).Problem.ShouldBe("way-in-missing");
        (await _first.Put("/api/start/ways", new { ways = new[] { "pigeon" } })).Problem.ShouldBe("way-in-unknown");
        (await _first.Post("/api/start/end")).Read<StartView>().Ended.ShouldBeTrue();
        (await _first.Read<SessionView>("/api/session")).Begins.ShouldBeFalse();
    }

    [Fact]
    public async Task OnlyTheWaysThatWereChosenBecomeSources()
    {
        (await _first.Put("/api/start/ways", new { ways = new[] { "list", "telephone" } })).Status.ShouldBe(HttpStatusCode.OK);
        (await Put("organisations")).Status.ShouldBe(HttpStatusCode.OK);
        (await _server.Scalar<string>("select string_agg(key, ' ' order by key) from source")).ShouldBe("list-bought telephone");
        (await _server.Scalar<int>("select count(*)::int from form")).ShouldBe(0);
    }

    [Fact]
    public async Task ASetIsTakenBackWithoutATraceWhileNothingWasDoneWithIt()
    {
        await Invite("Per Vik");
        var before = await SetUp();
        (await Put("both")).Status.ShouldBe(HttpStatusCode.OK);
        (await SetUp()).ShouldNotBe(before);
        (await Put("organisations")).Problem.ShouldBe("set-up-already");
        (await Start()).CanTakeBack.ShouldBeTrue();
        var back = (await _first.Delete("/api/start/set")).Read<StartView>();
        (back.Set, await SetUp()).ShouldBe((null, before));
        (await _first.Delete("/api/start/set")).Problem.ShouldBe("not-found");
        // Another one, and a lead by hand: from then on it stays.
        (await Put("private-persons")).Status.ShouldBe(HttpStatusCode.OK);
        await _first.MakeLead("Berg", "NO");
        (await Start()).CanTakeBack.ShouldBeFalse();
        (await _first.Delete("/api/start/set")).Problem.ShouldBe("set-in-use");
    }

    [Fact]
    public async Task WhatTheCompanyMadeBeforeTheSetStaysBesideIt()
    {
        (await _first.Post("/api/custom-fields", new { label = "Roof", type = "text" })).Status.ShouldBe(HttpStatusCode.Created);
        (await _first.Post("/api/lists/competitors", new { label = "Glass and Sons" })).Status.ShouldBe(HttpStatusCode.OK);
        (await _first.Post("/api/forms", new { name = "Contact" })).Status.ShouldBe(HttpStatusCode.Created);
        (await Put("both")).Status.ShouldBe(HttpStatusCode.OK);
        (await _first.Get("/api/fields")).Body.ShouldContain("\"Roof\"");
        (await _first.Get("/api/fields")).Body.ShouldContain("\"Best time to call\"");
        (await _first.Get("/api/lists/competitors")).Body.ShouldContain("Glass and Sons");
        (await _server.Scalar<int>("select count(*)::int from form where key = 'contact'")).ShouldBe(1);
        // A form of one's own is there, so the set stays.
        (await Start()).CanTakeBack.ShouldBeFalse();
    }

    [Fact]
    public async Task ASetThatWasChangedIsNotTakenBackAndWhatWasThereComesBackWithIt()
    {
        (await _first.Post("/api/lists/competitors", new { label = "Glass and Sons" })).Status.ShouldBe(HttpStatusCode.OK);
        (await Put("organisations")).Status.ShouldBe(HttpStatusCode.OK);
        (await _first.Delete("/api/start/set")).Status.ShouldBe(HttpStatusCode.OK);
        (await _first.Get("/api/lists/competitors")).Body.ShouldContain("Glass and Sons");
        (await Put("organisations")).Status.ShouldBe(HttpStatusCode.OK);
        (await _first.Post("/api/lists/competitors", new { label = "Another" })).Status.ShouldBe(HttpStatusCode.OK);
        (await _first.Delete("/api/start/set")).Problem.ShouldBe("set-in-use");
    }

    [Fact]
    public async Task TheRulesGiveLeadsToTeamsOfTheCompanysOwn()
    {
        var per = await Invite("Per Vik");
        await Invite("Ida Moe");
        (
            await _first.Post(
                "/api/staff/teams",
                new
                {
                    name = "Coast",
                    onlyInHours = false,
                    places = new[] { new { person = per.Id, weight = 1 } },
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
        var team = await _server.Scalar<string>("select key from team");
        (await Put("organisations", new { sales = "mountains" })).Problem.ShouldBe("team-unknown");
        (await Put("organisations", new { sales = team })).Status.ShouldBe(HttpStatusCode.OK);
        (await _server.Scalar<int>("select count(*)::int from team")).ShouldBe(1);
        (await _server.Scalar<string>("select string_agg(distinct r->'to'->>'team', ' ') from edition, jsonb_array_elements(body->'rules') r where kind = 'rules'")).ShouldBe(team);
        var client = new TestClient(_server.Address);
        var address = (await _first.Post($"/api/setup/people/{per.Id}/link", new { send = false })).Read<OneTimeLink>().Address;
        await client.WayIn(address, new { password = Password });
        var lead = await _first.MakeLead("Berg", "NO");
        (await _server.Scalar<Guid>($"select owner_id from lead where id = '{lead}'")).ShouldBe(per.Id);
    }

    [Fact]
    public async Task OfTwoAdministratorsWhoPutASetInPlaceAtOnceOneDoes()
    {
        var answers = await Task.WhenAll(Put("organisations"), Put("private-persons"), Put("both"));
        answers.Count(a => a.Status == HttpStatusCode.OK).ShouldBe(1);
        answers.Where(a => a.Status != HttpStatusCode.OK).ShouldAllBe(a => a.Problem == "set-up-already");
    }

    [Fact]
    public async Task SeveralAreInvitedAllOrNone()
    {
        await Invite("Per Vik");
        var read = (await _first.Post("/api/setup/people/read", new { text = "Ida Moe; ida@fjell.example; manager\nPer V; per.vik@fjell.example\nnobody" })).Read<
            List<PersonRead>
        >();
        read.Select(p => p.Problem is null).ShouldBe([true, false, false]);
        read[0].Role.ShouldBe(ShippedRoles.Manager);
        PersonOrder Order(string name, string email) => new(name, email, [ShippedRoles.Rep], "Europe/Oslo");
        var order = new SeveralOrder([Order("Ida Moe", "ida@fjell.example"), Order("Per V", "per.vik@fjell.example")]);
        (await _first.Post("/api/setup/people/several", order)).Problem.ShouldBe("person-exists");
        (await _server.Scalar<int>("select count(*)::int from person")).ShouldBe(2);
        (await _first.Post("/api/setup/people/several", new SeveralOrder([Order("Ida Moe", "ida@fjell.example")], Send: true))).Problem.ShouldBe("no-mail-server");
    }

    [Fact]
    public async Task NothingOfTheDemoIsThere()
    {
        (await Put("both")).Status.ShouldBe(HttpStatusCode.OK);
        foreach (var path in (string[])["message-templates", "forms", "views", "routing", "scoring", "staff", "setup/pipelines", "fields", "step-plans"])
        {
            var said = (await _first.Get($"/api/{path}")).Body;
            foreach (var word in (string[])["tarnhollow", "water body", "survey", "buoy", "hydrolog", "bloom"])
                said.Contains(word, StringComparison.OrdinalIgnoreCase).ShouldBeFalse($"{path}: {word}");
        }
        // The directory of invented companies is the demo's.
        var lead = await _first.MakeLead("Torran", "GB", ("website", "lochtorran.example"));
        (await _server.Scalar<int>($"select count(*)::int from lead where id = '{lead}' and employees is null")).ShouldBe(1);
    }
}
