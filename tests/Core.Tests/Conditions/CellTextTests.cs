using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Tests.Conditions;

public sealed class CellTextTests
{
    private static FieldDefinition Field(string key) => Sample.Catalogue[key];

    [Theory]
    [InlineData("country", "\"NO\",\"SE\"")]
    [InlineData("country", "not(\"NO\")")]
    [InlineData("employees", ">= 60")]
    [InlineData("employees", "<= 50.5")]
    [InlineData("employees", "[10..20]")]
    [InlineData("employees", "5,7")]
    [InlineData("city", "null")]
    [InlineData("city", "? != null")]
    [InlineData("interest", "contains(lower case(?), \"buoy, \\\"large\\\"\")")]
    [InlineData("interest", "(contains(lower case(?), \"buoy\") or contains(lower case(?), \"probe\"))")]
    [InlineData("postal_code", "(lower case(?) >= \"80\" and (lower case(?) <= \"87\" or starts with(lower case(?), \"87\")))")]
    [InlineData("needed_by", "? >= date and time(\"2027-01-01T00:00:00Z\")")]
    [InlineData("created_at", "? in [now() - duration(\"P30D\")..now()]")]
    [InlineData("created_at", "? < now() - duration(\"P30D\")")]
    [InlineData("created_at", "? < now()")]
    [InlineData("employees", "not(? in [10..20]) and ? != null")]
    public void AsItIsReadItIsWritten(string field, string text) => CellText.Write(CellText.Read(text, Field(field)), Field(field)).ShouldBe(text);

    [Theory]
    [InlineData("")]
    [InlineData("-")]
    [InlineData("  - ")]
    public void AnEmptyCellAsksNothing(string text) => CellText.Read(text, Field("country")).ShouldBeNull();

    [Theory]
    [InlineData("country", "\"NO", "a text without its end at place 3")]
    [InlineData("country", "Norway", "\u201cNorway\u201d is not understood at place 1")]
    [InlineData("employees", ">= many", "\u201cmany\u201d is not understood at place 4")]
    [InlineData("employees", "[10..20", "something is missing at place 8")]
    [InlineData("interest", "matches(?, \"x\")", "\u201cmatches(?, \"x\")\u201d is not understood at place 1")]
    [InlineData("country", "\"NO\" + 1", "\u201c+ 1\u201d is not understood at place 6")]
    public void WhatIsNotUnderstoodIsSaidWithItsPlace(string field, string text, string said) =>
        Should.Throw<CellTextException>(() => CellText.Read(text, Field(field))).Message.ShouldBe(said);

    private static readonly Gen<Condition> Texts = Gen.OneOf(
        Gen.OneOfConst("a", "b", "a\"b", "c\\").Array[1, 2].Select(v => Condition.Where("interest", TestOperator.In, v)),
        Gen.OneOfConst("a", "ab").Array[1, 2].Select(v => Condition.Where("interest", TestOperator.Contains, v)),
        Gen.OneOfConst("a", "b").Select(v => Condition.Where("interest", TestOperator.StartsWith, v)),
        Gen.Const(Condition.Where("interest", TestOperator.BeginsBetween, "a", "b")),
        Gen.Const(Condition.Where("interest", TestOperator.Known))
    );

    private static readonly Gen<Condition> Numbers = Gen.OneOf(
        Gen.Int[0, 5].Select(n => Condition.Where("employees", TestOperator.AtLeast, $"{n}")),
        Gen.Int[0, 5].Select(n => Condition.Where("employees", TestOperator.AtMost, $"{n}")),
        Gen.Select(Gen.Int[0, 5], Gen.Int[0, 5], (a, b) => Condition.Where("employees", TestOperator.Between, $"{a}", $"{b}")),
        Gen.Int[0, 5].Array[1, 3].Select(n => Condition.Where("employees", TestOperator.In, [.. n.Select(x => $"{x}")])),
        Gen.Const(Condition.Where("employees", TestOperator.Known))
    );

    [Fact]
    public void WhateverACellSaysItSaysTheSameAfterItWasWrittenAndRead() =>
        Gen.OneOf(ConditionGen.Nested(Texts).Select(c => ("interest", c)), ConditionGen.Nested(Numbers).Select(c => ("employees", c)))
            .Sample(
                (field, cell) =>
                {
                    var read = CellText.Read(CellText.Write(cell, Field(field)), Field(field)) ?? Condition.Always;
                    var (before, after) = (ConditionPredicate.Compile(cell, Sample.Catalogue), ConditionPredicate.Compile(read, Sample.Catalogue));
                    string?[] texts = [null, "a", "b", "ab", "A b", "a\"b", "c\\", "c"];
                    int?[] numbers = [null, 0, 1, 2, 3, 4, 5, 6];
                    foreach (var record in field == "interest" ? texts.Select(t => Sample.Record(("interest", t))) : numbers.Select(n => Sample.Record(("employees", n))))
                        after(record, Sample.Now).ShouldBe(before(record, Sample.Now), CellText.Write(cell, Field(field)));
                },
                iter: 3000
            );
}
