using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Conditions;

/// <summary>What a condition is asked of: a record by itself, or in the database, with everything around it.</summary>
public enum ConditionReach
{
    Record,
    Database,
}

/// <summary>Holds a condition against the catalogue before it is used: fields exist and can be asked there, operators fit the type, values parse.</summary>
public static class ConditionCheck
{
    public static IEnumerable<Problem> Check(Condition condition, FieldCatalogue catalogue, ConditionReach reach = ConditionReach.Record) =>
        condition switch
        {
            AllOf all => all.Parts.SelectMany(p => Check(p, catalogue, reach)),
            AnyOf any => any.Parts.SelectMany(p => Check(p, catalogue, reach)),
            Not not => Check(not.Part, catalogue, reach),
            Test test => CheckTest(test, catalogue.Asked(test.Field), reach),
            _ => [],
        };

    private static IEnumerable<Problem> CheckTest(Test test, FieldDefinition? field, ConditionReach reach)
    {
        if (field is null or { Origin: FieldOrigin.Arrival })
            return [new Problem("field-unknown", test.Field, test.Field)];
        if (field.Origin == FieldOrigin.Related && reach == ConditionReach.Record)
            return [new Problem("field-around", field.Key, field.Label)];
        if (!Fits(test.Operator, field.Type))
            return [new Problem("operator-unfit", field.Key, ConditionJson.NameOf(test.Operator))];
        if (test.Values.Length < ValuesNeeded(test.Operator))
            return [new Problem("value-missing", field.Key)];
        return test.Values.Where(v => !Parses(test.Operator, field, v)).Select(v => new Problem("number-unreadable", field.Key, v));
    }

    private static bool Parses(TestOperator test, FieldDefinition field, string value) =>
        IsDays(test) ? FieldValue.Parse(FieldType.Number, value) is { IsKnown: true, Number: >= 0 and <= 36500 } : FieldValue.Parse(field.Type, value).IsKnown;

    /// <summary>The operators that fit a field.</summary>
    public static IEnumerable<TestOperator> OperatorsOf(FieldDefinition field) => Enum.GetValues<TestOperator>().Where(o => Fits(o, field.Type));

    private static bool Fits(TestOperator test, FieldType type) =>
        test switch
        {
            TestOperator.Known => true,
            TestOperator.In => type != FieldType.Date,
            TestOperator.Contains or TestOperator.StartsWith or TestOperator.BeginsBetween => type is not (FieldType.Number or FieldType.Money or FieldType.Date),
            TestOperator.AtLeast or TestOperator.AtMost or TestOperator.Between => type is FieldType.Number or FieldType.Money,
            TestOperator.WithinDays or TestOperator.OlderThanDays or TestOperator.Past or TestOperator.Since or TestOperator.Before => type == FieldType.Date,
            _ => throw new InvalidOperationException($"it is not said which fields {test} fits"),
        };

    /// <summary>True for operators whose value is a number of days, whatever the field holds.</summary>
    public static bool IsDays(TestOperator test) => test is TestOperator.WithinDays or TestOperator.OlderThanDays;

    /// <summary>How many values an operator takes at least: none, one, or two.</summary>
    public static int ValuesNeeded(TestOperator test) =>
        test switch
        {
            TestOperator.Known or TestOperator.Past => 0,
            TestOperator.Between or TestOperator.BeginsBetween => 2,
            TestOperator.In
            or TestOperator.Contains
            or TestOperator.StartsWith
            or TestOperator.AtLeast
            or TestOperator.AtMost
            or TestOperator.WithinDays
            or TestOperator.OlderThanDays
            or TestOperator.Since
            or TestOperator.Before => 1,
            _ => throw new InvalidOperationException($"it is not said how many values {test} takes"),
        };
}
