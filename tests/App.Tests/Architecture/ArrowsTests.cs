using System.Text.RegularExpressions;
using DapperLantern.App.Data;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Architecture;

/// <summary>
/// Which folder of a layer knows which other. The lists are to grow shorter: a new arrow is a decision that is made here, with its reason in docs/decisions.md; one that is gone is struck out.
/// </summary>
public sealed class ArrowsTests
{
    private static readonly string[] App =
    [
        "Backups: Data Rights Setup Upkeep",
        "Campaigns: Data Events Intake Leads Rights Setup",
        "Company: Data Leads Rights Setup",
        "Data: Setup",
        "Deals: Data Events Handover Leads Qualifying Rights Setup",
        "Demo: Campaigns Company Data Deals Events Handover Intake Leads Routing Scoring Setup Starting",
        "Desk: Data Due Intake Leads Rights Scoring Setup",
        "Due: Data Events Leads Setup",
        "Events: Data Deals Due Intake Leads Rights Setup",
        "Fields: Data Setup",
        "Handing: Data Due Events Intake Leads People Rights Routing Setup",
        "Handover: Campaigns Data Deals Events Leads Matching Rights Routing Setup",
        "Intake: Campaigns Data Events Leads Matching Rights Routing Setup",
        "Leads: Campaigns Data Deals Due Events Handover Intake Matching Qualifying Rights Routing Scoring Setup",
        "Matching: Campaigns Data Events Handover Intake Leads Rights Setup",
        "Notices: Data Due Events Leads Rights Setup",
        "People: Company Data Due Events Leads Rights Routing Setup Starting",
        "Qualifying: Data Events Leads Routing Setup",
        "Reports: Data Rights Setup",
        "Rights: Campaigns Data Events Intake Leads Routing Setup",
        "Routing: Data Due Events Intake Leads Rights Scoring Setup",
        "Scoring: Data Intake Leads Rights Routing Setup",
        "Search: Data Rights Setup",
        "Setup: Campaigns Company Data Deals Events Intake Leads Matching Rights Routing Starting",
        "Starting: Campaigns Company Data Deals Intake Leads Rights Routing Setup",
        "Upkeep: Data Events Setup",
    ];

    private static readonly string[] Core =
    [
        "Campaigns: Fields",
        "Conditions: Fields",
        "Deals: Fields",
        "Events: Fields Handing Leads",
        "Handing: Routing",
        "Handover: Fields Matching",
        "Intake: Fields Matching",
        "Leads: Conditions Fields Intake Scoring",
        "Matching: Fields",
        "People: Fields",
        "Qualifying: Conditions Fields",
        "Routing: Conditions Fields Scoring",
        "Scoring: Conditions Fields",
        "Search: Fields",
    ];

    [Fact]
    public void FoldersOfTheServerKnowThoseThatAreAllowed() => Arrows("App").ShouldBe(App);

    [Fact]
    public void FoldersOfTheCoreKnowThoseThatAreAllowed() => Arrows("Core").ShouldBe(Core);

    [Fact]
    public void TheFieldsOfTheCoreKnowNoCapability() => Core.ShouldNotContain(a => a.StartsWith("Fields:", StringComparison.Ordinal));

    [Fact]
    public void EachFolderOfTheServerRegistersItself()
    {
        var folders = Directory.GetDirectories(Path.Combine(TestServer.Root, "src", "App")).Select(d => Path.GetFileName(d)).Where(d => d is not ("Data" or "bin" or "obj"));
        Capabilities.All.Select(c => c.GetType().Name).ShouldBe(folders.Select(f => $"{f}Capability"), ignoreOrder: true);
        var program = File.ReadAllText(Path.Combine(TestServer.Root, "src", "App", "Program.cs"));
        Regex.Matches(program, @"Add(?:Scoped|Transient|HostedService)<(\w+)>").Select(m => m.Groups[1].Value).ShouldBeEmpty();
    }

    private static List<string> Arrows(string layer)
    {
        var root = Path.Combine(TestServer.Root, "src", layer);
        var arrows = new SortedDictionary<string, SortedSet<string>>(StringComparer.Ordinal);
        foreach (var file in Directory.EnumerateFiles(root, "*.cs", SearchOption.AllDirectories))
        {
            var parts = Path.GetRelativePath(root, file).Split(Path.DirectorySeparatorChar);
            if (parts.Length == 1 || parts[0] is "bin" or "obj" || parts.Contains("Migrations"))
                continue;
            foreach (Match known in Regex.Matches(File.ReadAllText(file), $@"DapperLantern\.{layer}\.(\w+)"))
                if (known.Groups[1].Value is var other && other != parts[0] && Directory.Exists(Path.Combine(root, other)))
                    (arrows.TryGetValue(parts[0], out var all) ? all : arrows[parts[0]] = new SortedSet<string>(StringComparer.Ordinal)).Add(other);
        }
        return [.. arrows.Select(a => $"{a.Key}: {string.Join(' ', a.Value)}")];
    }
}
