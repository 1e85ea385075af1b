namespace DapperLantern.Browser.Tests;

/// <summary>A server with the demo and a browser at it, for the tests of a class.</summary>
public sealed class BrowserFixture : IAsyncLifetime
{
    public TestServer Server { get; private set; } = null!;
    public Browser Browser { get; private set; } = null!;

    public async ValueTask InitializeAsync()
    {
        Server = await TestServer.Start();
        Browser = new Browser(Server.Address);
        Browser.SignIn();
    }

    public ValueTask DisposeAsync()
    {
        Browser.Dispose();
        return Server.DisposeAsync();
    }
}
