using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Tests.Conditions;

/// <summary>Each reading of the condition language answers for each operator: one that is added cannot be forgotten in any.</summary>
public sealed class OperatorTests
{
    public static TheoryData<TestOperator> All => [.. Enum.GetValues<TestOperator>()];

    private static string Value(TestOperator test, FieldDefinition field, int at) =>
        ConditionCheck.IsDays(test) ? "7"
        : field.Type == FieldType.Date ? "2026-03-01T08:00:00Z"
        : field.IsNumeric ? $"{at + 3}"
        : at == 0 ? "a"
        : "b";

    [Theory]
    [MemberData(nameof(All))]
    public void EachOperatorFitsSomeFieldAndIsReadEverywhere(TestOperator test)
    {
        var fields = BuiltInFields
            .Facts.Where(f => f.Type is FieldType.Text or FieldType.Number or FieldType.Money or FieldType.Date && ConditionCheck.OperatorsOf(f).Contains(test))
            .DistinctBy(f => f.Type)
            .ToList();
        fields.ShouldNotBeEmpty();
        foreach (var field in fields)
        {
            var condition = Condition.Where(field.Key, test, [.. Enumerable.Range(0, ConditionCheck.ValuesNeeded(test)).Select(i => Value(test, field, i))]);
            ConditionCheck.Check(condition, Sample.Catalogue).ShouldBeEmpty($"{test} of {field.Key}");
            ConditionWords.Sentence(condition, Sample.Catalogue).ShouldNotBeNullOrEmpty();
            CellText.Write(condition, field).ShouldNotBeNullOrEmpty();
            Should.NotThrow(() => ConditionPredicate.Compile(condition, Sample.Catalogue)(new RecordValues(Sample.Catalogue), Sample.Now));
        }
    }
}
