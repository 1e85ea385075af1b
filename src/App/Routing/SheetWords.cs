using System.Collections.Frozen;
using System.Collections.Immutable;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;

namespace DapperLantern.App.Routing;

/// <summary>A rule sheet as people read it, and the staff it is held against.</summary>
internal static class SheetWords
{
    public static SheetView Of(RuleSheet sheet, FieldCatalogue catalogue, RoutingContext desk) =>
        new(
            sheet,
            [
                .. sheet.Rules.Select(r =>
                {
                    var cells = RuleCells.Of(r.When).Cells;
                    return new RuleWords([.. sheet.Columns.Select(c => cells.TryGetValue(c, out var cell) ? Cell(cell, c, catalogue) : "")], To(r.To, desk));
                }),
            ]
        );

    // The column says the field, so the cell does not say it again.
    private static string Cell(Condition cell, string column, FieldCatalogue catalogue)
    {
        var words = ConditionWords.Sentence(cell, catalogue);
        if (catalogue.Asked(column) is not { } field)
            return words;
        if (cell is Test { Operator: TestOperator.In } test)
            return Listed([.. test.Values.Select(field.Show)]);
        if (cell is Not { Part: Test { Operator: TestOperator.In } not })
            return $"not {Listed([.. not.Values.Select(field.Show)])}";
        var label = ConditionWords.LabelOf(field);
        return words.Replace($"{label} is ", "", StringComparison.Ordinal).Replace($"{label} ", "", StringComparison.Ordinal);
    }

    private const int MostListed = 5;

    /// <summary>"Norway, Sweden or Denmark"; of many the first and how many more.</summary>
    public static string Listed(IReadOnlyList<string> values) =>
        values.Count switch
        {
            0 => "",
            1 => values[0],
            > MostListed + 1 => $"{string.Join(", ", values.Take(MostListed - 1))} or {values.Count - MostListed + 1} more",
            _ => $"{string.Join(", ", values.SkipLast(1))} or {values[^1]}",
        };

    public static string To(RuleOutcome to, RoutingContext desk)
    {
        var words = to switch
        {
            { Person: { } signIn } => desk.State.BySignIn(signIn)?.Name ?? $"{signIn}, who is no longer here",
            { Team: { } key } => desk.State.Teams.TryGetValue(key, out var team) ? $"{team.Name}, in turn" : $"{key}, which no longer exists",
            { Serving: true } => "Who serves the country, in turn",
            { Keep: true } => "Stays with whom it is",
            _ => $"The Desk: {to.Hold}",
        };
        return to.Else is { } otherwise ? $"{words}; else {To(otherwise, desk)}" : words;
    }

    public static SheetStaff Staff(RoutingContext desk, Workspace workspace) =>
        new(
            desk.Reps.Values.ToFrozenDictionary(
                r => r.SignIn,
                r => new StaffPerson(r.SignIn, r.Name, r.Here, desk.Hours[r.Id].HasHours, r.StandIn is { } id ? desk.Reps.GetValueOrDefault(id)?.SignIn : null, r.Serves)
            ),
            desk.Teams.ToFrozenDictionary(t => t.Key, t => t.Turns.Select(p => desk.Reps.GetValueOrDefault(p.Rep)?.SignIn).OfType<string>().ToImmutableArray()),
            [.. workspace.Skills.Select(s => s.Key)]
        );
}
