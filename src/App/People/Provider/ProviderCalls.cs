using System.Net;

namespace DapperLantern.App.People.Provider;

/// <summary>How the provider is called from here: it is waited for briefly, read up to a size, and not followed elsewhere.</summary>
internal static class ProviderCalls
{
    public static readonly TimeSpan Longest = TimeSpan.FromSeconds(10);
    private const int MostBytes = 1 << 20;

    public static SocketsHttpHandler Handler { get; } =
        new()
        {
            AllowAutoRedirect = false,
            UseCookies = false,
            ConnectTimeout = TimeSpan.FromSeconds(5),
            PooledConnectionLifetime = TimeSpan.FromMinutes(2),
            MaxResponseHeadersLength = 64,
            AutomaticDecompression = DecompressionMethods.All,
        };

    private static readonly HttpClient Client = new(Handler, disposeHandler: false) { Timeout = Longest, MaxResponseContentBufferSize = MostBytes };

    public static Task<HttpResponseMessage> Send(HttpRequestMessage request, CancellationToken cancel) => Client.SendAsync(request, cancel);
}
