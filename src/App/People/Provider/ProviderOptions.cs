using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.OpenIdConnect;
using Microsoft.Extensions.Options;
using Microsoft.IdentityModel.Protocols.OpenIdConnect;

namespace DapperLantern.App.People.Provider;

/// <summary>Options of the framework's OpenID Connect handler, made from the set-up of the moment: a change of the provider holds from the next request on.</summary>
internal sealed class ProviderOptions(IOptionsFactory<OpenIdConnectOptions> factory, WorkspaceConfiguration configuration) : IOptionsMonitor<OpenIdConnectOptions>
{
    private readonly Lock _lock = new();
    private (int Version, OpenIdConnectOptions? Options) _made;

    public OpenIdConnectOptions CurrentValue => Get(ProviderSignIn.Scheme);

    public OpenIdConnectOptions Get(string? name)
    {
        var version = configuration.Current.Provider.Version;
        lock (_lock)
        {
            // Kept while the provider is the same: with them go its addresses and keys.
            if (_made.Options is { } options && _made.Version == version)
                return options;
            _made = (version, factory.Create(ProviderSignIn.Scheme));
            return _made.Options;
        }
    }

    public IDisposable? OnChange(Action<OpenIdConnectOptions, string?> listener) => null;
}

/// <summary>Writes the provider of the set-up into new options.</summary>
internal sealed class ProviderOptionsSetUp(
    WorkspaceConfiguration configuration,
    [FromKeyedServices(ProviderSignIn.Scheme)] SecretSeal secrets,
    ProviderEvents events,
    PublicSettings address
) : IConfigureNamedOptions<OpenIdConnectOptions>
{
    // Stands where none is set up, since the handler takes no options without: nothing is ever sent there.
    private const string Nowhere = "https://provider.invalid";

    public void Configure(OpenIdConnectOptions options) => Configure(ProviderSignIn.Scheme, options);

    public void Configure(string? name, OpenIdConnectOptions options)
    {
        var (settings, secret, _) = configuration.Current.Provider;
        options.Authority = settings.IsOn ? settings.Address : Nowhere;
        options.RequireHttpsMetadata = settings.IsOn && !new Uri(settings.Issuer).IsLoopback;
        options.ClientId = settings.IsOn ? settings.ClientId : "none";
        options.ClientSecret = secrets.Open(secret);
        options.ResponseType = OpenIdConnectResponseType.Code;
        // Comes back by the address, so that cookies that other sites' forms do not carry are carried.
        options.ResponseMode = OpenIdConnectResponseMode.Query;
        options.UsePkce = true;
        options.CallbackPath = ProviderSignIn.Back;
        options.SignedOutCallbackPath = "/api/session/provider/out";
        options.RemoteSignOutPath = "/api/session/provider/remote-out";
        options.SkipUnrecognizedRequests = false;
        options.MapInboundClaims = false;
        options.GetClaimsFromUserInfoEndpoint = true;
        options.SaveTokens = true;
        options.BackchannelHttpHandler = ProviderCalls.Handler;
        options.BackchannelTimeout = ProviderCalls.Longest;
        options.RemoteAuthenticationTimeout = TimeSpan.FromMinutes(15);
        options.Scope.Clear();
        foreach (var scope in ProviderSignIn.ScopesOf(settings))
            options.Scope.Add(scope);
        // Of the answer about the person: beside what the token says.
        options.ClaimActions.Clear();
        foreach (var claim in ProviderSignIn.ClaimsOf(settings))
            options.ClaimActions.MapJsonKey(claim, claim);
        var secure = address.IsBehindTls ? CookieSecurePolicy.Always : CookieSecurePolicy.SameAsRequest;
        (options.CorrelationCookie.SameSite, options.CorrelationCookie.SecurePolicy) = (SameSiteMode.Lax, secure);
        (options.NonceCookie.SameSite, options.NonceCookie.SecurePolicy) = (SameSiteMode.Lax, secure);
        options.Events = events;
    }
}
