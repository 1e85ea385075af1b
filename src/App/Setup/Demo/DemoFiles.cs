using System.Collections.Immutable;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Setup.Demo;

public sealed record DemoPerson(string SignIn, string Name, Role Role, string TimeZone, int Capacity, string? Team, int Weight, int AwayDays, TimeOnly WorksFrom, TimeOnly WorksTo);

public sealed record DemoTeam(string Key, string Name);

public sealed record DemoCampaign(string Key, string Name, decimal Cost, int StartDaysAgo, int EndDaysAgo);

public sealed record DemoSource(string Key, string Name, string Channel, string EventKind, string? Campaign);

public sealed record DemoTag(string Key, string Name, string Group, string Colour);

/// <param name="Kind">person or domain.</param>
public sealed record DemoBarred(string Kind, string Value, string Why);

/// <param name="Stages">Each: key, name, probability, counts.</param>
public sealed record DemoPipeline(string Key, string Name, IReadOnlyList<JsonElement[]> Stages);

/// <summary>The file <c>demo/setup/setup.json</c>.</summary>
public sealed record DemoSetup(
    Dictionary<string, ImmutableArray<Choice>> ValueLists,
    IReadOnlyList<CustomField> CustomFields,
    IReadOnlyList<DemoPerson> People,
    IReadOnlyList<DemoTeam> Teams,
    IReadOnlyList<DemoCampaign> Campaigns,
    IReadOnlyList<DemoSource> Sources,
    IReadOnlyList<DemoPipeline> Pipelines,
    IReadOnlyList<string> LostReasons,
    IReadOnlyList<DemoTag> Tags,
    Campaigns.TagConvention TagConvention,
    IReadOnlyList<DemoBarred> Barred
);

public sealed record DemoPlace(int Weight, string[] First, string[] Last, string[] Cities, string[]? Regions, string[] Stems, string Legal);

/// <summary>The file <c>demo/setup/names.json</c>: invented names to make leads of.</summary>
public sealed record DemoNames(Dictionary<string, DemoPlace> Places, Dictionary<string, string[]> Kinds, string[] Titles, string[] Wants, string[] Notes);

public static class DemoFiles
{
    /// <exception cref="JsonException">The file does not have the form of <typeparamref name="T"/>.</exception>
    public static T Read<T>(string folder, string name) => Json.Read<T>(File.ReadAllText(Path.Combine(folder, "setup", name)));
}
