using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DapperLantern.Core.Conditions;

namespace DapperLantern.Core.Scoring;

/// <summary>A scoring model as kept in an edition: data, not code.</summary>
/// <param name="SaturatesFrom">
/// Where engagement begins to saturate, 0 to 100: up to here points simply add up, above each further one counts for less; see <see cref="Saturation"/>. At 100
/// the sum is only cut off.
/// </param>
public sealed record ScoringModel(
    Bars Bars,
    ImmutableArray<FitCriterion> Fit,
    ImmutableArray<EngagementSignal> Engagement,
    ImmutableArray<FitGroup> Groups,
    ImmutableArray<Veto> Vetoes,
    MoveNames Names,
    Silence? Silence = null,
    double SaturatesFrom = 50
)
{
    public ImmutableArray<FitCriterion> Fit { get; init; } = Fit.OrEmpty();
    public ImmutableArray<EngagementSignal> Engagement { get; init; } = Engagement.OrEmpty();
    public ImmutableArray<FitGroup> Groups { get; init; } = Groups.OrEmpty();
    public ImmutableArray<Veto> Vetoes { get; init; } = Vetoes.OrEmpty();
    public MoveNames Names { get; init; } = Names ?? MoveNames.Usual;

    /// <summary>Keys of the fields it asks, each once.</summary>
    [JsonIgnore]
    public IEnumerable<string> Fields => Fit.SelectMany(c => c.Lines).Select(l => l.When).Concat(Vetoes.Select(v => v.When)).SelectMany(ConditionFields.Of).Distinct();

    /// <summary>True when a fit may change by the passing of time alone, so that it has to be computed anew each day.</summary>
    [JsonIgnore]
    public bool Moves => Fit.SelectMany(c => c.Lines).Select(l => l.When).Concat(Vetoes.Select(v => v.When)).Any(ConditionFields.AskTheTime);
}

/// <summary>One question of fit: a table of values, ranges or conditions. The first line that surely holds gives the points; what is not known gives none.</summary>
/// <param name="Field">The catalogue field the question is mainly about; the lines may ask others as well.</param>
/// <param name="Group">Key of the group whose cap it shares; empty for none.</param>
public sealed record FitCriterion(string Key, string Label, string Field, ImmutableArray<FitLine> Lines, string Group = "")
{
    public ImmutableArray<FitLine> Lines { get; init; } = Lines.OrEmpty();
    public string Group { get; init; } = Group ?? "";

    /// <summary>Fewest points an answer could bring; 0 when no line holds is always possible.</summary>
    [JsonIgnore]
    public int Least => Math.Min(0, Lines.Select(l => l.Points).DefaultIfEmpty().Min());

    /// <summary>Most points an answer could bring.</summary>
    [JsonIgnore]
    public int Most => Math.Max(0, Lines.Select(l => l.Points).DefaultIfEmpty().Max());
}

/// <param name="Points">-100 to 100.</param>
/// <param name="Words">The reason as people read it.</param>
public sealed record FitLine(Condition When, int Points, string Words);

/// <summary>Criteria whose points together stay within bounds.</summary>
/// <param name="AtMost">Most the group gives; 0 or more.</param>
/// <param name="AtLeast">Least the group gives; 0 or less.</param>
public sealed record FitGroup(string Key, string Label, int AtMost, int AtLeast = -100);

/// <summary>What rules a lead out, whatever else is good about it: its fit is 0.</summary>
public sealed record Veto(string Key, Condition When, string Words);

/// <summary>What one kind of event is worth. The first signal of the model that an event answers to counts it, and no other.</summary>
/// <param name="Kind">Event kind as recorded, for instance <c>form.survey</c>.</param>
/// <param name="Points">Worth at the moment of the event, -100 to 100.</param>
/// <param name="HalfLifeDays">Days in which the worth halves; over 0.</param>
/// <param name="Cap">Most points, whatever their sign, that events give within any <see cref="WindowDays"/>; what goes beyond is never given.</param>
/// <param name="WindowDays">Days over which the cap holds; over 0.</param>
/// <param name="Once">True when only the first event of all counts.</param>
/// <param name="Pattern">What the event's detail (page, asset, form) must be like, <c>*</c> for anything, without regard to case; empty for whatever.</param>
/// <param name="Direction"><c>in</c> for what the lead did, <c>out</c> for what we did, empty for either.</param>
/// <param name="CampaignKind">Only events of campaigns of this kind; empty for whatever.</param>
public sealed record EngagementSignal(
    string Kind,
    string Label,
    double Points,
    double HalfLifeDays,
    double Cap,
    double WindowDays = 30,
    bool Once = false,
    string Pattern = "",
    string Direction = "",
    string CampaignKind = ""
)
{
    public string Pattern { get; init; } = Pattern ?? "";
    public string Direction { get; init; } = Direction ?? "";
    public string CampaignKind { get; init; } = CampaignKind ?? "";
}

/// <summary>Points, usually negative, for a lead that was active once and has been silent for the given days.</summary>
public sealed record Silence(int Days, double Points);

/// <summary>What an workspace calls the four quarters.</summary>
public sealed record MoveNames(string HandOver, string Nurture, string Check, string Park)
{
    public static MoveNames Usual { get; } = new("Hand over", "Nurture", "Check", "Park");
}

internal static class Lists
{
    /// <summary>A list that was left out of a file is an empty one.</summary>
    public static ImmutableArray<T> OrEmpty<T>(this ImmutableArray<T> list) => list.IsDefault ? [] : list;
}
