using DapperLantern.Core.Fields;

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
            Test test => TestWords(test, catalogue.Find(test.Field)),
            _ => "",
        };

    /// <summary>The first test that keeps a record out, in words with what the record holds; null when the condition holds.</summary>
    public static string? FirstFailure(Condition condition, RecordValues record, NodaTime.Instant now)
    {
        if (ConditionPredicate.Compile(condition, record.Catalogue)(record, now))
            return null;
        if (condition is AllOf all)
            return all.Parts.Select(p => FirstFailure(p, record, now)).First(words => words is not null);
        if (condition is not Test test)
            return $"wants {Sentence(condition, record.Catalogue)}";
        var field = record.Catalogue[test.Field];
        var value = record[field.Ordinal];
        var wants = TestWords(test, field)[(field.Label.Length + 1)..];
        return value.IsKnown ? $"{Lower(field.Label)} is {field.Show(value.ToString())}, the rule wants: {wants}" : $"{Lower(field.Label)} is not known, the rule wants: {wants}";
    }

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
            TestOperator.AtLeast => $"{label} is {values} or more",
            TestOperator.AtMost => $"{label} is {values} or less",
            TestOperator.Between => $"{label} is {test.Values[0]} to {test.Values[1]}",
            TestOperator.Known => $"{label} is known",
            TestOperator.WithinDays => $"{label} is within {values} days",
            TestOperator.OlderThanDays => $"{label} is over {values} days ago",
            _ => $"{label} is past",
        };
    }

    private static string Label(Test test, FieldCatalogue catalogue) => Lower(catalogue.Find(test.Field)?.Label ?? test.Field);

    private static string Lower(string label) => label.Length > 1 && char.IsUpper(label[1]) ? label : char.ToLowerInvariant(label[0]) + label[1..];
}
