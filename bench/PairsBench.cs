using System.Diagnostics;
using System.Net.Http.Json;
using System.Text.Json;
using DapperLantern.Bench.Fuzz;

namespace DapperLantern.Bench;

/// <summary>
/// Two running servers, such as the one before a change and the one after it, over bases that were filled alike: the same requests by turns, list by list, page by page, act by act. Told are the
/// medians and their ratio.
/// </summary>
internal static class PairsBench
{
    private const int Warm = 5;
    private const int Turns = 40;
    private const string Open = """{"all":[{"field":"state","is":"in","values":["new","in_work","on_hold","qualified"]}]}""";

    private sealed record Case(string Name, Func<Side, Task> Do);

    /// <summary>One of the servers, with what the requests need of its base.</summary>
    private sealed class Side(HttpClient client, string lead, Guid[] owners)
    {
        public string Lead => lead;

        public Guid[] Owners => owners;

        public int Turn { get; set; }

        public async Task<JsonElement> Get(string path)
        {
            using var answer = await client.GetAsync(new Uri(path, UriKind.Relative));
            Measure.Require(answer.IsSuccessStatusCode, $"{path}: {(int)answer.StatusCode} {await answer.Content.ReadAsStringAsync()}");
            return JsonDocument.Parse(await answer.Content.ReadAsByteArrayAsync()).RootElement;
        }

        public async Task<JsonElement> Send(HttpMethod method, string path, object body, int? version = null)
        {
            using var request = new HttpRequestMessage(method, new Uri(path, UriKind.Relative)) { Content = JsonContent.Create(body) };
            if (version is { } known)
                request.Headers.TryAddWithoutValidation("If-Match", $"\"{known}\"");
            using var answer = await client.SendAsync(request);
            var text = await answer.Content.ReadAsStringAsync();
            Measure.Require(answer.IsSuccessStatusCode, $"{method} {path}: {(int)answer.StatusCode} {text}");
            return text.Length == 0 ? default : JsonDocument.Parse(text).RootElement;
        }
    }

    private static readonly Case[] Cases =
    [
        new("Desk", s => s.Get("/api/desk")),
        new("line", s => s.Get("/api/line")),
        new("leads, open, newest first", s => s.Get(Leads(Open, "-created_at"))),
        new("leads of one person, by their time to answer", s => s.Get(Leads($$"""{"all":[{"field":"owner","is":"in","values":["{{s.Owners[0]}}"]}]}""", "clock_due_at"))),
        new("leads, all, newest first", s => s.Get(Leads(null, "-created_at"))),
        new("count of open leads by owner", s => s.Get($"/api/leads/groups?where={Uri.EscapeDataString(Open)}&rows=owner")),
        new("a lead's page", s => s.Get($"/api/leads/{s.Lead}")),
        new("search", s => s.Get("/api/search?text=base17")),
        new("deals in lanes", s => s.Get("/api/deals")),
        new("deals in rows", s => s.Get("/api/deals/rows")),
        new("accounts", s => s.Get("/api/accounts")),
        new("contacts", s => s.Get("/api/contacts")),
        new("follow-ups", s => s.Get($"/api/follow-ups?from={DateTime.UtcNow:yyyy-MM-dd}T00:00:00Z&to={DateTime.UtcNow.AddDays(7):yyyy-MM-dd}T00:00:00Z")),
        new("intake", s => s.Get("/api/intake")),
        new("fact changed", Change),
        new("note written", s => s.Send(HttpMethod.Post, $"/api/leads/{s.Lead}/touches", new { kind = "note", text = $"Called them, {s.Turn}." })),
        new("lead given to another", Give),
        new("lead by telephone", Capture),
    ];

    private static string Leads(string? where, string order) => $"/api/leads?order={order}{(where is null ? "" : $"&where={Uri.EscapeDataString(where)}")}";

    private static Task Change(Side side) => Edit(side, HttpMethod.Patch, "", new { facts = new Dictionary<string, string> { ["job_title"] = $"Buyer {side.Turn}" } });

    // To one after the other.
    private static Task Give(Side side) => Edit(side, HttpMethod.Put, "/owner", new { owner = side.Owners[side.Turn % side.Owners.Length] });

    // The lead as it is now, changed.
    private static async Task Edit(Side side, HttpMethod method, string of, object body)
    {
        var sheet = await side.Get($"/api/leads/{side.Lead}");
        await side.Send(method, $"/api/leads/{side.Lead}{of}", body, sheet.GetProperty("version").GetInt32());
    }

    private static Task Capture(Side side) =>
        side.Send(
            HttpMethod.Post,
            "/api/leads",
            new
            {
                facts = new Dictionary<string, string> { ["last_name"] = $"Pair{side.Turn}", ["email"] = $"pair{side.Turn}.{Guid.NewGuid():N}@pairs.example" },
                source = "telephone",
            }
        );

    public static async Task Run(string before, string after, string? only)
    {
        Side[] sides = [await At(before), await At(after)];
        foreach (var one in Cases.Where(c => only is null || c.Name.Contains(only, StringComparison.Ordinal)))
        {
            List<double>[] taken =
            [
                [],
                [],
            ];
            for (var turn = -Warm; turn < Turns; turn++)
                // The first of a pair finds the machine as the pair before left it; so each is first as often.
                foreach (var at in turn % 2 == 0 ? new[] { 0, 1 } : [1, 0])
                {
                    sides[at].Turn = turn + Warm;
                    var watch = Stopwatch.StartNew();
                    await one.Do(sides[at]);
                    if (turn >= 0)
                        taken[at].Add(watch.Elapsed.TotalMilliseconds);
                }
            var (old, now) = (Measure.At(taken[0], 0.5), Measure.At(taken[1], 0.5));
            Console.WriteLine(
                $"{one.Name}: before {old:0.0} ms, after {now:0.0} ms; ratio {now / old:0.00}; p95 {Measure.At(taken[0], 0.95):0.0} and {Measure.At(taken[1], 0.95):0.0} ms"
            );
        }
    }

    private static async Task<Side> At(string address)
    {
        var client = await Served.SignIn(new Uri(address), "ingrid.brekke", TimeSpan.FromMinutes(1));
        var side = new Side(client, "", []);
        var found = await side.Get(Leads(Open, "-created_at"));
        var people = await side.Get("/api/people");
        var owners = people.EnumerateArray().Select(p => p.GetProperty("id").GetGuid()).Take(2).ToArray();
        return new Side(client, found.GetProperty("leads")[7].GetProperty("id").GetString()!, owners);
    }
}
