using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Qualifying;
using DapperLantern.Core.Tests.Conditions;

namespace DapperLantern.Core.Tests.Qualifying;

public sealed class ThresholdTests
{
    private static readonly Threshold Usual = new(Threshold.Usual, Sample.Catalogue);

    private static RecordValues Lead(params (string Question, Certainty Certainty)[] findings)
    {
        var lead = new RecordValues(Sample.Catalogue);
        foreach (var (question, certainty) in findings)
            lead[FindingFields.KeyOf(question)] = Questions.Value(new Finding(certainty, "said so"));
        return lead;
    }

    [Theory]
    [InlineData(Certainty.Unknown, Certainty.Confirmed, Certainty.Confirmed, Certainty.Confirmed, false)]
    [InlineData(Certainty.Weak, Certainty.Confirmed, Certainty.Confirmed, Certainty.Confirmed, false)]
    [InlineData(Certainty.Confirmed, Certainty.Weak, Certainty.Weak, Certainty.Unknown, true)]
    [InlineData(Certainty.Confirmed, Certainty.Unknown, Certainty.Weak, Certainty.Confirmed, true)]
    [InlineData(Certainty.Confirmed, Certainty.Confirmed, Certainty.Unknown, Certainty.Unknown, false)]
    public void TheUsualThresholdWantsTheNeedConfirmedAndTwoOfTheOthersKnown(Certainty need, Certainty budget, Certainty authority, Certainty timing, bool met) =>
        (Usual.Missing(Lead(("need", need), ("budget", budget), ("authority", authority), ("timing", timing)), Sample.Now).Count == 0).ShouldBe(met);

    [Fact]
    public void WhatIsMissingIsNamed() =>
        Usual
            .Missing(Lead(("need", Certainty.Weak), ("budget", Certainty.Weak)), Sample.Now)
            .ShouldBe(["Need is weak; it must be confirmed.", "Authority or timing must be known."]);

    [Fact]
    public void AThresholdMayAskScoresAndFacts()
    {
        var threshold = new Threshold(
            new AllOf([
                Condition.Where("fit", TestOperator.AtLeast, "60"),
                Condition.Where("company", TestOperator.Known),
                new Not(Condition.Where("country", TestOperator.In, "NO")),
            ]),
            Sample.Catalogue
        );
        var lead = Sample.Record(("country", "NO"));
        lead["fit"] = FieldValue.Of(42);
        threshold.Missing(lead, Sample.Now).ShouldBe(["Fit is 42; it must be 60 or more.", "Company must be known.", "Wanted: not (country is Norway)."]);
    }

    private static readonly Gen<Condition> AnyTest = Gen.OneOf(
        Gen.OneOfConst("need", "budget", "authority").Select(q => Condition.Where(FindingFields.KeyOf(q), TestOperator.Known)),
        Gen.OneOfConst("need", "budget", "authority").Select(q => Condition.Where(FindingFields.KeyOf(q), TestOperator.In, "confirmed")),
        Gen.Int[0, 100].Select(n => Condition.Where("fit", TestOperator.AtLeast, $"{n}"))
    );

    private static readonly Gen<RecordValues> AnyLead = Gen.Select(Gen.Enum<Certainty>().Array[3], Gen.Int[0, 100])
        .Select(
            (found, fit) =>
            {
                var lead = Lead(("need", found[0]), ("budget", found[1]), ("authority", found[2]));
                lead["fit"] = FieldValue.Of(fit);
                return lead;
            }
        );

    [Fact]
    public void SomethingIsMissingExactlyWhenTheConditionDoesNotHold() =>
        Gen.Select(ConditionGen.Nested(AnyTest), AnyLead)
            .Sample(
                (condition, lead) =>
                    (new Threshold(condition, Sample.Catalogue).Missing(lead, Sample.Now).Count == 0) == ConditionPredicate.Compile(condition, Sample.Catalogue)(lead, Sample.Now)
            );

    [Fact]
    public void OfTwoAnswersTheSurerHoldsWhicheverComesFirst()
    {
        var certainty = Gen.Enum<Certainty>();
        Gen.Select(certainty, certainty)
            .Sample(
                (x, y) =>
                {
                    var (a, b) = (new Findings { ["need"] = new(x, "a") }, new Findings { ["need"] = new(y, "b"), ["site"] = new(Certainty.Weak, "c") });
                    var (one, other) = (Findings.Surer(a, b), Findings.Surer(b, a));
                    return one.Of("need").Certainty == (x > y ? x : y)
                        && other.Of("need").Certainty == one.Of("need").Certainty
                        && one.ContainsKey("site")
                        && other.ContainsKey("site");
                }
            );
    }
}
