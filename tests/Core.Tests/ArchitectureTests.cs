using DapperLantern.Core.Fields;
using NetArchTest.Rules;

namespace DapperLantern.Core.Tests;

public sealed class ArchitectureTests
{
    [Fact]
    public void CoreKnowsNoWebNoDatabaseNoNetwork() =>
        Types
            .InAssembly(typeof(FieldCatalogue).Assembly)
            .ShouldNot()
            .HaveDependencyOnAny("Microsoft.AspNetCore", "Microsoft.EntityFrameworkCore", "Npgsql", "Dapper", "System.Net", "System.Data")
            .GetResult()
            .IsSuccessful.ShouldBeTrue();

    [Fact]
    public void CoreHasNoClockAndNoRandomnessOfItsOwn()
    {
        var source = Directory.EnumerateFiles(Path.Combine(Sample.Root, "src", "Core"), "*.cs", SearchOption.AllDirectories).Select(f => (f, Text: File.ReadAllText(f)));
        string[] banned = ["DateTime.Now", "DateTime.UtcNow", "SystemClock", "new Random", "Random.Shared", "Guid.NewGuid", "Guid.CreateVersion7"];
        source.Where(s => banned.Any(b => s.Text.Contains(b, StringComparison.Ordinal))).Select(s => s.f).ShouldBeEmpty();
    }
}
