using System.Collections.Immutable;
using DapperLantern.Core.Conditions;

namespace DapperLantern.Core.Routing;

/// <summary>The ordered routing rules of an edition; the first rule that holds decides.</summary>
/// <param name="Columns">Catalogue keys shown as columns of the sheet.</param>
/// <param name="AnswerWithinMinutes">Working minutes until a lead must be answered, unless the rule says otherwise.</param>
public sealed record RuleSheet(ImmutableArray<string> Columns, ImmutableArray<Rule> Rules, int AnswerWithinMinutes, string Task);

/// <param name="Key">Stable within the installation.</param>
/// <param name="Name">For people, in traces: "Norway, fish farming".</param>
public sealed record Rule(string Key, string Name, Condition When, Outcome To, int? AnswerWithinMinutes = null);

/// <summary>Where a rule sends a lead: exactly one of a person (by sign-in name), a team in turn (by key), or held with a reason.</summary>
public sealed record Outcome(string? Person = null, string? Team = null, string? Hold = null);
