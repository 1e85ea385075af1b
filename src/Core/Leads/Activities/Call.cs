using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Leads.Activities;

/// <summary>How a call ended.</summary>
public static class CallOutcome
{
    public const string Reached = "reached";

    /// <summary>A new one is a line here.</summary>
    public static ImmutableArray<Choice> All { get; } =
    [new(Reached, "Reached"), new("not_reached", "Not reached"), new("left_message", "Left a message"), new("call_back", "Will call back"), new("wrong_number", "Wrong number")];

    public static string? LabelOf(string? key) => All.FirstOrDefault(o => o.Key == key)?.Label;
}
