using System.Collections.Immutable;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Leads;

/// <summary>Where a lead stands, and which changes people may make by hand.</summary>
public static class LeadState
{
    public const string New = "new";
    public const string InWork = "in_work";
    public const string OnHold = "on_hold";
    public const string Qualified = "qualified";
    public const string HandedOver = "handed_over";
    public const string Disqualified = "disqualified";

    public static ImmutableArray<Choice> Choices { get; } =
    [new(New, "New"), new(InWork, "In work"), new(OnHold, "On hold"), new(Qualified, "Qualified"), new(HandedOver, "Handed over"), new(Disqualified, "Disqualified")];

    /// <summary>Why a lead is disqualified, as shipped; an workspace may have its own.</summary>
    public static ImmutableArray<Choice> Reasons { get; } =
    [
        new("too_dear", "Too dear"),
        new("went_silent", "Went silent"),
        new("chose_another", "Chose another"),
        new("no_match", "Not a match"),
        new("declined", "We declined"),
        new("budget_moved", "Budget moved"),
    ];

    /// <summary>Key of the list, and of the field, of finer steps within a state that a company makes for itself.</summary>
    public const string SubState = "sub_state";

    /// <summary>States that may have such steps: all that people put a lead in.</summary>
    public static ImmutableArray<Choice> Divisible { get; } = [.. Choices.Where(c => c.Key != HandedOver)];

    /// <summary>The key of a step: its state, a colon, and a name of its own.</summary>
    public static string SubStateKey(string state, string name) => $"{state}:{name}";

    /// <summary>The state that a step belongs to, by the key of the step.</summary>
    public static string StateOf(string subState) => subState.Split(':')[0];

    /// <summary>A lead sleeps at most so long.</summary>
    public static Duration LongestHold { get; } = Duration.FromDays(5 * 366);

    /// <summary>What a change of state lacks; null when nothing. On hold needs the moment it wakes, disqualified one of the reasons.</summary>
    /// <param name="reasons">The reasons there are.</param>
    public static Problem? Lacks(string to, string? reason, Instant? wakes, IEnumerable<Choice> reasons, Instant now) =>
        to switch
        {
            OnHold when wakes is null || wakes <= now => new Problem("wake-missing", "wakeAt"),
            OnHold when wakes > now + LongestHold => new Problem("wake-far", "wakeAt"),
            Disqualified when reasons.All(r => r.Key != reason) => new Problem("reason-missing", "reason"),
            _ => null,
        };

    /// <summary>True when a person may move a lead from one state to the other. A handed-over lead is read-only; only a handover hands over.</summary>
    public static bool MayMove(string from, string to) => from != HandedOver && to != HandedOver && Choices.Any(c => c.Key == to);

    /// <summary>True while the lead still asks something of its owner.</summary>
    public static bool IsOpen(string state) => state is New or InWork or OnHold or Qualified;
}
