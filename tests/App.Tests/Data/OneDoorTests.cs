using System.Text.RegularExpressions;
using DapperLantern.Tests.Shared;
using Shouldly;
using Xunit;

namespace DapperLantern.App.Tests.Data;

/// <summary>
/// The program reaches the database through the context alone. Statements of the older way are counted by capability: a number here is lowered as a capability goes over to LINQ and
/// interpolated SQL, and never raised.
/// </summary>
public sealed partial class OneDoorTests
{
    private static readonly Dictionary<string, int> Left = new()
    {
        ["Data"] = 25,
        ["Deals"] = 38,
        ["Desk"] = 1,
        ["Handover"] = 59,
        ["Intake"] = 139,
        ["Leads"] = 113,
        ["Matching"] = 71,
        ["Qualifying"] = 1,
        ["Rights"] = 24,
        ["Routing"] = 50,
        ["Scoring"] = 18,
        ["Search"] = 7,
        ["Setup"] = 44,
    };

    // A connection is opened by the context and its factory; and to listen, to ask whether the server is there, and to wait for it at start.
    private static readonly HashSet<string> Opens = ["Data/DatabaseListener.cs", "Data/DatabasePulse.cs", "Data/DatabaseStart.cs", "Data/LanternDbFactory.cs", "Data/Requests.cs"];

    public static TheoryData<string> Capabilities => [.. Directory.GetDirectories(App).Select(d => Path.GetFileName(d)).Order(StringComparer.Ordinal)];

    private static string App => Path.Combine(TestServer.Root, "src", "App");

    [Theory]
    [MemberData(nameof(Capabilities))]
    public void StatementsOfTheOlderWayOnlyBecomeFewer(string capability) =>
        Files(Path.Combine(App, capability)).Sum(f => Older().Count(File.ReadAllText(f))).ShouldBe(Left.GetValueOrDefault(capability), $"in {capability}");

    [Fact]
    public void NoConnectionIsOpenedPastTheContext() =>
        Files(App).Where(f => Opening().IsMatch(File.ReadAllText(f))).Select(f => Path.GetRelativePath(App, f).Replace('\\', '/')).Where(f => !Opens.Contains(f)).ShouldBeEmpty();

    private static IEnumerable<string> Files(string folder) =>
        Directory.EnumerateFiles(folder, "*.cs", SearchOption.AllDirectories).Where(f => !f.Contains("Migrations", StringComparison.Ordinal));

    [GeneratedRegex(@"\.(QueryAsync|QuerySingleAsync|QuerySingleOrDefaultAsync|QueryFirstOrDefaultAsync|QueryMultipleAsync|ExecuteAsync)\b")]
    private static partial Regex Older();

    [GeneratedRegex(@"\bNpgsqlConnection\b|\.OpenConnectionAsync\(|\.CreateConnection\(")]
    private static partial Regex Opening();
}
