using System.Text.Json;
using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Tests.Conditions;

public sealed class ConditionTests
{
    private static readonly Gen<Condition> AnyTest = Gen.OneOfConst<Condition>(
        Condition.Where("country", TestOperator.In, "NO", "SE"),
        Condition.Where("sites", TestOperator.AtLeast, "5"),
        Condition.Where("company", TestOperator.Contains, "laks"),
        Condition.Where("email", TestOperator.Known),
        Condition.Where("last_touch_at", TestOperator.WithinDays, "7")
    );

    private static readonly Gen<Condition> AnyCondition = ConditionGen.Nested(AnyTest);

    private static readonly RecordValues Ragna = Sample.Record(("country", "NO"), ("sites", 6), ("company", "Fjordnær LAKS"), ("last_touch_at", Sample.Now - Duration.FromDays(3)));

    private static bool Holds(Condition condition, RecordValues record) => ConditionPredicate.Compile(condition, Sample.Catalogue)(record, Sample.Now);

    [Fact]
    public void AConditionSurvivesItsJson() =>
        AnyCondition.Sample(c =>
        {
            var json = JsonSerializer.Serialize(c);
            return JsonSerializer.Serialize(JsonSerializer.Deserialize<Condition>(json)) == json;
        });

    [Fact]
    public void NotTurnsEveryAnswerAround() => AnyCondition.Sample(c => Holds(new Not(c), Ragna) != Holds(c, Ragna));

    [Fact]
    public void WhatIsUnknownFailsEveryTest() => AnyTest.Sample(c => !Holds(c, Sample.Record()));

    [Fact]
    public void AFailureIsWordedExactlyWhenTheConditionFails() =>
        AnyCondition.Sample(c => ConditionWords.FirstFailure(c, Sample.Catalogue)(Ragna, Sample.Now) is null == Holds(c, Ragna));

    [Fact]
    public void TextsAreComparedWithoutRegardToCase() => Holds(Condition.Where("company", TestOperator.Contains, "lAkS"), Ragna).ShouldBeTrue();

    [Fact]
    public void TheEmptyAllHoldsAndTheEmptyAnyDoesNot()
    {
        Holds(new AllOf([]), Ragna).ShouldBeTrue();
        Holds(new AnyOf([]), Ragna).ShouldBeFalse();
    }

    [Fact]
    public void ASentenceNamesWhatPeopleSee() =>
        ConditionWords
            .Sentence(new AllOf([Condition.Where("country", TestOperator.In, "NO", "SE"), Condition.Where("fit", TestOperator.AtLeast, "60")]), Sample.Catalogue)
            .ShouldBe("country is Norway or Sweden, fit is 60 or more");

    [Fact]
    public void AFailureSaysWhatTheRecordHolds() =>
        ConditionWords
            .FirstFailure(Condition.Where("country", TestOperator.In, "SE"), Sample.Catalogue)(Ragna, Sample.Now)
            .ShouldBe("country is Norway, the rule wants: is Sweden");

    [Theory]
    [InlineData("""{"field":"nonsense","is":"in","values":["x"]}""", "field-unknown")]
    [InlineData("""{"field":"sites","is":"contains","values":["x"]}""", "operator-unfit")]
    [InlineData("""{"field":"sites","is":"at-least","values":["many"]}""", "number-unreadable")]
    [InlineData("""{"field":"sites","is":"between","values":["1"]}""", "value-missing")]
    [InlineData("""{"not":{"all":[{"field":"created_at","is":"within-days","values":["-3"]}]}}""", "number-unreadable")]
    public void WhatCannotBeAskedIsFoundBeforeItIsAsked(string json, string code) =>
        ConditionCheck.Check(JsonSerializer.Deserialize<Condition>(json)!, Sample.Catalogue).Single().Code.ShouldBe(code);

    [Theory]
    [InlineData("[]")]
    [InlineData("""{"some":[]}""")]
    [InlineData("""{"field":"country","is":"resembles","values":[]}""")]
    public void WhatIsNoConditionIsRefused(string json) => Should.Throw<JsonException>(() => JsonSerializer.Deserialize<Condition>(json));

    [Fact]
    public void NestingWithoutEndIsRefusedNotFollowed()
    {
        var deep = string.Concat(Enumerable.Repeat("""{"not":""", 50)) + """{"all":[]}""" + new string('}', 50);
        Should.Throw<JsonException>(() => JsonSerializer.Deserialize<Condition>(deep));
    }
}
