using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests;

/// <summary>One workspace for the tests of a class.</summary>
public sealed class ServerFixture : IAsyncLifetime
{
    public TestServer Server { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Server = await TestServer.Start();

    public ValueTask DisposeAsync() => Server.DisposeAsync();
}
