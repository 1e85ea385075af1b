using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing.Checking;

namespace DapperLantern.Core.Routing;

/// <summary>What can be said of a sheet line by line: whether it can be read, and whether what it names is there.</summary>
internal static class SheetForm
{
    private const int LongestWords = 200;

    // Follow from routing, or from what was done afterwards.
    private static readonly HashSet<string> Circular = ["owner", "clock_due_at", "next_step_at", "last_touch_at", "wake_at", "state_reason"];

    public static bool IsReadable(Rule rule, FieldCatalogue catalogue) =>
        rule.When is not null && !ConditionCheck.Check(rule.When, catalogue).Any() && RuleCells.Of(rule.When).Mixed.IsEmpty;

    public static IEnumerable<SheetFinding> Check(RuleSheet sheet, FieldCatalogue catalogue, SheetStaff staff) =>
        Columns(sheet, catalogue)
            .Concat(Terms(sheet, staff))
            .Concat(
                sheet
                    .Rules.Take(SheetCheck.MostRules)
                    .SelectMany((rule, i) => Named(sheet, i).Concat(Condition(rule, $"rules/{i}", catalogue)).Concat(Outcome(rule, $"rules/{i}/to", staff)))
            );

    private static SheetFinding Wrong(string code, string path, string found = "") => new(new Problem(code, path, found), true, []);

    private static SheetFinding Odd(string code, string path, string found = "") => new(new Problem(code, path, found), false, []);

    private static IEnumerable<SheetFinding> Columns(RuleSheet sheet, FieldCatalogue catalogue)
    {
        if (sheet.Rules.Length == 0)
            yield return Wrong("sheet-empty", "rules");
        if (sheet.Rules.Length > SheetCheck.MostRules)
            yield return Wrong("too-many-rules", "rules", $"{SheetCheck.MostRules}");
        if (sheet.Columns.Length > SheetCheck.MostColumns)
            yield return Wrong("sheet-too-wide", "columns", $"{SheetCheck.MostColumns}");
        for (var i = 0; i < sheet.Columns.Length; i++)
        {
            if (catalogue.Find(sheet.Columns[i]) is not { Origin: not FieldOrigin.Arrival })
                yield return Wrong("field-unknown", $"columns/{i}", sheet.Columns[i]);
            if (sheet.Columns.IndexOf(sheet.Columns[i]) < i)
                yield return Wrong("column-twice", $"columns/{i}", sheet.Columns[i]);
        }
        foreach (var (key, tests) in Tests(sheet, catalogue))
        {
            var column = $"columns/{Math.Max(0, sheet.Columns.IndexOf(key))}";
            var label = catalogue[key].Label;
            if (AxisPoints.AreWords(catalogue[key], tests) && tests.Any(t => t.Operator is TestOperator.StartsWith or TestOperator.BeginsBetween))
                yield return Wrong("text-mixed", column, label);
            if (tests.Any(t => t.Operator is TestOperator.Since or TestOperator.Before) && tests.Any(t => ConditionCheck.IsDays(t.Operator) || t.Operator == TestOperator.Past))
                yield return Wrong("date-mixed", column, label);
        }
    }

    private static IEnumerable<(string Key, List<Test> Tests)> Tests(RuleSheet sheet, FieldCatalogue catalogue) =>
        sheet.Rules.Where(r => IsReadable(r, catalogue)).SelectMany(r => ConditionFields.Tests(r.When)).GroupBy(t => t.Field).Select(g => (g.Key, g.ToList()));

    private static IEnumerable<SheetFinding> Terms(RuleSheet sheet, SheetStaff staff)
    {
        if (sheet.AnswerWithinMinutes is < 1 or > Most)
            yield return Wrong("minutes-range", "answerWithinMinutes", $"{sheet.AnswerWithinMinutes}");
        if (string.IsNullOrWhiteSpace(sheet.Task) || sheet.Task.Length > LongestWords)
            yield return Wrong("task-unfit", "task");
        foreach (var moment in sheet.Moments.Where(m => RoutingMoment.Choices.All(c => c.Key != m)))
            yield return Wrong("moment-unknown", "moments", moment);
        for (var i = 0; i < sheet.Guards.Length; i++)
            if (Guard.Kinds.All(k => k.Key != sheet.Guards[i].Kind) || sheet.Guards.Take(i).Any(g => g.Kind == sheet.Guards[i].Kind) || sheet.Guards[i].AwayDays is < 0 or > 365)
                yield return Wrong("guard-unfit", $"guards/{i}", sheet.Guards[i].Kind);
        if (sheet.Clock.WarnAtPercent is < 0 or > 99 || sheet.Clock.PassAtMost is < 0 or > 20 || ClockTerms.Choices.All(c => c.Key != sheet.Clock.OnExpiry))
            yield return Wrong("clock-unfit", "clock");
        foreach (var person in staff.Persons.Values.Where(p => p.Here).OrderBy(p => p.Name, StringComparer.Ordinal))
            if (InCircle(person, staff))
                yield return Wrong("stand-in-circle", "persons", person.Name);
    }

    private const int Most = 43_200;

    private static IEnumerable<SheetFinding> Named(RuleSheet sheet, int i)
    {
        var (rule, path) = (sheet.Rules[i], $"rules/{i}");
        if (string.IsNullOrEmpty(rule.Key) || sheet.Rules.Take(i).Any(r => r.Key == rule.Key))
            yield return Wrong("key-twice", path, rule.Key ?? "");
        if (string.IsNullOrWhiteSpace(rule.Name) || rule.Name.Length > 80)
            yield return Wrong("rule-unnamed", path);
        if (rule.AnswerWithinMinutes is < 1 or > Most)
            yield return Wrong("minutes-range", path, $"{rule.AnswerWithinMinutes}");
        if (rule.Task.Length > LongestWords || rule.Message.Length > 1000)
            yield return Wrong("task-unfit", path);
        foreach (var moment in rule.Moments.Where(m => RoutingMoment.Choices.All(c => c.Key != m)))
            yield return Wrong("moment-unknown", path, moment);
    }

    private static IEnumerable<SheetFinding> Condition(Rule rule, string path, FieldCatalogue catalogue)
    {
        if (rule.When is null)
            return [Wrong("value-missing", path)];
        var problems = ConditionCheck.Check(rule.When, catalogue).Select(p => new SheetFinding(p with { Path = path }, true, [])).ToList();
        if (problems.Count > 0)
            return problems;
        return RuleCells
            .Of(rule.When)
            .Mixed.Select(m => Wrong("rule-mixed", path, ConditionWords.Sentence(m, catalogue)))
            .Concat(ConditionFields.Of(rule.When).Where(Circular.Contains).Select(f => Wrong("rule-circular", path, catalogue.Find(f)?.Label ?? f)))
            .Concat(ValuesGone(rule, path, catalogue));
    }

    private static IEnumerable<SheetFinding> ValuesGone(Rule rule, string path, FieldCatalogue catalogue) =>
        from test in ConditionFields.Tests(rule.When)
        where test.Operator == TestOperator.In
        let field = catalogue.Find(test.Field)
        where field is { Choices.Length: > 0 } or { Type: FieldType.Country or FieldType.Region }
        from value in test.Values
        where
            field.Type == FieldType.Country ? Countries.NameOf(value) is null
            : field.Type == FieldType.Region ? Regions.NameOf(value) is null
            : field.Choices.All(c => c.Key != value)
        select Odd("value-gone", path, value);

    private static IEnumerable<SheetFinding> Outcome(Rule rule, string path, SheetStaff staff)
    {
        if (rule.To is not { } to || to.Ways != 1)
            return [Wrong("outcome-missing", path)];
        var named = Goal(to, path, staff);
        if (to.Else is { } otherwise)
            named = named.Concat(otherwise.Ways != 1 || otherwise.Else is not null ? [Wrong("outcome-missing", path)] : Goal(otherwise, path, staff));
        return named;
    }

    private static IEnumerable<SheetFinding> Goal(RuleOutcome to, string path, SheetStaff staff)
    {
        if (to.Hold is { } reason && (string.IsNullOrWhiteSpace(reason) || reason.Length > LongestWords))
            yield return Wrong("hold-reason", path);
        foreach (var skill in to.Skills.Where(s => !staff.Skills.Contains(s)))
            yield return Wrong("skill-gone", path, skill);
        if (to.Person is { } name)
        {
            if (staff.Persons.GetValueOrDefault(name) is not { Here: true } person)
                yield return Wrong("person-gone", path, name);
            else if (!person.HasHours)
                yield return Wrong("no-hours", path, person.Name);
        }
        if (to.Team is { } team)
        {
            if (!staff.Teams.TryGetValue(team, out var members))
                yield return Wrong("team-gone", path, team);
            else if (members.Count(m => staff.Persons.GetValueOrDefault(m) is { Here: true }) == 0)
                yield return Wrong("team-empty", path, team);
            else
                foreach (var member in members.Select(m => staff.Persons.GetValueOrDefault(m)).Where(p => p is { Here: true, HasHours: false }))
                    yield return Wrong("no-hours", path, member!.Name);
        }
        if (to.Serving && staff.Persons.Values.All(p => !p.Here || p.Serves.Count == 0))
            yield return Wrong("nobody-serves", path);
    }

    private static bool InCircle(StaffPerson person, SheetStaff staff)
    {
        var seen = new HashSet<string>();
        for (var at = person; at.StandIn is { } next && seen.Add(at.SignIn) && staff.Persons.TryGetValue(next, out var standing); at = standing)
            if (standing.SignIn == person.SignIn)
                return true;
        return false;
    }
}
