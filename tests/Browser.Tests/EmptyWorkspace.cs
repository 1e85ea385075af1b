using DapperLantern.App.Data;
using DapperLantern.App.People;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.Browser.Tests;

/// <summary>A workspace with nothing in it, for a test alone.</summary>
internal sealed class EmptyWorkspace : IDisposable
{
    private readonly TestServer _server = TestServer.StartEmpty().GetAwaiter().GetResult();

    public string Address => _server.Address;

    /// <summary>The path of a fresh address that makes the first administrator.</summary>
    public string FirstPath()
    {
        using var db = _server.Services.GetRequiredService<LanternDbFactory>().CreateDbContext();
        var link = _server.Services.GetRequiredService<OneTimeLinks>().Make(db, LinkKind.Begin, person: null, by: null).GetAwaiter().GetResult();
        return "/way-in#" + link.Address.Split('#')[1];
    }

    public void Dispose() => _server.DisposeAsync().AsTask().GetAwaiter().GetResult();
}
