using System.Collections.Immutable;
using System.Globalization;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Routing;

/// <summary>A rule sheet read from a file.</summary>
/// <param name="Sheet">Null when it is no such file, or says something that a sheet cannot.</param>
/// <param name="Problems">What is wrong, each with its place in the file.</param>
public sealed record SheetReading(RuleSheet? Sheet, ImmutableArray<Problem> Problems)
{
    public static SheetReading Refused(params Problem[] problems) => new(null, [.. problems]);
}

/// <summary>A rule sheet as a table of texts, which is what files of several forms hold: a line a rule, what it asks, what comes of it.</summary>
public static class SheetTable
{
    /// <summary>Headings of what a rule gives, after the columns asked.</summary>
    public static ImmutableArray<string> Outputs { get; } = ["goes to", "else", "speaks the language", "skills", "answer within minutes", "task", "message", "urgent"];

    public const string Name = "name";
    public const string Key = "key";
    public const string Moments = "moments";

    /// <summary>The texts of a rule's outputs, in the order of <see cref="Outputs"/>.</summary>
    public static ImmutableArray<string> OutputsOf(Rule rule) =>
        [
            Goal(rule.To),
            rule.To.Else is { } other ? Goal(other) : "",
            YesNo(rule.To.Speaking),
            string.Join(" ", rule.To.Skills),
            rule.AnswerWithinMinutes?.ToString(CultureInfo.InvariantCulture) ?? "",
            rule.Task,
            rule.Message,
            YesNo(rule.Urgent),
        ];

    private static string YesNo(bool value) => value ? "yes" : "";

    private static string Goal(RuleOutcome to) =>
        to switch
        {
            { Person: { } person } => $"person {person}",
            { Team: { } team } => $"team {team}",
            { Serving: true } => "who serves the country",
            { Keep: true } => "whoever has it",
            _ => $"hold {to.Hold}",
        };

    /// <summary>The text of a rule's cell in a column.</summary>
    public static string CellOf(Rule rule, string column, FieldCatalogue catalogue) => CellText.Write(RuleCells.Of(rule.When).Cells.GetValueOrDefault(column), catalogue[column]);

    /// <summary>Every field that a sheet's rules ask, its columns first.</summary>
    public static ImmutableArray<string> ColumnsOf(RuleSheet sheet) => [.. sheet.Columns.Concat(sheet.Fields).Distinct()];

    /// <summary>Makes a rule of its texts.</summary>
    /// <param name="texts">By heading: fields by their keys, and those above.</param>
    /// <param name="place">Of a heading in the file, for problems.</param>
    public static Rule? RuleOf(
        IReadOnlyDictionary<string, string> texts,
        ImmutableArray<string> columns,
        FieldCatalogue catalogue,
        Func<string, string> place,
        List<Problem> problems
    )
    {
        var before = problems.Count;
        var cells = new Dictionary<string, Condition>();
        foreach (var column in columns)
            if (Cell(texts.GetValueOrDefault(column, ""), catalogue[column], place(column), problems) is { } cell)
                cells[column] = cell;
        var to = GoalOf(texts.GetValueOrDefault("goes to", ""), place("goes to"), problems);
        var other = texts.GetValueOrDefault("else", "") is { Length: > 0 } fallback ? GoalOf(fallback, place("else"), problems) : null;
        var minutes = MinutesOf(texts.GetValueOrDefault("answer within minutes", ""), place("answer within minutes"), problems);
        if (problems.Count > before)
            return null;
        return new Rule(
            texts.GetValueOrDefault(Key, ""),
            texts.GetValueOrDefault(Name, ""),
            RuleCells.Join(cells, columns),
            to! with
            {
                Else = other,
                Speaking = texts.GetValueOrDefault("speaks the language", "") == "yes",
                Skills = [.. texts.GetValueOrDefault("skills", "").Split(' ', StringSplitOptions.RemoveEmptyEntries)],
            },
            minutes
        )
        {
            Moments = [.. texts.GetValueOrDefault(Moments, "").Split(' ', StringSplitOptions.RemoveEmptyEntries)],
            Task = texts.GetValueOrDefault("task", ""),
            Message = texts.GetValueOrDefault("message", ""),
            Urgent = texts.GetValueOrDefault("urgent", "") == "yes",
        };
    }

    private static Condition? Cell(string text, FieldDefinition field, string place, List<Problem> problems)
    {
        try
        {
            return CellText.Read(text, field);
        }
        catch (CellTextException e)
        {
            problems.Add(new Problem("cell-unreadable", place, e.Message));
            return null;
        }
    }

    private static RuleOutcome? GoalOf(string text, string place, List<Problem> problems)
    {
        var words = text.Trim();
        if (words == "who serves the country")
            return new RuleOutcome { Serving = true };
        if (words == "whoever has it")
            return new RuleOutcome { Keep = true };
        if (words.Split(' ', 2) is [var kind, var named] && named.Trim() is { Length: > 0 } goal)
            switch (kind)
            {
                case "person":
                    return new RuleOutcome(Person: goal);
                case "team":
                    return new RuleOutcome(Team: goal);
                case "hold":
                    return new RuleOutcome(Hold: goal);
            }
        problems.Add(new Problem("goal-unreadable", place, words));
        return null;
    }

    private static int? MinutesOf(string text, string place, List<Problem> problems)
    {
        if (text.Trim().Length == 0)
            return null;
        if (int.TryParse(text.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out var minutes))
            return minutes;
        problems.Add(new Problem("number-unreadable", place, text));
        return null;
    }
}
