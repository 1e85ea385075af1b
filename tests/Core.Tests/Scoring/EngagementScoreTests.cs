using CsCheck;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.Core.Tests.Scoring;

public sealed class EngagementScoreTests
{
    private static readonly EngagementScore Engagement = ScoringSample.Engagement;

    [Fact]
    public void EngagementIsTheSumOfItsReasonsToTheDigit() =>
        ScoringSample.AnyEvents.Sample(events =>
        {
            var result = Engagement.Explain(events, Sample.Now);
            return result.Score == result.Contributions.Sum(c => c.Points) && result.Score is >= 0 and <= 100;
        });

    [Fact]
    public void TheBareScoreTheGlowAndTheReasonsAgree() =>
        ScoringSample.AnyEvents.Sample(events =>
        {
            var told = Engagement.Explain(events, Sample.Now);
            return told.Score == Engagement.Score(events, Sample.Now) && told.Score == Engagement.At(events, Sample.Now).Score(Sample.Now);
        });

    [Fact]
    public void TheOrderOfTheEventsDoesNotMatter() =>
        Gen.Select(ScoringSample.AnyEvents, Gen.Int)
            .Sample(
                (events, seed) =>
                {
                    var shuffled = events.ToArray();
                    new Random(seed).Shuffle(shuffled);
                    return Engagement.Score(shuffled, Sample.Now) == Engagement.Score(events, Sample.Now);
                }
            );

    [Fact]
    public void DecayIsAssociativeOverTime() =>
        Gen.Select(ScoringSample.AnyEvents, Gen.Double[0, 300], Gen.Double[0, 300])
            .Sample(
                (events, first, second) =>
                {
                    var past = events.Where(e => e.At <= Sample.Now).ToArray();
                    var (middle, end) = (Sample.Now + Duration.FromDays(first), Sample.Now + Duration.FromDays(first + second));
                    var decay = Engagement.At(past, Sample.Now);
                    var day = EngagementDecay.DayOf(end);
                    return Math.Abs(decay.Sum(day) - decay.Later(middle).Sum(day)) < 1e-9 && Math.Abs(decay.Sum(day) - Engagement.At(past, end).Sum(day)) < 1e-9;
                }
            );

    [Fact]
    public void CapsHoldInEveryWindow() =>
        ScoringSample.AnyEvents.Sample(events =>
            ScoringSample.Model.Engagement.All(signal =>
            {
                var given = new EngagementScore(ScoringSample.Model with { Engagement = [signal] }).Given(events, Sample.Now);
                return given.All(first =>
                {
                    var window = given.Where(g =>
                        events[g.Event].At >= events[first.Event].At && events[g.Event].At < events[first.Event].At + Duration.FromDays(signal.WindowDays)
                    );
                    return Math.Abs(window.Sum(g => g.Points)) <= signal.Cap + 1e-9;
                });
            })
        );

    [Fact]
    public void WithNothingAgainstItEngagementOnlyFalls() =>
        Gen.Select(ScoringSample.AnyEvents, Gen.Int[0, 200])
            .Sample(
                (events, days) =>
                {
                    var past = events.Where(e => e.At <= Sample.Now && e.Kind != LeadEvent.Withdrew).ToArray();
                    return Engagement.Score(past, Sample.Now + Duration.FromDays(days + 1)) <= Engagement.Score(past, Sample.Now + Duration.FromDays(days));
                }
            );

    [Fact]
    public void MoreEventsNeverGiveLess() =>
        Gen.Select(ScoringSample.AnyEvents, Gen.Double[0, 80])
            .Sample(
                (events, days) =>
                    Engagement.Score([.. events, new LeadEvent("call.reached", Sample.Now - Duration.FromDays(days))], Sample.Now) >= Engagement.Score(events, Sample.Now)
            );

    [Theory]
    [InlineData(0, 40)]
    [InlineData(21, 20)]
    [InlineData(42, 10)]
    public void AnEventHalvesInItsHalfLife(int days, int expected) => Engagement.Score(ScoringSample.Guide(days), Sample.Now).ShouldBe(expected);

    [Fact]
    public void EventsOfASignalGiveAtMostItsCapInItsWindow() =>
        Engagement.At(ScoringSample.Guide(0, 0, 0, 0), Sample.Now).Sum(EngagementDecay.DayOf(Sample.Now)).ShouldBe(60, 1e-9);

    [Fact]
    public void AWindowLaterTheCapIsNew() =>
        Engagement.At(ScoringSample.Guide(31, 31, 0), Sample.Now).Sum(EngagementDecay.DayOf(Sample.Now)).ShouldBe(60 * Math.Pow(2, -31 / 21.0) + 40, 1e-9);

    [Fact]
    public void OfThoseThatCountOnceTheFirstDoes() =>
        Engagement
            .At([new LeadEvent("stand.visit", Sample.Now), new LeadEvent("stand.visit", Sample.Now - Duration.FromDays(60))], Sample.Now)
            .Sum(EngagementDecay.DayOf(Sample.Now))
            .ShouldBe(25 * 0.25, 1e-9);

    [Fact]
    public void TheFirstSignalThatFitsCounts()
    {
        var told = Engagement.Explain([new LeadEvent("page.viewed", Sample.Now, "/Prices/nok"), new LeadEvent("page.viewed", Sample.Now, "/about")], Sample.Now);
        told.Contributions.Select(c => c.Points).ShouldBe([8, 3]);
    }

    [Fact]
    public void OverTheKneeMoreCountsForLess()
    {
        Saturation.Of(50, 50).ShouldBe(50);
        Saturation.Of(100, 50).ShouldBe(50 + 50 * (1 - Math.Exp(-1)), 1e-12);
        Saturation.Of(1000, 50).ShouldBeLessThanOrEqualTo(100);
        Saturation.Of(140, 100).ShouldBe(100);
    }

    [Fact]
    public void TheInverseOfSaturationFindsTheSum() =>
        Gen.Select(Gen.Double[0, 99], Gen.Double[0, 99]).Sample((engagement, knee) => Math.Abs(Saturation.Of(Saturation.Inverse(engagement, knee), knee) - engagement) < 1e-9);

    [Fact]
    public void SilenceCountsFromItsDayOn()
    {
        var events = ScoringSample.Guide(0);
        var silent = Sample.Now + Duration.FromDays(90);
        var decay = Engagement.At(events, Sample.Now);
        (decay.Sum(EngagementDecay.DayOf(silent - Duration.FromSeconds(1))) - decay.Sum(EngagementDecay.DayOf(silent))).ShouldBe(10, 0.01);
    }

    [Fact]
    public void TakingBackAConsentBreaksNoSilence() =>
        Engagement.At([.. ScoringSample.Guide(100), new LeadEvent(LeadEvent.Withdrew, Sample.Now)], Sample.Now).SilentAt.ShouldBe(EngagementDecay.DayOf(Sample.Now) - 10, 1e-9);

    [Fact]
    public void TheMomentItFallsUnderABarIsTheFirst() =>
        Gen.Select(ScoringSample.AnyEvents, Gen.Int[1, 99])
            .Sample(
                (events, bar) =>
                {
                    var decay = Engagement.At(events, Sample.Now);
                    if (decay.FallsUnder(bar, Sample.Now) is not { } falls)
                        return decay.Score(Sample.Now) < bar || Enumerable.Range(0, 900).All(d => decay.Score(Sample.Now + Duration.FromHours(d * 12)) >= bar);
                    var before = Enumerable.Range(0, 200).Select(i => Sample.Now + (falls - Sample.Now) * (i / 200.0));
                    return decay.Score(falls) < bar && decay.Score(falls - Duration.FromMilliseconds(1)) >= bar && before.All(m => decay.Score(m) >= bar);
                }
            );

    [Fact]
    public void WhatWearsOffLetsItRise()
    {
        var model = ScoringSample.Model with { Engagement = [new("call.reached", "Call reached", 30, 300, 60), new(LeadEvent.Withdrew, "Withdrew", -25, 5, 50)] };
        var decay = new EngagementScore(model).At([new LeadEvent(LeadEvent.Withdrew, Sample.Now), new LeadEvent("call.reached", Sample.Now)], Sample.Now);
        var rises = decay.Reaches(15, Sample.Now)!.Value;
        decay.Score(Sample.Now).ShouldBe(5);
        decay.Score(rises).ShouldBe(15);
        decay.Score(rises - Duration.FromMilliseconds(1)).ShouldBe(14);
    }
}
