using System.Security.Claims;
using System.Text.Json.Serialization;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.People;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.OpenIdConnect;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using Microsoft.Extensions.Primitives;
using Microsoft.IdentityModel.JsonWebTokens;
using Microsoft.IdentityModel.Tokens;

namespace DapperLantern.App.People.Provider;

/// <summary>How one can come in, and what became of the last try by the identity provider.</summary>
/// <param name="Provider">Its name; null where none is set up.</param>
/// <param name="Only">True where all but administrators come in by it alone.</param>
/// <param name="Refused">Why the last try in this browser let nobody in; told once, else null.</param>
/// <param name="NeedsCode">True where the code is waited for.</param>
public sealed record SignInWays(string? Provider, bool Only, string? Refused, bool NeedsCode);

/// <param name="LogoutToken">The token of section 2.4 of the standard.</param>
public sealed record SessionEndNotice([property: JsonPropertyName("logout_token")] [Text(20_000)] string LogoutToken);

/// <summary>A value that the provider sends, and its meaning here.</summary>
public sealed record ProviderMapOrder([Text(200)] string Value, [Count(20, Each = 60)] IReadOnlyList<string> Roles, [Count(50, Each = 100)] IReadOnlyList<string> Teams);

/// <param name="Secret">Null to keep the one there is; empty for none.</param>
public sealed record ProviderOrder(
    [Text(60)] string Name,
    [Text(500)] string Issuer,
    [Text(300)] string ClientId,
    [Text(300)] string Scopes,
    [Text(200)] string Claim,
    [Count(200)] IReadOnlyList<ProviderMapOrder> Maps,
    [Count(20, Each = 60)] IReadOnlyList<string> Otherwise,
    bool Makes,
    bool Follows,
    bool TrustsAddresses,
    bool CountsAsStrong,
    bool Only,
    bool SignsOut,
    [Text(1_000)] string? Secret = null
);

/// <summary>The provider as it is set up.</summary>
/// <param name="HasSecret">True where one is kept; it is never shown.</param>
/// <param name="ReturnAddress">The address that the provider has to know, to which it sends people back.</param>
/// <param name="EndAddress">The address by which the provider tells that a session there has ended (OpenID Connect Back-Channel Logout 1.0).</param>
/// <param name="Values">Those that it sent of people, the last first.</param>
/// <param name="Linked">How many people came in by it.</param>
public sealed record ProviderView(
    ProviderSettings Settings,
    bool HasSecret,
    string ReturnAddress,
    string EndAddress,
    IReadOnlyList<string> Values,
    int Linked,
    IReadOnlyList<RoleChoice> Roles,
    IReadOnlyList<ChoiceView> Teams,
    bool IsDemo,
    int Version
);

/// <summary>Signing in by the provider, and its set-up, which is an administrator's.</summary>
public static class ProviderEndpoints
{
    private const string EndPath = "/api/session/provider/ended";
    private const string EndEvent = "http://schemas.openid.net/event/backchannel-logout";

    internal static void MapProvider(this IEndpointRouteBuilder api)
    {
        var open = api.MapGroup("/session").AllowAnonymous().RequireRateLimiting("sign-in").WithTags("Session");
        open.MapGet("/ways", Ways).WithSummary("How one can come in; and why the last try by the identity provider let nobody in");
        open.MapGet("/provider", Go).WithSummary("Go to the identity provider; it sends back");
        // Not counted with sign-ins: a provider that ends the sessions of a whole company tells of each.
        open.MapPost("/provider/ended", Ended)
            .DisableRateLimiting()
            .DisableAntiforgery()
            .Accepts<SessionEndNotice>("application/x-www-form-urlencoded")
            .WithSummary("The provider tells that a session there has ended (OpenID Connect Back-Channel Logout 1.0)");
        var setup = api.MapGroup("/setup/provider").Requires(Act.ManagePeople).WithTags("People");
        setup.MapGet("", Open).WithSummary("The identity provider");
        setup.MapPut("", Keep).WithSummary("Change it (If-Match)");
        api.MapPost("/setup/people/{id:guid}/provider/end", Forget)
            .Requires(Act.ManagePeople)
            .WithTags("People")
            .WithSummary("Forget somebody's account at the identity provider; the next one with their address is theirs");
        setup.MapPost("/trial", Try).WithSummary("Ask a provider that need not be kept yet, and tell what it says");
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Forget(Guid id, LanternDb db, Sessions sessions)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await db.Set<IdentityUserLogin<Guid>>().Where(l => l.UserId == id).ExecuteDeleteAsync() == 0)
            return ApiProblems.NotFound("account at the provider");
        await db.Log(EventLog.Person, id, new ProviderForgotten());
        await transaction.CommitAsync();
        await sessions.End(db, await db.Set<SessionRow>().Where(s => s.PersonId == id && s.EndedAt == null && s.ProviderToken != null).Select(s => s.Id).ToListAsync(), "provider");
        return TypedResults.NoContent();
    }

    private static Ok<SignInWays> Ways(HttpContext http, Workspace workspace, ProviderRefusals refusals, SecondSteps steps) =>
        TypedResults.Ok(
            new SignInWays(
                workspace.Provider.Settings is { IsOn: true } on ? on.Name : null,
                workspace.Provider.Settings is { IsOn: true, Only: true },
                refusals.Take(http),
                steps.Waits(http)
            )
        );

    /// <param name="path">The page to come back to.</param>
    private static async Task<Results<EmptyHttpResult, RedirectHttpResult>> Go(
        HttpContext http,
        Workspace workspace,
        ProviderRefusals refusals,
        bool stay = false,
        string path = "/"
    )
    {
        Problem problem = new("provider-none");
        if (workspace.Provider.Settings.IsOn)
            try
            {
                await http.ChallengeAsync(ProviderSignIn.Scheme, ProviderSignIn.Going(stay, path));
                return TypedResults.Empty;
            }
            // Its addresses and keys are asked for at the first sign-in.
            catch (Exception e)
                when (e is InvalidOperationException or IOException or HttpRequestException or TaskCanceledException && !http.RequestAborted.IsCancellationRequested)
            {
                problem = new Problem("provider-away");
            }
        refusals.Keep(http, problem);
        return TypedResults.Redirect("/");
    }

    // Section 2.6 of the standard; a token that was seen before ends nothing more.
    private static async Task<Results<Ok, ProblemHttpResult>> Ended(
        HttpContext http,
        LanternDb db,
        Workspace workspace,
        IOptionsMonitor<OpenIdConnectOptions> options,
        Sessions sessions,
        CancellationToken cancel
    )
    {
        var form = http.Request.HasFormContentType ? await http.Request.ReadFormAsync(cancel) : null;
        if (!workspace.Provider.Settings.IsOn || form?["logout_token"] is not [{ Length: > 0 and < 20_000 } token])
            return ApiProblems.Of("provider-end-unfit");
        if (await Read(token, options.Get(ProviderSignIn.Scheme), cancel) is not { } said)
            return ApiProblems.Of("provider-end-unfit");
        var people = db.Set<IdentityUserLogin<Guid>>().Where(l => l.LoginProvider == said.Issuer && l.ProviderKey == said.Subject).Select(l => l.UserId);
        var ids = await db.Set<SessionRow>()
            .Where(s => s.EndedAt == null && s.ProviderToken != null)
            .Where(s => said.Session.Length > 0 ? s.ProviderSession == said.Session && (said.Subject.Length == 0 || people.Contains(s.PersonId)) : people.Contains(s.PersonId))
            .Select(s => s.Id)
            .ToListAsync(cancel);
        await sessions.End(db, ids, "provider");
        return TypedResults.Ok();
    }

    private sealed record EndToken(string Issuer, string Subject, string Session);

    private static async Task<EndToken?> Read(string token, OpenIdConnectOptions options, CancellationToken cancel)
    {
        try
        {
            var known = await options.ConfigurationManager!.GetConfigurationAsync(cancel);
            var checking = options.TokenValidationParameters.Clone();
            (checking.ValidIssuer, checking.IssuerSigningKeys, checking.ValidAudience, checking.ValidateLifetime) = (known.Issuer, known.SigningKeys, options.ClientId, true);
            (checking.ValidateAudience, checking.RequireSignedTokens, checking.ConfigurationManager) = (true, true, null);
            var result = await new JsonWebTokenHandler { MapInboundClaims = false }.ValidateTokenAsync(token, checking);
            if (!result.IsValid || result.SecurityToken is not JsonWebToken read)
                return null;
            var ends = read.TryGetPayloadValue<System.Text.Json.JsonElement>("events", out var events) && events.TryGetProperty(EndEvent, out _);
            // An ID token is none of these, and has a nonce.
            var (subject, session) = (read.TryGetPayloadValue<string>("sub", out var sub) ? sub : "", read.TryGetPayloadValue<string>("sid", out var sid) ? sid : "");
            return ends && !read.TryGetPayloadValue<string>("nonce", out _) && subject.Length + session.Length > 0 ? new EndToken(read.Issuer, subject, session) : null;
        }
        catch (Exception e) when (e is InvalidOperationException or SecurityTokenException or ArgumentException or IOException or HttpRequestException)
        {
            return null;
        }
    }

    private static async Task<Ok<ProviderView>> Open(LanternDb db, Workspace workspace, PublicSettings address, DemoSettings demo) =>
        TypedResults.Ok(await View(db, workspace, address, demo));

    private static async Task<ProviderView> View(LanternDb db, Workspace workspace, PublicSettings address, DemoSettings demo)
    {
        var row = await ProviderRow.Read(db);
        var settings = row is null ? ProviderSettings.None : Json.Read<ProviderSettings>(row.Body);
        var values = await db.Set<ProviderValueRow>().OrderByDescending(v => v.SeenAt).ThenBy(v => v.Value).Select(v => v.Value).Take(100).ToListAsync();
        return new ProviderView(
            settings,
            row?.Secret is not null,
            address.Of(ProviderSignIn.Back),
            address.Of(EndPath),
            values,
            settings.IsOn ? await db.Set<IdentityUserLogin<Guid>>().Select(l => l.UserId).Distinct().CountAsync() : 0,
            PeopleEndpoints.RoleChoices(workspace),
            await PeopleEndpoints.TeamsOf(db),
            demo.Enabled,
            row?.Version ?? 0
        );
    }

    private static async Task<Results<Ok<ProviderView>, ProblemHttpResult>> Keep(
        ProviderOrder body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        PublicSettings address,
        DemoSettings demo,
        [FromKeyedServices(ProviderSignIn.Scheme)] SecretSeal secrets,
        WorkspaceConfiguration configuration
    )
    {
        if (request.Version() is not { } version)
            return ApiProblems.DraftVersionMissing();
        var settings = Settings(body);
        if (await Wrong(db, body, settings, configuration.Current, demo) is { } wrong)
            return ApiProblems.Of(wrong);
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            await db.LockUntilEnd("provider");
            var row = await db.Set<ProviderRow>().SingleOrDefaultAsync();
            if ((row?.Version ?? 0) != version)
                return ApiProblems.Stale();
            if (row is null)
                db.Add(row = new ProviderRow { Version = 0 });
            row.Body = Json.Write(settings);
            if (!settings.IsOn)
                row.Secret = null;
            else if (body.Secret is { } secret)
                row.Secret = secret.Length == 0 ? null : secrets.Seal(secret);
            row.Version++;
            await db.SaveChangesAsync();
            await transaction.CommitAsync();
        }
        return TypedResults.Ok(await View(db, await configuration.Changed(), address, demo));
    }

    private static ProviderSettings Settings(ProviderOrder body) =>
        new(
            FieldReader.Clean(body.Name),
            body.Issuer.Trim(),
            body.ClientId.Trim(),
            string.Join(' ', body.Scopes.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)),
            body.Claim.Trim(),
            [.. body.Maps.Select(m => new ProviderMap(m.Value.Trim(), [.. m.Roles.Distinct()], [.. m.Teams.Distinct()])).Where(m => m.Value.Length > 0)],
            [.. body.Otherwise.Distinct()],
            body.Makes,
            body.Follows,
            body.TrustsAddresses,
            body.CountsAsStrong,
            body.Only,
            body.SignsOut
        );

    private static async Task<Problem?> Wrong(LanternDb db, ProviderOrder body, ProviderSettings settings, Workspace workspace, DemoSettings demo)
    {
        if (settings.Maps.SelectMany(m => m.Roles).Concat(settings.Otherwise).FirstOrDefault(r => workspace.Roles.Find(r) is null) is { } role)
            return new Problem("role-unknown", "maps", role);
        var teams = await db.Set<Routing.TeamRow>().Select(t => t.Key).ToListAsync();
        if (settings.Maps.SelectMany(m => m.Teams).FirstOrDefault(t => !teams.Contains(t)) is { } team)
            return new Problem("team-unknown", "maps", team);
        if (settings.Maps.GroupBy(m => m.Value).FirstOrDefault(g => g.Count() > 1) is { Key: { } twice })
            return new Problem("provider-value-twice", "maps", twice);
        if (!settings.IsOn)
            return null;
        if (!Uri.TryCreate(settings.Issuer, UriKind.Absolute, out var issuer) || issuer.Query.Length + issuer.Fragment.Length + issuer.UserInfo.Length > 0)
            return new Problem("provider-address-unfit", "issuer", settings.Issuer);
        // Keys that come in the clear could be anybody's.
        if (issuer.Scheme != "https" && !(issuer.Scheme == "http" && issuer.IsLoopback))
            return new Problem("provider-address-unfit", "issuer", settings.Issuer);
        if (demo.Enabled && !issuer.IsLoopback)
            return new Problem("demo-asks-nobody", "issuer");
        if (settings.Name.Length == 0)
            return Problem.Of("name-missing", "name", 60);
        if (settings.ClientId.Length == 0)
            return new Problem("provider-client-missing", "clientId");
        if (settings is { Maps.Count: > 0, Claim.Length: 0 })
            return new Problem("provider-claim-missing", "claim");
        // A secret is one provider's and one client's: it is not handed to another because somebody changes the address.
        return body.Secret is null && workspace.Provider is { Secret: not null } kept && (kept.Settings.Issuer, kept.Settings.ClientId) != (settings.Issuer, settings.ClientId)
            ? new Problem("provider-secret-missing", "secret")
            : null;
    }

    private static async Task<Results<Ok<ProviderTrialView>, ProblemHttpResult>> Try(
        ProviderOrder body,
        LanternDb db,
        PublicSettings address,
        DemoSettings demo,
        [FromKeyedServices(ProviderSignIn.Scheme)] SecretSeal secrets,
        Workspace workspace,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var settings = Settings(body);
        if (!settings.IsOn)
            return ApiProblems.Of("provider-address-missing", "issuer");
        if (await Wrong(db, body, settings, workspace, demo) is { } wrong)
            return ApiProblems.Of(wrong);
        var back = address.Of(ProviderSignIn.Back);
        var found = await ProviderTrial.Ask(settings, body.Secret ?? secrets.Open(workspace.Provider.Secret), back, clock.UtcNow(), cancel);
        return TypedResults.Ok(new ProviderTrialView(found.All(f => f.Good), found, back));
    }
}
