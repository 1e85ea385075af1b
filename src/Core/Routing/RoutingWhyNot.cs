using System.Collections.Immutable;

namespace DapperLantern.Core.Routing;

/// <summary>Answers "why not me" from a decision as it was kept: who was passed over and why, or which rules would have led there and were not met.</summary>
public static class RoutingWhyNot
{
    /// <param name="rule">Key of the rule that decided; null for none.</param>
    /// <param name="lines">The trace of the decision.</param>
    /// <param name="verdicts">The rules in order up to the one that held.</param>
    /// <param name="teams">Those the person is in.</param>
    public static IEnumerable<string> Of(Rep person, RuleSheet sheet, string? rule, IReadOnlyList<TraceLine> lines, IReadOnlyList<RuleVerdict> verdicts, ImmutableArray<Team> teams)
    {
        if (lines.Count > 0 && lines[^1].Rep == person.Id)
            return [$"{person.Name} did get it: {lines[^1].Words}"];
        if (lines.Where(l => l.Rep == person.Id).Select(l => l.Words).ToList() is { Count: > 0 } said)
            return said;
        if (rule is null && lines.Any(l => l is { Kind: TraceKind.Guard, Hit: true }))
            return [$"It went to who owned something already, before any rule was asked. {lines[^1].Words}"];
        var at = sheet.Rules.ToList().FindIndex(r => r.Key == rule);
        if (at >= 0 && Leads(sheet.Rules[at].To, person, teams))
            return [$"{person.Name} could have got it by rule {at + 1}, but it was somebody else\u2019s turn. {lines[^1].Words}"];
        return Rules(person, sheet, at, verdicts, teams);
    }

    private static IEnumerable<string> Rules(Rep person, RuleSheet sheet, int at, IReadOnlyList<RuleVerdict> verdicts, ImmutableArray<Team> teams)
    {
        var failed = verdicts.ToDictionary(v => v.Rule);
        var any = false;
        for (var i = 0; i < sheet.Rules.Length; i++)
        {
            if (!Leads(sheet.Rules[i].To, person, teams))
                continue;
            any = true;
            yield return failed.GetValueOrDefault(i) is { Failed: { } why } ? $"Rule {i + 1}, {sheet.Rules[i].Name}, leads to {person.Name}, but {why}."
            : at >= 0 && i > at ? $"Rule {i + 1}, {sheet.Rules[i].Name}, leads to {person.Name}, but rule {at + 1} comes first and fits."
            : $"Rule {i + 1}, {sheet.Rules[i].Name}, leads to {person.Name}.";
        }
        if (!any)
            yield return $"No rule of the sheet leads to {person.Name}.";
    }

    private static bool Leads(RuleOutcome to, Rep person, ImmutableArray<Team> teams) =>
        to.Person == person.SignIn
        || (to.Team is { } key && teams.Any(t => t.Key == key))
        || (to.Serving && person.Serves.Count > 0)
        || (to.Else is { } other && Leads(other, person, teams));
}
