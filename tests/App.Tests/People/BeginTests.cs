using System.Net;
using DapperLantern.App.People;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.People;

/// <summary>A workspace without the demo: the first administrator, and the way in from the command line.</summary>
public sealed class BeginTests : IAsyncLifetime
{
    private const string Password = "seven quiet herons";

    private TestServer _server = null!;

    public async ValueTask InitializeAsync() => _server = await TestServer.StartEmpty();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    private async Task<(int Code, string Out, string Error)> Command(params string[] args)
    {
        using StringWriter output = new(),
            errors = new();
        var code = await WayInCommand.Run(_server.Services, args, output, errors);
        return (code, output.ToString().Trim(), errors.ToString());
    }

    // A rep who was invited and is in.
    private async Task<(PersonLine Person, TestClient Client)> Per(TestClient by)
    {
        var order = new
        {
            name = "Per Vik",
            email = "per@fjell.example",
            roles = new[] { "rep" },
            timeZone = "Europe/Oslo",
        };
        var person = (await by.Post("/api/setup/people", order)).Read<PersonLine>();
        var address = (await by.Post($"/api/setup/people/{person.Id}/link", new { send = false })).Read<OneTimeLink>().Address;
        var client = new TestClient(_server.Address);
        (await client.WayIn(address, new { password = Password })).Status.ShouldBe(HttpStatusCode.NoContent);
        return (person, client);
    }

    private static object First(string name = "Åse Fjell", string email = "ase@fjell.example") =>
        new
        {
            name,
            email,
            timeZone = "Europe/Oslo",
            password = Password,
        };

    [Fact]
    public async Task NobodyIsThereUntilTheFirstAddressIsOpened()
    {
        (await _server.Scalar<int>("select count(*) from person")).ShouldBe(0);
        var stranger = new TestClient(_server.Address);
        (await stranger.Get("/api/session")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await stranger.Get("/api/demo-sign-ins")).Body.ShouldBe("[]");
        var (code, address, _) = await Command("first");
        code.ShouldBe(0);
        (await stranger.Post("/api/way-in/look", new { key = address.Split('#')[1] })).Read<WayInView>().Kind.ShouldBe(LinkKind.Begin);
        (await stranger.WayIn(address, First(name: ""))).Problem.ShouldBe("name-missing");
        (await stranger.WayIn(address, First(email: "ase"))).Problem.ShouldBe("email-unreadable");
        (await stranger.WayIn(address, First())).Status.ShouldBe(HttpStatusCode.NoContent);
        (stranger.Session.Name, stranger.Session.Role).ShouldBe(("Åse Fjell", "Administrator"));
        // And from then on never again.
        (await new TestClient(_server.Address).WayIn(address, First("Eve", "eve@fjell.example"))).Problem.ShouldBe("link-over");
        (await Command("first")).Code.ShouldBe(WayInCommand.Begun);
        (await _server.Scalar<int>("select count(*) from person")).ShouldBe(1);
    }

    [Fact]
    public async Task OfManyWhoOpenTheFirstAddressAtOnceOneAdministers()
    {
        var (_, address, _) = await Command("first");
        var answers = await Task.WhenAll(Enumerable.Range(0, 6).Select(i => new TestClient(_server.Address).WayIn(address, First($"Person {i}", $"p{i}@fjell.example"))));
        answers.Count(a => a.Status == HttpStatusCode.NoContent).ShouldBe(1);
        (await _server.Scalar<int>("select count(*) from person")).ShouldBe(1);
    }

    [Fact]
    public async Task TheFirstInvitesTheOthersBeforeAnythingIsSetUp()
    {
        var first = new TestClient(_server.Address);
        (await first.WayIn((await Command("first")).Out, First())).Status.ShouldBe(HttpStatusCode.NoContent);
        var (person, per) = await Per(first);
        per.Session.Role.ShouldBe("Rep");
        (await first.Post($"/api/setup/people/{person.Id}/suspend")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task WhoRunsTheMachineLetsThemselvesIn()
    {
        var first = new TestClient(_server.Address);
        (await first.WayIn((await Command("first")).Out, First())).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Command("nobody")).Code.ShouldBe(2);
        (await Command()).Out.ShouldContain("ase.fjell  Åse Fjell");
        // The only administrator forgot the password.
        var (code, address, said) = await Command("ase@fjell.example");
        code.ShouldBe(0);
        said.ShouldContain("Åse Fjell is an administrator");
        var again = new TestClient(_server.Address);
        (await again.WayIn(address, new { password = "eight louder herons" })).Status.ShouldBe(HttpStatusCode.NoContent);
        again.Session.Name.ShouldBe("Åse Fjell");
        // Somebody who left, and was none, comes back as one.
        var (person, _) = await Per(again);
        (await again.Post($"/api/setup/people/{person.Id}/suspend")).Status.ShouldBe(HttpStatusCode.OK);
        var per = new TestClient(_server.Address);
        (await per.WayIn((await Command("per.vik")).Out, new { password = "nine other herons" })).Status.ShouldBe(HttpStatusCode.NoContent);
        (per.Session.Role, per.Session.Name).ShouldBe(("Administrator, Rep", "Per Vik"));
    }
}
