using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Http;

namespace DapperLantern.App.Tests.Intake.Http;

/// <summary>Other systems, with tokens.</summary>
public sealed class MachineTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private string _token = "";

    public async ValueTask InitializeAsync() => _token = (await Make(TokenScopes.All)).Token;

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task<TokenMade> Make(params string[] scopes) =>
        (
            await (await fixture.Server.SignIn("samir.haddow")).Post(
                "/api/tokens",
                new
                {
                    name = "Shop",
                    source = "website",
                    scopes,
                }
            )
        ).Read<TokenMade>();

    private async Task<Answer> Send(HttpMethod method, string path, object body, string? key = null, string? token = null)
    {
        using var http = new HttpClient { BaseAddress = new Uri(fixture.Server.Address) };
        http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token ?? _token);
        using var request = new HttpRequestMessage(method, path) { Content = JsonContent.Create(body, options: Json.Options) };
        if (key is not null)
            request.Headers.Add("Idempotency-Key", key);
        using var answer = await http.SendAsync(request);
        return new Answer(answer.StatusCode, await answer.Content.ReadAsStringAsync(), answer.Content.Headers.ContentType?.MediaType);
    }

    [Fact]
    public async Task ATokenReadsTheDescriptionAndNothingBesides()
    {
        (await Get("/api/lantern.json", _token)).Status.ShouldBe(HttpStatusCode.OK);
        (await Get("/api/lantern.json", _token + "x")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await new TestClient(fixture.Server.Address).Get("/api/reference")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await Get("/api/leads", _token)).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await Get("/api/session", _token)).Status.ShouldBe(HttpStatusCode.Unauthorized);
    }

    private async Task<TokenMade> Reader(Guid? person = null, DateOnly? lastDay = null) =>
        (await (await fixture.Server.SignIn("samir.haddow")).Post("/api/tokens", new NewToken("Reader", null, [TokenScopes.Read], person, lastDay))).Read<TokenMade>();

    private async Task<Answer> Get(string path, string token)
    {
        using var http = new HttpClient { BaseAddress = new Uri(fixture.Server.Address) };
        http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        using var answer = await http.GetAsync(new Uri(path, UriKind.Relative));
        return new Answer(answer.StatusCode, await answer.Content.ReadAsStringAsync(), answer.Content.Headers.ContentType?.MediaType);
    }

    [Fact]
    public async Task AMachineReadsEveryLeadByPagesAndWritesNothing()
    {
        var reader = await Reader();
        (reader.View.SourceName, reader.View.ReadsAs, reader.View.EndsAt).ShouldBe((null, null, null));
        var read = new List<ReadLead>();
        for (int? after = 0; after is not null; )
        {
            var page = (await Get($"/api/v1/leads?after={after}&limit=300", reader.Token)).Read<ReadLeads>();
            page.Leads.Count.ShouldBeLessThanOrEqualTo(300);
            read.AddRange(page.Leads);
            after = page.Next;
        }
        read.Select(l => l.Number).ShouldBeInOrder();
        read.Count.ShouldBe(await Scalar<int>("select count(*)::int from lead"));
        read.Count(l => l.Facts.ContainsKey("email")).ShouldBe(await Scalar<int>("select count(*)::int from lead where email is not null"));
        var one = read.First(l => l.Owner is not null);
        (await Get($"/api/v1/leads/{one.Id}", reader.Token)).Read<ReadLead>().Facts.ShouldBe(one.Facts, ignoreOrder: true);
        var where = Uri.EscapeDataString("""{"field":"country","is":"in","values":["NO"]}""");
        (await Get($"/api/v1/leads?where={where}&limit=500", reader.Token)).Read<ReadLeads>().Leads.ShouldAllBe(l => l.Facts["country"] == "NO");
        (await Get("/api/v1/leads?where=%7B", reader.Token)).Problem.ShouldBe("condition-unreadable");
        (await Get("/api/v1/leads?limit=501", reader.Token)).Problem.ShouldBe("page-unfit");
        (await Get($"/api/v1/leads/{Guid.NewGuid()}", reader.Token)).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Post("/api/v1/leads", Person("read@aune.example"), token: reader.Token)).Status.ShouldBe(HttpStatusCode.Forbidden);
        // What only sends does not read.
        (await Get("/api/v1/leads", (await Make(TokenScopes.Leads)).Token)).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task APersonsTokenReadsWhatTheyAreShownUntilItsLastDayOrTheirs()
    {
        var tor = await Scalar<Guid>("select id from person where user_name = 'tor.vik'");
        var reader = await Reader(tor, DateOnly.FromDateTime(DateTime.UtcNow).AddDays(2));
        reader.View.ReadsAs.ShouldBe("Tor Vik");
        reader.View.EndsAt.ShouldNotBeNull();
        var read = new List<ReadLead>();
        for (int? after = 0; after is not null; )
        {
            var page = (await Get($"/api/v1/leads?after={after}", reader.Token)).Read<ReadLeads>();
            read.AddRange(page.Leads);
            after = page.Next;
        }
        read.Where(l => l.Owner is not (null or "tor.vik")).ShouldAllBe(l => !l.Facts.ContainsKey("email") && !l.Facts.ContainsKey("phone"));
        read.ShouldContain(l => l.Owner == "tor.vik" && l.Facts.ContainsKey("email"));
        var hidden = await Scalar<string>(
            "select l.email from lead l join person p on p.id = l.owner_id where p.user_name <> 'tor.vik' and l.email is not null order by l.number limit 1"
        );
        var where = Uri.EscapeDataString($$"""{"field":"email","is":"in","values":["{{hidden}}"]}""");
        (await Get($"/api/v1/leads?where={where}", reader.Token)).Read<ReadLeads>().Leads.ShouldBeEmpty();
        await Scalar<int>($"with ended as (update access_token set ends_at = now() where id = '{reader.View.Id}' returning 1) select 1");
        (await Get("/api/v1/leads", reader.Token)).Status.ShouldBe(HttpStatusCode.Unauthorized);
        var samir = await fixture.Server.SignIn("samir.haddow");
        async Task<string?> Refused(NewToken order) => (await samir.Post("/api/tokens", order)).Problem;
        (await Refused(new NewToken("X", null, [TokenScopes.Read], Guid.NewGuid()))).ShouldBe("owner-unknown");
        (await Refused(new NewToken("X", "website", [TokenScopes.Read, TokenScopes.Leads], tor))).ShouldBe("token-person-reads");
        (await Refused(new NewToken("X", null, [TokenScopes.Leads]))).ShouldBe("source-not-http");
        (await Refused(new NewToken("X", null, [TokenScopes.Read], null, DateOnly.FromDateTime(DateTime.UtcNow).AddDays(-2)))).ShouldBe("token-day");
    }

    private Task<Answer> Post(string path, object body, string? key = null, string? token = null) => Send(HttpMethod.Post, path, body, key, token);

    private Task<T> Scalar<T>(string sql) => fixture.Server.Scalar<T>(sql);

    private static object Person(string email, string last = "Aune") =>
        new
        {
            facts = new
            {
                first_name = "Liv",
                last_name = last,
                email,
                country = "Norge",
                phone = "406 12 345",
            },
            campaign = "Bloom season guide",
        };

    [Fact]
    public async Task APersonIsMadeThenFoundAndKeptOnceByKey()
    {
        var made = await Post("/api/v1/leads", Person("liv@aune.example"), "k-1");
        made.Status.ShouldBe(HttpStatusCode.Created, made.Body);
        var lead = made.Read<SentResult>();
        (lead.Outcome, lead.State).ShouldBe(("new", "taken"));
        (await Post("/api/v1/leads", Person("liv@aune.example"), "k-1")).Read<SentResult>().ShouldBe(lead);
        (await Scalar<int>("select count(*)::int from single_arrival where raw->'facts'->>'email' = 'liv@aune.example'")).ShouldBe(1);
        var again = await Post("/api/v1/leads", Person("liv@aune.example"), "k-2");
        (again.Status, again.Read<SentResult>().Outcome).ShouldBe((HttpStatusCode.OK, "adds"));
        (await Scalar<string>($"select phone || ' ' || campaign || ' ' || source from lead where id = '{lead.Lead}'")).ShouldBe("+4740612345 bloom website");
    }

    [Fact]
    public async Task WhatIsWrongIsSaidByField()
    {
        var wrong = await Post("/api/v1/leads", new { facts = new { last_name = "Aune", email = "nowhere" } });
        (wrong.Status, wrong.Problem).ShouldBe((HttpStatusCode.UnprocessableEntity, "email-unreadable"));
        wrong.Body.ShouldContain("\"field\":\"email\"");
        (await Post("/api/v1/leads", new { facts = new { email = "a@b.example" } })).Problem.ShouldBe("no-name");
        (
            await Post(
                "/api/v1/leads",
                new
                {
                    facts = new
                    {
                        last_name = "A",
                        email = "a@b.example",
                        shoe = "42",
                    },
                }
            )
        ).Problem.ShouldBe("field-unknown");
        (await Post("/api/v1/leads", new { nothing = 1 })).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await Post("/api/v1/events", new { kind = "Page Viewed", email = "liv@aune.example" })).Problem.ShouldBe("kind-unreadable");
        (await Post("/api/v1/events", new { kind = "page.viewed", email = "unheard@of.example" })).Status.ShouldBe(HttpStatusCode.NotFound);
        (
            await Post(
                "/api/v1/events",
                new
                {
                    kind = "page.viewed",
                    email = "ragna@fjordnaer.example",
                    at = "2090-01-01T00:00:00Z",
                }
            )
        ).Problem.ShouldBe("event-moment-range");
    }

    [Fact]
    public async Task AnEventCountsForEngagementOnce()
    {
        var lead = (await Post("/api/v1/leads", Person("event@aune.example", "Event"))).Read<SentResult>();
        var before = await Scalar<int>($"select engagement from lead where id = '{lead.Lead}'");
        var sent = new
        {
            kind = "webinar.attended",
            lead = lead.Lead,
            detail = "Turbidity in real time",
        };
        (await Post("/api/v1/events", sent, "e-1")).Status.ShouldBe(HttpStatusCode.Created);
        (await Post("/api/v1/events", sent, "e-1")).Read<EventKept>().Again.ShouldBeTrue();
        (await Scalar<int>($"select count(*)::int from lead_event where lead_id = '{lead.Lead}' and kind = 'webinar.attended'")).ShouldBe(1);
        (await Scalar<int>($"select engagement from lead where id = '{lead.Lead}'")).ShouldBeGreaterThan(before);
    }

    [Fact]
    public async Task AThousandAtOnceHaveAResultEach()
    {
        var items = Enumerable
            .Range(0, 1000)
            .Select(i =>
                i switch
                {
                    7 => (object)new { lead = new { facts = new { last_name = "Batch" } } },
                    8 => new { },
                    _ when i % 5 == 4 => new { @event = new { kind = "page.viewed", email = $"batch{i - 1}@aune.example" } },
                    _ => new { lead = new { facts = new { last_name = $"Batch{i}", email = $"batch{i}@aune.example" } } },
                }
            )
            .ToList();
        var answer = (await Post("/api/v1/batch", new { items }, "b-1")).Read<BatchResult>();
        answer.Results.Count.ShouldBe(1000);
        (answer.Results[7].Problem!.Code, answer.Results[8].Problem!.Code).ShouldBe(("no-way-to-reach", "item-unclear"));
        answer.Results[9].Status.ShouldBe(404);
        answer.Results.Count(r => r.Status == 201).ShouldBe(997);
        (await Scalar<int>("select count(*)::int from lead where email like 'batch%@aune.example'")).ShouldBe(798);
        // The same batch again keeps nothing.
        (await Post("/api/v1/batch", new { items }, "b-1"))
            .Read<BatchResult>()
            .Results.Count(r => r.Status == 200)
            .ShouldBe(997);
        (await Scalar<int>("select count(*)::int from lead where email like 'batch%@aune.example'")).ShouldBe(798);
        (await Post("/api/v1/batch", new { items = items.Append(new { }) })).Problem.ShouldBe("batch-size");
    }

    [Fact]
    public async Task FactsAreChangedAndAHandedOverLeadIsNot()
    {
        var lead = (await Post("/api/v1/leads", Person("change@aune.example", "Change"))).Read<SentResult>();
        (await Send(HttpMethod.Patch, $"/api/v1/leads/{lead.Lead}", new { facts = new { city = "Bodø", phone = "" } })).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Scalar<string>($"select city || coalesce(phone, '-') from lead where id = '{lead.Lead}'")).ShouldBe("Bodø-");
        var gone = await Scalar<Guid>("select id from lead where state = 'handed_over' limit 1");
        (await Send(HttpMethod.Patch, $"/api/v1/leads/{gone}", new { facts = new { city = "Bodø" } })).Status.ShouldBe(HttpStatusCode.Conflict);
        (await Send(HttpMethod.Patch, $"/api/v1/leads/{Guid.NewGuid()}", new { facts = new { city = "Bodø" } })).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task WhoIsBarredWaitsAndComesInOnAWord()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await ingrid.Post(
            "/api/barred",
            new
            {
                kind = "domain",
                value = "competitor-floats.example",
                why = "competitor",
            }
        );
        var sent = await Post("/api/v1/leads", Person("spy@competitor-floats.example", "Spy"));
        (sent.Status, sent.Read<SentResult>().State).ShouldBe((HttpStatusCode.Accepted, "waiting"));
        var waits = (await ingrid.Read<List<SingleArrivalView>>("/api/arrivals?state=waiting&channel=http")).Single();
        waits.Parts.ShouldContain(p => p.Name == "last_name" && p.Value == "Spy");
        (await ingrid.Post($"/api/arrivals/{waits.Id}/take-in")).Status.ShouldBe(HttpStatusCode.OK);
        (await Scalar<string>("select source from lead where email = 'spy@competitor-floats.example'")).ShouldBe("website");
    }

    [Fact]
    public async Task ATokenDoesWhatItsScopesSayUntilItIsRevokedAndIsNeverShownAgain()
    {
        var samir = await fixture.Server.SignIn("samir.haddow");
        var made = await Make(TokenScopes.Events);
        (await Post("/api/v1/leads", Person("scope@aune.example"), token: made.Token)).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await Post("/api/v1/events", new { kind = "page.viewed", email = "ragna@fjordnaer.example" }, token: made.Token)).Status.ShouldBe(HttpStatusCode.Created);
        (await samir.Get("/api/tokens")).Body.ShouldNotContain(made.Token);
        (await samir.Delete($"/api/tokens/{made.View.Id}")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Post("/api/v1/events", new { kind = "page.viewed", email = "ragna@fjordnaer.example" }, token: made.Token)).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await Post("/api/v1/leads", Person("x@aune.example"), token: "lantern_00")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await Scalar<int>($"select count(*)::int from access_token where encode(hash, 'escape') like '%{made.Token[8..20]}%'")).ShouldBe(0);
        // A token opens nothing else.
        using var http = new HttpClient { BaseAddress = new Uri(fixture.Server.Address) };
        http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", _token);
        (await http.GetAsync("/api/leads")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        var rep = await fixture.Server.SignIn("tor.vik");
        (await rep.Get("/api/tokens")).Status.ShouldBe(HttpStatusCode.Forbidden);
    }
}
