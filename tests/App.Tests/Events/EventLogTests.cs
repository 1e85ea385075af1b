using System.Net;
using System.Text.Json;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.Core.Events;
using DapperLantern.Tests.Shared;
using Npgsql;

namespace DapperLantern.App.Tests.Events;

/// <summary>What happens is written into the log with who did it and by what, whatever statement changes a record; spans follow without a gap; nobody can change what is written.</summary>
public sealed class EventLogTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _ingrid = null!;
    private NpgsqlConnection _connection = null!;

    public async ValueTask InitializeAsync() => (_ingrid, _connection) = (await fixture.Server.SignIn("ingrid.brekke"), await fixture.Server.Connect());

    public async ValueTask DisposeAsync() => await _connection.DisposeAsync();

    private sealed record Entry(string Kind, string Cause, Guid? CauseId, string? By, string Said, string? Personal)
    {
        public JsonElement Says => JsonDocument.Parse(Said).RootElement;
    }

    private async Task<List<Entry>> Log(Guid record, params string[] kinds) =>
        [
            .. await _connection.QueryAsync<Entry>(
                "select e.kind, e.cause, e.cause_id as causeid, p.user_name as by, e.said::text as said, e.personal::text as personal from event e left join person p on p.id = e.by_id where e.record = @record and (cardinality(@kinds) = 0 or e.kind = any(@kinds)) order by e.id",
                new { record, kinds }
            ),
        ];

    private Task<Guid> Person(string signIn) => _connection.QuerySingleAsync<Guid>("select id from person where user_name = @signIn", new { signIn });

    [Fact]
    public async Task AnActIsLoggedWithItsPersonAndWhatItChanged()
    {
        var lead = await _ingrid.MakeLead("Notado", "Portugal");
        var sten = await Person("sten.lindmark");
        (await _ingrid.Put($"/api/leads/{lead}/owner", new { owner = sten })).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Patch($"/api/leads/{lead}", new { facts = new { city = "Faro" } })).Status.ShouldBe(HttpStatusCode.OK);
        var version = (await _ingrid.Read<LeadSheet>($"/api/leads/{lead}")).Version;
        (await _ingrid.Put($"/api/leads/{lead}/state", new { state = "disqualified", reason = "went_silent" }, version)).Status.ShouldBe(HttpStatusCode.OK);
        var log = await Log(lead);
        (log[0].Kind, log[0].By, log[0].Cause).ShouldBe(("came_in", "ingrid.brekke", "person"));
        var owner = log.Single(e => e.Kind == "owner");
        (owner.By, owner.Cause, owner.Says.GetProperty("to").GetGuid()).ShouldBe(("ingrid.brekke", "person", sten));
        owner.Says.GetProperty("why").GetProperty("how").GetString().ShouldBe("by_hand");
        var fact = log.Single(e => e.Kind == "fact");
        // The value is personal, its field is not.
        (fact.Said.Contains("Faro", StringComparison.Ordinal), fact.Personal!.Contains("Faro", StringComparison.Ordinal)).ShouldBe((false, true));
        fact.Says.GetProperty("fields")[0].GetString().ShouldBe("city");
        var state = log.Single(e => e.Kind == "state");
        (state.Says.GetProperty("from").GetString(), state.Says.GetProperty("to").GetString(), state.Says.GetProperty("reason").GetString()).ShouldBe(
            ("new", "disqualified", "went_silent")
        );
        log.ShouldAllBe(e => e.Cause != "unknown");
    }

    [Fact]
    public async Task AStateTakenBackIsLoggedAndNotTold()
    {
        var lead = await _ingrid.MakeLead("Desfeito", "Portugal");
        var version = (await _ingrid.Read<LeadSheet>($"/api/leads/{lead}")).Version;
        version = (await _ingrid.Put($"/api/leads/{lead}/state", new { state = "in_work" }, version)).Read<LeadSheet>().Version;
        (await _ingrid.Post($"/api/leads/{lead}/state/undo", version: version)).Status.ShouldBe(HttpStatusCode.OK);
        (await Log(lead, "state")).Count.ShouldBe(2);
        (await _ingrid.Read<LeadSheet>($"/api/leads/{lead}")).Story.ShouldNotContain(s => s.Kind == "state");
    }

    /// <summary>Any statement, in any order of moments: spans adjoin, the last is what the lead is, and the log tells each change.</summary>
    [Fact]
    public async Task SpansOfALeadAdjoinWhateverChangesIt()
    {
        var random = new Random(20);
        string[] states = ["new", "in_work", "on_hold", "disqualified"];
        Guid?[] owners = [null, await Person("sten.lindmark"), await Person("ines.carvalhal")];
        for (var round = 0; round < 8; round++)
        {
            var lead = await _ingrid.MakeLead($"Trecho{round}", "Portugal");
            var at = await _connection.QuerySingleAsync<DateTime>("select created_at from lead where id = @lead", new { lead });
            var before = (await Log(lead, "state", "owner")).Count;
            var changes = 0;
            for (var step = 0; step < 12; step++)
            {
                // Clocks of two processes may differ: some changes are told to be earlier than the last.
                at = at.AddSeconds(random.Next(-20, 60));
                var (state, owner) = (states[random.Next(states.Length)], owners[random.Next(owners.Length)]);
                await using var transaction = await _connection.BeginTransactionAsync();
                var was = await _connection.QuerySingleAsync<(string State, Guid? Owner)>("select state, owner_id from lead where id = @lead", new { lead });
                await _connection.ExecuteAsync(
                    "select set_config('lantern.at', @at, true); update lead set state = @state, owner_id = @owner where id = @lead",
                    new
                    {
                        at = at.ToString("O"),
                        state,
                        owner,
                        lead,
                    }
                );
                await transaction.CommitAsync();
                changes += (was.State != state ? 1 : 0) + (was.Owner != owner ? 1 : 0);
            }
            (await Log(lead, "state", "owner")).Count.ShouldBe(before + changes);
            var spans = (
                await _connection.QueryAsync<(DateTime Since, DateTime? Until, string State, Guid? Owner)>(
                    "select since, until, state, owner_id from lead_span where lead_id = @lead order by since",
                    new { lead }
                )
            ).ToList();
            var (created, now, whose) = await _connection.QuerySingleAsync<(DateTime, string, Guid?)>(
                "select created_at, state, owner_id from lead where id = @lead",
                new { lead }
            );
            spans[0].Since.ShouldBe(created);
            spans.Zip(spans.Skip(1)).ShouldAllBe(p => p.First.Until == p.Second.Since);
            spans.Zip(spans.Skip(1)).ShouldAllBe(p => p.First.Since < p.Second.Since);
            (spans[^1].Until, spans[^1].State, spans[^1].Owner).ShouldBe((null, now, whose));
        }
    }

    [Fact]
    public async Task SpansOfADealFollowStageAmountAndClose()
    {
        var deal = await _connection.QuerySingleAsync<Guid>(
            "select d.id from deal d join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key where s.counts = 'open' order by d.created_at desc, d.id limit 1"
        );
        var before = (await Log(deal)).Count;
        var sheet = await _ingrid.Read<DealSheet>($"/api/deals/{deal}");
        (await _ingrid.Patch($"/api/deals/{deal}", new { amount = 12345.5m, expectedClose = "2027-03-01" }, sheet.Deal.Version)).Status.ShouldBe(HttpStatusCode.OK);
        (await Log(deal)).Skip(before).Select(e => (e.Kind, e.By)).ShouldBe([("close", "ingrid.brekke"), ("amount", "ingrid.brekke")]);
        var spans = (
            await _connection.QueryAsync<(DateTime Since, DateTime? Until, decimal Amount)>(
                "select since, until, amount from deal_span where deal_id = @deal order by since",
                new { deal }
            )
        ).ToList();
        spans.Zip(spans.Skip(1)).ShouldAllBe(p => p.First.Until == p.Second.Since);
        (spans[^1].Until, spans[^1].Amount).ShouldBe((null, 12345.5m));
        (await _ingrid.Read<DealSheet>($"/api/deals/{deal}")).Story[0].Text.ShouldStartWith("Expected close moved from ");
    }

    [Fact]
    public async Task ANoteOfAnotherThatIsRewrittenAndATaskThatIsDeletedAreKeptInTheLog()
    {
        var lead = await _ingrid.MakeLead("Reescrito", "Portugal");
        (await _ingrid.Post($"/api/leads/{lead}/touches", new { kind = "note", text = "Wants four buoys." })).Status.ShouldBe(HttpStatusCode.OK);
        var note = (await _ingrid.Read<LeadSheet>($"/api/leads/{lead}")).Story.Single(s => s.Kind == "note").Id;
        var admin = await fixture.Server.SignIn(await Administrator());
        (await admin.Patch($"/api/story/{note}", new { text = "Wants forty buoys." })).Status.ShouldBe(HttpStatusCode.NoContent);
        var changed = (await Log(lead, "note_changed")).Single();
        (changed.By, changed.Personal!.Contains("Wants four buoys.", StringComparison.Ordinal)).ShouldBe((await Administrator(), true));
        var planned = (await _ingrid.Read<LeadSheet>($"/api/leads/{lead}")).Tasks[0].Id;
        (await _ingrid.Delete($"/api/tasks/{planned}")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Log(lead, "task_removed")).Single().By.ShouldBe("ingrid.brekke");
    }

    private Task<string> Administrator() =>
        _connection.QuerySingleAsync<string>("select user_name from person where 'administrator' = any(roles) and here order by user_name limit 1");

    /// <summary>The owner of the table may not either, unless it drops what guards it.</summary>
    [Theory]
    [InlineData("update event set said = '{}'")]
    [InlineData("delete from event")]
    [InlineData("select set_config('lantern.blanking', 'yes', true); delete from event")]
    public async Task TheLogIsNotChanged(string statement) => (await Should.ThrowAsync<PostgresException>(() => _connection.ExecuteAsync(statement))).SqlState.ShouldBe("42501");

    [Fact]
    public async Task AnEventWithoutItsMonthIsRefusedAndMonthsAreMadeAhead()
    {
        const string add = "insert into event (at, kind, cause) values (@at, 'test', 'test')";
        (await Should.ThrowAsync<PostgresException>(() => _connection.ExecuteAsync(add, new { at = DateTime.UtcNow.AddYears(3) }))).SqlState.ShouldBe("23514");
        await using var transaction = await _connection.BeginTransactionAsync();
        await _connection.ExecuteAsync(add, new { at = DateTime.UtcNow.AddMonths(12) });
        await _connection.ExecuteAsync(add, new { at = DateTime.UtcNow.AddMonths(-24) });
        // Twice is once.
        await EventMonths.Make(_connection.Over(), DateTime.UtcNow);
    }

    [Fact]
    public async Task ErasureBlanksWhatTheLogSaysOfThePersonAndOfNobodyElse()
    {
        var (gone, stays) = (await _ingrid.MakeLead("Apagado", "Portugal", ("first_name", "Rui")), await _ingrid.MakeLead("Mantido", "Portugal"));
        foreach (var lead in new[] { gone, stays })
            await _ingrid.Patch($"/api/leads/{lead}", new { facts = new { city = "Olhão" } });
        await _ingrid.Patch($"/api/leads/{stays}", new { facts = new { street = "c/o Rui \"Apagado\"" } });
        await _ingrid.Post($"/api/leads/{stays}/tasks", new { subject = "Ask Rui Apagado", dueAt = DateTime.UtcNow.AddDays(2) });
        var who = "apagado@apagado.example";
        (
            await (await fixture.Server.SignIn("samir.haddow")).Post(
                "/api/persons/erase",
                new
                {
                    who,
                    confirm = who,
                    bar = false,
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
        (await Log(gone)).ShouldAllBe(e => e.Personal == null);
        (await Log(gone)).Count.ShouldBeGreaterThan(1);
        var left = await Log(stays);
        left.Count(e => e.Personal?.Contains("Olhão", StringComparison.Ordinal) == true).ShouldBe(1);
        left.ShouldAllBe(e => e.Personal == null || !e.Personal.Contains("Rui Apagado", StringComparison.Ordinal));
        (
            await _connection.QuerySingleAsync<int>(
                "select count(*)::int from event where kind in ('erased', 'blanked') and by_id = (select id from person where user_name = 'samir.haddow')"
            )
        ).ShouldBe(2);
    }

    [Fact]
    public async Task WhatTheSetUpChangesIsLoggedWithoutSecrets()
    {
        (
            await _ingrid.Post(
                "/api/tags",
                new
                {
                    name = "interest: tides",
                    group = "interest",
                    colour = "slate",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.Created);
        var tag = await _connection.QuerySingleAsync<(string Said, Guid? By)>(
            "select said::text, by_id from event where kind = 'setup' and said->>'what' = 'tag' and said->>'key' = 'interest-tides'"
        );
        tag.By.ShouldBe(await Person("ingrid.brekke"));
        var admin = await Administrator();
        var before = await SignIns(admin);
        await fixture.Server.SignIn(admin);
        var secrets = await _connection.QueryAsync<string>(
            "select distinct k from event e cross join lateral (select jsonb_object_keys(coalesce(e.said->'from', '{}') || coalesce(e.said->'to', '{}') || coalesce(e.personal->'from', '{}') || coalesce(e.personal->'to', '{}')) as k) x where e.kind in ('setup', 'rights', 'token', 'published')"
        );
        secrets.ShouldNotContain(k => k.Contains("hash", StringComparison.Ordinal) || k.Contains("stamp", StringComparison.Ordinal));
        (await SignIns(admin) - before).ShouldBe(1);
    }

    private Task<int> SignIns(string name) =>
        _connection.QuerySingleAsync<int>("select count(*)::int from event e join person p on p.id = e.record where e.kind = 'signin' and p.user_name = @name", new { name });

    [Fact]
    public async Task WhatAVisitorPostsIsLoggedAsTheirs()
    {
        using var http = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = new Uri(fixture.Server.Address) };
        var post = await http.PostAsync(
            "/f/site-survey",
            new FormUrlEncodedContent([
                new("last_name", "Visitante"),
                new("email", "v@visitante.example"),
                new("country", "PT"),
                new("consent.answer", "yes"),
                new("_t", fixture.Server.SealOfPage()),
            ])
        );
        post.StatusCode.ShouldBe(HttpStatusCode.SeeOther);
        var lead = await _connection.QuerySingleAsync<Guid>("select id from lead where email = 'v@visitante.example'");
        (await Log(lead, "came_in")).Select(e => (e.By, e.Cause)).ShouldBe([(null, "visitor")]);
    }

    [Fact]
    public async Task ASignInThatFailsIsLogged()
    {
        await _ingrid.Post("/api/session", new { name = "nils.nobody", password = "of nobody at all" });
        (await _connection.QuerySingleAsync<string>("select personal->>'name' from event where kind = 'signin_failed' order by id desc limit 1")).ShouldBe("nils.nobody");
    }

    /// <summary>An event reads as it was written, and what is personal stands apart.</summary>
    [Fact]
    public void WhatIsPersonalStandsApartAndComesBack()
    {
        var why = new Why(Why.GivenBack, Reason: "they \"know\" me");
        foreach (
            var happening in new Happening[]
            {
                new OwnerChanged(Guid.NewGuid(), null, why),
                new FactsFilled(["city"]),
                new TaskPlanned(Guid.NewGuid(), DateTimeOffset.UnixEpoch, Guid.NewGuid(), "Call"),
                new DealWon("sale", "a", "b", 12.5m, "EUR"),
                new CloseMoved(new DateOnly(2026, 1, 2), new DateOnly(2026, 2, 3)),
                new ImportTakenBack(),
            }
        )
        {
            var (said, personal) = EventLog.Parts(happening);
            Json.Write((object?)EventLog.Read(happening.Kind, EventLog.Whole(said, personal))).ShouldBe(Json.Write((object)happening));
        }
        var (kept, apart) = EventLog.Parts(new TaskRemoved(Guid.Empty, "Call Ann"));
        (kept.Contains("Ann", StringComparison.Ordinal), apart).ShouldBe((false, """{"subject":"Call Ann"}"""));
    }
}
