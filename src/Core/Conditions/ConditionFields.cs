namespace DapperLantern.Core.Conditions;

/// <summary>What a condition asks.</summary>
public static class ConditionFields
{
    /// <summary>Keys of the fields, each once, in the order in which they are asked.</summary>
    public static IEnumerable<string> Of(Condition condition) => Tests(condition).Select(t => t.Field).Distinct();

    /// <summary>The single tests, in order.</summary>
    public static IEnumerable<Test> Tests(Condition condition) =>
        condition switch
        {
            AllOf all => all.Parts.SelectMany(Tests),
            AnyOf any => any.Parts.SelectMany(Tests),
            Not not => Tests(not.Part),
            Test test => [test],
            _ => [],
        };

    /// <summary>True when the answer may change by the passing of time alone.</summary>
    public static bool AskTheTime(Condition condition) => Tests(condition).Any(t => t.Operator is TestOperator.WithinDays or TestOperator.OlderThanDays or TestOperator.Past);
}
