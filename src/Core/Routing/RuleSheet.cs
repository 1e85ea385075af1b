using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Routing;

/// <summary>The ordered routing rules of an edition, a decision table: a row each rule, a column each field asked. The first rule that holds decides.</summary>
/// <param name="Columns">Catalogue keys shown as columns of the sheet.</param>
/// <param name="AnswerWithinMinutes">Working minutes until a lead must be answered, unless the rule says otherwise.</param>
/// <param name="Task">Subject of the owner's first task, unless the rule says otherwise.</param>
public sealed record RuleSheet(ImmutableArray<string> Columns, ImmutableArray<Rule> Rules, int AnswerWithinMinutes, string Task)
{
    /// <summary>Who owns what is already there comes before the rules, in this order.</summary>
    public ImmutableArray<Guard> Guards { get; init; } = Guard.Usual;

    /// <summary>When the sheet is asked, of <see cref="RoutingMoment"/>; arrival always is.</summary>
    public ImmutableArray<string> Moments { get; init; } = [RoutingMoment.Arrival, RoutingMoment.GivenBack];

    public ClockTerms Clock { get; init; } = ClockTerms.Usual;

    /// <summary>Keys of the fields its rules ask, each once.</summary>
    [JsonIgnore]
    public IEnumerable<string> Fields => Rules.SelectMany(r => ConditionFields.Of(r.When)).Distinct();

    public static RuleSheet Empty { get; } = new([], [], 480, "First call");
}

/// <param name="Key">Stable within the workspace.</param>
/// <param name="Name">For people, in traces: "Norway, fish farming".</param>
/// <param name="When">All of what its cells want; each part asks one field.</param>
/// <param name="AnswerWithinMinutes">Working minutes until a lead must be answered; null for what the sheet says.</param>
public sealed record Rule(string Key, string Name, Condition When, RuleOutcome To, int? AnswerWithinMinutes = null)
{
    /// <summary>The moments it holds at; empty for arrival and giving back, when a lead needs somebody. At the others it stays with whom it is unless a rule says so.</summary>
    public ImmutableArray<string> Moments { get; init; } = [];

    /// <summary>Subject of the first task; empty for what the sheet says.</summary>
    public string Task { get; init; } = "";

    /// <summary>What the new owner reads beside "a lead was given to you"; may be empty.</summary>
    public string Message { get; init; } = "";

    /// <summary>True where the first task is to stand before the others.</summary>
    public bool Urgent { get; init; }

    public bool HoldsAt(string moment) => Moments.IsDefaultOrEmpty ? !RoutingMoment.Stays(moment) : Moments.Contains(moment);
}

/// <summary>
/// Where a rule sends a lead: exactly one of a person (by sign-in name), a team in turn (by key), all who serve its country in turn, kept with whom it is, or held
/// for the coordinator with a reason.
/// </summary>
public sealed record RuleOutcome(string? Person = null, string? Team = null, string? Hold = null)
{
    public bool Serving { get; init; }
    public bool Keep { get; init; }

    /// <summary>True to pass over who does not speak the lead's language, where that is known.</summary>
    public bool Speaking { get; init; }

    /// <summary>Skills a person must have; keys.</summary>
    public ImmutableArray<string> Skills { get; init; } = [];

    /// <summary>What to do where nobody of these can take it; null for the Desk. It has none of its own.</summary>
    public RuleOutcome? Else { get; init; }

    /// <summary>How many of the five ways are named; one is right.</summary>
    [JsonIgnore]
    public int Ways => (Person is null ? 0 : 1) + (Team is null ? 0 : 1) + (Hold is null ? 0 : 1) + (Serving ? 1 : 0) + (Keep ? 1 : 0);
}

/// <summary>Who is asked for before the rules: the owner of something the lead belongs to.</summary>
/// <param name="Kind">One of <see cref="Kinds"/>.</param>
/// <param name="On">False to look past it.</param>
/// <param name="AwayDays">An owner away for over so many days more is passed over, for whoever stands in or the next guard; null to pass over no one who is away, 0 all.</param>
public sealed record Guard(string Kind, bool On = true, int? AwayDays = 0)
{
    public const string Contact = "contact";
    public const string Account = "account";
    public const string Household = "household";
    public const string Company = "company";

    public static ImmutableArray<Choice> Kinds { get; } =
    [new(Contact, "Owner of the contact"), new(Account, "Owner of the account"), new(Household, "Owner of the household"), new(Company, "Owner of the company's other open leads")];

    public static ImmutableArray<Guard> Usual { get; } = [.. Kinds.Select(k => new Guard(k.Key))];
}

/// <summary>When a lead is looked at by the rules.</summary>
public static class RoutingMoment
{
    public const string Arrival = "arrival";
    public const string Cleared = "cleared";
    public const string Qualified = "qualified";
    public const string Handover = "handover";
    public const string GivenBack = "given_back";

    /// <summary>True of a moment at which a lead that no rule takes stays with whom it is.</summary>
    public static bool Stays(string moment) => moment is Cleared or Qualified or Handover;

    public static ImmutableArray<Choice> Choices { get; } =
    [new(Arrival, "On arrival"), new(Cleared, "On clearing the bar"), new(Qualified, "On qualification"), new(Handover, "On handover"), new(GivenBack, "On giving back")];
}

/// <summary>What happens as the time to answer runs out.</summary>
/// <param name="WarnAtPercent">The owner is warned once so much of the time is gone; 0 for no warning.</param>
/// <param name="OnExpiry">One of <see cref="Remind"/>, <see cref="TellManager"/>, <see cref="PassOn"/>.</param>
/// <param name="PassAtMost">So many times a lead is passed on to the next in turn; then it waits on the Desk.</param>
public sealed record ClockTerms(int WarnAtPercent, string OnExpiry, int PassAtMost)
{
    public const string Remind = "remind";
    public const string TellManager = "tell_manager";
    public const string PassOn = "pass_on";

    public static ClockTerms Usual { get; } = new(75, Remind, 2);

    public static ImmutableArray<Choice> Choices { get; } = [new(Remind, "Remind the owner"), new(TellManager, "Tell the manager"), new(PassOn, "Pass it on to the next in turn")];
}
