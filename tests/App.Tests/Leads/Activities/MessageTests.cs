using System.Net;
using Dapper;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Setup;
using DapperLantern.Tests.Shared;
using MimeKit;

namespace DapperLantern.App.Tests.Leads.Activities;

/// <summary>Writing to leads: filled from what is known, and never to whom we must not write.</summary>
public sealed class MessageTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private async Task<LeadSheet> Some(TestClient who, string where)
    {
        await using var connection = await fixture.Server.Connect();
        return await who.Read<LeadSheet>($"/api/leads/{await connection.QueryFirstAsync<Guid>($"select id from lead where {where} order by number limit 1")}");
    }

    private const string Reachable = "state = 'new' and owner_id is not null and email is not null and first_name is not null and interest is not null and city is null";

    [Fact]
    public async Task ADraftIsFilledWithFactsAndSaysWhatIsMissing()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = await Some(ingrid, Reachable);
        var thanks = (await ingrid.Post($"/api/leads/{lead.Id}/messages/draft", new { template = "thanks" })).Read<DraftView>();
        thanks.Subject.ShouldBe($"Your question about {lead.Facts.Single(f => f.Key == "interest").Value}");
        thanks.Text.ShouldContain(lead.Facts.Single(f => f.Key == "first_name").Value!);
        thanks.Text.ShouldEndWith("Ingrid Brekke");
        (thanks.MayNot, thanks.To).ShouldBe((null, lead.Facts.Single(f => f.Key == "email").Value));
        var survey = (await ingrid.Post($"/api/leads/{lead.Id}/messages/draft", new { template = "survey" })).Read<DraftView>();
        survey.Missing.ShouldContain("Place");
        survey.Text.ShouldNotContain("{{");
    }

    [Fact]
    public async Task AMessageSentTwiceGoesOnceStopsTheClockAndStandsInTheStory()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = await Some(ingrid, Reachable + " and clock_due_at is not null");
        var message = new MessageWrite(Guid.NewGuid(), "Your buoy", "Dear you,\n\nit floats.", "thanks");
        await Task.WhenAll(ingrid.Post($"/api/leads/{lead.Id}/messages", message), ingrid.Post($"/api/leads/{lead.Id}/messages", message));
        var after = await ingrid.Read<LeadSheet>($"/api/leads/{lead.Id}");
        (after.State, after.Clock).ShouldBe(("in_work", null));
        after.Story.Count(s => s.Kind == "message" && s.Text == "Your buoy\nDear you,\n\nit floats.").ShouldBe(1);
        (await ingrid.Read<List<SentView>>("/api/outbox")).Single(s => s.Id == message.Id).LeadId.ShouldBe(lead.Id);
        (await ingrid.Post($"/api/leads/{lead.Id}/messages", message with { Subject = " " })).Problem.ShouldBe("subject-missing");
        (await ingrid.Post($"/api/leads/{lead.Id}/messages", message with { Text = "" })).Problem.ShouldBe("text-missing");
        (await ingrid.Post($"/api/leads/{lead.Id}/messages", message with { Template = "none" })).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task WithoutConsentOrOnTheListOfWhomNotToContactNothingLeaves()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = await Some(
            ingrid,
            "state = 'in_work' and email is not null and owner_id is not null and not exists (select 1 from consent c where c.person_key = person_key(email))"
        );
        var news = new MessageWrite(Guid.NewGuid(), "News", "Read this.", "reading");
        (await ingrid.Post($"/api/leads/{lead.Id}/messages/draft", new { template = "reading" })).Read<DraftView>().MayNot!.ShouldContain("not known");
        (await ingrid.Post($"/api/leads/{lead.Id}/messages", news)).Problem.ShouldBe("may-not-write");
        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync(
            "insert into barred (id, kind, hash, hash_key, why, at) select gen_random_uuid(), 'person', sha256(convert_to(email, 'UTF8')), person_key(email), 'asked', now() from lead where id = @Id",
            new { lead.Id }
        );
        (await ingrid.Post($"/api/leads/{lead.Id}/messages", news with { Template = null })).Problem.ShouldBe("may-not-write");
        (await connection.QuerySingleAsync<int>("select count(*)::int from outbox where id = @Id", new { news.Id })).ShouldBe(0);
    }

    [Fact]
    public async Task ATemplateThatCannotBeFilledIsRefused()
    {
        var (ingrid, tor) = (await fixture.Server.SignIn("ingrid.brekke"), await fixture.Server.SignIn("tor.vik"));
        var good = new MessageTemplate("own", "Our own", null, "About {{ company }}", "Dear {{ first_name | default: 'you' }}");
        (await ingrid.Put("/api/message-templates", new[] { good with { Text = "{{ shoe_size }}" } })).Sentence.ShouldContain("shoe_size");
        (await ingrid.Put("/api/message-templates", new[] { good with { Text = "{% if" } })).Problem.ShouldBe("template-unreadable");
        (await ingrid.Put("/api/message-templates", new[] { good with { Purpose = "world peace" } })).Problem.ShouldBe("purpose-unknown");
        (await ingrid.Put("/api/message-templates", new[] { good, good })).Problem.ShouldBe("templates-unfit");
        (await tor.Put("/api/message-templates", new[] { good })).Status.ShouldBe(HttpStatusCode.Forbidden);
        var before = await ingrid.Read<List<MessageTemplate>>("/api/message-templates");
        (await ingrid.Put("/api/message-templates", before.Append(good).ToList())).Status.ShouldBe(HttpStatusCode.NoContent);
        (await tor.Read<List<MessageTemplate>>("/api/message-templates")).ShouldContain(t => t.Key == "own");
    }

    [Theory]
    [InlineData("250 kept", true)]
    [InlineData("451 later", false)]
    public async Task AMailServerIsHandedTheMessageAndARefusalIsTriedAgain(string answer, bool taken)
    {
        await using var server = new SmallMailServer { AnswerToLetter = answer };
        var door = SmtpTransport.Of(new Uri($"smtp://127.0.0.1:{server.Port}"));
        using var message = new MimeMessage(
            [new MailboxAddress("We", "we@tarnhollow.example")],
            [new MailboxAddress("You", "you@fjord.example")],
            "Buoy",
            new TextPart("plain") { Text = "It floats." }
        );
        (await door.Send(message, Guid.NewGuid(), TestContext.Current.CancellationToken)).Sent.ShouldBe(taken);
        if (taken)
            server.Letters.ShouldHaveSingleItem().ShouldContain("It floats.");
    }

    [Fact]
    public async Task AServerThatIsNotThereIsNoTrouble()
    {
        var door = SmtpTransport.Of(new Uri("smtp://127.0.0.1:1"));
        using var message = new MimeMessage(
            [new MailboxAddress("We", "we@tarnhollow.example")],
            [new MailboxAddress("You", "you@fjord.example")],
            "Buoy",
            new TextPart("plain") { Text = "" }
        );
        (await door.Send(message, Guid.NewGuid(), TestContext.Current.CancellationToken)).Sent.ShouldBeFalse();
    }
}
