using System.Collections.Immutable;
using DapperLantern.Core.Fields;

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

    /// <summary>True when a person may move a lead from one state to the other. A handed-over lead is read-only; only a handover hands over.</summary>
    public static bool MayMove(string from, string to) => from != HandedOver && to != HandedOver && Choices.Any(c => c.Key == to);

    /// <summary>True while the lead still asks something of its owner.</summary>
    public static bool IsOpen(string state) => state is New or InWork or OnHold or Qualified;
}
