using System.Net;
using System.Text;
using Dapper;
using DapperLantern.App.Handover;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.People;
using DapperLantern.App.Rights;
using DapperLantern.Core.Rights;

namespace DapperLantern.App.Tests.Rights;

/// <summary>The one answer about records that somebody does not see: that they are known and with whom; asking for them, and what comes of it.</summary>
public sealed class KnownTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _samir = null!;
    private TestClient _narrow = null!;
    private TestClient _tor = null!;
    private Guid _lead;
    private string _mail = "";

    private TestServer Server => fixture.Server;

    public async ValueTask InitializeAsync()
    {
        _samir = await Server.SignIn("samir.haddow");
        var roles = await _samir.Read<RolesView>("/api/setup/roles");
        if (roles.Roles.All(r => r.Key != "narrow"))
        {
            Reach[] own = [Reach.Own, Reach.Shared];
            var narrow = roles.Roles.Single(r => r.Key == ShippedRoles.Rep).Role with
            {
                Name = "Narrow",
                Sees = new RoleSight(own, own, own, own),
                ContactData = own,
                May = [.. roles.Roles.Single(r => r.Key == ShippedRoles.Rep).Role.May, Act.SeeIntake, Act.RunIntake],
            };
            (await _samir.Post("/api/setup/roles", narrow)).Status.ShouldBe(HttpStatusCode.OK);
        }
        await Execute("update person set roles = '{narrow}' where user_name = 'aoife.brannigan' and roles <> '{narrow}'");
        (_narrow, _tor) = (await Server.SignIn("aoife.brannigan"), await Server.SignIn("tor.vik"));
        _mail = $"known.{Guid.NewGuid():N}@knoll.example";
        _lead = await _samir.MakeLead("Knoll", "NO", ("email", _mail), ("first_name", "Kari"), ("company", "Knoll Fisk"));
        await Execute($"update lead set owner_id = '{_tor.Session.Id}' where id = '{_lead}'");
        await Execute("delete from known_answer");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task Execute(string sql)
    {
        await using var connection = await Server.Connect();
        await connection.ExecuteAsync(sql);
    }

    private async Task<LikeView[]> Alike(string query) => [.. await _narrow.Read<List<LikeView>>($"/api/leads/alike?{query}")];

    private async Task<KnownView> Told() => (await Alike($"email={_mail}"))[0].Known!;

    [Fact]
    public async Task WhoMakesARecordThatExistsIsToldThatItIsKnownAndWithWhomAndNoMore()
    {
        var alike = (await Alike($"email={_mail}&lastName=Knoll")).ShouldHaveSingleItem();
        (alike.LeadId, alike.Name, alike.Evidence, alike.Known!.Words).ShouldBe((null, "", "", "Known already, and with Tor Vik."));
        // Of somebody who is only like them nothing is told, nor of the company.
        (await Alike("lastName=Knoll&company=Knoll%20Fisk")).ShouldBeEmpty();
        var sheet = new
        {
            facts = new Dictionary<string, string> { ["last_name"] = "Knoll", ["email"] = _mail },
            source = "telephone",
            note = "Rang again",
        };
        var answer = await _narrow.Post("/api/leads", sheet);
        (answer.Status, answer.Problem).ShouldBe((HttpStatusCode.Forbidden, "colleague-owns"));
        answer.Body.ShouldContain("Known already, and with Tor Vik.");
        answer.Body.ShouldNotContain("Kari");
        answer.Body.ShouldNotContain(_lead.ToString());
        // Nothing is lost: it waits for the coordinator.
        (await Server.Scalar<int>($"select count(*)::int from single_arrival where state = 'waiting' and raw->>'note' = 'Rang again' and raw::text like '%{_mail}%'")).ShouldBe(1);
        (await Server.Scalar<int>("select sum(times)::int from known_answer")).ShouldBe(1);
    }

    [Fact]
    public async Task WhoImportsARecordThatExistsIsToldTheSameInTheListAndInItsFile()
    {
        var list = Encoding.UTF8.GetBytes($"First name,Last name,Email,Job title\nKari,Knoll,{_mail},Skipper\nNeu,Neumann,neu.{Guid.NewGuid():N}@neu.example,Cook\n");
        var sieve = (await _narrow.Drop("known.csv", list)).Read<SieveView>();
        var rows = await _narrow.Read<RowPage>($"/api/imports/{sieve.Import.Id}/rows");
        var row = rows.Rows.Single(r => r.Outcome == "adds");
        (row.LeadId, row.Reason, row.Changes.Count, row.Known!.Words).ShouldBe((null, "Known already, and with Tor Vik.", 0, "Known already, and with Tor Vik."));
        var file = (await _narrow.Get($"/api/imports/{sieve.Import.Id}/rows.csv")).Body;
        file.ShouldContain("Known already.");
        file.ShouldNotContain("Already lead");
        // Those who see the lead are told which it is.
        var seen = (await _samir.Read<RowPage>($"/api/imports/{sieve.Import.Id}/rows")).Rows.Single(r => r.Outcome == "adds");
        (seen.LeadId, seen.Known, seen.Changes.Count).ShouldBe((_lead, null, 1));
    }

    [Fact]
    public async Task WhoeverHasItSharesGivesOrDeclinesByOnePressAndTakesItBack()
    {
        var told = await Told();
        (await _narrow.Get($"/api/leads/{_lead}")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await _narrow.Post($"/api/known/{told.Id}/ask", new { word = "They rang me" })).Status.ShouldBe(HttpStatusCode.OK);
        (await Told()).Asked.ShouldBeTrue();
        var asked = (await _tor.Read<AsksView>("/api/known")).Mine.ShouldHaveSingleItem();
        (asked.Record, asked.Name, asked.Other, asked.Word).ShouldBe((_lead, "Kari Knoll", "Aoife Brannigan", "They rang me"));
        (await _tor.Get("/api/desk")).Body.ShouldContain("Colleagues ask for these");
        var own = (await _narrow.Read<AsksView>("/api/known")).Own.ShouldHaveSingleItem();
        (own.Record, own.Name, own.Other, own.Outcome).ShouldBe((null, "", "Tor Vik", null));
        await Until("select count(*)::int from outbox where kind = 'asked-for' and subject = 'Aoife Brannigan asks for Kari Knoll'", 1);

        Task<Answer> Answer(TestClient by, string how) => by.Post($"/api/known/{told.Id}/answer", new { how });
        (await Answer(await Server.SignIn("sten.lindmark"), "shared")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Answer(_narrow, "given")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Answer(_tor, "sold")).Problem.ShouldBe("ask-answer-unknown");
        (await Answer(_tor, "shared")).Status.ShouldBe(HttpStatusCode.OK);
        (await Answer(_tor, "given")).Problem.ShouldBe("ask-answered");
        (await _narrow.Read<LeadSheet>($"/api/leads/{_lead}")).OwnerId.ShouldBe(_tor.Session.Id);
        (await _narrow.Patch($"/api/leads/{_lead}", new { facts = new { city = "Bergen" } })).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await _tor.Post($"/api/known/{told.Id}/undo")).Status.ShouldBe(HttpStatusCode.OK);
        (await _narrow.Get($"/api/leads/{_lead}")).Status.ShouldBe(HttpStatusCode.NotFound);

        (await Answer(_tor, "given")).Status.ShouldBe(HttpStatusCode.OK);
        (await _narrow.Read<LeadSheet>($"/api/leads/{_lead}")).OwnerId.ShouldBe(_narrow.Session.Id);
        (await _tor.Post($"/api/known/{told.Id}/undo")).Status.ShouldBe(HttpStatusCode.OK);
        (await Server.Scalar<Guid>($"select owner_id from lead where id = '{_lead}'")).ShouldBe(_tor.Session.Id);

        (await Answer(_tor, "declined")).Status.ShouldBe(HttpStatusCode.OK);
        (await _narrow.Get($"/api/leads/{_lead}")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await _narrow.Read<AsksView>("/api/known")).Own.Single().Outcome.ShouldBe("declined");
        await Until("select count(*)::int from outbox where kind = 'ask-answered' and subject like 'Tor Vik keeps what you asked for%'", 1);
        var count = (await _samir.Read<List<KnownCount>>("/api/setup/known")).Single(c => c.Person == "Aoife Brannigan");
        (count.Asked, count.Declined).ShouldBe((1, 1));
    }

    private async Task Until(string sql, int count)
    {
        for (var i = 0; i < 100 && await Server.Scalar<int>(sql) < count; i++)
            await Task.Delay(100, TestContext.Current.CancellationToken);
        (await Server.Scalar<int>(sql)).ShouldBe(count, sql);
    }

    [Fact]
    public async Task EnoughOfThemInAnHourIsEnoughAndTheAdministratorsLearnOfIt()
    {
        await using var few = await Server.Beside("--Reading:PeoplePerHour=2");
        var narrow = await few.SignIn("aoife.brannigan");
        var mails = new List<string>();
        for (var i = 0; i < 3; i++)
        {
            var mail = $"limit.{Guid.NewGuid():N}@knoll.example";
            var lead = await _samir.MakeLead("Limit", "NO", ("email", mail));
            await Execute($"update lead set owner_id = '{_tor.Session.Id}' where id = '{lead}'");
            mails.Add(mail);
        }
        async Task<string> Words(string mail)
        {
            var alike = (await narrow.Read<List<LikeView>>($"/api/leads/alike?email={mail}")).Single();
            return alike.Known?.Words ?? alike.Evidence;
        }
        foreach (var mail in mails.Take(2))
            (await Words(mail)).ShouldBe("Known already, and with Tor Vik.");
        (await Words(mails[2])).ShouldBe(KnownAnswers.NoMore);
        // What was told is told again.
        (await Words(mails[0])).ShouldBe("Known already, and with Tor Vik.");
        (await Server.Scalar<int>($"select count(*)::int from event where kind = 'read_much' and record = '{_narrow.Session.Id}'")).ShouldBe(1);
    }

    [Fact]
    public async Task AHandoverIsLaidOutAgainstNothingUnseenAndSaysThatItIsKnown()
    {
        var handed = await Server.Scalar<string>(
            "select a.id::text || ' ' || a.domain from account a where a.domain is not null and a.owner_id is not null and a.name is not null order by a.id limit 1"
        );
        var (account, domain) = (Guid.Parse(handed.Split(' ')[0]), handed.Split(' ')[1]);
        await Execute($"update account set owner_id = '{_tor.Session.Id}' where id = '{account}'");
        var name = await Server.Scalar<string>($"select name from account where id = '{account}'");
        var lead = await _samir.MakeLead("Handy", "NO", ("email", $"handy@{domain}"), ("company", name));
        await Execute(
            $"update lead set owner_id = '{_narrow.Session.Id}', state = 'qualified', pipeline = (select key from pipeline order by position limit 1), qualification = '{{}}' where id = '{lead}'"
        );
        var preview = await _narrow.Read<HandoverPreview>($"/api/leads/{lead}/handover");
        preview.Accounts.ShouldBeEmpty();
        preview.Lines.ShouldAllBe(l => l.Existing == null);
        preview.Known.ShouldContain(k => k.Kind == "account" && k.Known.Words == "Known already, and with Tor Vik.");
        (await _narrow.Get($"/api/leads/{lead}/handover?account={account}")).Problem.ShouldBe("record-unknown");
        (await _samir.Read<HandoverPreview>($"/api/leads/{lead}/handover")).Accounts.ShouldContain(a => a.Id == account && a.Same);
    }
}
