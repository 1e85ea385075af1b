using System.Globalization;
using System.Text.Json;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;

namespace DapperLantern.App.People.Provider;

/// <summary>A step of a trial.</summary>
/// <param name="Words">What was found, or what is wrong.</param>
public sealed record ProviderFinding(bool Good, string Words);

/// <summary>What became of asking a provider that need not be kept yet.</summary>
/// <param name="Findings">In the order they were made; none after the first that is not good, where nothing could be asked further.</param>
/// <param name="ReturnAddress">The address that the provider has to know, to which it sends people back.</param>
public sealed record ProviderTrialView(bool Good, IReadOnlyList<ProviderFinding> Findings, string ReturnAddress);

/// <summary>Asks a provider for its description (OpenID Connect Discovery 1.0), its keys, its time, and whether it knows this client.</summary>
internal static class ProviderTrial
{
    // A token is taken with five minutes to each side.
    private static readonly TimeSpan MostOff = TimeSpan.FromMinutes(4);

    public static async Task<IReadOnlyList<ProviderFinding>> Ask(ProviderSettings settings, string? secret, string back, DateTime now, CancellationToken cancel)
    {
        List<ProviderFinding> found = [];
        try
        {
            var (said, date) = await Json(HttpMethod.Get, $"{settings.Address}/.well-known/openid-configuration", null, cancel);
            if (said is not { ValueKind: JsonValueKind.Object } description)
                return [new(false, "It answers, but with no description of a provider. Is the address right?")];
            if (Text(description, "issuer") is var issuer && issuer.TrimEnd('/') != settings.Address)
                return [new(false, $"It calls itself {Shown(issuer)}. Use that as the address, letter by letter.")];
            found.Add(new(true, "It describes itself by the name it has here."));
            if (Missing(description) is { } missing)
                return [.. found, new(false, missing)];
            if (date is { } time)
                found.Add(Clock(time - now));
            var (keys, _) = await Json(HttpMethod.Get, Text(description, "jwks_uri"), null, cancel);
            var count =
                keys is { ValueKind: JsonValueKind.Object } set && set.TryGetProperty("keys", out var list) && list.ValueKind == JsonValueKind.Array ? list.GetArrayLength() : 0;
            found.Add(count > 0 ? new(true, $"It signs with {(count == 1 ? "one key" : $"one of {count} keys")}.") : new(false, "It gives no keys to check its signature by."));
            found.Add(await Knows(description, settings, secret, back, cancel));
            if (Text(description, "end_session_endpoint").Length == 0 && settings.SignsOut)
                found.Add(new(true, "Sessions there cannot be ended from here: it names no address for that."));
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException or IOException or UriFormatException or InvalidOperationException)
        {
            if (cancel.IsCancellationRequested)
                throw;
            found.Add(new(false, e is TaskCanceledException ? "It does not answer within 10 seconds." : $"It cannot be reached: {Shown(e.InnerException?.Message ?? e.Message)}"));
        }
        return found;
    }

    private static string? Missing(JsonElement description)
    {
        foreach (var name in new[] { "authorization_endpoint", "token_endpoint", "jwks_uri" })
            if (!IsAddress(Text(description, name)))
                return $"Its description has no {name}, or one that is not by https.";
        return Lists(description, "response_types_supported", "code") && Lists(description, "code_challenge_methods_supported", "S256")
            ? null
            : "It does not offer the code flow with PKCE (S256), which is the one used here.";
    }

    // What the provider does not list is taken as offered.
    private static bool Lists(JsonElement description, string name, string value) =>
        !description.TryGetProperty(name, out var list)
        || list.ValueKind != JsonValueKind.Array
        || list.EnumerateArray().Any(v => v.ValueKind == JsonValueKind.String && v.GetString() == value);

    private static bool IsAddress(string text) =>
        Uri.TryCreate(text, UriKind.Absolute, out var address) && (address.Scheme == "https" || address is { Scheme: "http", IsLoopback: true });

    private static ProviderFinding Clock(TimeSpan ahead) =>
        ahead.Duration() < MostOff
            ? new(true, "Its clock and the one here agree.")
            : new(
                false,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"Its clock is {Math.Round(ahead.Duration().TotalMinutes)} minutes {(ahead > TimeSpan.Zero ? "ahead of" : "behind")} the one here. Beyond five minutes its answers may be taken for old ones."
                )
            );

    // A code that cannot be right is refused as such by a provider that knows the client (RFC 6749, 5.2); whoever does not know it says so.
    private static async Task<ProviderFinding> Knows(JsonElement description, ProviderSettings settings, string? secret, string back, CancellationToken cancel)
    {
        var form = new Dictionary<string, string>
        {
            ["grant_type"] = "authorization_code",
            ["code"] = "a-code-of-a-trial",
            ["redirect_uri"] = back,
            ["client_id"] = settings.ClientId,
            ["code_verifier"] = new string('a', 64),
        };
        if (secret is { Length: > 0 })
            form["client_secret"] = secret;
        var (said, _) = await Json(HttpMethod.Post, Text(description, "token_endpoint"), form, cancel);
        var error = said is { ValueKind: JsonValueKind.Object } answer ? Text(answer, "error") : "";
        return error switch
        {
            "invalid_grant" => new(true, "It knows this client and its secret."),
            "invalid_client" or "unauthorized_client" => new(false, "It does not know this client, or the secret is another."),
            _ => new(true, $"Whether it knows this client shows at the first sign-in{(error.Length > 0 ? $" (it said {Shown(error)})" : "")}."),
        };
    }

    private static async Task<(JsonElement? Said, DateTime? Date)> Json(HttpMethod method, string address, Dictionary<string, string>? form, CancellationToken cancel)
    {
        using var request = new HttpRequestMessage(method, address);
        if (form is not null)
            request.Content = new FormUrlEncodedContent(form);
        request.Headers.Accept.ParseAdd("application/json");
        using var response = await ProviderCalls.Send(request, cancel);
        if (!response.IsSuccessStatusCode && method == HttpMethod.Get)
            throw new HttpRequestException(string.Create(CultureInfo.InvariantCulture, $"it answers {(int)response.StatusCode} at {new Uri(address).AbsolutePath}"));
        var text = await response.Content.ReadAsStringAsync(cancel);
        try
        {
            using var document = JsonDocument.Parse(text);
            return (document.RootElement.Clone(), response.Headers.Date?.UtcDateTime);
        }
        catch (JsonException)
        {
            return (null, null);
        }
    }

    private static string Text(JsonElement of, string name) => of.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String ? value.GetString()! : "";

    private static string Shown(string text) => text.Length <= 160 ? text : text[..159] + "\u2026";
}
