using System.Collections.Immutable;
using DapperLantern.App.Leads.Activities;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Routing;

namespace DapperLantern.App.Starting;

/// <param name="Way">One of <see cref="Ways"/>: the way in that it stands for.</param>
public sealed record SetSource(string Key, string Name, string Channel, string EventKind, string? Campaign = null, string Way = "");

public sealed record SetTag(string Key, string Name, string Group, string Colour);

public sealed record SetTeam(string Key, string Name);

public sealed record SetPipeline(
    string Key,
    string Name,
    IReadOnlyList<SetStage> Stages,
    string NameForm,
    int UsualDays,
    IReadOnlyList<Core.Qualifying.Question>? Questions = null
);

/// <param name="Counts">open, won or lost.</param>
public sealed record SetStage(string Key, string Name, int Probability, string Counts, string Colour, int? Days = null, string[]? Needs = null);

public sealed record SetForm(string Key, string Source, string Name, FormSheet Sheet);

/// <summary>A view everybody begins with.</summary>
public sealed record SetView(string Name, string Order, string[] Columns, Condition Where, string? Group = null, IReadOnlyList<Leads.QuickCondition>? Quick = null);

/// <summary>
/// All that a company of one kind of selling needs to begin with, from one file of the folder <c>sets</c> beside the program. The text <c>@country</c> in it stands for the company's
/// own country.
/// </summary>
/// <param name="About">A sentence: whom it is for.</param>
/// <param name="Model">The scoring model, in the form of <c>docs/scoring-model.schema.json</c>.</param>
/// <param name="Teams">The rule sheet gives leads to these.</param>
public sealed record StartingSet(
    string Key,
    string Name,
    string About,
    Dictionary<string, ImmutableArray<Choice>> ValueLists,
    IReadOnlyList<CustomField> CustomFields,
    IReadOnlyList<SetTag> Tags,
    IReadOnlyList<SetTeam> Teams,
    IReadOnlyList<SetSource> Sources,
    IReadOnlyList<SetPipeline> Pipelines,
    System.Text.Json.Nodes.JsonObject Model,
    RuleSheet Rules,
    IReadOnlyList<SetForm> Forms,
    IReadOnlyList<MessageTemplate> Templates,
    IReadOnlyList<StepPlan> StepPlans,
    IReadOnlyList<SetView> Views
);

/// <summary>Where leads come from, as a company says it before it has sources.</summary>
public static class Ways
{
    public static ImmutableArray<Choice> All { get; } =
    [
        new("form", "Forms on our web site"),
        new("list", "Lists, as from a data seller or another program"),
        new("telephone", "The telephone"),
        new("mailbox", "Letters to a mailbox of ours"),
        new("fair", "Fairs and other events"),
        new("recommendation", "Recommendations"),
        new("website", "Visits to our web site, told by another program"),
    ];
}
