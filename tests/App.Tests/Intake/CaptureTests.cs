using System.Net;
using Dapper;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;

namespace DapperLantern.App.Tests.Intake;

/// <summary>One person at a time, typed while talking.</summary>
public sealed class CaptureTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private Task<T> Scalar<T>(string sql) => fixture.Server.Scalar<T>(sql);

    private static object Sheet(string email, object? more = null, string name = "Lorna") =>
        new
        {
            source = "telephone",
            facts = new
            {
                first_name = name,
                last_name = "Pentland",
                company = "Pentland Ponds Ltd",
                email,
                country = "GB",
            },
            note = "Wants two buoys.",
            heat = "hot",
            consents = new[] { "news" },
            followUp = new { subject = "Send the price guide", dueAt = "2026-12-01T09:00:00Z" },
            key = more,
        };

    [Fact]
    public async Task OneSheetMakesLeadScoresConsentNoteAndFollowUpTogether()
    {
        var effie = await fixture.Server.SignIn("effie.marlowe");
        var answer = await effie.Post("/api/leads", Sheet("lorna@pentland.example"));
        answer.Status.ShouldBe(HttpStatusCode.Created, answer.Body);
        var made = answer.Read<LeadMade>();
        var sheet = await (await fixture.Server.SignIn("ingrid.brekke")).Read<LeadSheet>($"/api/leads/{made.Id}");
        sheet.Tasks.Select(t => t.Subject).ShouldContain("Send the price guide");
        sheet.Story.ShouldContain(s => s.Text == "Wants two buoys.");
        sheet.Score.EngagementReasons.ShouldContain(r => r.Label == "Seemed hot, today");
        (await Scalar<string>($"select purpose || ' ' || wording || ' ' || place from consent where lead_id = '{made.Id}'")).ShouldBe(
            "news Said aloud Telephone, taken by effie.marlowe"
        );
    }

    [Fact]
    public async Task WhoIsALeadAlreadyIsFoundAndEverythingIsAdded()
    {
        var effie = await fixture.Server.SignIn("effie.marlowe");
        var first = (await effie.Post("/api/leads", Sheet("again@pentland.example"))).Read<LeadMade>();
        var answer = await effie.Post("/api/leads", Sheet("again@pentland.example"));
        answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
        answer.Read<LeadMade>().ShouldSatisfyAllConditions(m => m.Id.ShouldBe(first.Id), m => m.Known!.ShouldStartWith("Already lead"));
        (await Scalar<int>($"select count(*)::int from story_entry where lead_id = '{first.Id}' and kind = 'note'")).ShouldBe(2);
    }

    [Fact]
    public async Task TheSameSheetSentTwiceIsKeptOnce()
    {
        var effie = await fixture.Server.SignIn("effie.marlowe");
        var sheet = Sheet("once@pentland.example", Guid.NewGuid());
        var answers = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => effie.Post("/api/leads", sheet)));
        var lead = answers.Select(a => a.Read<LeadMade>().Id).Distinct().ShouldHaveSingleItem();
        (await Scalar<int>($"select count(*)::int from story_entry where lead_id = '{lead}' and kind = 'note'")).ShouldBe(1);
        (await Scalar<int>($"select count(*)::int from lead_event where lead_id = '{lead}'")).ShouldBe(2);
    }

    [Fact]
    public async Task WhileTypingWhoIsLikeThisPersonIsShownTheLikestFirst()
    {
        var effie = await fixture.Server.SignIn("effie.marlowe");
        var made = (await effie.Post("/api/leads", Sheet("typed@pentland.example", name: "Morag"))).Read<LeadMade>();
        var alike = await effie.Read<List<LikeView>>("/api/leads/alike?firstName=Morag&lastName=Pentland&company=Pentland%20Ponds&email=typed@pentland.example");
        (alike[0].LeadId, alike[0].Same).ShouldBe((made.Id, true));
        (await effie.Read<List<LikeView>>("/api/leads/alike?lastName=Pentland&company=PENTLAND%20PONDS%20LTD")).ShouldContain(l => l.LeadId == made.Id && !l.Same);
        (await effie.Read<List<LikeView>>("/api/leads/alike?email=half@")).ShouldBeEmpty();
        // The very name alone, and beside another address, is enough to be asked.
        (await effie.Read<List<LikeView>>("/api/leads/alike?firstName=MORAG&lastName=pentland")).ShouldContain(l => l.LeadId == made.Id && !l.Same);
        (await effie.Read<List<LikeView>>("/api/leads/alike?firstName=Morag&lastName=Pentland&email=m@elsewhere.example&country=FR&company=Nothing")).ShouldContain(l =>
            l.LeadId == made.Id && !l.Same
        );
        (await effie.Read<List<LikeView>>("/api/leads/alike?firstName=Morag&lastName=Pent")).ShouldNotContain(l => l.LeadId == made.Id);
    }

    [Theory]
    [InlineData("no.more@tidewrack.example", null, HttpStatusCode.Conflict, "barred")]
    [InlineData("x@pentland.example", "boiling", HttpStatusCode.UnprocessableEntity, "heat-unknown")]
    public async Task WhatMustNotOrCannotBeKeptIsSaidAndNothingIs(string email, string? heat, HttpStatusCode status, string problem)
    {
        var effie = await fixture.Server.SignIn("effie.marlowe");
        var answer = await effie.Post(
            "/api/leads",
            new
            {
                source = "telephone",
                facts = new { last_name = "Nobody", email },
                heat,
            }
        );
        (answer.Status, answer.Problem).ShouldBe((status, problem));
        (await Scalar<int>("select count(*)::int from lead where last_name = 'Nobody'")).ShouldBe(0);
    }
}
