using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.Bench.Fuzz;

/// <summary>A server that is asked over HTTP.</summary>
internal static class Served
{
    /// <summary>Where a server that was started in this process listens.</summary>
    public static Uri Address(WebApplication app) => new(app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.Single());

    /// <summary>A person of the demo, signed in: with cookies, and the token that every write carries.</summary>
    /// <param name="patience">How long an answer is waited for.</param>
    /// <exception cref="HttpRequestException">They may not come in.</exception>
    public static async Task<HttpClient> SignIn(Uri address, string name, TimeSpan patience)
    {
        var client = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer(), AllowAutoRedirect = false }) { BaseAddress = address, Timeout = patience };
        using var signed = await client.PostAsJsonAsync("/api/session", new { name, password = SessionEndpoints.DemoPassword });
        signed.EnsureSuccessStatusCode();
        client.DefaultRequestHeaders.Add("X-Lantern-Token", (string)JsonNode.Parse(await client.GetStringAsync(new Uri("/api/session", UriKind.Relative)))!["token"]!);
        return client;
    }
}
