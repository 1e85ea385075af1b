using System.Collections.Immutable;

namespace DapperLantern.Core.Routing;

/// <summary>Makes a sheet that came from outside whole: what was left out is empty, and what cannot be is refused.</summary>
public static class SheetSound
{
    /// <returns>Null when a rule, its condition or its outcome is missing.</returns>
    public static RuleSheet? Made(RuleSheet sheet)
    {
        var rules = OrNone(sheet.Rules);
        if (rules.Any(r => r is null || r.When is null || r.To is null))
            return null;
        return sheet with
        {
            Columns = [.. OrNone(sheet.Columns).Select(c => c ?? "")],
            Rules = [.. rules.Select(RuleOf)],
            Task = sheet.Task ?? "",
            Guards = [.. OrNone(sheet.Guards).Where(g => g is not null)],
            Moments = [.. OrNone(sheet.Moments).Where(m => m is not null)],
            Clock = sheet.Clock ?? ClockTerms.Usual,
        };
    }

    private static Rule RuleOf(Rule rule) =>
        rule with
        {
            Key = rule.Key ?? "",
            Name = rule.Name ?? "",
            Task = rule.Task ?? "",
            Message = rule.Message ?? "",
            Moments = [.. OrNone(rule.Moments).Where(m => m is not null)],
            To = OutcomeOf(rule.To),
        };

    private static RuleOutcome OutcomeOf(RuleOutcome to) =>
        to with
        {
            Skills = [.. OrNone(to.Skills).Where(s => s is not null)],
            Else = to.Else is null ? null : OutcomeOf(to.Else with { Else = null }),
        };

    private static ImmutableArray<T> OrNone<T>(ImmutableArray<T> list) => list.IsDefault ? [] : list;
}
