using CsCheck;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.Core.Tests.Scoring;

public sealed class StandingTests
{
    private static readonly Bars Bars = new(60, 50, 5);

    [Theory]
    [InlineData(60, 50, NextMove.HandOver)]
    [InlineData(60, 49, NextMove.Nurture)]
    [InlineData(59, 50, NextMove.Check)]
    [InlineData(59, 49, NextMove.Park)]
    public void AScoreAtItsBarClearsIt(int fit, int engagement, string move) => default(Cleared).Next(fit, engagement, Bars).Move.ShouldBe(move);

    [Theory]
    [InlineData(55, 45, NextMove.HandOver)]
    [InlineData(54, 45, NextMove.Check)]
    [InlineData(55, 44, NextMove.Nurture)]
    public void WhoClearedABarFallsOnlyUnderItsSlack(int fit, int engagement, string move) => new Cleared(true, true).Next(fit, engagement, Bars).Move.ShouldBe(move);

    [Fact]
    public void NobodyFlickersWithinTheSlack() =>
        Gen.Select(Gen.Int[45, 49].Array[1, 20], Gen.Bool)
            .Sample(
                (scores, cleared) =>
                {
                    var now = new Cleared(true, cleared);
                    return scores.All(s => (now = now.Next(80, s, Bars)).Engagement == cleared);
                }
            );

    [Theory]
    [InlineData(NextMove.HandOver, "Both bars are cleared")]
    [InlineData(NextMove.Nurture, "The fit is there, the engagement not yet")]
    [InlineData(NextMove.Check, "Engaged, but does it fit?")]
    [InlineData(NextMove.Park, "Neither bar is cleared")]
    [InlineData(null, "Neither bar is cleared")]
    public void TheHeadlineSaysWhichBarsAMoveHasCleared(string? move, string headline) => Cleared.Of(move).Headline.ShouldBe(headline);

    [Fact]
    public void AMoveSaysWhatWasCleared() => NextMove.Choices.ShouldAllBe(c => Cleared.Of(c.Key).Move == c.Key);

    // What is kept with a lead holds until it is to be looked at again, and then no longer.
    [Fact]
    public void WhatIsKeptHoldsUntilItIsLookedAtAgain() =>
        Gen.Select(ScoringSample.AnyEvents, Gen.Int[0, 100], Gen.Bool)
            .Sample(
                (events, fit, before) =>
                {
                    var decay = ScoringSample.Engagement.At(events, Sample.Now);
                    var standing = LeadScoreState.Of(new FitRange(fit, fit, fit), decay, new Cleared(before, before), Bars, Sample.Now);
                    var end = standing.LookAgain ?? Sample.Now + Duration.FromDays(600);
                    var held = Enumerable
                        .Range(0, 300)
                        .Select(i => Sample.Now + (end - Sample.Now) * (i / 300.0))
                        .All(m => decay.Score(m) / LeadScoreState.BandWidth == standing.Band && standing.Cleared.Next(fit, decay.Score(m), Bars) == standing.Cleared);
                    return held
                        && (
                            standing.LookAgain is not { } look
                            || decay.Score(look) / LeadScoreState.BandWidth != standing.Band
                            || standing.Cleared.Next(fit, decay.Score(look), Bars) != standing.Cleared
                        );
                }
            );

    [Fact]
    public void TheMoveHoldsUntilItFalls() =>
        ScoringSample.AnyEvents.Sample(events =>
        {
            var decay = ScoringSample.Engagement.At(events, Sample.Now);
            var standing = LeadScoreState.Of(new FitRange(80, 80, 80), decay, default, Bars, Sample.Now);
            return standing.MoveUntil is not { } falls || (standing.Cleared.Engagement && decay.Score(falls) < 45 && decay.Score(falls - Duration.FromMilliseconds(1)) >= 45);
        });
}
