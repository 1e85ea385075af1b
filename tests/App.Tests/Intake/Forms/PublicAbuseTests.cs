using System.Net;
using System.Text;

namespace DapperLantern.App.Tests.Intake.Forms;

/// <summary>What strangers may throw at a public form.</summary>
public sealed class PublicAbuseTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task WhoPostsTooOftenIsToldInWordsAndNothingIsHalfKept()
    {
        await using var server = await TestServer.Start("--Forms:PostsPerMinute=6");
        using var visitor = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = new Uri(server.Address) };
        var answers = new Dictionary<string, string>
        {
            ["last_name"] = "Often",
            ["consent.answer"] = "yes",
            ["_lang"] = "de",
        };
        var statuses = new List<HttpStatusCode>();
        for (var i = 0; i < 8; i++)
        {
            answers["email"] = $"often{i}@flood.example";
            answers["_t"] = server.SealOfPage();
            using var answer = await visitor.PostAsync("/f/price-guide", new FormUrlEncodedContent(answers));
            statuses.Add(answer.StatusCode);
            if (answer.StatusCode == HttpStatusCode.TooManyRequests)
            {
                answer.Headers.RetryAfter.ShouldNotBeNull();
                (await answer.Content.ReadAsStringAsync()).ShouldContain("Too many posts");
            }
        }
        statuses.Count(s => s == HttpStatusCode.SeeOther).ShouldBe(6);
        statuses[^1].ShouldBe(HttpStatusCode.TooManyRequests);
        (await server.Scalar<int>("select count(*)::int from lead where email like 'often%@flood.example'")).ShouldBe(6);
    }

    [Fact]
    public async Task DamagedPostsAreAnsweredAndNeverBreakTheServer()
    {
        using var visitor = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = new Uri(fixture.Server.Address) };
        string[] bodies =
        [
            "last_name=Sollid&email=a%40b.example&consent.answer=yes&country=NO&phone=%2B47+406+12+345&interest=Two+buoys&_lang=en",
            """{"last_name":"Sollid","email":"a@b.example","consent.answer":true,"sites":3,"x":{"y":[1,"\u00e9"]}}""",
            "--b\r\nContent-Disposition: form-data; name=\"last_name\"\r\n\r\nSollid\r\n--b\r\nContent-Disposition: form-data; name=\"email\"\r\n\r\na@b.example\r\n--b--\r\n",
        ];
        string[] types = ["application/x-www-form-urlencoded", "application/json", "multipart/form-data; boundary=b"];
        // Eight at once, each with a seed of its own.
        await Parallel.ForAsync(
            0,
            10_000,
            new ParallelOptions { MaxDegreeOfParallelism = 8 },
            async (i, cancel) =>
            {
                var random = new Random(i);
                var bytes = Encoding.UTF8.GetBytes(bodies[i % 3]);
                for (var j = random.Next(0, 8); j > 0; j--)
                    bytes[random.Next(bytes.Length)] = (byte)random.Next(256);
                using var content = new ByteArrayContent(i % 5 == 0 ? bytes[..random.Next(bytes.Length)] : bytes);
                content.Headers.TryAddWithoutValidation("Content-Type", types[(i / 3) % 7 == 0 ? (i + 1) % 3 : i % 3]);
                using var answer = await visitor.PostAsync(random.Next(20) == 0 ? "/f/no-such" : "/f/site-survey", content, cancel);
                ((int)answer.StatusCode).ShouldBeLessThan(500, Convert.ToBase64String(bytes));
            }
        );
        (await fixture.Server.Scalar<int>("select count(*)::int from single_arrival where raw->>'email' is not null")).ShouldBeGreaterThan(0);
    }

    [Fact]
    public async Task NothingOfWhatWeKnowShowsInAnAnswer()
    {
        using var visitor = new HttpClient { BaseAddress = new Uri(fixture.Server.Address) };
        async Task<string> Receipt(string email)
        {
            using var content = new StringContent($$"""{"last_name":"Sollid","email":"{{email}}","consent.answer":true}""", Encoding.UTF8, "application/json");
            using var answer = await visitor.PostAsync("/f/price-guide", content);
            return $"{(int)answer.StatusCode} {System.Text.RegularExpressions.Regex.Replace(await answer.Content.ReadAsStringAsync(), "[0-9a-f-]{36}", "ID")}";
        }
        // A lead we have, and somebody nobody knows: the same answer.
        (await Receipt("ragna@fjordnaer.example")).ShouldBe(await Receipt("never.seen@nowhere.example"));
    }
}
