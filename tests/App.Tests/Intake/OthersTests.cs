using System.Net;
using Dapper;
using DapperLantern.App.Deals;
using DapperLantern.App.Handover;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Activities;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Intake;

/// <summary>What somebody who works only what they own may do to records of others: by a handover, by the people of a deal, by a lead that is somebody else's already, by reading.</summary>
public sealed class OthersTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestServer Server => fixture.Server;
    private TestClient _tor = null!;
    private TestClient _ingrid = null!;
    private Guid _other;

    public async ValueTask InitializeAsync()
    {
        (_tor, _ingrid) = (await Server.SignIn("tor.vik"), await Server.SignIn("ingrid.brekke"));
        _other = await Server.Scalar<Guid>($"select id from person where 'rep' = any(roles) and here and id <> '{_tor.Session.Id}' order by user_name limit 1");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    // Everything of these tables, so that nothing is written unseen.
    private Task<string> Everything() =>
        Server.Scalar<string>(
            "select md5(string_agg(x, '|' order by x)) from (select l::text as x from lead l union all select c::text from contact c union all select a::text from account a union all select s::text from story_entry s union all select e::text from lead_event e union all select d::text from deal_person d) t"
        );

    [Fact]
    public async Task ALeadOfSomebodyElseIsNotAddedToByTypingItsAddress()
    {
        var id = await _ingrid.MakeLead("Fremmed", "Norway");
        await using var connection = await Server.Connect();
        await connection.ExecuteAsync("update lead set owner_id = @_other where id = @id", new { _other, id });
        var before = await Everything();
        var answer = await _tor.Post(
            "/api/leads",
            new
            {
                source = "telephone",
                facts = new
                {
                    last_name = "Fremmed",
                    email = "fremmed@fremmed.example",
                    job_title = "Owner",
                },
                note = "I was here",
            }
        );
        (answer.Status, answer.Problem).ShouldBe((HttpStatusCode.Forbidden, "colleague-owns"));
        (await Everything()).ShouldBe(before);
        // Nothing is lost: it waits for a word.
        var waiting = await connection.QuerySingleAsync<Guid>("select id from single_arrival where state = 'waiting' and raw->>'note' = 'I was here'");
        (await _ingrid.Post($"/api/arrivals/{waiting}/take-in")).Status.ShouldBe(HttpStatusCode.OK);
        (await Server.Scalar<long>($"select count(*) from story_entry where lead_id = '{id}' and text = 'I was here'")).ShouldBe(1);
    }

    [Fact]
    public async Task AContactOfSomebodyElseIsNotPutOnOnesDeal()
    {
        await using var connection = await Server.Connect();
        var deal = await connection.QueryFirstAsync<Guid>(
            "select d.id from deal d join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key where s.counts = 'open' limit 1"
        );
        await connection.ExecuteAsync("update deal set owner_id = @me where id = @deal", new { me = _tor.Session.Id, deal });
        var (theirs, nobodys) = (
            await connection.QueryFirstAsync<Guid>("select id from contact order by id limit 1"),
            await connection.QueryFirstAsync<Guid>("select id from contact order by id desc limit 1")
        );
        await connection.ExecuteAsync(
            "update contact set owner_id = @_other where id = @theirs; update contact set owner_id = null where id = @nobodys",
            new
            {
                _other,
                theirs,
                nobodys,
            }
        );
        (await _tor.Post($"/api/deals/{deal}/people", new { contactId = theirs, role = "" })).Problem.ShouldBe("contact-not-yours");
        (await _tor.Post($"/api/deals/{deal}/people", new { contactId = nobodys, role = "" })).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Post($"/api/deals/{deal}/people", new { contactId = theirs, role = "" })).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task AHandoverOverwritesNothingOfSomebodyElsesAndLinksOnlyToWhatIsFound()
    {
        await using var connection = await Server.Connect();
        var account = Guid.NewGuid();
        await connection.ExecuteAsync(
            """
            insert into account (id, name, household, company_key, domain, country, owner_id, created_at, facts)
            values (@account, 'Stranda Havn', false, 'stranda havn', 'stranda-havn.example', 'NO', @_other, now(), '{"company": "Stranda Havn", "city": "Stranda", "website": "stranda-havn.example"}')
            """,
            new { account, _other }
        );
        var lead = await _ingrid.MakeLead("Stranda", "Norway", ("company", "Stranda Havn"), ("website", "stranda-havn.example"), ("city", "Oslo"), ("street", "Kaia 1"));
        await connection.ExecuteAsync("update lead set owner_id = @me, state = 'qualified' where id = @lead", new { me = _tor.Session.Id, lead });
        var sheet = await _tor.Read<HandoverPreview>($"/api/leads/{lead}/handover");
        var proposal = sheet.Proposals[0];
        HandoverOrder Order(Guid? to, string[] take) => new(to, false, null, take, proposal.Pipeline, proposal.Name, 100, proposal.Currency, proposal.ExpectedClose) { Role = "" };
        var before = await connection.QuerySingleAsync<string>("select facts::text from account where id = @account", new { account });

        (await _tor.Post($"/api/leads/{lead}/handover", Order(account, ["city"]), sheet.Version)).Problem.ShouldBe("not-yours-fact");
        var unlike = await connection.QueryFirstAsync<Guid>("select id from account where id <> @account order by id limit 1", new { account });
        await connection.ExecuteAsync("update account set owner_id = @_other where id = @unlike", new { _other, unlike });
        (await _tor.Post($"/api/leads/{lead}/handover", Order(unlike, []), sheet.Version)).Problem.ShouldBe("not-yours-chosen");
        (await connection.QuerySingleAsync<string>("select facts::text from account where id = @account", new { account })).ShouldBe(before);

        (await _tor.Post($"/api/leads/{lead}/handover", Order(account, []), sheet.Version)).Status.ShouldBe(HttpStatusCode.OK);
        var after = await connection.QuerySingleAsync<(string City, string Street)>("select facts->>'city', facts->>'street' from account where id = @account", new { account });
        after.ShouldBe(("Stranda", "Kaia 1"));
    }

    [Fact]
    public async Task ContactDataOfColleaguesIsKeptFromARepAndAskingWhoseItIsIsCounted()
    {
        await using var server = await TestServer.Start("--Reading:PeoplePerHour=5");
        var (tor, ingrid) = (await server.SignIn("tor.vik"), await server.SignIn("ingrid.brekke"));
        var page = await tor.Read<LeadPage>("/api/leads?columns=email,phone,mobile&order=created_at");
        page.Leads.Where(l => l.OwnerId is { } o && o != tor.Session.Id).SelectMany(l => l.Cells.Values).ShouldAllBe(v => v == null);
        page.Leads.Where(l => l.OwnerId is null || l.OwnerId == tor.Session.Id).SelectMany(l => l.Cells.Values).ShouldContain(v => v != null);
        (await ingrid.Read<LeadPage>("/api/leads?columns=email,phone,mobile&order=created_at")).Leads.SelectMany(l => l.Cells.Values).ShouldContain(v => v != null);

        await using var connection = await server.Connect();
        var others = (
            await connection.QueryAsync<(Guid Id, string Email)>(
                "select id, email from lead where owner_id is not null and owner_id <> @me and email is not null and state <> 'handed_over' limit 8",
                new { me = tor.Session.Id }
            )
        ).ToList();
        var (id, email) = others[0];
        (await tor.Get($"/api/leads/{id}")).Body.ShouldNotContain(email);
        (await tor.Read<LeadSheet>($"/api/leads/{id}")).Facts.Single(f => f.Key == "email").Hidden.ShouldBeTrue();
        (await ingrid.Get($"/api/leads/{id}")).Body.ShouldContain(email);
        (await tor.Get($"/api/leads/{id}/handover")).Status.ShouldBe(HttpStatusCode.Forbidden);
        var template = (await ingrid.Read<List<MessageTemplate>>("/api/message-templates"))[0].Key;
        (await tor.Post($"/api/leads/{id}/messages/draft", new { template })).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await ingrid.Post($"/api/leads/{id}/messages/draft", new { template })).Body.ShouldContain(email);
        (await tor.Post("/api/handover/review", new { leads = new[] { id }, pipeline = "instruments" })).Body.ShouldNotContain(email);

        // Whoever answers the telephone learns that we have them, and of whom: of so many within an hour, each counted once.
        var answers = new List<HttpStatusCode>();
        foreach (var (_, address) in others)
            for (var again = 0; again < 2; again++)
                answers.Add((await tor.Get($"/api/leads/alike?email={Uri.EscapeDataString(address)}")).Status);
        answers.ShouldBe([.. Enumerable.Repeat(HttpStatusCode.OK, 10), .. answers.Skip(10)]);
        answers.Skip(10).ShouldContain(HttpStatusCode.TooManyRequests);
        await fixture.Server.Heard();
        (await connection.QuerySingleAsync<long>("select count(*) from outbox where kind = 'read-much'")).ShouldBe(1);
        (await ingrid.Get($"/api/leads/alike?email={Uri.EscapeDataString(email)}")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task TheStateIsTakenBackWithTheClockAndTheStory()
    {
        await using var connection = await Server.Connect();
        var lead = await connection.QueryFirstAsync<Guid>("select id from lead where state = 'new' and owner_id is not null and clock_due_at is not null limit 1");
        async Task<string> Now() =>
            await connection.QuerySingleAsync<string>(
                "select (to_jsonb(l) - 'version')::text || (select coalesce(string_agg(s::text, '|' order by s.id), '') from story_entry s where s.lead_id = l.id) || (select coalesce(string_agg(t::text, '|' order by t.id), '') from task t where t.lead_id = l.id) from lead l where l.id = @lead",
                new { lead }
            );
        async Task<int> Version() => await connection.QuerySingleAsync<int>("select version from lead where id = @lead", new { lead });
        var before = await Now();
        foreach (
            var to in new object[]
            {
                new { state = "in_work" },
                new { state = "disqualified", reason = "no_match" },
                new { state = "on_hold", wakeAt = DateTime.UtcNow.AddDays(20) },
            }
        )
        {
            var moved = await _ingrid.Put($"/api/leads/{lead}/state", to, await Version());
            if (moved.Status == HttpStatusCode.UnprocessableEntity)
                continue;
            moved.Status.ShouldBe(HttpStatusCode.OK, moved.Body);
            (await Now()).ShouldNotBe(before);
            (await _ingrid.Post($"/api/leads/{lead}/state/undo", version: await Version())).Status.ShouldBe(HttpStatusCode.OK);
            (await Now()).ShouldBe(before);
        }
        (await _ingrid.Put($"/api/leads/{lead}/state", new { state = "in_work" }, await Version())).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Patch($"/api/leads/{lead}", new { facts = new { city = "Narvik" } }, await Version())).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Post($"/api/leads/{lead}/state/undo", version: await Version())).Problem.ShouldBe("changed-since");
    }
}
