using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.People;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.OpenIdConnect;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.Extensions.Options;
using Microsoft.IdentityModel.Protocols.OpenIdConnect;
using Microsoft.IdentityModel.Tokens;

namespace DapperLantern.App.People.Provider;

/// <summary>Sign-in by an identity provider: OpenID Connect Core 1.0, code flow with PKCE, by the framework's own handler.</summary>
internal static class ProviderSignIn
{
    public const string Scheme = "provider";

    /// <summary>Where the provider sends people back to.</summary>
    public const string Back = "/api/session/provider/back";

    // Between going there and coming back.
    private const string StayItem = "stay";
    private const string PathItem = "path";

    private static readonly string[] Usual = ["name", "given_name", "family_name", "email", "email_verified", "zoneinfo"];

    public static void AddProvider(this IServiceCollection services)
    {
        services.AddAuthentication().AddOpenIdConnect(Scheme, _ => { });
        services.AddSingleton<IOptionsMonitor<OpenIdConnectOptions>, ProviderOptions>();
        services.AddSingleton<IConfigureOptions<OpenIdConnectOptions>, ProviderOptionsSetUp>();
        services
            .AddKeyedSingleton(Scheme, (s, _) => new SecretSeal(s.GetRequiredService<IDataProtectionProvider>(), "identity-provider"))
            .AddSingleton<ProviderEvents>()
            .AddSingleton<ProviderRefusals>()
            .AddSingleton<IProviderDoor, ProviderDoor>();
        services.AddScoped<ProviderArrivals>();
    }

    /// <summary>Claims that are asked of the provider beside those of its token.</summary>
    public static IEnumerable<string> ClaimsOf(ProviderSettings settings) =>
        settings.Claim.Length == 0 ? Usual : Usual.Append(settings.Claim).Append(settings.Claim.Split('.')[0]).Distinct();

    public static IEnumerable<string> ScopesOf(ProviderSettings settings) =>
        new[] { "openid", "profile", "email" }.Concat(settings.Scopes.Split(' ', StringSplitOptions.RemoveEmptyEntries)).Distinct();

    /// <param name="path">The page to come back to; the Desk where it is none of ours.</param>
    public static AuthenticationProperties Going(bool stay, string? path) => new() { Items = { [StayItem] = stay ? "1" : "", [PathItem] = IsOurs(path) ? path : "/" } };

    public static (bool Stay, string Path) Coming(AuthenticationProperties? properties) =>
        (properties?.Items.TryGetValue(StayItem, out var stay) == true && stay == "1", properties?.Items.TryGetValue(PathItem, out var path) == true && IsOurs(path) ? path! : "/");

    // "//elsewhere" and "/\elsewhere" are read as other servers by browsers.
    private static bool IsOurs(string? path) =>
        path is { Length: < 2_000 } && path.StartsWith('/') && !path.StartsWith("//", StringComparison.Ordinal) && !path.Contains('\\') && !path.Any(char.IsControl);

    /// <summary>A person as the provider tells of them.</summary>
    public static ProviderClaim Read(ClaimsPrincipal principal, ProviderSettings settings, string issuer)
    {
        var claims = principal.Claims.Select(c => (Name: c.Type, c.Value)).ToList();
        string First(string name) => claims.FirstOrDefault(c => c.Name == name).Value?.Trim() ?? "";
        string[] parts = [First("given_name"), First("family_name")];
        var name = First("name") is { Length: > 0 } whole ? whole : string.Join(' ', parts.Where(p => p.Length > 0));
        return new ProviderClaim(
            issuer,
            First("sub"),
            name,
            First("email"),
            claims.Any(c => c.Name == "email_verified" && c.Value.Equals("true", StringComparison.OrdinalIgnoreCase)),
            First("zoneinfo"),
            settings.Claim.Length == 0 ? [] : ProviderClaims.Values(claims, settings.Claim),
            // RFC 8176.
            claims.Any(c => c.Name == "amr" && c.Value is "mfa" or "otp" or "hwk" or "fpt" or "face")
        );
    }
}

/// <summary>A person as the provider tells of them. Issuer and subject together are one person for ever.</summary>
/// <param name="Zone">Zone of the tz database; empty where it says none.</param>
/// <param name="Values">Of the claim that means roles and teams.</param>
/// <param name="Strong">True where it says that they came in there by a second step.</param>
internal sealed record ProviderClaim(string Issuer, string Subject, string Name, string Email, bool Verified, string Zone, IReadOnlyList<string> Values, bool Strong);

/// <summary>What a sign-in by the provider ended with that let nobody in: kept by the browser, and told by the sign-in page once.</summary>
internal sealed class ProviderRefusals(IDataProtectionProvider protection, TimeProvider clock)
{
    private readonly BriefCookie<string> _kept = new("lantern-refused", protection, clock);

    public void Keep(HttpContext http, Problem problem) => _kept.Keep(http, problem.Words);

    /// <summary>In words; null where nothing was refused.</summary>
    public string? Take(HttpContext http)
    {
        if (_kept.Read(http) is not { } words)
            return null;
        _kept.Drop(http);
        return words;
    }
}

/// <summary>The moments of a sign-in by the provider.</summary>
internal sealed class ProviderEvents : OpenIdConnectEvents
{
    private readonly PublicSettings _address;
    private readonly ILogger<ProviderEvents> _log;

    public ProviderEvents(PublicSettings address, ILogger<ProviderEvents> log)
    {
        (_address, _log) = (address, log);
        OnRedirectToIdentityProvider = Leaving;
        OnTicketReceived = Arrived;
        OnRemoteFailure = Failed;
    }

    // By the address that the configuration names, whatever the request says.
    private Task Leaving(RedirectContext context)
    {
        context.ProtocolMessage.RedirectUri = _address.Of(ProviderSignIn.Back);
        return Task.CompletedTask;
    }

    private async Task Arrived(TicketReceivedContext context)
    {
        var http = context.HttpContext;
        var (stay, path) = ProviderSignIn.Coming(context.Properties);
        context.HandleResponse();
        Problem? refused;
        try
        {
            refused = await LetIn(context, stay);
        }
        // A browser comes here by itself: it is shown a page, whatever happens.
        catch (Exception e) when (e is not OperationCanceledException)
        {
            _log.LogError(e, "A sign-in by the provider broke");
            refused = new Problem("broken");
        }
        if (refused is not null)
            http.RequestServices.GetRequiredService<ProviderRefusals>().Keep(http, refused);
        http.Response.Redirect(refused is null ? path : "/");
    }

    private static async Task<Problem?> LetIn(TicketReceivedContext context, bool stay)
    {
        var (http, services, principal) = (context.HttpContext, context.HttpContext.RequestServices, context.Principal!);
        var settings = services.GetRequiredService<WorkspaceConfiguration>().Current.Provider.Settings;
        var told = ProviderSignIn.Read(principal, settings, principal.FindFirstValue("iss") ?? settings.Issuer);
        var arrived = await services.GetRequiredService<ProviderArrivals>().Come(told, http);
        if (arrived.Problem is { } problem)
            return problem;
        var strong = told.Strong || settings.CountsAsStrong;
        var token = services.GetRequiredKeyedService<SecretSeal>(ProviderSignIn.Scheme).Seal(context.Properties?.GetTokenValue("id_token") ?? "");
        var at = new ProviderSession(principal.FindFirstValue("sid"), token);
        // Whoever signs in with a code here gives it here, where the provider did not ask for one.
        if (strong || await services.GetRequiredService<SecondSteps>().Next(http, arrived.Value!, stay, at) is null)
            await services.GetRequiredService<Sessions>().SignIn(http, services.GetRequiredService<LanternDb>(), arrived.Value!, stay, strong, at);
        return null;
    }

    private Task Failed(RemoteFailureContext context)
    {
        var problem = Explain(context.Failure);
        _log.LogWarning("Sign-in by the provider failed: {Code}, {Reason}", problem.Code, context.Failure?.Message);
        context.HandleResponse();
        context.HttpContext.RequestServices.GetRequiredService<ProviderRefusals>().Keep(context.HttpContext, problem);
        context.Response.Redirect("/");
        return Task.CompletedTask;
    }

    /// <summary>Why a sign-in by the provider failed, in a sentence.</summary>
    internal static Problem Explain(Exception? failure)
    {
        for (var e = failure; e is not null; e = e.InnerException)
            switch (e)
            {
                case SecurityTokenExpiredException or SecurityTokenNotYetValidException or SecurityTokenInvalidLifetimeException:
                    return new Problem("provider-clock");
                case SecurityTokenException or OpenIdConnectProtocolInvalidNonceException:
                    return new Problem("provider-unfit");
                case HttpRequestException or TaskCanceledException or IOException:
                    return new Problem("provider-away");
                case OpenIdConnectProtocolException when e.Message.Contains("access_denied", StringComparison.Ordinal):
                    return new Problem("provider-declined");
                case OpenIdConnectProtocolException
                    when e.Message.Contains("invalid_client", StringComparison.Ordinal) || e.Message.Contains("unauthorized_client", StringComparison.Ordinal):
                    return new Problem("provider-client");
                case AuthenticationFailureException when e.Message.Contains("access_denied", StringComparison.Ordinal) || e.Message.Contains("denied by", StringComparison.Ordinal):
                    return new Problem("provider-declined");
                case AuthenticationFailureException
                    when e.Message.Contains("orrelation failed", StringComparison.Ordinal) || e.Message.Contains("state", StringComparison.OrdinalIgnoreCase):
                    return new Problem("provider-late");
                // It could not be asked for its addresses or keys.
                case InvalidOperationException when e.Message.Contains("IDX20803", StringComparison.Ordinal) || e.Message.Contains("IDX20804", StringComparison.Ordinal):
                    return new Problem("provider-away");
            }
        return new Problem("provider-unfit");
    }
}
