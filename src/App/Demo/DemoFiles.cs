using System.Collections.Immutable;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Setup;
using DapperLantern.App.Starting;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;

namespace DapperLantern.App.Demo;

public sealed record DemoPerson(
    string SignIn,
    string Name,
    string Role,
    string TimeZone,
    int Capacity,
    string? Team,
    int Weight,
    int AwayDays,
    TimeOnly WorksFrom,
    TimeOnly WorksTo
)
{
    public string? StandIn { get; init; }
    public string[]? Languages { get; init; }
    public string[]? Skills { get; init; }
    public string[]? Serves { get; init; }
    public string? Holidays { get; init; }
}

/// <param name="Sender">The address its letters come from.</param>
public sealed record DemoOwner(string Name, string Street, string PostalCode, string City, string Country, string TimeZone, string TaxNumber, string Sender);

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

/// <summary>Something that is taken along to meetings.</summary>
public sealed record DemoResource(string Key, string Name);

/// <param name="Kind">person or domain.</param>
public sealed record DemoBarred(string Kind, string Value, string Why);

public sealed record DemoProduct(string Key, string Name, string Unit, string[] AlsoCalled, Dictionary<string, decimal> Prices);

/// <summary>The file <c>demo/setup/setup.json</c>.</summary>
public sealed record DemoSetup(
    Dictionary<string, ImmutableArray<Choice>> ValueLists,
    IReadOnlyList<CustomField> CustomFields,
    IReadOnlyList<DemoPerson> People,
    IReadOnlyList<SetTeam> Teams,
    IReadOnlyList<DemoCampaign> Campaigns,
    IReadOnlyList<SetSource> Sources,
    IReadOnlyList<SetPipeline> Pipelines,
    IReadOnlyList<DemoProduct> Products,
    IReadOnlyList<SetTag> Tags,
    Campaigns.TagConvention TagConvention,
    IReadOnlyList<DemoBarred> Barred,
    IReadOnlyList<DemoResource> Resources,
    IReadOnlyList<DemoCalendar> Calendars,
    DemoOwner Company,
    IReadOnlyList<MessageTemplate> Templates,
    IReadOnlyList<StepPlan> StepPlans
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

public sealed record DemoPlace(int Weight, string[] First, string[] Last, string[] Cities, string[]? Regions, string[] Stems, string Legal);

/// <summary>The file <c>demo/setup/names.json</c>: invented names to make leads of.</summary>
public sealed record DemoNames(Dictionary<string, DemoPlace> Places, Dictionary<string, string[]> Kinds, string[] Titles, string[] Wants, string[] Notes);

public static class DemoFiles
{
    /// <exception cref="JsonException">The file does not have the form of <typeparamref name="T"/>.</exception>
    public static T Read<T>(string folder, string name) => Json.Read<T>(File.ReadAllText(Path.Combine(folder, "setup", name)));
}
