using System.Net;
using Microsoft.AspNetCore.HostFiltering;
using Microsoft.AspNetCore.HttpOverrides;

namespace DapperLantern.App.Setup;

/// <summary>How this workspace is reached: at which address, through which proxies.</summary>
internal static class Proxy
{
    /// <summary>Only proxies that are named (<c>Proxy:Addresses</c>) are believed about the visitor they stand before.</summary>
    public static void AddProxy(this WebApplicationBuilder builder)
    {
        builder.Services.Configure<ForwardedHeadersOptions>(o =>
        {
            o.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto;
            o.KnownProxies.Clear();
            o.KnownIPNetworks.Clear();
            var named = ProxySettings.Split(Settings.Read<ProxySettings>(builder.Configuration).Addresses);
            foreach (var network in named.Where(n => n.Contains('/', StringComparison.Ordinal)))
                o.KnownIPNetworks.Add(System.Net.IPNetwork.Parse(network));
            foreach (var address in named.Where(n => !n.Contains('/', StringComparison.Ordinal)))
                o.KnownProxies.Add(IPAddress.Parse(address));
            // Each one that is named is looked through; the first that is not is the visitor.
            o.ForwardLimit = named.Length == 0 ? 1 : null;
            if (named.Length == 0)
                o.ForwardedHeaders = ForwardedHeaders.None;
        });
        // The address people reach us by is always one of our hosts.
        builder.Services.PostConfigure<HostFilteringOptions>(o =>
        {
            var own = new Uri(Settings.Read<PublicSettings>(builder.Configuration).Address).Host;
            if (!o.AllowedHosts.Contains(own) && !o.AllowedHosts.Contains("*"))
                o.AllowedHosts = [.. o.AllowedHosts, own];
        });
    }
}
