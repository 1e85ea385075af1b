using System.Text.RegularExpressions;
using DapperLantern.App.Data;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Data;

/// <summary>The sources hold to the one table of problems: every code stands there, with as many parameters as its sentence has places, and HTTP is made of problems in one place.</summary>
public sealed partial class ProblemsTests
{
    private static readonly Lazy<List<(string File, string Text)>> Sources = new(() =>
        [
            .. new[] { "App", "Core" }
                .SelectMany(p => Directory.EnumerateFiles(Path.Combine(TestServer.Root, "src", p), "*.cs", SearchOption.AllDirectories))
                .Select(f => (Path.GetRelativePath(TestServer.Root, f).Replace('\\', '/'), File.ReadAllText(f))),
        ]
    );

    private static readonly Dictionary<string, int> Places = ProblemWords.All.ToDictionary(e => e.Key, e => PlacesOf(e.Value));

    [Fact]
    public void EveryCodeStandsInTheTableWithItsParameters()
    {
        var (wrong, calls) = (new List<string>(), 0);
        foreach (var (file, text) in Sources.Value)
        foreach (Match call in Call().Matches(text))
        {
            var arguments = Arguments(text, call.Index + call.Length);
            // A problem that is made elsewhere is looked at there.
            foreach (Match code in Code().Matches(arguments[0].Contains('(') || arguments[0].Contains(" with ") ? "" : arguments[0]))
            {
                calls++;
                var given = Math.Max(0, arguments.Count - 2);
                if (!Places.TryGetValue(code.Groups["code"].Value, out var places))
                    wrong.Add($"{file}: {code.Value} is not in the table");
                else if (given != places)
                    wrong.Add($"{file}: {code.Value} has {places} places and gets {given}");
            }
        }
        wrong.ShouldBeEmpty(string.Join("\n", wrong));
        calls.ShouldBeGreaterThan(300);
    }

    [Fact]
    public void EveryEntryOfTheTableIsUsed()
    {
        var others = string.Join("\n", Sources.Value.Where(s => !s.File.EndsWith("/ProblemWords.cs", StringComparison.Ordinal)).Select(s => s.Text));
        Places.Keys.Where(code => !others.Contains($"\"{code}\"", StringComparison.Ordinal)).ShouldBeEmpty();
    }

    [Fact]
    public void HttpIsMadeOfProblemsInOnePlace()
    {
        Sources
            .Value.Where(s => s.Text.Contains("TypedResults.Problem(", StringComparison.Ordinal))
            .Select(s => s.File)
            // The public forms speak the language of their visitors.
            .ShouldBe(["src/App/Data/ApiProblems.cs", "src/App/Intake/Forms/PublicForms.cs"], ignoreOrder: true);
        Sources
            .Value.Where(s => s.Text.Contains("ProblemHttpResult", StringComparison.Ordinal) && !Maps().IsMatch(s.Text))
            .Select(s => s.File)
            .ShouldBe(["src/App/Data/ApiProblems.cs", "src/App/Setup/Boundary.cs"], ignoreOrder: true);
    }

    [Theory]
    [InlineData(ProblemKind.Invalid, 422)]
    [InlineData(ProblemKind.Conflict, 409)]
    [InlineData(ProblemKind.NotFound, 404)]
    [InlineData(ProblemKind.Forbidden, 403)]
    [InlineData(ProblemKind.Unsigned, 401)]
    [InlineData(ProblemKind.Stale, 412)]
    [InlineData(ProblemKind.Unreadable, 400)]
    [InlineData(ProblemKind.TooLarge, 413)]
    [InlineData(ProblemKind.TooMany, 429)]
    [InlineData(ProblemKind.Broken, 500)]
    [InlineData(ProblemKind.Away, 503)]
    public void EachKindHasItsStatus(ProblemKind kind, int status) => ApiProblems.StatusOf(kind).ShouldBe(status);

    [Fact]
    public void AProblemIsToldWithItsTypeItsSentenceAndItsField()
    {
        var details = ApiProblems.Of("batch-size", "items", 1000, 1204).ProblemDetails;
        (details.Status, details.Type, details.Detail, details.Extensions["field"]).ShouldBe(
            (422, "/problems/batch-size", "A batch has 1 to 1,000 items; this one has 1,204. Nothing was kept.", "items")
        );
        ApiProblems.Of("stale").ProblemDetails.Extensions.ShouldNotContainKey("field");
    }

    private static int PlacesOf(string sentence) => Place().Matches(sentence.Replace("{{", "", StringComparison.Ordinal)).Select(m => m.Value).Distinct().Count();

    // The arguments of a call, from behind its opening bracket to its closing one.
    private static List<string> Arguments(string text, int from)
    {
        var (arguments, depth, start, quoted) = (new List<string>(), 0, from, false);
        for (var i = from; ; i++)
            switch (text[i])
            {
                case '\\':
                    i++;
                    break;
                case '"':
                    quoted = !quoted;
                    break;
                case '(' or '[' or '{' when !quoted:
                    depth++;
                    break;
                case ')' when !quoted && depth == 0:
                    arguments.Add(text[start..i]);
                    return [.. arguments.Where(a => a.Trim().Length > 0)];
                case ')' or ']' or '}' when !quoted:
                    depth--;
                    break;
                case ',' when !quoted && depth == 0:
                    arguments.Add(text[start..i]);
                    start = i + 1;
                    break;
            }
    }

    [GeneratedRegex(@"\b(?:Problem\.Of|ApiProblems\.Of|new Problem)\(")]
    private static partial Regex Call();

    [GeneratedRegex(@"""(?<code>[a-z]+(?:-[a-z]+)*)""(?!\s*\?|\s+or\b)")]
    private static partial Regex Code();

    [GeneratedRegex(@"\{\d\}")]
    private static partial Regex Place();

    [GeneratedRegex(@"\.Map(?:Get|Post|Put|Delete|Patch|Methods)\(")]
    private static partial Regex Maps();
}
