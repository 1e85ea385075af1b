using System.Net;
using Dapper;
using DapperLantern.App.People;
using DapperLantern.App.People.Provider;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;
using OtpNet;

namespace DapperLantern.App.Tests.People;

/// <summary>Signing in by an identity provider that runs here: who is let in, as whom and as what, who is not, and how it ends.</summary>
public sealed class ProviderTests : IAsyncLifetime
{
    private static readonly ProviderMapOrder[] Groups =
    [
        new("sales-reps", [ShippedRoles.Rep], ["iberia"]),
        new("leads-desk", [ShippedRoles.Coordinator], []),
        new("it", [ShippedRoles.Administrator], []),
    ];

    private TestServer _server = null!;
    private TestProvider _provider = null!;
    private TestClient _samir = null!;

    public async ValueTask InitializeAsync()
    {
        var port = Ports.Free();
        _server = await TestServer.Start($"--urls=http://127.0.0.1:{port}", $"--Public:Address=http://127.0.0.1:{port}");
        _provider = await TestProvider.Start();
        _samir = await _server.SignIn("samir.haddow");
    }

    public async ValueTask DisposeAsync()
    {
        await _provider.DisposeAsync();
        await _server.DisposeAsync();
    }

    private ProviderOrder Order => new("Tarn", _provider.Issuer, TestProvider.Client, "groups", "groups", Groups, [], true, true, false, false, false, true, TestProvider.Secret);

    private async Task<ProviderView> Keep(Func<ProviderOrder, ProviderOrder>? changed = null)
    {
        var version = (await _samir.Read<ProviderView>("/api/setup/provider")).Version;
        return (await _samir.Put("/api/setup/provider", changed?.Invoke(Order) ?? Order, version)).Read<ProviderView>();
    }

    private TestClient Browser() => new(_server.Address);

    private async Task<(TestClient Client, string? Refused)> Comes(Known who)
    {
        _provider.Here = who;
        var client = Browser();
        return (client, (await client.ByProvider()).Refused);
    }

    private Task<T> Of<T>(string email, string column) => _server.Scalar<T>($"select {column} from person where email = '{email}'");

    private static Known Juno(params string[] groups) => new("s-juno", "Juno Adeyemi", "juno@tarn.example", true, groups);

    [Fact]
    public async Task AProviderIsAskedBeforeItIsKept()
    {
        async Task<ProviderTrialView> Try(ProviderOrder order) => (await _samir.Post("/api/setup/provider/trial", order)).Read<ProviderTrialView>();
        var good = await Try(Order);
        good.Good.ShouldBeTrue(string.Join(" ", good.Findings));
        good.Findings.Select(f => f.Words).ShouldContain("It knows this client and its secret.");
        good.ReturnAddress.ShouldBe($"{_server.Address}/api/session/provider/back");
        (await Try(Order with { Secret = "another" })).Findings[^1].ShouldBe(new ProviderFinding(false, "It does not know this client, or the secret is another."));
        (await Try(Order with { Issuer = _provider.Issuer + "/elsewhere" })).Findings.ShouldBe([
            new ProviderFinding(false, "It cannot be reached: it answers 404 at /elsewhere/.well-known/openid-configuration"),
        ]);
        (await Try(Order with { Issuer = _provider.Issuer.Replace("localhost", "127.0.0.1", StringComparison.Ordinal) })).Good.ShouldBeTrue("it calls itself as it is called");
        _provider.Ahead = TimeSpan.FromMinutes(-7);
        var clock = await Try(Order);
        clock.Good.ShouldBeFalse();
        clock.Findings.ShouldContain(new ProviderFinding(false, "Its clock is 7 minutes behind the one here. Beyond five minutes its answers may be taken for old ones."));
        _provider.Answers = false;
        (await Try(Order)).Findings[^1].Words.ShouldStartWith("It cannot be reached: it answers 503");
        await _provider.DisposeAsync();
        (await Try(Order)).Findings.Single().Words.ShouldStartWith("It cannot be reached: ");
    }

    [Fact]
    public async Task WhatIsUnfitIsNotKept()
    {
        async Task<string?> Problem(ProviderOrder order) => (await _samir.Put("/api/setup/provider", order, 0)).Problem;
        (await Problem(Order with { Issuer = "http://sign-in.company.example" })).ShouldBe("provider-address-unfit");
        (await Problem(Order with { Issuer = "file:///etc/passwd" })).ShouldBe("provider-address-unfit");
        (await Problem(Order with { Issuer = "https://me@sign-in.company.example" })).ShouldBe("provider-address-unfit");
        (await Problem(Order with { Issuer = "https://sign-in.company.example" })).ShouldBe("demo-asks-nobody");
        (await Problem(Order with { ClientId = " " })).ShouldBe("provider-client-missing");
        (await Problem(Order with { Claim = "" })).ShouldBe("provider-claim-missing");
        (await Problem(Order with { Maps = [.. Groups, Groups[0]] })).ShouldBe("provider-value-twice");
        (await Problem(Order with { Otherwise = ["wizard"] })).ShouldBe("role-unknown");
        (await Problem(Order with { Maps = [new("a", [], ["nowhere"])] })).ShouldBe("team-unknown");
        (await _server.Scalar<int>("select count(*)::int from identity_provider")).ShouldBe(0);
        var kept = await Keep();
        (kept.HasSecret, kept.Version).ShouldBe((true, 1));
        // Two administrators at once; the secret of one provider does not go to another.
        (await _samir.Put("/api/setup/provider", Order, 0)).Problem.ShouldBe("stale");
        (await _samir.Put("/api/setup/provider", Order with { Secret = null, ClientId = "another" }, 1)).Problem.ShouldBe("provider-secret-missing");
        (await _samir.Put("/api/setup/provider", Order with { Secret = null, Name = "Tarn door" }, 1)).Read<ProviderView>().HasSecret.ShouldBeTrue();
        (await _server.Scalar<string>("select secret from identity_provider")).ShouldNotContain(TestProvider.Secret);
        (await _server.Scalar<string>("select string_agg(said::text, '') from event where kind = 'setup' and said->>'what' = 'identity_provider'")).ShouldNotContain("secret");
        (await (await _server.SignIn("ingrid.brekke")).Get("/api/setup/provider")).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task TheFirstSignInMakesAPersonAndEachFollowsTheGroups()
    {
        await Keep();
        var (juno, refused) = await Comes(Juno("sales-reps", "choir"));
        refused.ShouldBeNull();
        (juno.Session.Name, juno.Session.Role).ShouldBe(("Juno Adeyemi", "Rep"));
        (await _server.Scalar<string>("select string_agg(team_key, ',') from turn t join person p on p.id = t.person_id where p.email = 'juno@tarn.example'")).ShouldBe("iberia");
        var view = await _samir.Read<ProviderView>("/api/setup/provider");
        (view.Linked, string.Join(' ', view.Values.Order())).ShouldBe((1, "choir sales-reps"));
        // Again: the same person, without a change.
        var version = await Of<int>("juno@tarn.example", "version");
        (await Comes(Juno("sales-reps"))).Refused.ShouldBeNull();
        (await Of<int>("juno@tarn.example", "version")).ShouldBe(version);
        // Another address there is no other person here; another group is another role, and the older session ends.
        (juno, _) = await Comes(Juno("leads-desk") with { Email = "juno.new@tarn.example" });
        juno.Session.Role.ShouldBe("Coordinator");
        (await _server.Scalar<int>("select count(*)::int from turn t join person p on p.id = t.person_id where p.email = 'juno@tarn.example'")).ShouldBe(0);
        // Without a group that means a role, nobody is let in; nor is whoever was let go, whatever the groups.
        (await Comes(Juno("choir"))).Refused.ShouldBe("None of your groups at the provider gives you a role here. Tell your administrator.");
        var id = await Of<Guid>("juno@tarn.example", "id");
        (await _samir.Post($"/api/setup/people/{id}/suspend")).Status.ShouldBe(HttpStatusCode.OK);
        (await juno.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await Comes(Juno("leads-desk"))).Refused.ShouldStartWith("You work here no more");
        (await Of<bool>("juno@tarn.example", "here")).ShouldBeFalse();
        // Nobody knows the password that was made.
        (await Of<string>("juno@tarn.example", "password_hash")).Length.ShouldBeGreaterThan(40);
    }

    [Fact]
    public async Task RolesStayWhereTheyAreToldOnceAloneAndGroupsMayComeWhenAsked()
    {
        await Keep(o => o with { Follows = false, Otherwise = [ShippedRoles.Marketer] });
        _provider.TellsGroupsWhenAsked = true;
        (await Comes(Juno("sales-reps"))).Client.Session.Role.ShouldBe("Rep");
        (await Comes(Juno("leads-desk"))).Client.Session.Role.ShouldBe("Rep");
        (await Comes(Juno() with { Subject = "s-other", Email = "other@tarn.example" })).Client.Session.Role.ShouldBe("Marketer");
        await Keep(o => o with { Makes = false });
        (await Comes(Juno() with { Subject = "s-third", Email = "third@tarn.example" })).Refused.ShouldBe(
            "third@tarn.example is not known here. Ask your administrator to invite you."
        );
    }

    [Fact]
    public async Task PeopleAreKnownByAnAddressTheProviderVouchesForAndByNoOther()
    {
        await Keep(o => o with { Maps = [] });
        // Not verified: anybody could bear it.
        var ingrid = new Known("s-ingrid", "Ingrid", "Ingrid.Brekke@tarnhollow.example", false);
        await Execute("update person set email = 'ingrid.brekke@tarnhollow.example', normalized_email = 'INGRID.BREKKE@TARNHOLLOW.EXAMPLE' where user_name = 'ingrid.brekke'");
        (await Comes(ingrid)).Refused.ShouldStartWith("The provider does not say that");
        var (client, _) = await Comes(ingrid with { Verified = true });
        (client.Session.Name, client.Session.Role).ShouldBe(("Ingrid Brekke", "Coordinator"));
        // From then on by the subject; a second account with her address is another's.
        (await Comes(ingrid)).Refused.ShouldBeNull();
        (await Comes(ingrid with { Verified = true, Subject = "s-thief" })).Refused!.ShouldContain("comes in by another account");
        (await _server.Scalar<int>("select count(*)::int from event where kind = 'provider'")).ShouldBe(1);
        // Until an administrator forgets the first: where a provider gave everybody new accounts, for instance.
        (await _samir.Post($"/api/setup/people/{client.Session.Id}/provider/end")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await client.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await _samir.Post($"/api/setup/people/{client.Session.Id}/provider/end")).Problem.ShouldBe("not-found");
        (await Comes(ingrid with { Verified = true, Subject = "s-new" })).Client.Session.Name.ShouldBe("Ingrid Brekke");
        // Somebody invited takes the invitation up by it.
        var invited = new PersonOrder("Wren Salter", "wren@tarn.example", [ShippedRoles.Rep], "Europe/Oslo");
        var link = (await _samir.Post("/api/setup/people/several", new SeveralOrder([invited]))).Read<List<Invited>>().Single().Link;
        (await Comes(new Known("s-wren", "Wren", "wren@tarn.example"))).Client.Session.Role.ShouldBe("Rep");
        (await Browser().WayIn(link.Address, new { password = "a stolen letter opens nothing" })).Problem.ShouldBe("link-over");
    }

    [Fact]
    public async Task WhoeverCannotComeInIsToldWhy()
    {
        (await Browser().ByProvider()).Refused.ShouldBe("No provider is set up.");
        await Keep();
        (await Browser().Read<SignInWays>("/api/session/ways")).ShouldBe(new SignInWays("Tarn", false, null, false));
        _provider.Here = null;
        var client = Browser();
        (await client.ByProvider()).Refused.ShouldBe("You were not signed in there, or did not allow it.");
        (await client.Read<SignInWays>("/api/session/ways")).Refused.ShouldBeNull("it is told once");
        // An answer that nobody here asked for.
        await client.Get("/api/session/provider/back?code=stolen&state=made-up");
        (await client.Read<SignInWays>("/api/session/ways")).Refused.ShouldBe("That took too long, or began in another window. Begin again.");
        (await Comes(Juno("sales-reps") with { Email = "" })).Refused.ShouldStartWith("The provider sends no email address");
        _provider.Ahead = TimeSpan.FromMinutes(-40);
        (await Comes(Juno("sales-reps"))).Refused.ShouldStartWith("The clocks of the provider and of this machine are too far apart");
        _provider.Ahead = TimeSpan.Zero;
        await Keep(o => o with { Secret = "another" });
        (await Comes(Juno("sales-reps"))).Refused.ShouldStartWith("The provider does not take Dapper Lantern for the client");
        await _provider.DisposeAsync();
        await Keep();
        (await Comes(Juno("sales-reps"))).Refused.ShouldStartWith("The provider does not answer.");
        (await _server.Scalar<int>("select count(*)::int from person where email = 'juno@tarn.example'")).ShouldBe(0);
    }

    [Fact]
    public async Task WhereItIsTheOnlyWayPasswordsAreForThoseWhoAdminister()
    {
        var tor = await _server.SignIn("tor.vik");
        await Keep(o => o with { Only = true });
        // The session that began by a password ends; the administrator's does not, or nobody could mend it.
        (await tor.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await Browser().Post("/api/session", new { name = "tor.vik", password = SessionEndpoints.DemoPassword })).Problem.ShouldBe("provider-only");
        (await Browser().Post("/api/session", new { name = "tor.vik", password = "not it at all" })).Problem.ShouldBe("wrong-sign-in");
        await _server.SignIn("samir.haddow");
        var order = new PersonOrder("Wren Salter", "wren@tarn.example", [ShippedRoles.Rep], "Europe/Oslo");
        var link = (await _samir.Post("/api/setup/people/several", new SeveralOrder([order]))).Read<List<Invited>>().Single().Link;
        link.Address.ShouldBe(_server.Address + "/");
        (await Comes(new Known("s-wren", "Wren", "wren@tarn.example", true, "sales-reps"))).Client.Session.Name.ShouldBe("Wren Salter");
    }

    [Fact]
    public async Task TheLastAdministratorStaysOne()
    {
        await Execute("update person set email = 'samir@tarn.example', normalized_email = 'SAMIR@TARN.EXAMPLE' where user_name = 'samir.haddow'");
        await Keep();
        var samir = new Known("s-samir", "Samir", "samir@tarn.example", true, "sales-reps");
        (await Comes(samir)).Client.Session.Role.ShouldBe("Administrator");
        // With another one there, the groups decide.
        await Comes(Juno("it"));
        (await Comes(samir)).Client.Session.Role.ShouldBe("Rep");
    }

    [Fact]
    public async Task TwoFirstSignInsAtOnceAreOnePerson()
    {
        await Keep();
        _provider.Here = Juno("sales-reps");
        var ways = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Browser().ByProvider()));
        ways.ShouldAllBe(w => w.Refused == null);
        (await _server.Scalar<int>("select count(*)::int from person where email = 'juno@tarn.example'")).ShouldBe(1);
    }

    [Fact]
    public async Task ACodeIsAskedForHereUnlessTheProviderAskedForOne()
    {
        await Keep();
        var (juno, _) = await Comes(Juno("sales-reps"));
        // A password of their own, by a one-time address, and with it codes.
        var link = (await _samir.Post($"/api/setup/people/{juno.Session.Id}/link", new LinkOrder())).Read<OneTimeLink>();
        var own = Browser();
        (await own.WayIn(link.Address, new { password = "grey herons over the tarn" })).Status.ShouldBe(HttpStatusCode.NoContent);
        var key = (await own.Post("/api/session/second-step/codes/key", new { password = "grey herons over the tarn" })).Read<CodeKeyView>().Key;
        string Code(int on) => new Totp(Base32Encoding.ToBytes(key)).ComputeTotp(DateTime.UtcNow.AddSeconds(30 * on));
        (await own.Post("/api/session/second-step/codes", new { code = Code(0) })).Status.ShouldBe(HttpStatusCode.OK);
        var client = Browser();
        (await client.ByProvider()).NeedsCode.ShouldBeTrue();
        (await client.Get("/api/session")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await client.Code(Code(1))).Status.ShouldBe(HttpStatusCode.NoContent);
        client.Session.Name.ShouldBe("Juno Adeyemi");
        (await Comes(Juno("sales-reps") with { Strong = true })).Client.Session.Name.ShouldBe("Juno Adeyemi");
        (await _server.Scalar<bool>("select strong from session order by started_at desc limit 1")).ShouldBeTrue();
    }

    [Fact]
    public async Task WhereARoleHasToHaveASecondStepItIsMadeWithoutAPasswordThatNobodyKnows()
    {
        await Keep();
        await Execute("insert into setup_entry (key, body) values ('strong-sign-in', '{\"roles\": [\"rep\"]}')");
        await _samir.Put("/api/setup/provider", Order, 1);
        var (juno, _) = await Comes(Juno("sales-reps"));
        juno.Session.NeedsSecondStep.ShouldBeTrue();
        (await juno.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await juno.Read<SecondStepView>("/api/session/second-step")).AsksPassword.ShouldBeFalse();
        // A session that is older proves nothing of this moment.
        await Execute("update session set started_at = started_at - interval '11 minutes' where provider_token is not null");
        (await juno.Post("/api/session/second-step/codes/key", new { password = "" })).Problem.ShouldBe("provider-again");
        (juno, _) = await Comes(Juno("sales-reps"));
        (await juno.Post("/api/session/second-step/codes/key", new { password = "" })).Status.ShouldBe(HttpStatusCode.OK);
        // Where a sign-in there counts as one, nothing is asked for.
        await _samir.Put("/api/setup/provider", Order with { CountsAsStrong = true }, 2);
        (await Comes(Juno("sales-reps"))).Client.Session.NeedsSecondStep.ShouldBeFalse();
    }

    [Fact]
    public async Task SigningOutHereEndsTheSessionThereAndTheOtherWayRound()
    {
        await Keep();
        var here = Juno("sales-reps");
        var (juno, _) = await Comes(here);
        var address = (await juno.Delete("/api/session")).Read<SignOutNext>().Address;
        address.ShouldStartWith($"{_provider.Issuer}/connect/out?");
        address.ShouldContain("id_token_hint=");
        address.ShouldContain("post_logout_redirect_uri=");
        (await juno.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        // The provider tells of an end: of one session, or of all of somebody.
        var (first, _) = await Comes(here);
        var (second, _) = await Comes(here with { Session = "another" });
        var unfit = new[]
        {
            _provider.EndToken(here, signed: false),
            _provider.EndToken(here, c => c["nonce"] = "of an id token"),
            _provider.EndToken(here, c => c.Remove("events")),
            _provider.EndToken(here, c => (c["sub"], c["sid"]) = ("", "")),
            _provider.EndToken(here, audience: "somebody-else"),
            "no.token.at-all",
        };
        foreach (var (token, i) in unfit.Select((t, i) => (t, i)))
            (await Tell(token)).Problem.ShouldBe("provider-end-unfit", $"token {i}");
        (await Tell("no.token.at-all")).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await first.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.OK);
        (await Tell(_provider.EndToken(here))).Status.ShouldBe(HttpStatusCode.OK);
        (await first.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await second.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.OK);
        (await Tell(_provider.EndToken(here, c => c.Remove("sid")))).Status.ShouldBe(HttpStatusCode.OK);
        (await second.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        // Somebody who came by a password goes out here alone.
        (await (await _server.SignIn("tor.vik")).Delete("/api/session")).Status.ShouldBe(HttpStatusCode.NoContent);
    }

    [Fact]
    public async Task TheWayBackIsAPageOfOurs()
    {
        await Keep();
        _provider.Here = Juno("sales-reps");
        foreach (var (path, back) in new[] { ("/leads", "/leads"), ("//elsewhere.example", "/"), ("/\\elsewhere.example", "/"), ("https://elsewhere.example", "/") })
        {
            using var http = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer() });
            using var answer = await http.GetAsync(new Uri($"{_server.Address}/api/session/provider?path={Uri.EscapeDataString(path)}"));
            answer.RequestMessage!.RequestUri.ShouldBe(new Uri(_server.Address + back));
        }
    }

    private async Task<Answer> Tell(string token)
    {
        using var form = new FormUrlEncodedContent([new("logout_token", token)]);
        return await Browser().Send(HttpMethod.Post, "/api/session/provider/ended", form);
    }

    private async Task Execute(string sql)
    {
        await using var connection = await _server.Connect();
        await connection.ExecuteAsync(sql);
    }
}
