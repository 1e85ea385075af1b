using System.Net;
using System.Text;
using Dapper;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Setup;

/// <summary>What comes over HTTP and is no text, no JSON, or no list; and writes that come twice.</summary>
public sealed class BoundaryTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private TestServer Server => fixture.Server;

    [Theory]
    [InlineData("{\"source\":\"telephone\",\"facts\":{\"last_name\":\"A\\u0000b\",\"email\":\"a@b.example\"}}", "half a letter")]
    [InlineData("{\"source\":\"telephone\",\"facts\":{\"last_name\":\"A\\ud800b\",\"email\":\"a@b.example\"}}", "half a letter")]
    [InlineData("{\"source\":\"telephone\",\"facts\":{\"\\ud800\":\"x\"}}", "half a letter")]
    [InlineData("{\"source\":\"telephone\",\"consents\":[null]}", "A list holds null, at line 1")]
    [InlineData("{\"source\":\"telephone\",\"facts\":{\"last_name\":null}}", "is null, at line 1, byte")]
    [InlineData("{\"source\":\n\"telephone\",,}", "line 2")]
    [InlineData("{\"source\":\"telephone\",\"facts\":5}", "facts")]
    [InlineData("{\n}", "The JSON lacks \"source\", \"facts\", line 2, byte 2. Nothing was changed.")]
    public async Task WhatIsNoRequestIsRefusedWithItsPlace(string body, string place)
    {
        var ingrid = await Server.SignIn("ingrid.brekke");
        var answer = await ingrid.PostText("/api/leads", body);
        answer.Status.ShouldBe(HttpStatusCode.BadRequest);
        answer.Sentence.ShouldContain(place);
    }

    [Fact]
    public async Task SigningInWithWhatIsNoTextIsARefusalLikeAnyOther()
    {
        var stranger = new TestClient(Server.Address);
        (await stranger.PostText("/api/session", "{\"name\":\"a\\u0000\",\"password\":\"b\"}")).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await stranger.Get("/api/demo-sign-ins?x=%00")).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await stranger.Get("/f/%00")).Status.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Theory]
    [InlineData("Анкета для порта")]
    [InlineData("港湾")]
    public async Task AFormNamedInOtherLettersIsMadeAndAnswers(string name)
    {
        var ingrid = await Server.SignIn("ingrid.brekke");
        var made = await ingrid.Post("/api/forms", new { name });
        made.Status.ShouldBe(HttpStatusCode.Created, made.Body);
        var form = made.Read<DapperLantern.App.Intake.Forms.FormView>();
        (await ingrid.Get($"/api/forms/{Uri.EscapeDataString(form.Key)}")).Status.ShouldBe(HttpStatusCode.OK);
        foreach (
            var (path, body) in new[]
            {
                (
                    "/api/tags",
                    (object)
                        new
                        {
                            name,
                            group = "",
                            colour = "slate",
                        }
                ),
                ("/api/setup/pipelines", new { label = name }),
            }
        )
            ((int)(await ingrid.Post(path, body)).Status).ShouldBeLessThan(500);
    }

    [Fact]
    public async Task AValueBeyondWhatCanBeKeptIsRefusedNotBroken()
    {
        var ingrid = await Server.SignIn("ingrid.brekke");
        var lead = await ingrid.MakeLead("Grense", "Norway");
        foreach (var value in new[] { "99999999999999999999", "1e999", "-1" })
            ((int)(await ingrid.Patch($"/api/leads/{lead}", new { facts = new { employees = value } })).Status).ShouldBeInRange(400, 499, value);
    }

    [Fact]
    public async Task ADoublePressIsDoneOnceAndAnotherBodyUnderTheSameKeyIsRefused()
    {
        var ingrid = await Server.SignIn("ingrid.brekke");
        var lead = await ingrid.MakeLead("Dobbel", "Norway");
        var note = new
        {
            kind = "note",
            text = "Once.",
            incoming = false,
        };
        var answers = await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => ingrid.Post($"/api/leads/{lead}/touches", note, key: "pressed")));
        answers.ShouldAllBe(a => a.Status == HttpStatusCode.OK);
        answers.Select(a => a.Body).Distinct().Count().ShouldBe(1);
        (await Server.Scalar<long>($"select count(*) from story_entry where lead_id = '{lead}' and kind = 'note'")).ShouldBe(1);
        (
            await ingrid.Post(
                $"/api/leads/{lead}/touches",
                new
                {
                    kind = "note",
                    text = "Other.",
                    incoming = false,
                },
                key: "pressed"
            )
        ).Problem.ShouldBe("key-used");
        (await ingrid.Post($"/api/leads/{lead}/touches", note, key: "pressed again")).Status.ShouldBe(HttpStatusCode.OK);
        (await Server.Scalar<long>($"select count(*) from story_entry where lead_id = '{lead}' and kind = 'note'")).ShouldBe(2);
    }

    [Fact]
    public async Task ANumberIsReadByOneReadingForAllAndByTheFormOfThePerson()
    {
        var ingrid = await Server.SignIn("ingrid.brekke");
        async Task<IReadOnlyList<decimal>> Read(string text) =>
            (await ingrid.Read<DapperLantern.App.Fields.NumberView>($"/api/numbers?text={Uri.EscapeDataString(text)}")).Readings;
        (await Read("12,000")).ShouldBe([12000m, 12m]);
        (await Read("1.234,50")).ShouldBe([1234.5m]);
        (await Read("twelve")).ShouldBeEmpty();
        (await ingrid.Put("/api/session/numbers", new { numbers = "comma" })).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Read("12,000")).ShouldBe([12m]);
        (await Read("12.000")).ShouldBe([12000m]);
        (await ingrid.Put("/api/session/numbers", new { numbers = "either" })).Status.ShouldBe(HttpStatusCode.NoContent);
    }

    [Fact]
    public async Task DataIsKeptInNoCacheAndUnknownPathsAreNotFound()
    {
        using var http = new HttpClient { BaseAddress = new Uri(Server.Address) };
        using var data = await http.GetAsync(new Uri("/api/demo-sign-ins", UriKind.Relative));
        data.Headers.CacheControl!.NoStore.ShouldBeTrue();
        data.Headers.GetValues("Permissions-Policy").Single().ShouldContain("camera=()");
        foreach (var path in new[] { "/metrics", "/livez", "/ready", "/wp-login", "/.env" })
        {
            using var answer = await http.GetAsync(new Uri(path, UriKind.Relative));
            answer.StatusCode.ShouldBe(HttpStatusCode.NotFound, path);
        }
        foreach (var page in new[] { "/", "/desk", "/leads/abc", "/setup/sent" })
        {
            using var answer = await http.GetAsync(new Uri(page, UriKind.Relative));
            answer.StatusCode.ShouldBe(HttpStatusCode.OK, page);
        }
        using var live = await http.GetAsync(new Uri("/health/live", UriKind.Relative));
        live.StatusCode.ShouldBe(HttpStatusCode.OK);
        using var ready = await http.GetAsync(new Uri("/health/ready", UriKind.Relative));
        (await ready.Content.ReadAsStringAsync()).ShouldContain("\"state\"");
    }

    [Theory]
    [InlineData("gzip, deflate, br", "br")]
    [InlineData("gzip", "gzip")]
    [InlineData("br;q=0, gzip", "gzip")]
    [InlineData("", null)]
    public async Task AFileOfTheClientIsSentAsItWasPackedAtBuild(string accepts, string? packed)
    {
        using var http = new HttpClient { BaseAddress = new Uri(fixture.Server.Address) };
        var page = await http.GetStringAsync(new Uri("/desk", UriKind.Relative));
        var script = System.Text.RegularExpressions.Regex.Match(page, "/assets/index-[^\"]+\\.js").Value;
        var plain = await http.GetByteArrayAsync(new Uri(script, UriKind.Relative));
        using var request = new HttpRequestMessage(HttpMethod.Get, script);
        request.Headers.TryAddWithoutValidation("Accept-Encoding", accepts);
        using var answer = await http.SendAsync(request);
        answer.Content.Headers.ContentType!.MediaType.ShouldBe("text/javascript");
        answer.Content.Headers.ContentEncoding.SingleOrDefault().ShouldBe(packed);
        answer.Headers.CacheControl!.ToString().ShouldContain("immutable");
        answer.Headers.Vary.Contains("Accept-Encoding").ShouldBe(packed is not null);
        await using var sent = await answer.Content.ReadAsStreamAsync();
        await using Stream text = packed switch
        {
            "br" => new System.IO.Compression.BrotliStream(sent, System.IO.Compression.CompressionMode.Decompress),
            "gzip" => new System.IO.Compression.GZipStream(sent, System.IO.Compression.CompressionMode.Decompress),
            _ => sent,
        };
        using var whole = new MemoryStream();
        await text.CopyToAsync(whole);
        whole.ToArray().ShouldBe(plain);
        if (packed is not null)
            answer.Content.Headers.ContentLength!.Value.ShouldBeLessThan(plain.Length / 2);
    }

    [Fact]
    public void TheServerKnowsThePagesOfTheClient()
    {
        // Pages of development builds are not served.
        var lines = File.ReadAllLines(Path.Combine(TestServer.Root, "src", "client", "frame", "routes.tsx"));
        var routes = string.Join('\n', lines.Where(l => !l.Contains("import.meta.env.DEV", StringComparison.Ordinal)));
        var first = System.Text.RegularExpressions.Regex.Matches(routes, "path: \"/?([a-z-]+)").Select(m => m.Groups[1].Value).Distinct();
        first.ShouldBe(ClientFiles.Pages, ignoreOrder: true);
    }
}
