using System.Net;
using DapperLantern.App.Data;
using DapperLantern.App.People;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;
using OtpNet;

namespace DapperLantern.App.Tests.Setup;

/// <summary>Codes by time as a second step at the sign-in: made, asked for, lost, required. Passkeys are tried in the browser, with a device of its own.</summary>
public sealed class SecondStepTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private const string Password = SessionEndpoints.DemoPassword;

    private TestServer Server => fixture.Server;

    private static string CodeOf(string key, int stepsOn = 0) => new Totp(Base32Encoding.ToBytes(key)).ComputeTotp(DateTime.UtcNow.AddSeconds(30 * stepsOn));

    // The next one, since the one of now may be used already; one step ahead is taken.
    private static async Task<(string Key, IReadOnlyList<string> Recovery)> SetUp(TestClient who)
    {
        var key = (await who.Post("/api/session/second-step/codes/key", new { password = Password })).Read<CodeKeyView>();
        key.Address.ShouldContain($"secret={key.Key}");
        var (first, once) = (CodeOf(key.Key), Guid.NewGuid().ToString());
        var made = await who.Post("/api/session/second-step/codes", new { code = first }, key: once);
        // Sent twice, it is done once, and answered alike.
        (await who.Post("/api/session/second-step/codes", new { code = first }, key: once)).Body.ShouldBe(made.Body);
        return (key.Key, made.Read<RecoveryView>().Codes);
    }

    private async Task<(TestClient Client, Answer Answer)> Half(string name)
    {
        var client = new TestClient(Server.Address);
        return (client, await client.Post("/api/session", new { name, password = Password }));
    }

    [Theory]
    [InlineData("94287082", 59)]
    [InlineData("07081804", 1111111109)]
    [InlineData("65353130", 20000000000)]
    public void CodesAreThoseOfTheStandard(string code, long second) =>
        // RFC 6238, appendix B, SHA-1.
        new Totp("12345678901234567890"u8.ToArray(), totpSize: 8)
            .ComputeTotp(DateTime.UnixEpoch.AddSeconds(second))
            .ShouldBe(code);

    [Fact]
    public async Task WhoSetCodesUpComesInByPasswordAndCodeAndByNeitherAlone()
    {
        var lucie = await Server.SignIn("lucie.armand");
        (await lucie.Post("/api/session/second-step/codes/key", new { password = "not it" })).Problem.ShouldBe("wrong-password");
        var (key, recovery) = await SetUp(lucie);
        recovery.Count.ShouldBe(10);
        // The key is kept sealed, the codes for the lost device as marks, and nothing of it in the answers that are kept.
        (await Server.Scalar<string>("select string_agg(secret, '') from code_key")).ShouldNotContain(key);
        (await Server.Scalar<int>($"select count(*)::int from request_key where encode(body, 'escape') like '%{recovery[0]}%'")).ShouldBe(0);
        var (client, answer) = await Half("lucie.armand");
        answer.Read<SignInNext>().Needs.ShouldBe("code");
        (await client.Get("/api/session")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await client.Code("000000")).Problem.ShouldBe("code-wrong");
        (await client.Code(CodeOf(key, stepsOn: 9))).Problem.ShouldBe("code-clock");
        // That of the set-up was used.
        var next = CodeOf(key, stepsOn: 1);
        (await client.Code(next)).Status.ShouldBe(HttpStatusCode.NoContent);
        (await client.Read<SecondStepView>("/api/session/second-step")).MayChange.ShouldBeTrue();
        var (second, _) = await Half("lucie.armand");
        (await second.Code(next)).Problem.ShouldBe("code-used");
        // For the lost device, each once; however it is written.
        (await second.Code(recovery[0].ToUpperInvariant().Replace("-", " ", StringComparison.Ordinal))).Status.ShouldBe(HttpStatusCode.NoContent);
        var (third, _) = await Half("lucie.armand");
        (await third.Code(recovery[0])).Problem.ShouldBe("code-wrong");
        (await new TestClient(Server.Address).Code(recovery[1])).Problem.ShouldBe("half-over");
        // New ones end the old ones.
        var others = (await second.Post("/api/session/second-step/recovery", new { password = Password })).Read<RecoveryView>().Codes;
        (await third.Code(recovery[1])).Problem.ShouldBe("code-wrong");
        (await third.Code(others[1])).Status.ShouldBe(HttpStatusCode.NoContent);
        (await third.Read<SecondStepView>("/api/session/second-step")).RecoveryLeft.ShouldBe(9);
        (await second.Post("/api/session/second-step/codes/end", new { password = Password })).Read<SecondStepView>().HasCodes.ShouldBeFalse();
        await Server.SignIn("lucie.armand");
    }

    [Fact]
    public async Task AnotherPasswordIsNoWayAroundTheCode()
    {
        var samir = await Server.SignIn("samir.haddow");
        var katrin = await Server.SignIn("katrin.oberholz");
        var (key, _) = await SetUp(katrin);
        var id = katrin.Session.Id;
        var address = (await samir.Post($"/api/setup/people/{id}/link", new { send = false })).Read<OneTimeLink>().Address;
        var opened = new TestClient(Server.Address);
        var answer = await opened.Post("/api/way-in", new { key = address.Split('#')[1], password = "seven quiet herons" });
        answer.Read<SignInNext>().Needs.ShouldBe("code");
        (await opened.Get("/api/session")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await opened.Code(CodeOf(key, stepsOn: 1))).Status.ShouldBe(HttpStatusCode.NoContent);
        // Who lost the device is let in by an administrator; that ends their sessions.
        (await Line(samir, id)).HasSecondStep.ShouldBeTrue();
        (await samir.Post($"/api/setup/people/{samir.Session.Id}/second-step/end")).Problem.ShouldBe("second-step-self");
        (await samir.Post($"/api/setup/people/{id}/second-step/end")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Line(samir, id)).HasSecondStep.ShouldBeFalse();
        (await opened.Get("/api/session")).Status.ShouldBe(HttpStatusCode.Unauthorized);
    }

    private static async Task<PersonLine> Line(TestClient by, Guid person) => (await by.Read<PeopleView>("/api/setup/people")).People.Single(p => p.Id == person);

    [Fact]
    public async Task GuessingCodesIsSlowedDownHoweverOftenThePasswordIsGiven()
    {
        var sten = await Server.SignIn("sten.lindmark");
        await SetUp(sten);
        var stranger = new TestClient(Server.Address);
        for (var i = 0; i < 5; i++)
        {
            (await stranger.Post("/api/session", new { name = "sten.lindmark", password = Password })).Status.ShouldBe(HttpStatusCode.OK);
            (await stranger.Code($"00000{i}")).Problem.ShouldBe("code-wrong");
        }
        (await stranger.Code("000009")).Problem.ShouldBe("too-many-tries");
        (await stranger.Post("/api/session", new { name = "sten.lindmark", password = Password })).Problem.ShouldBe("too-many-tries");
    }

    [Fact]
    public async Task ARoleThatHasToMayDoNothingBeforeItMadeOne()
    {
        var samir = await Server.SignIn("samir.haddow");
        var effie = await Server.SignIn("effie.marlowe");
        using var heard = new StreamReader(
            await (await effie.Watch("/api/notices/live", TestContext.Current.CancellationToken)).Content.ReadAsStreamAsync(TestContext.Current.CancellationToken)
        );
        (await heard.ReadLineAsync(TestContext.Current.CancellationToken)).ShouldBe("event: here");
        (await samir.Put("/api/setup/strong-sign-in", new { roles = new[] { "administrator", "qualifier" } })).Problem.ShouldBe("second-step-own");
        (await samir.Put("/api/setup/strong-sign-in", new { roles = new[] { "qualifier" } })).Read<StrongSignInView>().Without[ShippedRoles.Qualifier].ShouldBeGreaterThan(0);
        try
        {
            // Also in a session that began before.
            (await effie.Get("/api/desk")).Problem.ShouldBe("second-step-missing");
            // A stream that was open then ends instead of telling something.
            await Server.Scalar<object>(
                "insert into outbox (id, kind, person_id, subject, text, created_at, tries) select gen_random_uuid(), 'lead-given', id, 'New lead', 'Held back.', now(), 0 from person where user_name = 'effie.marlowe'"
            );
            (await heard.ReadToEndAsync(TestContext.Current.CancellationToken).WaitAsync(TimeSpan.FromSeconds(20), TestContext.Current.CancellationToken)).ShouldNotContain(
                "Held back"
            );
            var session = await effie.Read<SessionView>("/api/session");
            session.NeedsSecondStep.ShouldBeTrue();
            session.May.ShouldBe([Act.KeepOwnSignIn]);
            (await effie.Post("/api/leads", new { })).Problem.ShouldBe("second-step-missing");
            var (key, _) = await SetUp(effie);
            (await effie.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.OK);
            (await effie.Post("/api/session/second-step/codes/end", new { password = Password })).Problem.ShouldBe("second-step-needed");
            // A second session by the password alone gets neither in nor at the codes.
            var (client, answer) = await Half("effie.marlowe");
            answer.Read<SignInNext>().Needs.ShouldBe("code");
            (await client.Post("/api/session/second-step/codes/key", new { password = Password })).Status.ShouldBe(HttpStatusCode.Unauthorized);
            (await client.Code(CodeOf(key, stepsOn: 1))).Status.ShouldBe(HttpStatusCode.NoContent);
            (await client.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.OK);
        }
        finally
        {
            (await samir.Put("/api/setup/strong-sign-in", new { roles = Array.Empty<string>() })).Status.ShouldBe(HttpStatusCode.OK);
        }
    }

    [Fact]
    public async Task APasskeyThatIsNoneIsRefusedAndTheQuestionSaysNothingOfAnybody()
    {
        var stranger = new TestClient(Server.Address);
        var options = (await stranger.Post("/api/session/passkey/options")).Read<PasskeyOptions>().Options;
        options.ShouldContain("\"userVerification\":\"required\"");
        options.ShouldNotContain("allowCredentials\":[{");
        foreach (var bad in new[] { "", "{}", "null", "[]", "{\"id\":\"AAAA\",\"type\":\"public-key\",\"rawId\":\"AAAA\",\"response\":{}}" })
        {
            (await stranger.Post("/api/session/passkey", new { credential = bad })).Problem.ShouldBe("passkey-unknown");
            await stranger.Post("/api/session/passkey/options");
        }
        var ingrid = await Server.SignIn("ingrid.brekke");
        (await ingrid.Post("/api/session/second-step/passkeys", new { credential = "{}", name = "x" })).Problem.ShouldBe("passkey-late");
        (await ingrid.Post("/api/session/second-step/passkeys/options", new { password = Password })).Status.ShouldBe(HttpStatusCode.OK);
        (await ingrid.Post("/api/session/second-step/passkeys", new { credential = "{}", name = "x" })).Problem.ShouldBe("passkey-unfit");
        // Somebody else's is none of theirs.
        await Server.Scalar<int>(
            """
            with x as (insert into passkey (credential_id, user_id, data) select '\x000000', id, '{"publicKey":"","createdAt":"2026-12-01T08:00:00Z","attestationObject":"","clientDataJson":""}'
              from person where user_name = 'harald.quist' returning 1) select count(*)::int from x
            """
        );
        (await ingrid.Post("/api/session/second-step/passkeys/AAAA/end", new { password = Password })).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Server.Scalar<int>("select count(*)::int from passkey")).ShouldBe(1);
    }
}
