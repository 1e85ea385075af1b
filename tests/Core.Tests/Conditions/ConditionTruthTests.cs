using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Tests.Scoring;

namespace DapperLantern.Core.Tests.Conditions;

public sealed class ConditionTruthTests
{
    private static readonly Gen<Condition> AnyTest = Gen.OneOf(
        Gen.OneOfConst("fish_farming", "port").Select(v => Condition.Where("industry", TestOperator.In, v)),
        Gen.Int[0, 8].Select(n => Condition.Where("sites", TestOperator.AtLeast, $"{n}")),
        Gen.OneOfConst("head", "er").Select(v => Condition.Where("job_title", TestOperator.Contains, v)),
        Gen.OneOfConst("industry", "sites", "country").Select(f => Condition.Where(f, TestOperator.Known))
    );

    private static readonly Gen<Condition> AnyCondition = ConditionGen.Nested(AnyTest);

    [Fact]
    public void WhatIsSettledHoldsWhateverIsLearnt() =>
        Gen.Select(AnyCondition, ScoringSample.AnyRecord, ScoringSample.AnyRecord)
            .Sample(
                (condition, known, learnt) =>
                {
                    var weighed = ConditionTruth.Compile(condition, Sample.Catalogue, asItStands: false);
                    var (before, after) = (weighed(known, Sample.Now), weighed(Learnt(known, learnt), Sample.Now));
                    return before == Truth.Unsaid || before == after;
                }
            );

    [Fact]
    public void OfARecordWithNothingUnknownItSaysWhatThePredicateDoes() =>
        Gen.Select(AnyCondition, ScoringSample.AnyRecord.Where(r => new[] { "industry", "sites", "country", "job_title" }.All(k => r[k].IsKnown)))
            .Sample(
                (condition, record) =>
                    ConditionTruth.Compile(condition, Sample.Catalogue, asItStands: false)(record, Sample.Now)
                    == (ConditionPredicate.Compile(condition, Sample.Catalogue)(record, Sample.Now) ? Truth.Yes : Truth.No)
            );

    [Fact]
    public void NotKnownIsTakenAtItsWordOrHeldOpen()
    {
        var condition = new Not(Condition.Where("sites", TestOperator.Known));
        ConditionTruth.Compile(condition, Sample.Catalogue, asItStands: true)(Sample.Record(), Sample.Now).ShouldBe(Truth.Yes);
        ConditionTruth.Compile(condition, Sample.Catalogue, asItStands: false)(Sample.Record(), Sample.Now).ShouldBe(Truth.Unsaid);
    }

    private static RecordValues Learnt(RecordValues known, RecordValues learnt)
    {
        var after = known.Copy();
        foreach (var (field, value) in learnt.Known())
            if (!known[field.Ordinal].IsKnown)
                after[field.Ordinal] = value;
        return after;
    }
}
