using System.Net;
using DapperLantern.App.People;

namespace DapperLantern.App.Tests;

internal static class FirstAdministrator
{
    /// <summary>The first administrator of an empty workspace, signed in; they come in by an address of the command line.</summary>
    public static async Task<TestClient> First(this TestServer server, string name, string email, string timeZone)
    {
        using var said = new StringWriter();
        (await WayInCommand.Run(server.Services, ["first"], said, TextWriter.Null)).ShouldBe(0);
        var first = new TestClient(server.Address);
        var me = new
        {
            name,
            email,
            timeZone,
            password = "seven quiet herons",
        };
        (await first.WayIn(said.ToString().Trim(), me)).Status.ShouldBe(HttpStatusCode.NoContent);
        return first;
    }
}
