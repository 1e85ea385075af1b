using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.People.Provider;
using DapperLantern.App.Setup;

namespace DapperLantern.Tests.Shared;

/// <summary>An answer of the server: its status, and its body read as needed.</summary>
public sealed record Answer(HttpStatusCode Status, string Body, string? ContentType)
{
    public T Read<T>() => (int)Status < 300 ? Json.Read<T>(Body) : throw new InvalidOperationException($"{(int)Status}: {Body}");

    /// <summary>The type of the problem, without its prefix; null when it is none.</summary>
    public string? Problem =>
        ContentType == "application/problem+json"
            ? JsonDocument.Parse(Body).RootElement.GetProperty("type").GetString()?.Replace("/problems/", "", StringComparison.Ordinal)
            : null;

    /// <summary>The sentence for people.</summary>
    public string Sentence => JsonDocument.Parse(Body).RootElement.GetProperty("detail").GetString()!;
}

/// <summary>A person's browser as far as the server can tell: cookies, and the token with every write.</summary>
public sealed class TestClient(string address)
{
    private readonly HttpClient _http = new(new HttpClientHandler { CookieContainer = new CookieContainer() }) { BaseAddress = new Uri(address) };
    private string _token = "";

    public SessionView Session { get; private set; } = null!;

    public async Task SignIn(string name, string password)
    {
        (await Post("/api/session", new { name, password })).Status.ShouldBe(HttpStatusCode.NoContent);
        await TakeSession();
    }

    /// <summary>Comes in by a one-time address; is signed in then, where it opened.</summary>
    /// <param name="body">Without the key.</param>
    public async Task<Answer> WayIn(string address, object body)
    {
        var parts = JsonSerializer.SerializeToNode(body, Json.Options)!.AsObject();
        parts["key"] = address.Split('#')[1];
        var answer = await Post("/api/way-in", parts);
        if (answer.Status == HttpStatusCode.NoContent)
            await TakeSession();
        return answer;
    }

    /// <summary>Gives a code after the password; is signed in then, where it is taken.</summary>
    public async Task<Answer> Code(string code)
    {
        var answer = await Post("/api/session/code", new { code });
        if (answer.Status == HttpStatusCode.NoContent)
            await TakeSession();
        return answer;
    }

    /// <summary>Comes in by the identity provider as far as it goes; is signed in then, where it lets in.</summary>
    /// <param name="query">For instance <c>?stay=true</c>.</param>
    public async Task<SignInWays> ByProvider(string query = "")
    {
        await Get($"/api/session/provider{query}");
        var ways = await Read<SignInWays>("/api/session/ways");
        if ((await Get("/api/session")).Status == HttpStatusCode.OK)
            await TakeSession();
        return ways;
    }

    private async Task TakeSession()
    {
        Session = (await Get("/api/session")).Read<SessionView>();
        _token = Session.Token;
    }

    /// <summary>Asks by any method.</summary>
    public Task<Answer> Ask(string method, string path, object? body = null) => Send(new HttpMethod(method), path, body, null);

    public Task<Answer> Get(string path) => Send(HttpMethod.Get, path, null, null);

    /// <summary>The answer as soon as its head is there, for streams.</summary>
    public Task<HttpResponseMessage> Watch(string path, CancellationToken cancel) =>
        _http.GetAsync(new Uri(path, UriKind.Relative), HttpCompletionOption.ResponseHeadersRead, cancel);

    /// <summary>The answer as it comes, for files.</summary>
    public Task<HttpResponseMessage> Raw(string path) => _http.GetAsync(new Uri(path, UriKind.Relative));

    /// <param name="key">By which a repeated request is known.</param>
    public Task<Answer> Post(string path, object? body = null, int? version = null, string? key = null) => Send(HttpMethod.Post, path, body, version, key);

    /// <summary>Posts JSON as it stands.</summary>
    public Task<Answer> PostText(string path, string json, int? version = null) =>
        Send(HttpMethod.Post, path, new StringContent(json, System.Text.Encoding.UTF8, "application/json"), version);

    public Task<Answer> Put(string path, object body, int? version = null) => Send(HttpMethod.Put, path, body, version);

    public Task<Answer> Delete(string path) => Send(HttpMethod.Delete, path, null, null);

    public Task<Answer> Patch(string path, object body, int? version = null) => Send(HttpMethod.Patch, path, body, version);

    public async Task<T> Read<T>(string path)
    {
        var answer = await Get(path);
        answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
        return answer.Read<T>();
    }

    /// <summary>Drops a list into the sieve, and says where it comes from where its name does not.</summary>
    public async Task<Answer> Drop(string fileName, byte[] content)
    {
        var answer = await SendFile("/api/imports", fileName, content);
        if (answer.Status != HttpStatusCode.OK || answer.Read<SieveView>() is not { Import.Source: "" } sieve)
            return answer;
        var said = await Put($"/api/imports/{sieve.Import.Id}/terms", new TermsChange(sieve.Choices.Sources.First(s => s.Key == UsualSource).Key, sieve.Constants, sieve.Policies));
        said.Status.ShouldBe(HttpStatusCode.OK, said.Body);
        return said;
    }

    private const string UsualSource = "list-webinar";

    /// <summary>Drops a letter.</summary>
    public Task<Answer> DropLetter(byte[] content) => SendFile("/api/letters", "letter.eml", content);

    /// <summary>Sends a file as a part of a form, with texts beside it.</summary>
    public async Task<Answer> SendFile(string path, string fileName, byte[] content, params (string Name, string Text)[] beside)
    {
        using var form = new MultipartFormDataContent { { new ByteArrayContent(content), "file", fileName } };
        foreach (var (name, text) in beside)
            form.Add(new StringContent(text), name);
        return await Send(HttpMethod.Post, path, form);
    }

    /// <summary>What is done to many leads, at its end.</summary>
    public async Task<BulkEditView> Ended(BulkEditView edit)
    {
        for (var i = 0; i < 300 && edit.State is "doing" or "undoing"; i++)
        {
            await Task.Delay(50);
            edit = await Read<BulkEditView>($"/api/bulk-edits/{edit.Id}");
        }
        return edit;
    }

    /// <summary>A lead on the telephone, with an address made of its name.</summary>
    public async Task<Guid> MakeLead(string lastName, string country, params (string Field, string Value)[] more)
    {
        var facts = new Dictionary<string, string>
        {
            ["last_name"] = lastName,
            ["email"] = $"{lastName}@{lastName}.example".ToLowerInvariant(),
            ["country"] = country,
        };
        foreach (var (field, value) in more)
            facts[field] = value;
        var made = await Post("/api/leads", new { source = "telephone", facts });
        made.Status.ShouldBe(HttpStatusCode.Created, made.Body);
        return made.Read<LeadMade>().Id;
    }

    /// <summary>Drops one of the demo's lists.</summary>
    public async Task<SieveView> DropDemo(string fileName)
    {
        var answer = await Drop(fileName, await File.ReadAllBytesAsync(Path.Combine(TestServer.Root, "demo", "lists", fileName)));
        answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
        return answer.Read<SieveView>();
    }

    /// <summary>Writes from now on without the token, as another site's page would.</summary>
    public void ForgetToken() => _token = "";

    private Task<Answer> Send(HttpMethod method, string path, object? body, int? version, string? key = null) =>
        Send(method, path, body is null ? null : JsonContent.Create(body, options: Json.Options), version, key);

    public async Task<Answer> Send(HttpMethod method, string path, HttpContent? content, int? version = null, string? key = null)
    {
        using var request = new HttpRequestMessage(method, path) { Content = content };
        if (_token.Length > 0)
            request.Headers.Add("X-Lantern-Token", _token);
        if (version is { } v)
            request.Headers.TryAddWithoutValidation("If-Match", $"\"{v}\"");
        if (key is not null)
            request.Headers.Add("Idempotency-Key", key);
        using var response = await _http.SendAsync(request);
        return new Answer(response.StatusCode, await response.Content.ReadAsStringAsync(), response.Content.Headers.ContentType?.MediaType);
    }
}
