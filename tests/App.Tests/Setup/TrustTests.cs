using System.Net;
using Dapper;
using DapperLantern.App.Intake.Http;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Setup;

public sealed class TrustTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static readonly string[] Public =
    [
        "/health",
        "/health/live",
        "/health/ready",
        "/api/session",
        "/api/session/code",
        "/api/session/passkey",
        "/api/session/passkey/options",
        "/api/session/ways",
        "/api/session/provider",
        "/api/session/provider/ended",
        "/api/demo-sign-ins",
        "/api/way-in",
        "/api/way-in/look",
        "/api/way-in/forgotten",
        // A library, as anybody can have it from its package.
        "/api/reference/files/scalar.js",
        "/api/reference/files/scalar.aspnetcore.js",
        "/api/reference/files/favicon.svg",
    ];

    // Forms and the pages behind mails are for visitors; a calendar's address is its key.
    private static bool IsPublic(RouteEndpoint endpoint) =>
        Public.Contains(Path(endpoint))
        || Path(endpoint).StartsWith("/f/", StringComparison.Ordinal)
        || Path(endpoint).StartsWith("/consent/", StringComparison.Ordinal)
        || Path(endpoint) == "/calendar/{key}.ics";

    private IEnumerable<RouteEndpoint> Endpoints => fixture.Server.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>();

    // Of what it describes; whoever is signed in reads it.
    private static bool IsDescription(string path) => path == "/api/{documentName}.json" || path.StartsWith("/api/reference", StringComparison.Ordinal);

    [Fact]
    public void EveryEndpointButThePublicOnesNamesTheRightItNeeds()
    {
        foreach (var endpoint in Endpoints.Where(e => !IsPublic(e) && !IsDescription(Path(e))))
        {
            endpoint.Metadata.GetMetadata<IAllowAnonymous>().ShouldBeNull(Path(endpoint));
            endpoint.Metadata.GetOrderedMetadata<IAuthorizeData>().ShouldContain(a => Enum.GetNames<Act>().Concat(TokenScopes.All).Contains(a.Policy), Path(endpoint));
        }
    }

    [Fact]
    public async Task WithoutSignInEveryEndpointButThePublicOnesIsClosed()
    {
        var stranger = new TestClient(fixture.Server.Address);
        foreach (var endpoint in Endpoints.Where(e => !IsPublic(e)))
        {
            var path = Path(endpoint)
                .Replace(":guid", "", StringComparison.Ordinal)
                .Replace(":int", "", StringComparison.Ordinal)
                .Replace("{number}", "1", StringComparison.Ordinal)
                .Replace("{id}", Guid.Empty.ToString(), StringComparison.Ordinal)
                .Replace("{documentName}", "lantern", StringComparison.Ordinal);
            var method = endpoint.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods[0] ?? "GET";
            var answer = await stranger.Ask(method, path, method is "GET" or "DELETE" ? null : new { });
            answer.Status.ShouldBe(HttpStatusCode.Unauthorized, $"{method} {path}");
        }
    }

    private static string Path(RouteEndpoint endpoint) => "/" + endpoint.RoutePattern.RawText!.Trim('/');

    [Theory]
    [InlineData("tor.vik", "/api/intake", HttpStatusCode.Forbidden)]
    [InlineData("lucie.armand", "/api/intake", HttpStatusCode.OK)]
    [InlineData("lucie.armand", "/api/deals", HttpStatusCode.Forbidden)]
    [InlineData("effie.marlowe", "/api/handover", HttpStatusCode.Forbidden)]
    [InlineData("effie.marlowe", "/api/leads", HttpStatusCode.OK)]
    [InlineData("harald.quist", "/api/deals", HttpStatusCode.OK)]
    [InlineData("ingrid.brekke", "/api/setup/people", HttpStatusCode.Forbidden)]
    [InlineData("harald.quist", "/api/setup/people", HttpStatusCode.Forbidden)]
    [InlineData("samir.haddow", "/api/setup/people", HttpStatusCode.OK)]
    public async Task ARoleSeesWhatTheTableSays(string who, string path, HttpStatusCode status) => (await (await fixture.Server.SignIn(who)).Get(path)).Status.ShouldBe(status);

    [Fact]
    public async Task AWriteWithoutOurPagesTokenIsRefused()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        ingrid.ForgetToken();
        (await ingrid.Post("/api/leads", new { source = "telephone", facts = new { email = "a@b.example", last_name = "X" } })).Problem.ShouldBe("token-missing");
    }

    [Fact]
    public async Task ThePageAllowsNothingFromOutside()
    {
        using var http = new HttpClient();
        using var page = await http.GetAsync(fixture.Server.Address + "/leads");
        page.StatusCode.ShouldBe(HttpStatusCode.OK);
        var policy = page.Headers.GetValues("Content-Security-Policy").Single();
        policy.ShouldContain("default-src 'none'");
        policy.ShouldNotContain("http");
        var html = await page.Content.ReadAsStringAsync();
        html.ShouldNotContain("https://");
        var script = html.Split('"').First(p => p.StartsWith("/assets/", StringComparison.Ordinal) && p.EndsWith(".js", StringComparison.Ordinal));
        using var file = await http.GetAsync(fixture.Server.Address + script);
        file.Headers.CacheControl!.MaxAge!.Value.TotalDays.ShouldBeGreaterThan(300);
    }

    [Fact]
    public async Task WhatWaitsAtEachStopAgreesWithTheDesk()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        // The looking for duplicates is let come to rest, so that both count the same.
        using var soon = new CancellationTokenSource(TimeSpan.FromMinutes(2));
        while (await ingrid.Read<DapperLantern.App.Matching.DuplicateList>("/api/duplicates") is { Looking: var looking } && (looking.Done < looking.All || looking.Due > 0))
            await Task.Delay(100, soon.Token);
        var desk = await ingrid.Read<App.Desk.DeskView>("/api/desk");
        var line = await ingrid.Read<App.Desk.LineView>("/api/line");
        line.Desk.ShouldBe(desk.Groups.Sum(g => g.Count));
        new[] { line.Intake, line.Leads, line.Routing, line.Handover, line.Deals }.ShouldAllBe(n => n > 0);
        desk.Groups.Select(g => g.Key)
            .ShouldBe(["clock", "unrouted", "qualified", "cleared", "woke", "duplicates", "waiting", "mend", "sieve", "undecided", "idle"], ignoreOrder: true);
    }

    [Fact]
    public async Task ASourceNamedByAnAddressIsShownOnTheDeskAsItIsNamed()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync(
            """
            insert into source (key, name, channel, event_kind, retired, trust) values ('desk-fair', 'desk@fair.example', 'list', 'list.met', false, 0);
            update lead set source = 'desk-fair', country = 'NO', created_at = '2001-01-01' where id = (select id from lead where owner_id is null and state in ('new', 'in_work') order by created_at limit 1);
            """
        );
        var desk = await ingrid.Read<App.Desk.DeskView>("/api/desk");
        desk.Groups.Single(g => g.Key == "unrouted").Items[0].Line.ShouldBe("Norway, desk@fair.example");
    }
}
