using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using Microsoft.AspNetCore.Authentication.OpenIdConnect;
using Microsoft.Extensions.Options;
using Microsoft.IdentityModel.Protocols.OpenIdConnect;

namespace DapperLantern.App.People.Provider;

/// <summary>Where a session at the provider ends.</summary>
internal sealed class ProviderDoor(
    WorkspaceConfiguration configuration,
    IOptionsMonitor<OpenIdConnectOptions> options,
    [FromKeyedServices(ProviderSignIn.Scheme)] SecretSeal secrets,
    PublicSettings address,
    ILogger<ProviderDoor> log
) : IProviderDoor
{
    public async Task<string?> WayOut(string token, CancellationToken cancel)
    {
        if (configuration.Current.Provider.Settings is not { IsOn: true, SignsOut: true })
            return null;
        var of = options.Get(ProviderSignIn.Scheme);
        try
        {
            var known = await of.ConfigurationManager!.GetConfigurationAsync(cancel);
            if (string.IsNullOrEmpty(known.EndSessionEndpoint))
                return null;
            var message = new OpenIdConnectMessage
            {
                IssuerAddress = known.EndSessionEndpoint,
                ClientId = of.ClientId,
                PostLogoutRedirectUri = address.Of("/"),
            };
            if (secrets.Open(token) is { Length: > 0 } hint)
                message.IdTokenHint = hint;
            return message.CreateLogoutRequestUrl();
        }
        // The session here has ended all the same.
        catch (Exception e) when (e is InvalidOperationException or IOException or HttpRequestException)
        {
            log.LogWarning("The provider did not say where a session there ends: {Reason}", e.Message);
            return null;
        }
    }
}
