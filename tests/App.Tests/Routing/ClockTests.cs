using System.Net;
using Dapper;
using DapperLantern.App.Due;
using DapperLantern.App.Leads;
using DapperLantern.App.Routing;
using DapperLantern.Core.Routing;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.App.Tests.Routing;

/// <summary>The time to answer, leads given back and taken. The demo's sheet passes a lead on twice, then lets it wait on the Desk.</summary>
public sealed class ClockTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _ingrid = null!;
    private NpgsqlConnection _connection = null!;

    public async ValueTask InitializeAsync() => (_ingrid, _connection) = (await fixture.Server.SignIn("ingrid.brekke"), await fixture.Server.Connect());

    public async ValueTask DisposeAsync() => await _connection.DisposeAsync();

    private IDueWork RanOut => fixture.Server.Services.GetServices<IDueWork>().Single(w => w.Kind == "clock");

    private ResponseDeadlineWorker Watch => fixture.Server.Services.GetRequiredService<ResponseDeadlineWorker>();

    private async Task<(Guid Id, Guid? Owner)> Lead(string name, string country = "Portugal") => await Now(await _ingrid.MakeLead(name, country));

    private Task<(Guid Id, Guid? Owner)> Now(Guid id) => _connection.QuerySingleAsync<(Guid, Guid?)>("select id, owner_id from lead where id = @id", new { id });

    private Task<DateTime?> Due(Guid id) => _connection.QuerySingleAsync<DateTime?>("select clock_due_at from lead where id = @id", new { id });

    private async Task RunOutFor(Guid id)
    {
        var due = (await Due(id))!.Value;
        while (await DueSteps.Step(_connection.Over(), RanOut, due.AddSeconds(1)) > 0) { }
    }

    private Task<int> Count(string sql, Guid id) => _connection.QuerySingleAsync<int>($"select count(*)::int from {sql}", new { id });

    private async Task<IEnumerable<string>> Story(Guid id) => (await _ingrid.Read<LeadSheet>($"/api/leads/{id}")).Story.Select(s => s.Text);

    [Fact]
    public async Task WhatIsNotAnsweredGoesOnToTheNextThenWaitsOnTheDesk()
    {
        var (id, first) = await Lead("Esperando");
        await RunOutFor(id);
        var (_, second) = await Now(id);
        second.ShouldNotBeNull().ShouldNotBe(first!.Value);
        // The task goes along, the clock starts anew, and both are told.
        (await Count("task t join lead l on l.id = t.lead_id where l.id = @id and t.owner_id = l.owner_id and t.done_at is null", id)).ShouldBe(1);
        (await Count("lead where id = @id and clock_ran_out_at is null and clock_passes = 1", id)).ShouldBe(1);
        await fixture.Server.Heard();
        (await Count("outbox where lead_id = @id and subject like 'Passed on%'", id)).ShouldBe(1);
        // Where more than a few ran out at once, by their number.
        (
            await Count("outbox o join lead l on l.owner_id = o.person_id where l.id = @id and (o.lead_id = l.id and o.kind = 'lead-given' or o.kind = 'leads-given')", id)
        ).ShouldBeGreaterThan(0);

        await RunOutFor(id);
        await RunOutFor(id);
        (await Now(id)).Owner.ShouldBeNull();
        (await Story(id)).Count(t => t.EndsWith("ran out 3 times; it waits on the Desk", StringComparison.Ordinal)).ShouldBe(1);
        (await _ingrid.Read<List<DecisionView>>($"/api/leads/{id}/routing")).Count.ShouldBe(3);
    }

    [Fact]
    public async Task TwoProcessesPassALeadOnOnce()
    {
        var leads = new List<Guid>();
        for (var i = 0; i < 6; i++)
            leads.Add((await Lead($"Duplo{i}", "Germany")).Id);
        var late = (await _connection.QuerySingleAsync<DateTime>("select max(clock_due_at) from lead where id = any(@leads)", new { leads })).AddSeconds(1);
        await Task.WhenAll(
            Enumerable
                .Range(0, 4)
                .Select(async _ =>
                {
                    await using var connection = await fixture.Server.Connect();
                    await DueSteps.Step(connection.Over(), RanOut, late);
                })
        );
        (await _connection.QuerySingleAsync<int>("select count(*)::int from routing_decision where lead_id = any(@leads)", new { leads })).ShouldBe(12);
        (await _connection.QuerySingleAsync<long>("select coalesce(sum(credit), 0)::bigint from turn where team_key = 'alpine-rhine'")).ShouldBe(0);
    }

    [Fact]
    public async Task TheOwnerIsWarnedOnceAsTheTimeRunsOut()
    {
        var (id, _) = await Lead("Quase");
        var due = (await Due(id))!.Value;
        var started = await _connection.QuerySingleAsync<DateTime>("select clock_started_at from lead where id = @id", new { id });
        await Watch.Warn(_connection.Over(), started);
        (await Count("outbox where lead_id = @id and subject like 'Soon due%'", id)).ShouldBe(0);
        for (var i = 0; i < 3; i++)
            await Watch.Warn(_connection.Over(), due.AddMinutes(-1));
        await fixture.Server.Heard();
        (await Count("outbox where lead_id = @id and subject like 'Soon due%'", id)).ShouldBe(1);
    }

    [Theory]
    [InlineData(ClockTerms.Remind)]
    [InlineData(ClockTerms.TellManager)]
    public async Task WhereNothingIsPassedOnTheOwnerOrTheManagersAreToldOnce(string onExpiry)
    {
        var before = await _ingrid.Read<RoutingView>("/api/routing");
        var sheet = before.Live.Sheet with { Clock = new ClockTerms(0, onExpiry, 0) };
        var draft = (await _ingrid.Put("/api/routing/draft", new SheetOrder(sheet), 0)).Read<DraftSheet>();
        (await _ingrid.Post("/api/routing/publish", version: draft.Version)).Status.ShouldBe(HttpStatusCode.OK);
        var (id, owner) = await Lead($"Passado{onExpiry.Length}");
        // Without a share to warn at, nobody is warned.
        await Watch.Warn(_connection.Over(), (await Due(id))!.Value.AddMinutes(-1));
        await RunOutFor(id);
        await RunOutFor(id);
        (await Now(id)).Owner.ShouldBe(owner);
        (await Count("outbox where lead_id = @id and subject like 'Soon due%'", id)).ShouldBe(0);
        await fixture.Server.Heard();
        var told = await _connection.QueryAsync<string>(
            "select p.user_name from outbox o join person p on p.id = o.person_id where o.lead_id = @id and o.subject like 'Not answered in time%'",
            new { id }
        );
        var wanted = await _connection.QueryAsync<string>(
            "select user_name from person where case when @manager then 'manager' = any(roles) and here else id = @owner end",
            new { owner, manager = onExpiry == ClockTerms.TellManager }
        );
        told.Order().ShouldBe(wanted.Order());
        (await Story(id)).Count(t => t.StartsWith("The time to answer ran out; ", StringComparison.Ordinal)).ShouldBe(1);
        await _ingrid.Post($"/api/routing/editions/{before.Edition}/publish");
    }

    [Fact]
    public async Task ATouchStopsTheClockAndLookingDoesNot()
    {
        var (id, _) = await Lead("Tocado");
        await _ingrid.Get($"/api/leads/{id}");
        (await Due(id)).ShouldNotBeNull();
        var sheet = await _ingrid.Read<LeadSheet>($"/api/leads/{id}");
        (await _ingrid.Post($"/api/leads/{id}/touches", new { kind = "call", text = "Reached them" }, sheet.Version)).Status.ShouldBe(HttpStatusCode.OK);
        (await Due(id)).ShouldBeNull();
        (await Count("lead where id = @id and answered_in_time and answered_at is not null", id)).ShouldBe(1);
        var answers = await _ingrid.Read<AnswerView>("/api/routing/answers?days=1");
        answers.Sources.Single(s => s.Key == "telephone").Times.Answered.ShouldBeGreaterThan(0);
        answers.Reps.Sum(r => r.Times.Leads).ShouldBe(answers.All.Leads);
    }

    [Fact]
    public async Task WhoGivesALeadBackSaysWhyAndDoesNotGetItAgain()
    {
        var (id, owner) = await Lead("Devolvido");
        var name = await _connection.QuerySingleAsync<string>("select user_name from person where id = @owner", new { owner });
        var rep = await fixture.Server.SignIn(name);
        (await rep.Post($"/api/leads/{id}/give-back", new GiveBackOrder(" "))).Problem.ShouldBe("give-back-reason");
        var answer = await rep.Post($"/api/leads/{id}/give-back", new GiveBackOrder("I know them privately"));
        answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
        (await Now(id)).Owner.ShouldNotBeNull().ShouldNotBe(owner!.Value);
        (await Story(id)).Count(t => t.StartsWith("Given back: I know them privately; given to ", StringComparison.Ordinal)).ShouldBe(1);
        // It is not theirs any more.
        (await rep.Post($"/api/leads/{id}/give-back", new GiveBackOrder("again"))).Status.ShouldBe(HttpStatusCode.Forbidden);
        var why = await _ingrid.Read<WhyNotView>($"/api/leads/{id}/routing/why-not?person={owner}");
        why.Lines.ShouldContain(l => l.Contains("had it before", StringComparison.Ordinal));
    }

    [Fact]
    public async Task OfTwoWhoTakeALeadOneGetsIt()
    {
        var (id, owner) = await Lead("Livre", "Japan");
        owner.ShouldBeNull();
        var reps = new[] { await fixture.Server.SignIn("tor.vik"), await fixture.Server.SignIn("sten.lindmark") };
        var answers = await Task.WhenAll(reps.Select(r => r.Post($"/api/leads/{id}/take")));
        answers.Select(a => a.Status).Order().ShouldBe([HttpStatusCode.OK, HttpStatusCode.Conflict]);
        (await Now(id)).Owner.ShouldNotBeNull();
        (await _ingrid.Post($"/api/leads/{id}/take")).Status.ShouldBe(HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task WhyNotNamesTheRulesThatWouldHaveLedThere()
    {
        var (id, _) = await Lead("Porque");
        var people = (await _ingrid.Read<StaffView>("/api/staff")).People;
        var tor = await _ingrid.Read<WhyNotView>($"/api/leads/{id}/routing/why-not?person={people.Single(p => p.Name == "Tor Vik").Id}");
        tor.Lines.ShouldContain(l => l.StartsWith("Rule 2, Norway, fish farming, leads to Tor Vik, but country is Portugal", StringComparison.Ordinal));
        var joel = await _ingrid.Read<WhyNotView>($"/api/leads/{id}/routing/why-not?person={people.Single(p => p.Name == "Joel Tamura").Id}");
        joel.Lines.ShouldContain(l => l.Contains("comes first and fits", StringComparison.Ordinal));
    }
}
