using System.Text.Json.Nodes;

namespace DapperLantern.App.Tests.Setup;

public sealed class ApiDescriptionTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static readonly System.Text.Json.JsonSerializerOptions Indented = new()
    {
        WriteIndented = true,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>Set <c>LANTERN_WRITE_API</c> to write the description anew; <c>./lantern api</c> does, and makes the typed client from it.</summary>
    [Fact]
    public async Task TheDescriptionTheClientIsMadeFromIsCurrent()
    {
        var served = JsonNode.Parse((await (await fixture.Server.SignIn("ingrid.brekke")).Get("/api/lantern.json")).Body)!.ToJsonString(Indented) + "\n";
        if (Environment.GetEnvironmentVariable("LANTERN_WRITE_API") is { } target)
            await File.WriteAllTextAsync(target, served);
        var kept = await File.ReadAllTextAsync(Path.Combine(TestServer.Root, "src", "client", "api", "openapi.json"));
        served.ShouldBe(kept, "the API changed; run ./lantern api");
    }

    [Fact]
    public async Task TheTypedClientIsMadeFromTheDescriptionAsItIs()
    {
        var client = Path.Combine(TestServer.Root, "src", "client");
        var fresh = Path.GetTempFileName();
        using var make = System.Diagnostics.Process.Start(
            "node",
            [Path.Combine(client, "node_modules/openapi-typescript/bin/cli.js"), Path.Combine(client, "api/openapi.json"), "-o", fresh]
        );
        await make.WaitForExitAsync();
        make.ExitCode.ShouldBe(0);
        (await File.ReadAllTextAsync(fresh)).ShouldBe(await File.ReadAllTextAsync(Path.Combine(client, "api", "schema.d.ts")));
        File.Delete(fresh);
    }

    [Fact]
    public async Task EveryGroupIsToldInASentence()
    {
        var tags = JsonNode.Parse(await File.ReadAllTextAsync(Path.Combine(TestServer.Root, "src", "client", "api", "openapi.json")))!["tags"]!.AsArray();
        tags.Where(t => (string?)t!["description"] is not { Length: > 10 } said || said[^1] != '.').Select(t => (string?)t!["name"]).ShouldBeEmpty();
        tags.Count.ShouldBeGreaterThan(20);
    }

    // The description knows a record by its name alone: two of one name would be told as one.
    [Fact]
    public void NoTwoRecordsOfTheInterfaceHaveTheSameName() =>
        typeof(App.Data.Json)
            .Assembly.GetTypes()
            .Where(t => t is { IsPublic: true, IsGenericType: false } && (t.Name.EndsWith("View", StringComparison.Ordinal) || t.GetMethod("<Clone>$") is not null))
            .GroupBy(t => t.Name)
            .Where(g => g.Count() > 1)
            .Select(g => g.Key)
            .ShouldBeEmpty();
}
