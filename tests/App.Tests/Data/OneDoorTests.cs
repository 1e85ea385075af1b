using System.Text.RegularExpressions;
using DapperLantern.Tests.Shared;
using Shouldly;
using Xunit;

namespace DapperLantern.App.Tests.Data;

/// <summary>The program reaches the database through the context alone, but for named pieces of App/Data.</summary>
public sealed partial class OneDoorTests
{
    // A connection is opened by the context and its factory; and to listen, to ask whether the server is there, and to wait for it at start.
    private static readonly HashSet<string> Opens =
    [
        "Data/ReadInterceptor.cs",
        "Data/DatabaseListener.cs",
        "Data/DatabasePulse.cs",
        "Data/DatabaseStart.cs",
        "Data/LanternDbFactory.cs",
        "Data/Requests.cs",
    ];

    private static string App => Path.Combine(TestServer.Root, "src", "App");

    [Fact]
    public void NoStatementGoesPastTheContext() => Matching(Past()).Where(f => !Opens.Contains(f)).ShouldBeEmpty();

    [Fact]
    public void NoConnectionIsOpenedPastTheContext() => Matching(Opening()).Where(f => !Opens.Contains(f)).ShouldBeEmpty();

    private static IEnumerable<string> Matching(Regex pattern) =>
        Directory
            .EnumerateFiles(App, "*.cs", SearchOption.AllDirectories)
            .Where(f => !f.Contains("Migrations", StringComparison.Ordinal) && pattern.IsMatch(File.ReadAllText(f)))
            .Select(f => Path.GetRelativePath(App, f).Replace('\\', '/'));

    [GeneratedRegex(@"using Dapper;|SqlMapper|\.(QueryAsync|QuerySingleAsync|QueryMultipleAsync|ExecuteScalarAsync)\b")]
    private static partial Regex Past();

    [GeneratedRegex(@"\bNpgsqlConnection\b|\.OpenConnectionAsync\(|\.CreateConnection\(")]
    private static partial Regex Opening();
}
