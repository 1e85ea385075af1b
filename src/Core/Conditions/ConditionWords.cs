using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Conditions;

/// <summary>The reading of a condition for people: "country is Norway or Sweden".</summary>
public static class ConditionWords
{
    public static string Sentence(Condition condition, FieldCatalogue catalogue) =>
        condition switch
        {
            AllOf { Parts.Length: 0 } => "always",
            AnyOf { Parts.Length: 0 } => "never",
            AllOf all => string.Join(", ", all.Parts.Select(p => Inner(p, catalogue))),
            AnyOf any => string.Join(" or ", any.Parts.Select(p => Inner(p, catalogue))),
            Not { Part: Test { Operator: TestOperator.Known } test } => $"{Label(test, catalogue)} is not known",
            Not not => $"not ({Sentence(not.Part, catalogue)})",
            Test test => TestWords(test, catalogue.Asked(test.Field)),
            _ => "",
        };

    /// <summary>
    /// Compiles the question "why does this not hold?": the answer names the first test that keeps a record out, with what the record
    /// holds; null when the condition holds.
    /// </summary>
    public static Func<RecordValues, Instant, string?> FirstFailure(Condition condition, FieldCatalogue catalogue)
    {
        if (condition is AllOf all)
        {
            var parts = all.Parts.Select(p => FirstFailure(p, catalogue)).ToArray();
            return (record, now) => parts.Select(p => p(record, now)).FirstOrDefault(words => words is not null);
        }
        var holds = ConditionPredicate.Compile(condition, catalogue);
        if (condition is not Test test)
        {
            var sentence = $"wants {Sentence(condition, catalogue)}";
            return (record, now) => holds(record, now) ? null : sentence;
        }
        var field = catalogue.Asked(test.Field)!;
        var label = Lower(field.Label);
        var wants = TestWords(test, field)[(label.Length + 1)..];
        return (record, now) => holds(record, now) ? null : $"{label} is {Held(field, record)}, the rule wants: {wants}";
    }

    private static string Held(FieldDefinition field, RecordValues record) => record[field.Ordinal] is { IsKnown: true } value ? field.Show(value.ToString()) : "not known";

    private static string Inner(Condition part, FieldCatalogue catalogue) => part is AllOf or AnyOf ? $"({Sentence(part, catalogue)})" : Sentence(part, catalogue);

    private static string TestWords(Test test, FieldDefinition? field)
    {
        var label = Lower(field?.Label ?? test.Field);
        var values = string.Join(" or ", test.Values.Select(v => field is null || ConditionCheck.IsDays(test.Operator) ? v : field.Show(v)));
        return test.Operator switch
        {
            TestOperator.In => $"{label} is {values}",
            TestOperator.Contains => $"{label} contains {values}",
            TestOperator.StartsWith => $"{label} begins with {values}",
            TestOperator.BeginsBetween => $"{label} begins with {test.Values[0]} to {test.Values[1]}",
            TestOperator.AtLeast => $"{label} is {values} or more",
            TestOperator.AtMost => $"{label} is {values} or less",
            TestOperator.Between => $"{label} is {test.Values[0]} to {test.Values[1]}",
            TestOperator.Known => $"{label} is known",
            TestOperator.WithinDays => $"{label} is within {values} days",
            TestOperator.Since => $"{label} is {values} or later",
            TestOperator.Before => $"{label} is before {values}",
            TestOperator.OlderThanDays => $"{label} is over {values} days ago",
            TestOperator.Past => $"{label} is past",
            _ => throw new InvalidOperationException($"no words for {test.Operator}"),
        };
    }

    private static string Label(Test test, FieldCatalogue catalogue) => Lower(catalogue.Asked(test.Field)?.Label ?? test.Field);

    /// <summary>A field's label as it stands within a sentence.</summary>
    public static string LabelOf(FieldDefinition field) => Lower(field.Label);

    private static string Lower(string label) => label.Length > 1 && char.IsUpper(label[1]) ? label : char.ToLowerInvariant(label[0]) + label[1..];
}
