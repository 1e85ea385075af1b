using System.Net;
using System.Text;
using System.Text.Json.Nodes;

namespace DapperLantern.Bench.Fuzz;

/// <summary>An answer that must not be.</summary>
public sealed record Hit(int Number, string Operation, string Path, string Who, int Status, string Words, string Body);

/// <summary>How a barrage went: how many answers of each status, how long each operation took in all and at most, in seconds, and what must not be.</summary>
public sealed record Outcome(IReadOnlyDictionary<int, int> Statuses, IReadOnlyDictionary<string, (double All, double Most)> Seconds, IReadOnlyList<Hit> Hits);

/// <summary>Sends requests made from a server's own description, as several people at once, and says which answers must not be: 5xx, and refusals without a sentence.</summary>
/// <param name="signIn">A client with the cookies and token of a person; called again when a session has ended.</param>
/// <param name="repair">Called now and then: gives the people back what requests took from them, such as their password.</param>
public sealed class Barrage(Uri address, IReadOnlyList<string> people, Func<string, Task<HttpClient>> signIn, Func<Task> repair)
{
    private const int Senders = 4;
    private const int RepairEvery = 400;

    private readonly Dictionary<int, int> _statuses = [];
    private readonly List<Hit> _hits = [];
    private readonly Dictionary<string, (double All, double Most)> _seconds = [];

    /// <summary>Reads what the server has, and the description of what it does.</summary>
    /// <param name="files">Files to send, whole and spoilt.</param>
    public async Task<Operations> Learn(IReadOnlyList<(string Name, byte[] Content)> files, IReadOnlyDictionary<string, string[]> more)
    {
        var values = new Values();
        using var first = await signIn(people[0]);
        var operations = new Operations(JsonNode.Parse(await first.GetStringAsync(new Uri(address, "/api/lantern.json")))!, values, files, more);
        foreach (var person in people.Take(2))
        {
            using var client = await signIn(person);
            foreach (var path in operations.Plain)
                values.Learn(await Read(client, path));
        }
        return operations;
    }

    /// <summary>Sends the requests <paramref name="from"/> to before <paramref name="to"/>.</summary>
    public async Task<Outcome> Run(Operations operations, int seed, int from, int to)
    {
        var next = from - 1;
        await Task.WhenAll(
            Enumerable
                .Range(0, Senders)
                .Select(async sender =>
                {
                    var clients = new Dictionary<string, HttpClient>();
                    for (int number; (number = Interlocked.Increment(ref next)) < to; )
                    {
                        if (number % RepairEvery == 0)
                            await repair();
                        // One in eight comes without having signed in.
                        var who = number / operations.Count % 8 == 7 ? "" : people[number / operations.Count % people.Count];
                        if (!clients.TryGetValue(who, out var client))
                            clients[who] = client = await Client(who);
                        if (await Send(client, operations.Make(seed, number), number, who) == HttpStatusCode.Unauthorized && who.Length > 0)
                        {
                            client.Dispose();
                            clients.Remove(who);
                        }
                    }
                    foreach (var client in clients.Values)
                        client.Dispose();
                })
        );
        return new Outcome(new SortedDictionary<int, int>(_statuses), _seconds, _hits);
    }

    private async Task<HttpClient> Client(string who)
    {
        if (who.Length == 0)
            return new HttpClient(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = address };
        for (var tries = 0; ; tries++)
            try
            {
                return await signIn(who);
            }
            catch (HttpRequestException) when (tries < 3)
            {
                await repair();
            }
    }

    private async Task<HttpStatusCode> Send(HttpClient client, Shot shot, int number, string who)
    {
        using var request = new HttpRequestMessage(shot.Method, new Uri(address, shot.Path));
        if (shot.Body is not null)
        {
            request.Content = new ByteArrayContent(shot.Body);
            request.Content.Headers.TryAddWithoutValidation("Content-Type", shot.ContentType);
        }
        foreach (var (name, value) in shot.Headers)
            request.Headers.TryAddWithoutValidation(name, value);
        var watch = System.Diagnostics.Stopwatch.StartNew();
        var (status, words, type) = (0, "", "");
        try
        {
            using var answer = await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead);
            (status, type) = ((int)answer.StatusCode, answer.Content.Headers.ContentType?.MediaType ?? "");
            // What never ends is not waited for.
            if (type != "text/event-stream")
                words = await answer.Content.ReadAsStringAsync();
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException or IOException)
        {
            words = e.Message;
        }
        lock (_statuses)
        {
            _statuses[status] = _statuses.GetValueOrDefault(status) + 1;
            var (took, before) = (watch.Elapsed.TotalSeconds, _seconds.GetValueOrDefault(shot.Operation));
            _seconds[shot.Operation] = (before.All + took, Math.Max(before.Most, took));
            if (MustNotBe(shot, status, type, words))
                _hits.Add(
                    new Hit(
                        number,
                        shot.Operation,
                        shot.Path,
                        who,
                        status,
                        words[..Math.Min(words.Length, 400)],
                        shot.Body is null ? "" : Encoding.UTF8.GetString(shot.Body.AsSpan(0, Math.Min(shot.Body.Length, 600)))
                    )
                );
        }
        return (HttpStatusCode)status;
    }

    // No answer at all, a fault of ours, or a refusal of a request to the interface that does not say why. An address with NUL is refused before anything of ours sees it.
    private static bool MustNotBe(Shot shot, int status, string type, string words) =>
        status is 0 or >= 500
        || (
            status is 400 or 409 or 413 or 415 or 422
            && shot.Path.StartsWith("/api/", StringComparison.Ordinal)
            && !shot.Path.Split('?')[0].Contains("%00", StringComparison.Ordinal)
            && !shot.Path.Contains('\0')
            && (type == "text/plain" ? words.Length == 0 : type != "application/problem+json" || !words.Contains("\"detail\"", StringComparison.Ordinal))
        );

    private static async Task<JsonNode?> Read(HttpClient client, string path)
    {
        using var answer = await client.GetAsync(new Uri(path, UriKind.Relative), HttpCompletionOption.ResponseHeadersRead);
        return answer.IsSuccessStatusCode && answer.Content.Headers.ContentType?.MediaType == "application/json" ? JsonNode.Parse(await answer.Content.ReadAsStringAsync()) : null;
    }
}
