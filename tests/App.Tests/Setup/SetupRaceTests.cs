using System.Net;
using System.Text;
using Dapper;
using DapperLantern.App.Intake;
using DapperLantern.App.Routing;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Routing;

namespace DapperLantern.App.Tests.Setup;

/// <summary>What comes in while others set up is read, scored and routed as if nobody had.</summary>
public sealed class SetupRaceTests
{
    private const int Rows = 6000;
    private const int Posts = 60;

    [Fact]
    public async Task ChangesOfTheSetUpChangeNothingOfWhatComesInMeanwhile()
    {
        var quiet = await Outcome(noise: false);
        var noisy = await Outcome(noise: true);
        quiet.Count.ShouldBe(Rows + Posts);
        noisy.Except(quiet).Take(3).ShouldBeEmpty();
        quiet.Except(noisy).Take(3).ShouldBeEmpty();
    }

    // By address: facts, scores, and the rule that gave the lead, after lists and forms came in through two processes.
    private static async Task<List<string>> Outcome(bool noise)
    {
        await using var one = await TestServer.Start();
        await using var other = await one.Beside();
        var ingrid = await one.SignIn("ingrid.brekke");
        await AskTheSource(ingrid);
        using var stop = new CancellationTokenSource();
        var setting = noise ? Task.WhenAll(Fields(other, stop.Token), Publish(one, stop.Token)) : Task.FromResult(Array.Empty<int>());
        try
        {
            await Task.WhenAll(TakeIn(ingrid, "list-expo", 0), TakeIn(ingrid, "list-webinar", Rows / 2), Send(one, 0), Send(other, Posts / 2));
        }
        finally
        {
            await stop.CancelAsync();
        }
        // Each of them changed the set-up many times while the rest went on.
        (await setting).ShouldAllBe(changes => changes > 5);
        await using var connection = await one.Connect();
        return
        [
            .. await connection.QueryAsync<string>(
                """
                select concat_ws('|', l.email, l.first_name, l.last_name, l.company, l.country, l.city, l.job_title, l.source, l.fit, l.next_move, l.custom::text,
                  (select d.rule from routing_decision d where d.lead_id = l.id order by d.at, d.id limit 1))
                from lead l where l.email like '%@race.example' order by l.email
                """
            ),
        ];
    }

    // The rule that misroutes when the sheet and the lead are read by two catalogues: it asks the source, which stands behind the facts.
    private static async Task AskTheSource(TestClient ingrid)
    {
        var live = (await ingrid.Read<RoutingView>("/api/routing")).Live.Sheet;
        var sheet = live with { Rules = live.Rules.Insert(0, new Rule("fair", "From the fair", Condition.Where("source", TestOperator.In, "list-expo"), live.Rules[^1].To)) };
        var draft = (await ingrid.Put("/api/routing/draft", new SheetOrder(sheet), 0)).Read<DraftSheet>();
        (await ingrid.Post("/api/routing/publish", version: draft.Version)).Status.ShouldBe(HttpStatusCode.OK);
    }

    private static async Task TakeIn(TestClient ingrid, string source, int from)
    {
        var text = new StringBuilder("First name,Last name,Mail,Country,Job title,City\n");
        for (var i = from; i < from + Rows / 2; i++)
            text.Append(null, $"Given{i},Family{i * 7919},p{i}@race.example,{(i % 3 == 0 ? "Norway" : "Spain")},{(i % 5 == 0 ? "Director" : "Biologist")},Town {i % 40}\n");
        var sieve = (await ingrid.Drop($"{source}.csv", Encoding.UTF8.GetBytes(text.ToString()))).Read<SieveView>();
        var terms = new
        {
            source,
            constants = new { },
            policies = new { all = "fillBlanks" },
        };
        (await ingrid.Put($"/api/imports/{sieve.Import.Id}/terms", terms)).Status.ShouldBe(HttpStatusCode.OK);
        await Eventually.Holds(async () => (await ingrid.Read<SieveView>($"/api/imports/{sieve.Import.Id}")).Import.State == "sifted");
        (await ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in")).Status.ShouldBe(HttpStatusCode.OK);
        await Eventually.Holds(async () => (await ingrid.Read<SieveView>($"/api/imports/{sieve.Import.Id}")).Import.State == "taken");
    }

    private static async Task Send(TestServer server, int from)
    {
        using var visitor = new HttpClient { BaseAddress = new Uri(server.Address) };
        for (var i = from; i < from + Posts / 2; i++)
        {
            var answers = new Dictionary<string, string>
            {
                ["first_name"] = $"Sender{i}",
                ["last_name"] = $"Sent{i * 7919}",
                ["email"] = $"f{i}@race.example",
                ["country"] = "NO",
                ["company"] = $"Sender {i} AS",
                ["consent.answer"] = "yes",
                ["_t"] = server.SealOfPage(),
            };
            using var sent = await visitor.PostAsync("/f/price-guide", new FormUrlEncodedContent(answers));
            sent.IsSuccessStatusCode.ShouldBeTrue(await sent.Content.ReadAsStringAsync());
        }
    }

    // Adds, renames and removes fields; gives how often.
    private static async Task<int> Fields(TestServer server, CancellationToken stop)
    {
        var ingrid = new TestClient(server.Address);
        await ingrid.SignIn("ingrid.brekke", SessionEndpoints.DemoPassword);
        for (var i = 0; ; i++)
        {
            if (stop.IsCancellationRequested)
                return i;
            (await ingrid.Post("/api/custom-fields", new { label = $"Passing {i}", type = "number" })).Status.ShouldBe(HttpStatusCode.Created);
            (await ingrid.Put($"/api/custom-fields/passing_{i}", new { label = $"Passed {i}" })).Status.ShouldBe(HttpStatusCode.NoContent);
            if (i % 2 == 0)
                (await ingrid.Delete($"/api/custom-fields/passing_{i}")).Status.ShouldBe(HttpStatusCode.NoContent);
        }
    }

    // Publishes models and sheets that say the same under other names; gives how often.
    private static async Task<int> Publish(TestServer server, CancellationToken stop)
    {
        var ingrid = await server.SignIn("ingrid.brekke");
        for (var i = 0; ; i++)
        {
            if (stop.IsCancellationRequested)
                return i;
            var sheet = (await ingrid.Read<RoutingView>("/api/routing")).Live.Sheet;
            var named = sheet with { Rules = sheet.Rules.SetItem(0, sheet.Rules[0] with { Name = $"From the fair {i}" }) };
            var draft = (await ingrid.Put("/api/routing/draft", new SheetOrder(named), 0)).Read<DraftSheet>();
            (await ingrid.Post("/api/routing/publish", version: draft.Version)).Status.ShouldBe(HttpStatusCode.OK);
            var model = (await ingrid.Read<ScoringView>("/api/scoring")).Live.Model;
            var again = (await ingrid.Put("/api/scoring/draft", new ModelOrder(model, $"The same {i}"), 0)).Read<DraftModel>();
            (await ingrid.Post("/api/scoring/publish", version: again.Version)).Status.ShouldBe(HttpStatusCode.OK);
        }
    }
}
