using System.Collections.Immutable;
using System.Security.Claims;
using System.Security.Cryptography;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Microsoft.IdentityModel.JsonWebTokens;
using Microsoft.IdentityModel.Tokens;
using OpenIddict.Abstractions;
using OpenIddict.Server;
using static OpenIddict.Abstractions.OpenIddictConstants;
using static OpenIddict.Server.OpenIddictServerEvents;

namespace DapperLantern.Tests.Shared;

/// <summary>Somebody as the provider of the tests knows them.</summary>
public sealed record Known(string Subject, string Name, string Email, bool Verified = true, params string[] Groups)
{
    public bool Strong { get; init; }
    public string Session { get; init; } = Guid.NewGuid().ToString("N");
}

/// <summary>An identity provider (OpenID Connect) on a port of its own, without a database. Whoever comes is the one it is told to be there.</summary>
public sealed class TestProvider : IAsyncDisposable
{
    public const string Client = "lantern";
    public const string Secret = "a-secret-of-the-tests";

    // Of all providers of the tests: making one can take seconds on a busy machine.
    private static readonly RsaSecurityKey Key = new(RSA.Create(2048)) { KeyId = "of-the-tests" };
    private static readonly SymmetricSecurityKey Sealing = new(RandomNumberGenerator.GetBytes(32));

    private WebApplication _app = null!;

    public string Issuer { get; private set; } = "";

    /// <summary>Whoever comes; null declines.</summary>
    public Known? Here { get; set; }

    /// <summary>How far its clock is ahead.</summary>
    public TimeSpan Ahead { get; set; }

    /// <summary>True to name groups in the answer about a person alone, not in the token.</summary>
    public bool TellsGroupsWhenAsked { get; set; }

    /// <summary>False to answer nothing that can be used.</summary>
    public bool Answers { get; set; } = true;

    /// <summary>Queries by which sessions were ended here, as they came.</summary>
    public List<string> Ended { get; } = [];

    public static async Task<TestProvider> Start()
    {
        var provider = new TestProvider();
        var builder = WebApplication.CreateBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        builder.Services.AddOpenIddict().AddServer(provider.SetUp);
        provider._app = builder.Build();
        provider._app.Use(
            (http, next) =>
            {
                http.Response.Headers.Date = (DateTime.UtcNow + provider.Ahead).ToString("R", System.Globalization.CultureInfo.InvariantCulture);
                if (http.Request.Path == "/connect/out")
                    provider.Ended.Add(http.Request.QueryString.Value ?? "");
                if (provider.Answers)
                    return next(http);
                http.Response.StatusCode = 503;
                return Task.CompletedTask;
            }
        );
        provider._app.UseAuthentication();
        await provider._app.StartAsync();
        var port = new Uri(provider._app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.Single()).Port;
        provider.Issuer = $"http://localhost:{port}";
        // The first answer is slow, for all is compiled for it; the product waits briefly.
        using var http = new HttpClient();
        (await http.GetAsync(new Uri(provider.Issuer + "/.well-known/openid-configuration"))).Dispose();
        (await http.GetAsync(new Uri(provider.Issuer + "/.well-known/jwks"))).Dispose();
        return provider;
    }

    private void SetUp(OpenIddictServerBuilder server)
    {
        server.EnableDegradedMode();
        server
            .SetAuthorizationEndpointUris("connect/authorize")
            .SetTokenEndpointUris("connect/token")
            .SetUserInfoEndpointUris("connect/person")
            .SetEndSessionEndpointUris("connect/out");
        server.AllowAuthorizationCodeFlow().RequireProofKeyForCodeExchange();
        server.RegisterScopes(Scopes.OpenId, Scopes.Profile, Scopes.Email, "groups");
        server.AddSigningKey(Key).AddEncryptionKey(Sealing).DisableAccessTokenEncryption();
        server.Configure(o => o.TimeProvider = new Off(this));
        server.UseAspNetCore().DisableTransportSecurityRequirement();
        server.AddEventHandler<ValidateAuthorizationRequestContext>(b =>
            b.UseInlineHandler(context =>
            {
                if (context.ClientId != Client || context.RedirectUri?.EndsWith("/api/session/provider/back", StringComparison.Ordinal) != true)
                    context.Reject(Errors.InvalidClient);
                return default;
            })
        );
        server.AddEventHandler<HandleAuthorizationRequestContext>(b =>
            b.UseInlineHandler(context =>
            {
                if (Here is null)
                    context.Reject(Errors.AccessDenied);
                else
                    context.SignIn(Principal(Here, context.Request.GetScopes()));
                return default;
            })
        );
        // The client before its code, by RFC 6749, 3.2.1.
        server.AddEventHandler<ValidateTokenRequestContext>(b =>
            b.UseInlineHandler(context =>
                {
                    if (context.ClientId != Client || context.ClientSecret != Secret)
                        context.Reject(Errors.InvalidClient);
                    return default;
                })
                .SetOrder(int.MinValue)
        );
        server.AddEventHandler<HandleUserInfoRequestContext>(b =>
            b.UseInlineHandler(context =>
            {
                if (TellsGroupsWhenAsked)
                    context.Claims["groups"] = new OpenIddictParameter([.. Here!.Groups.Select(g => (string?)g)]);
                return default;
            })
        );
        server.AddEventHandler<ValidateEndSessionRequestContext>(b => b.UseInlineHandler(_ => default));
        server.AddEventHandler<HandleEndSessionRequestContext>(b =>
            b.UseInlineHandler(context =>
            {
                context.SignOut();
                return default;
            })
        );
    }

    private ClaimsPrincipal Principal(Known person, ImmutableArray<string> scopes)
    {
        var identity = new ClaimsIdentity("provider", Claims.Name, Claims.Role);
        identity.SetClaim(Claims.Subject, person.Subject).SetClaim(Claims.Name, person.Name).SetClaim(Claims.Email, person.Email).SetClaim(Claims.EmailVerified, person.Verified);
        identity.SetClaim("sid", person.Session);
        if (!TellsGroupsWhenAsked)
            identity.SetClaims("groups", [.. person.Groups]);
        if (person.Strong)
            identity.SetClaims("amr", ["pwd", "mfa"]);
        var principal = new ClaimsPrincipal(identity);
        principal.SetScopes(scopes);
        principal.SetDestinations(_ => [Destinations.IdentityToken, Destinations.AccessToken]);
        return principal;
    }

    /// <summary>A token by which it tells that a session has ended.</summary>
    public string EndToken(Known person, Action<Dictionary<string, object>>? changed = null, bool signed = true, string audience = Client)
    {
        var now = DateTime.UtcNow;
        var claims = new Dictionary<string, object>
        {
            ["sub"] = person.Subject,
            ["sid"] = person.Session,
            ["jti"] = Guid.NewGuid().ToString(),
            ["events"] = new Dictionary<string, object> { ["http://schemas.openid.net/event/backchannel-logout"] = new Dictionary<string, object>() },
        };
        changed?.Invoke(claims);
        return new JsonWebTokenHandler().CreateToken(
            new SecurityTokenDescriptor
            {
                Issuer = Issuer + "/",
                Audience = audience,
                IssuedAt = now,
                Expires = now.AddMinutes(2),
                Claims = claims,
                SigningCredentials = new SigningCredentials(signed ? Key : new RsaSecurityKey(RSA.Create(2048)) { KeyId = Key.KeyId }, SecurityAlgorithms.RsaSha256),
            }
        );
    }

    public async ValueTask DisposeAsync() => await _app.DisposeAsync();

    private sealed class Off(TestProvider provider) : TimeProvider
    {
        public override DateTimeOffset GetUtcNow() => base.GetUtcNow() + provider.Ahead;
    }
}
