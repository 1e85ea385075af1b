using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.Core.Tests.Scoring;

public sealed class ScoreTests
{
    private static readonly ScoringModel Model = new(
        new Bars(60, 50),
        [
            new(
                "industry",
                "Industry",
                "industry",
                [new(Condition.Where("industry", TestOperator.In, "fish_farming"), 30, "Fish farming"), new(Condition.Where("industry", TestOperator.In, "port"), -45, "Port")]
            ),
            new(
                "sites",
                "Sites",
                "sites",
                [new(Condition.Where("sites", TestOperator.Between, "5", "20"), 50, "5 to 20 sites"), new(Condition.Where("sites", TestOperator.AtLeast, "2"), 11, "Several sites")]
            ),
            new("place", "Place", "country", [new(Condition.Where("country", TestOperator.In, "NO"), 40, "Home waters")]),
        ],
        [new("form.guide", "Price guide taken", 40, 21, 60), new("call.reached", "Call reached", 30, 30, 60)],
        new Silence(90, -10)
    );

    private static readonly FitScore Fit = new(Model, Sample.Catalogue);

    private static readonly Gen<RecordValues> AnyRecord = Gen.Select(
            Gen.OneOfConst("fish_farming", "port", "other", null!),
            Gen.OneOfConst<object?>(1, 3, 7, 40, null!),
            Gen.OneOfConst("NO", "SE", null!)
        )
        .Select((i, s, c) => Sample.Record(("industry", i), ("sites", s), ("country", c)));

    private static readonly Gen<LeadEvent[]> AnyEvents = Gen.Select(Gen.OneOfConst("form.guide", "call.reached", "unheard.of"), Gen.Double[-5, 400])
        .Select((kind, days) => new LeadEvent(kind, Sample.Now - Duration.FromDays(days)))
        .Array[0, 12];

    [Fact]
    public void FitIsTheSumOfItsReasonsToTheDigit() =>
        AnyRecord.Sample(r =>
        {
            var result = Fit.Explain(r, Sample.Now);
            return result.Score == result.Contributions.Sum(c => c.Points) && result.Score is >= 0 and <= 100;
        });

    [Fact]
    public void TheBareTotalIsTheExplainedScore() => AnyRecord.Sample(r => Fit.Total(r, Sample.Now, new int[Fit.Criteria]) == Fit.Explain(r, Sample.Now).Score);

    [Fact]
    public void LearningWhatWasUnknownLandsWithinTheRangePromised() =>
        Gen.Select(AnyRecord, AnyRecord)
            .Sample(
                (known, learnt) =>
                {
                    var before = Fit.Explain(known, Sample.Now);
                    var after = known.Copy();
                    foreach (var (field, value) in learnt.Known())
                        if (!known[field.Ordinal].IsKnown)
                            after[field.Key] = value;
                    var now = Fit.Explain(after, Sample.Now);
                    return now.Score >= before.Low && now.Score <= before.High && now.Low >= before.Low && now.High <= before.High;
                }
            );

    [Fact]
    public void TheFirstLineThatHoldsCounts() => Fit.Explain(Sample.Record(("sites", 7)), Sample.Now).Contributions.Single().Label.ShouldBe("5 to 20 sites");

    [Fact]
    public void TheQuestionWorthMostIsAskedFirst() => Fit.Explain(Sample.Record(), Sample.Now).Unknown[0].Key.ShouldBe("sites");

    [Fact]
    public void EngagementIsTheSumOfItsReasonsToTheDigit() =>
        AnyEvents.Sample(events =>
        {
            var result = EngagementScore.Explain(Model, events, Sample.Now);
            return result.Score == result.Contributions.Sum(c => c.Points) && result.Score is >= 0 and <= 100;
        });

    [Fact]
    public void WithoutNewEventsEngagementNeverRises() =>
        Gen.Select(AnyEvents, Gen.Int[0, 200])
            .Sample(
                (events, days) =>
                {
                    var past = events.Where(e => e.At <= Sample.Now).ToArray();
                    return EngagementScore.Explain(Model, past, Sample.Now + Duration.FromDays(days + 1)).Score
                        <= EngagementScore.Explain(Model, past, Sample.Now + Duration.FromDays(days)).Score;
                }
            );

    [Theory]
    [InlineData(0, 40)]
    [InlineData(21, 20)]
    [InlineData(42, 10)]
    public void AnEventHalvesInItsHalfLife(int days, int expected) =>
        EngagementScore.Explain(Model, [new LeadEvent("form.guide", Sample.Now - Duration.FromDays(days))], Sample.Now).Score.ShouldBe(expected);

    [Fact]
    public void ManyEventsOfAKindWeighAtMostTheirCap() =>
        EngagementScore.Explain(Model, [.. Enumerable.Repeat(new LeadEvent("form.guide", Sample.Now), 9)], Sample.Now).Score.ShouldBe(60);

    [Fact]
    public void TheDayItDropsUnderTheBarIsTheFirstSuchDay()
    {
        LeadEvent[] events = [new("form.guide", Sample.Now), new("call.reached", Sample.Now)];
        var drop = EngagementScore.DropsUnder(Model, events, Sample.Now)!.Value;
        EngagementScore.Explain(Model, events, drop).Score.ShouldBeLessThan(50);
        EngagementScore.Explain(Model, events, drop - Duration.FromDays(1)).Score.ShouldBeGreaterThanOrEqualTo(50);
    }

    [Theory]
    [InlineData(60, 50, NextMove.HandOver)]
    [InlineData(60, 49, NextMove.Nurture)]
    [InlineData(59, 50, NextMove.Check)]
    [InlineData(59, 49, NextMove.Park)]
    public void AScoreAtItsBarClearsIt(int fit, int engagement, string move) => NextMove.For(fit, engagement, Model.Bars).ShouldBe(move);
}
