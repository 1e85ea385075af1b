using System.Collections.Immutable;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Demo;

public sealed record DemoPerson(string SignIn, string Name, Role Role, string TimeZone, int Capacity, string? Team, int Weight, int AwayDays, TimeOnly WorksFrom, TimeOnly WorksTo)
{
    public string? StandIn { get; init; }
    public string[]? Languages { get; init; }
    public string[]? Skills { get; init; }
    public string[]? Serves { get; init; }
    public string? Holidays { get; init; }
}

public sealed record DemoTeam(string Key, string Name);

/// <param name="File">An iCalendar file beside the setup.</param>
public sealed record DemoCalendar(string Key, string Name, string File);

/// <param name="Costs">Money spent: days ago, for what, how much.</param>
public sealed record DemoCampaign(
    string Key,
    string Name,
    string Kind,
    string Owner,
    string About,
    decimal? Budget,
    int? Target,
    int StartDaysAgo,
    int EndDaysAgo,
    IReadOnlyList<DemoCost> Costs,
    DemoReach? Reach = null
);

public sealed record DemoCost(int DaysAgo, string What, decimal Amount);

/// <summary>A campaign that went to people we knew: of every 100 known then, so many were sent it, and did so much about it.</summary>
public sealed record DemoReach(int DaysAgo, int Sent, int Opened, int Clicked, int Answered, int Declined);

public sealed record DemoSource(string Key, string Name, string Channel, string EventKind, string? Campaign);

/// <summary>Something that is taken along to meetings.</summary>
public sealed record DemoResource(string Key, string Name);

public sealed record DemoTag(string Key, string Name, string Group, string Colour);

/// <param name="Kind">person or domain.</param>
public sealed record DemoBarred(string Kind, string Value, string Why);

/// <param name="Stages">Each: key, name, probability, counts.</param>
public sealed record DemoPipeline(
    string Key,
    string Name,
    IReadOnlyList<DemoStage> Stages,
    string NameForm,
    int UsualDays,
    IReadOnlyList<Core.Qualifying.Question>? Questions = null
);

public sealed record DemoStage(string Key, string Name, int Probability, string Counts, string Colour, int? Days = null, string[]? Needs = null);

public sealed record DemoProduct(string Key, string Name, string Unit, string[] AlsoCalled, Dictionary<string, decimal> Prices);

/// <summary>The file <c>demo/setup/setup.json</c>.</summary>
public sealed record DemoSetup(
    Dictionary<string, ImmutableArray<Choice>> ValueLists,
    IReadOnlyList<CustomField> CustomFields,
    IReadOnlyList<DemoPerson> People,
    IReadOnlyList<DemoTeam> Teams,
    IReadOnlyList<DemoCampaign> Campaigns,
    IReadOnlyList<DemoSource> Sources,
    IReadOnlyList<DemoPipeline> Pipelines,
    IReadOnlyList<DemoProduct> Products,
    IReadOnlyList<DemoTag> Tags,
    Campaigns.TagConvention TagConvention,
    IReadOnlyList<DemoBarred> Barred,
    IReadOnlyList<DemoResource> Resources,
    IReadOnlyList<DemoCalendar> Calendars
)
{
    private const int DaysAfter = 14;

    /// <summary>The campaign by which somebody came in through a source: the source's own while it ran, and two weeks longer.</summary>
    public string? CampaignAt(string source, DateTime at, DateTime now) =>
        Campaigns
            .FirstOrDefault(c =>
                c.Key == Sources.First(s => s.Key == source).Campaign && at.Date >= now.Date.AddDays(-c.StartDaysAgo) && at.Date <= now.Date.AddDays(DaysAfter - c.EndDaysAgo)
            )
            ?.Key;
}

/// <summary>A view everybody begins with.</summary>
public sealed record DemoView(
    string Name,
    string Order,
    string[] Columns,
    Core.Conditions.Condition Where,
    string? Group = null,
    IReadOnlyList<Leads.QuickCondition>? Quick = null
);

public sealed record DemoPlace(int Weight, string[] First, string[] Last, string[] Cities, string[]? Regions, string[] Stems, string Legal);

/// <summary>The file <c>demo/setup/names.json</c>: invented names to make leads of.</summary>
public sealed record DemoNames(Dictionary<string, DemoPlace> Places, Dictionary<string, string[]> Kinds, string[] Titles, string[] Wants, string[] Notes);

public static class DemoFiles
{
    /// <exception cref="JsonException">The file does not have the form of <typeparamref name="T"/>.</exception>
    public static T Read<T>(string folder, string name) => Json.Read<T>(File.ReadAllText(Path.Combine(folder, "setup", name)));
}
