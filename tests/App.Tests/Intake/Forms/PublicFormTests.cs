using System.Net;
using System.Text.RegularExpressions;
using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Leads;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Intake.Forms;

/// <summary>Forms as visitors use them: without sign-in, without script.</summary>
public sealed partial class PublicFormTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private readonly HttpClient _visitor = new(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = new Uri(fixture.Server.Address) };

    private Task<T> Scalar<T>(string sql) => fixture.Server.Scalar<T>(sql);

    private static Dictionary<string, string> Answers(string email, params (string, string)[] more) =>
        new[] { ("first_name", "Signe"), ("last_name", "Holmboe"), ("email", email), ("country", "NO"), ("consent.answer", "yes") }
            .Concat(more)
            .GroupBy(p => p.Item1)
            .ToDictionary(g => g.Key, g => g.Last().Item2);

    private async Task<HttpResponseMessage> Send(string form, Dictionary<string, string> answers) => await _visitor.PostAsync($"/f/{form}", new FormUrlEncodedContent(answers));

    // A post from a page of the form that was opened a minute ago.
    private Task<HttpResponseMessage> Post(string form, Dictionary<string, string> answers) => Send(form, new(answers) { ["_t"] = fixture.Server.SealOfPage() });

    [Fact]
    public async Task TheStyleOfAFormReachesPagesOfNoOrigin()
    {
        // Our preview is framed in a sandbox; a style kept to our origin would leave it bare, with the trap for robots in sight.
        using var style = await _visitor.GetAsync("/f/style.css");
        style.Headers.GetValues("Cross-Origin-Resource-Policy").ShouldBe(["cross-origin"]);
        (await style.Content.ReadAsStringAsync()).ShouldContain("{");
    }

    [Fact]
    public async Task APostWithoutTheSealOfItsPageIsShownThePageWithItsAnswers()
    {
        var answer = await Send("price-guide", Answers("unsealed@holmboe.example", ("company", "Holmboe Bay"), ("_t", "made-up"), ("_sum", "")));
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await answer.Content.ReadAsStringAsync()).ShouldContain("value=\"unsealed@holmboe.example\"");
        (await Scalar<int>("select count(*)::int from single_arrival where raw->>'email' = 'unsealed@holmboe.example'")).ShouldBe(0);
    }

    private Task<Guid> LeadOf(string email) => Scalar<Guid>($"select id from lead where email = '{email}'");

    [Fact]
    public async Task APostBecomesALeadWithScoreRouteTaskStoryAndConsent()
    {
        var answer = await Post("site-survey", Answers("signe@holmboe.example", ("interest", "Oxygen at four cages"), ("utm_campaign", "bloom"), ("page", "/buoys")));
        (answer.StatusCode, answer.Headers.Location!.ToString()).ShouldBe((HttpStatusCode.SeeOther, "/f/site-survey/thanks?lang=en"));
        (await (await _visitor.GetAsync(answer.Headers.Location)).Content.ReadAsStringAsync()).ShouldContain("within two working days");
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var sheet = await ingrid.Read<LeadSheet>($"/api/leads/{await LeadOf("signe@holmboe.example")}");
        sheet.Story.ShouldContain(s => s.Text.StartsWith("Came in through Ask for a site survey (page /buoys, utm_campaign bloom)."));
        sheet.Tasks.ShouldNotBeEmpty();
        sheet.Score.EngagementReasons.ShouldNotBeEmpty();
        (await Scalar<string>("select campaign || ' ' || source from lead where email = 'signe@holmboe.example'")).ShouldBe("bloom form-survey");
        (await Scalar<string>($"select string_agg(distinct purpose || ' ' || state || ' ' || place, ';') from consent where lead_id = '{sheet.Id}'")).ShouldBe(
            "answer given Form Ask for a site survey, edition 1"
        );
        (await Scalar<string>($"select raw->>'interest' from single_arrival where lead_id = '{sheet.Id}'")).ShouldBe("Oxygen at four cages");
    }

    [Fact]
    public async Task WhatIsWrongIsSaidBesideTheAnswerInTheVisitorsLanguageAndNothingIsLost()
    {
        var answer = await Post(
            "site-survey",
            new()
            {
                ["last_name"] = "<b>Holm",
                ["email"] = "nowhere",
                ["_lang"] = "de",
            }
        );
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var raw = await answer.Content.ReadAsStringAsync();
        raw.ShouldContain("value=\"&lt;b&gt;Holm\"");
        raw.ShouldNotContain("<script");
        var page = WebUtility.HtmlDecode(raw);
        page.ShouldContain("Das ist keine Mailadresse");
        page.ShouldContain("Ohne dies können wir die Anfrage nicht annehmen");
    }

    [Fact]
    public async Task TheSamePageSentTwiceIsKeptOnceEvenAtOnce()
    {
        var page = await _visitor.GetStringAsync("/f/price-guide");
        var token = Token().Match(page).Groups[1].Value;
        await Task.Delay(3200);
        var answers = Answers("twice@holmboe.example", ("_t", token));
        var sent = await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => Send("price-guide", answers)));
        sent.ShouldAllBe(s => s.StatusCode == HttpStatusCode.SeeOther);
        (await Scalar<int>("select count(*)::int from single_arrival where raw->>'email' = 'twice@holmboe.example'")).ShouldBe(1);
        (await Scalar<int>("select count(*)::int from lead_event e join lead l on l.id = e.lead_id where l.email = 'twice@holmboe.example'")).ShouldBe(1);
    }

    [Fact]
    public async Task ManyPostsOfOnePersonAtOnceMakeOneLead()
    {
        var sent = await Task.WhenAll(Enumerable.Range(0, 20).Select(i => Post("price-guide", Answers("crowd@holmboe.example", ("company", $"Holmboe {i}")))));
        sent.ShouldAllBe(s => s.StatusCode == HttpStatusCode.SeeOther);
        (await Scalar<int>("select count(*)::int from lead where email = 'crowd@holmboe.example'")).ShouldBe(1);
        (await Scalar<int>("select count(*)::int from single_arrival where raw->>'email' = 'crowd@holmboe.example'")).ShouldBe(20);
        (await Scalar<int>("select count(*)::int from lead_event e join lead l on l.id = e.lead_id where l.email = 'crowd@holmboe.example'")).ShouldBe(20);
    }

    [Fact]
    public async Task WhatLooksLikeSpamIsThankedForAndWaits()
    {
        var answer = await Post("price-guide", Answers("robot@holmboe.example", (FormPost.Trap, "x")));
        answer.StatusCode.ShouldBe(HttpStatusCode.SeeOther);
        (await Scalar<int>("select count(*)::int from lead where email = 'robot@holmboe.example'")).ShouldBe(0);
        var lucie = await fixture.Server.SignIn("lucie.armand");
        var waiting = (await lucie.Read<List<SingleArrivalView>>("/api/arrivals?state=waiting&form=price-guide")).First(a => a.Parts.Any(p => p.Value == "robot@holmboe.example"));
        waiting.Reasons.Sum(r => r.Points).ShouldBe(100);
        (await lucie.Post($"/api/arrivals/{waiting.Id}/set-aside")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await lucie.Post($"/api/arrivals/{waiting.Id}/wait")).Status.ShouldBe(HttpStatusCode.NoContent);
        // Two people at once take it in once.
        var both = await Task.WhenAll(lucie.Post($"/api/arrivals/{waiting.Id}/take-in"), lucie.Post($"/api/arrivals/{waiting.Id}/take-in"));
        both.Select(b => b.Status).Order().ShouldBe([HttpStatusCode.OK, HttpStatusCode.Conflict]);
        (await Scalar<int>("select count(*)::int from lead where email = 'robot@holmboe.example'")).ShouldBe(1);
    }

    [Fact]
    public async Task WhoIsBarredWaitsAndWhoWithdrewMayStillAsk()
    {
        var hashes = fixture.Server.Services.GetRequiredService<PersonHash>();
        await using (var connection = await fixture.Server.Connect())
            await connection.ExecuteAsync(
                "insert into barred (id, kind, hash, hash_key, why, at) values (gen_random_uuid(), 'person', @hash, @key, 'do_not_contact', now())",
                new { hash = hashes.Of("leave@holmboe.example"), key = hashes.KeyOf("leave@holmboe.example") }
            );
        (await Post("price-guide", Answers("leave@holmboe.example"))).StatusCode.ShouldBe(HttpStatusCode.SeeOther);
        (await Scalar<string>("select state || ' ' || outcome from single_arrival where raw->>'email' = 'leave@holmboe.example'")).ShouldBe("waiting barred");
    }

    [Fact]
    public async Task AConsentToBeConfirmedHoldsOnceTheLinkIsFollowedAndEndsByTheOther()
    {
        await Post("price-guide", Answers("confirm@holmboe.example", ("consent.news", "yes")));
        var lead = await LeadOf("confirm@holmboe.example");
        Task<string> News() => Scalar<string>($"select string_agg(state, ' ' order by at) from consent where lead_id = '{lead}' and purpose = 'news'");
        (await News()).ShouldBe("asked");
        var mail = await Scalar<string>("select text from outbox where to_email = 'confirm@holmboe.example'");
        var path = new Uri(Link().Match(mail).Value).AbsolutePath;
        (await _visitor.GetStringAsync(path)).ShouldContain("four times a year");
        (await News()).ShouldBe("asked");
        await _visitor.PostAsync(path, new FormUrlEncodedContent([]));
        await _visitor.PostAsync(path, new FormUrlEncodedContent([]));
        (await News()).ShouldBe("asked given");
        var withdraw = new Uri(fixture.Server.Services.GetRequiredService<PublicLinks>().Withdraw("confirm@holmboe.example", "no")).AbsolutePath;
        (await _visitor.GetStringAsync(withdraw)).ShouldContain("Trekk tilbake");
        await _visitor.PostAsync(withdraw, new FormUrlEncodedContent([new("purpose", "news")]));
        (await News()).ShouldBe("asked given withdrawn");
        (await Scalar<int>($"select count(*)::int from consent where lead_id = '{lead}' and purpose = 'answer' and state = 'withdrawn'")).ShouldBe(0);
        // The confirmation's link does not bring back what was withdrawn after it.
        await _visitor.PostAsync(path, new FormUrlEncodedContent([]));
        (await News()).ShouldBe("asked given withdrawn");
        // A mail program's one click ends the rest.
        await _visitor.PostAsync(withdraw, new FormUrlEncodedContent([new("List-Unsubscribe", "One-Click")]));
        (await Scalar<int>($"select count(*)::int from consent where lead_id = '{lead}' and purpose = 'answer' and state = 'withdrawn'")).ShouldBe(1);
        (await _visitor.PostAsync(withdraw[..^3] + "abc", new FormUrlEncodedContent([]))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task JsonIsTakenByTheSameRulesAndKeptOnceByItsKey()
    {
        async Task<HttpResponseMessage> Program(string json, string? key = null)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, "/f/price-guide") { Content = new StringContent(json, null, "application/json") };
            if (key is not null)
                request.Headers.Add("Idempotency-Key", key);
            return await _visitor.SendAsync(request);
        }
        const string Good = """{"last_name":"Holmboe","email":"json@holmboe.example","consent.answer":true,"sites":3,"odd":{"a":[1]},"nul":"a\u0000b"}""";
        var first = await Program(Good, "k1");
        first.StatusCode.ShouldBe(HttpStatusCode.Created);
        (await (await Program(Good, "k1")).Content.ReadAsStringAsync()).ShouldBe(await first.Content.ReadAsStringAsync());
        (await Scalar<int>("select count(*)::int from single_arrival where raw->>'email' = 'json@holmboe.example'")).ShouldBe(1);
        var wrong = await Program("""{"last_name":"Holmboe","email":"nowhere"}""");
        wrong.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await wrong.Content.ReadAsStringAsync()).ShouldContain("\"field\":\"email\"");
        (await Program("[1,2]")).StatusCode.ShouldBe(HttpStatusCode.UnsupportedMediaType);
        (await Program("{\"a\":")).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await Program("{\"a\":\"\\ud800\"}")).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await Program($"{{\"a\":\"{new string('x', FormPost.MostBytes)}\"}}")).StatusCode.ShouldBe(HttpStatusCode.RequestEntityTooLarge);
    }

    [Fact]
    public async Task AFormThatAsksASumTakesNoPostWithoutIt()
    {
        var answers = Answers("sum@holmboe.example", ("phone", "+47 406 12 399"), ("interest", "Oxygen"));
        var page = await (await Send("hydrologist", answers)).Content.ReadAsStringAsync();
        page.ShouldContain("How much is");
        answers["_t"] = Token().Match(page).Groups[1].Value;
        var sum = Addends().Match(page);
        answers["_sum"] = $"{int.Parse(sum.Groups[1].Value) + int.Parse(sum.Groups[2].Value) + 1}";
        (await (await Send("hydrologist", answers)).Content.ReadAsStringAsync()).ShouldContain("work it out once more");
        answers["_sum"] = $"{int.Parse(sum.Groups[1].Value) + int.Parse(sum.Groups[2].Value)}";
        (await Send("hydrologist", answers)).StatusCode.ShouldBe(HttpStatusCode.SeeOther);
        (await Scalar<int>("select count(*)::int from single_arrival where raw->>'email' = 'sum@holmboe.example'")).ShouldBe(1);
    }

    [Fact]
    public async Task WhoAsksAgainHasTheOwnerToldAndPartialAnswersFillBlanks()
    {
        await Post("price-guide", Answers("again@holmboe.example"));
        var lead = await LeadOf("again@holmboe.example");
        await using (var connection = await fixture.Server.Connect())
            await connection.ExecuteAsync($"update task set done_at = now() where lead_id = '{lead}'");
        await Post("hydrologist-not-there", Answers("again@holmboe.example"));
        await Post("site-survey", Answers("again@holmboe.example", ("company", "Holmboe Hav AS"), ("first_name", "Sign")));
        (await Scalar<string>($"select company || ' ' || first_name from lead where id = '{lead}'")).ShouldBe("Holmboe Hav AS Signe");
        (await Scalar<int>($"select count(*)::int from task where lead_id = '{lead}' and done_at is null")).ShouldBe(1);
        await fixture.Server.Heard();
        (await Scalar<string>($"select string_agg(subject || ': ' || text, '|' order by created_at) from outbox where kind = 'lead-again' and lead_id = '{lead}'")).ShouldBe(
            "Came in again: Signe Holmboe: Came in again through Ask for a site survey"
        );
    }

    [GeneratedRegex("name=\"_t\" value=\"([^\"]+)\"")]
    private static partial Regex Token();

    [GeneratedRegex("http://[^\\s]+")]
    private static partial Regex Link();

    [GeneratedRegex("How much is (\\d) plus (\\d)")]
    private static partial Regex Addends();
}
