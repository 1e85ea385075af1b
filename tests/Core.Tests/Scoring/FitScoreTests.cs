using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;

namespace DapperLantern.Core.Tests.Scoring;

public sealed class FitScoreTests
{
    private static readonly FitScore Fit = ScoringSample.Fit;

    [Fact]
    public void FitIsTheSumOfItsReasonsToTheDigit() =>
        ScoringSample.AnyRecord.Sample(r =>
        {
            var result = Fit.Explain(r, Sample.Now);
            return result.Score == result.Contributions.Sum(c => c.Points) && result.Score is >= 0 and <= 100;
        });

    [Fact]
    public void TheBareMeasureIsTheExplainedScore() =>
        ScoringSample.AnyRecord.Sample(r =>
        {
            var (bare, told) = (Fit.Measure(r, Sample.Now, new int[Fit.Criteria]), Fit.Explain(r, Sample.Now));
            return bare == new FitRange(told.Score, told.Low, told.High);
        });

    [Fact]
    public void AReasonSaysOnlyTheFieldsThatAreShown()
    {
        var model = ScoringSample.Model with
        {
            Fit =
            [
                new(
                    "given",
                    "Given",
                    "",
                    [new(new AllOf([Condition.Where("email", TestOperator.Contains, "@"), Condition.Where("city", TestOperator.Contains, "a; Email: ")]), 10, "Both given")]
                ),
            ],
        };
        var (fit, record) = (new FitScore(model, Sample.Catalogue), Sample.Record(("email", "kari@sund.example"), ("city", "Moa; Email: none")));
        fit.Explain(record, Sample.Now).Contributions[0].Detail.ShouldBe("Email: kari@sund.example; Place: Moa; Email: none");
        var told = fit.Explain(record, Sample.Now, f => f.Key != "email");
        told.Contributions[0].ShouldBe(new Contribution("given", "Both given", 10, "Place: Moa; Email: none"));
        told.Score.ShouldBe(fit.Explain(record, Sample.Now).Score);
    }

    [Fact]
    public void TheRangeHoldsTheScoreItself() => ScoringSample.AnyRecord.Sample(r => Fit.Explain(r, Sample.Now) is var f && f.Low <= f.Score && f.Score <= f.High);

    // A veto that turns out to hold is told beside the range.
    [Fact]
    public void TheRangeContainsEveryCompletion() =>
        Gen.Select(ScoringSample.AnyRecord, ScoringSample.AnyRecord)
            .Sample(
                (known, learnt) =>
                {
                    var before = Fit.Explain(known, Sample.Now);
                    var now = Fit.Explain(Completed(known, learnt), Sample.Now);
                    return now.Contributions.Any(c => c.Key == "competitor")
                        ? before.OpenVetoes.Contains("Sells what we sell") || before.Contributions.Any(c => c.Key == "competitor")
                        : now.Score >= before.Low && now.Score <= before.High && now.Low >= before.Low && now.High <= before.High;
                }
            );

    [Fact]
    public void WhatIsFullyKnownHasNoRangeAndNoQuestion() =>
        ScoringSample
            .AnyRecord.Where(r => new[] { "industry", "sites", "country", "job_title", "company" }.All(k => r[k].IsKnown))
            .Sample(r => Fit.Explain(r, Sample.Now) is var f && f.Low == f.High && f.Unknown.IsEmpty && f.OpenVetoes.IsEmpty);

    [Fact]
    public void AnsweringTheQuestionLandsInItsRange() =>
        Gen.Select(ScoringSample.AnyRecord, ScoringSample.AnyRecord)
            .Sample(
                (known, learnt) =>
                {
                    foreach (var question in Fit.Explain(known, Sample.Now).Unknown)
                    {
                        var after = known.Copy();
                        after[question.Field] = learnt[question.Field];
                        var now = Fit.Explain(after, Sample.Now);
                        // Criteria that ask for something else as well stay open, within the same range.
                        if (now.Contributions.All(c => c.Key != "competitor") && (now.Score < question.Low || now.Score > question.High))
                            return false;
                    }
                    return true;
                }
            );

    [Fact]
    public void TheFirstLineThatHoldsCounts() => Labels(("sites", 7), ("job_title", "Diver")).ShouldBe(["5 to 20 sites"]);

    [Fact]
    public void TheQuestionWorthMostIsAskedFirst() => Fit.Explain(Sample.Record(), Sample.Now).Unknown[0].Field.ShouldBe("industry");

    [Fact]
    public void ACriterionMayAskSeveralFields() =>
        Labels(("job_title", "Head of purchasing"), ("industry", "port")).ShouldBe(["Port", "Heads or buys", "Company: together at least -40", "Fit does not go below 0"]);

    [Fact]
    public void WhatIsUnknownCountsNothingEvenUnderNot() => Labels(("job_title", "Head of operations")).ShouldBe(["Heads or buys"]);

    [Fact]
    public void AGroupGivesAtMostItsCap()
    {
        var fit = Fit.Explain(Sample.Record(("industry", "fish_farming"), ("sites", 7), ("job_title", "Diver")), Sample.Now);
        fit.Score.ShouldBe(55);
        fit.Contributions.Single(c => c.Key == "company").Points.ShouldBe(-25);
    }

    [Fact]
    public void AVetoTakesAllPointsAndAsksNothingMore()
    {
        var fit = Fit.Explain(Sample.Record(("industry", "fish_farming"), ("company", "Tidewise Sensors")), Sample.Now);
        (fit.Score, fit.Low, fit.High).ShouldBe((0, 0, 0));
        fit.Contributions[^1].Label.ShouldBe("Ruled out: Sells what we sell");
        fit.Unknown.ShouldBeEmpty();
    }

    [Fact]
    public void AVetoThatMayYetHoldIsSaid() => Fit.Explain(Sample.Record(("sites", 7)), Sample.Now).OpenVetoes.ShouldBe(["Sells what we sell"]);

    [Fact]
    public void ACriterionOnAFieldThatIsGoneCountsNothing()
    {
        var model = ScoringSample.Model with
        {
            Fit = [.. ScoringSample.Model.Fit, new("gone", "Gone", "no_such_field", [new(Condition.Where("no_such_field", TestOperator.Known), 50, "Gone")])],
        };
        var record = Sample.Record(("sites", 7));
        new FitScore(model, Sample.Catalogue).Explain(record, Sample.Now).Score.ShouldBe(Fit.Explain(record, Sample.Now).Score);
    }

    // However a criterion is looked up, it says what its lines say one by one.
    [Fact]
    public void LookingUpGivesWhatTheLinesSay() =>
        ScoringSample.AnyRecord.Sample(r =>
        {
            var hits = new int[Fit.Criteria];
            Fit.Measure(r, Sample.Now, hits);
            for (var c = 0; c < hits.Length; c++)
            {
                var lines = ScoringSample.Model.Fit[c].Lines;
                var first = -1;
                for (var l = lines.Length - 1; l >= 0; l--)
                    if (ConditionTruth.Compile(lines[l].When, Sample.Catalogue, asItStands: true)(r, Sample.Now) == Truth.Yes)
                        first = l;
                if (Math.Max(hits[c], -1) != first)
                    return false;
            }
            return true;
        });

    private static RecordValues Completed(RecordValues known, RecordValues learnt)
    {
        var after = known.Copy();
        foreach (var (field, value) in learnt.Known())
            if (!known[field.Ordinal].IsKnown)
                after[field.Key] = value;
        return after;
    }

    private static IEnumerable<string> Labels(params (string, object?)[] facts) => Fit.Explain(Sample.Record(facts), Sample.Now).Contributions.Select(c => c.Label);
}
