using System.Net;
using DapperLantern.App.Company;
using DapperLantern.App.People;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;

namespace DapperLantern.App.Tests.Company;

/// <summary>A mail server of the company's own: tried by a letter to oneself, then used.</summary>
public sealed class MailTests : IAsyncLifetime
{
    private TestServer _server = null!;
    private TestClient _first = null!;

    public async ValueTask InitializeAsync()
    {
        _server = await TestServer.StartEmpty();
        _first = await _server.First("Åse Fjell", "ase@fjell.example", "Europe/Oslo");
    }

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    private static MailOrder Order(int port, string host = "127.0.0.1", string user = "", string? password = null) =>
        new("Fjell", "post@fjell.example", host, port, user, password);

    private async Task<Answer> Keep(MailOrder order) => await _first.Put("/api/setup/mail", order, (await _first.Read<MailView>("/api/setup/mail")).Version);

    private async Task Name()
    {
        var view = await _first.Read<CompanyView>("/api/setup/company");
        var order = new CompanyOrder("Fjell", "", "", "", null, "NOK", "Europe/Oslo", DateForm.DayFirst, 1, "", view.Colour);
        (await _first.Put("/api/setup/company", order, view.Version)).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task ALetterToOneselfTellsWhatTheServerSays()
    {
        await using var good = new SmallMailServer();
        var trial = (await _first.Post("/api/setup/mail/trial", Order(good.Port))).Read<MailTrial>();
        (trial.Sent, trial.To, trial.Encrypted).ShouldBe((true, "ase@fjell.example", false));
        trial.Answer.ShouldContain("kept as 4711");
        good.Letters.ShouldHaveSingleItem().ShouldContain("To: ");

        await using var refusing = new SmallMailServer { AnswerToRecipient = "550 5.7.1 We do not relay for you" };
        trial = (await _first.Post("/api/setup/mail/trial", Order(refusing.Port))).Read<MailTrial>();
        trial.Sent.ShouldBeFalse();
        trial.Answer.ShouldContain("We do not relay for you");

        // It takes the letter and hangs up: taken is taken, and what was said is shown.
        await using var lying = new SmallMailServer { AnswerToLetter = "250 Of course" };
        (await _first.Post("/api/setup/mail/trial", Order(lying.Port))).Read<MailTrial>().Answer.ShouldContain("Of course");

        // Something that is no mail server.
        await using var other = new SmallMailServer { Greeting = "HTTP/1.1 400 Bad Request" };
        (await _first.Post("/api/setup/mail/trial", Order(other.Port))).Read<MailTrial>().Sent.ShouldBeFalse();
        (await _first.Post("/api/setup/mail/trial", Order(1))).Read<MailTrial>().Sent.ShouldBeFalse();
        (await _first.Post("/api/setup/mail/trial", Order(25, host: "no host"))).Problem.ShouldBe("mail-host-unfit");
        (await _first.Post("/api/setup/mail/trial", Order(25) with { SenderAddress = "" })).Problem.ShouldBe("sender-missing");
    }

    [Fact]
    public async Task KeptItIsUsedAtOnceAndItsPasswordStaysHere()
    {
        await using var server = new SmallMailServer();
        (await Keep(Order(server.Port))).Problem.ShouldBe("company-unnamed");
        await Name();
        (await Keep(Order(server.Port, user: "fjell", password: "very secret"))).Status.ShouldBe(HttpStatusCode.OK);
        var kept = await _first.Get("/api/setup/mail");
        kept.Read<MailView>().HasPassword.ShouldBeTrue();
        kept.Body.ShouldNotContain("very secret");
        (await _server.Scalar<int>("select count(*)::int from company where mail_secret like '%secret%'")).ShouldBe(0);
        (await _server.Scalar<int>("select count(*)::int from event where said::text like '%mail_secret%'")).ShouldBe(0);
        // The kept password goes to no other server.
        (await _first.Post("/api/setup/mail/trial", Order(server.Port, host: "localhost", user: "fjell"))).Problem.ShouldBe("mail-password-missing");
        (await Keep(Order(server.Port, host: "localhost", user: "fjell"))).Problem.ShouldBe("mail-password-missing");
        // Without sign-in, which this server does not offer, a letter goes out.
        (await Keep(Order(server.Port)))
            .Read<MailView>()
            .HasPassword.ShouldBeFalse();
        var person = (await _first.Post("/api/setup/people", new PersonOrder("Per Vik", "per@fjell.example", [ShippedRoles.Rep], "Europe/Oslo"))).Read<PersonLine>();
        (await _first.Post($"/api/setup/people/{person.Id}/link", new { send = true })).Status.ShouldBe(HttpStatusCode.OK);
        await Eventually.Holds(() => Task.FromResult(!server.Letters.IsEmpty));
        server.Letters.ShouldHaveSingleItem().ShouldContain("From: Fjell <post@fjell.example>");
    }
}
