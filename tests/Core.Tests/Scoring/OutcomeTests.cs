using CsCheck;
using DapperLantern.Core.Scoring;
using DapperLantern.Core.Scoring.Outcomes;
using NodaTime;

namespace DapperLantern.Core.Tests.Scoring;

public sealed class OutcomeTests
{
    // Wins follow from industry and calls, and from nothing else.
    private static List<LeadOutcome> Made(int count, int seed = 7)
    {
        var random = new Random(seed);
        return
        [
            .. Enumerable
                .Range(0, count)
                .Select(i =>
                {
                    var (industry, sites) = (new[] { "fish_farming", "port", "other" }[random.Next(3)], random.Next(1, 30));
                    var called = random.Next(2) == 0;
                    var odds = -1.2 + (industry == "fish_farming" ? 1.6 : 0) + (industry == "port" ? -1 : 0) + (called ? 0.9 : 0);
                    LeadEvent[] events = called ? [new("call.reached", Sample.Now - Duration.FromDays(2)), new("form.guide", Sample.Now + Duration.FromDays(5))] : [];
                    return new LeadOutcome(
                        Sample.Record(("industry", industry), ("sites", sites)),
                        events,
                        Sample.Now,
                        random.NextDouble() < 1 / (1 + Math.Exp(-odds)),
                        new HashSet<string>()
                    );
                }),
        ];
    }

    // Brown, Cai, DasGupta 2001, interval estimation for a binomial proportion: 95 % score intervals.
    [Theory]
    [InlineData(10, 0, 0, 0.2775)]
    [InlineData(10, 5, 0.2366, 0.7634)]
    [InlineData(50, 5, 0.0435, 0.2136)]
    [InlineData(1, 1, 0.2065, 1)]
    public void SharesHaveTheScoreInterval(int count, int won, double low, double high)
    {
        var share = Share.Of(count, won);
        (share.Low, share.High).ShouldBe((share.Low, share.High));
        share.Low.ShouldBe(low, 0.0001);
        share.High.ShouldBe(high, 0.0001);
    }

    [Fact]
    public void TheAreaIsTheShareOfPairsThatStandRight() =>
        Gen.Select(Gen.Int[0, 6], Gen.Bool)
            .Array[2, 30]
            .Sample(scored =>
            {
                var (won, lost) = (scored.Where(s => s.Item2).ToList(), scored.Where(s => !s.Item2).ToList());
                if (won.Count == 0 || lost.Count == 0)
                    return true;
                var pairs = (
                    from w in won
                    from l in lost
                    select w.Item1 > l.Item1 ? 1.0
                    : w.Item1 == l.Item1 ? 0.5
                    : 0
                ).Average();
                var curve = RankCurve.Of(scored.Select(s => ((double)s.Item1, s.Item2)));
                return Math.Abs(curve.Area - pairs) < 1e-12 && curve.Low <= curve.Area && curve.Area <= curve.High && curve.Points[^1] is { Lost: 1, Won: 1 };
            });

    // Plain gradient descent, written for this test alone, comes to the same place.
    [Fact]
    public void TheRegressionFindsWhatSlowDescentFinds()
    {
        var random = new Random(3);
        var rows = Enumerable
            .Range(0, 300)
            .Select(_ =>
            {
                var x = new[] { random.NextDouble() * 2 - 1, random.Next(2), random.NextDouble() };
                return new SparseRow([0, 1, 2], x, random.NextDouble() < 1 / (1 + Math.Exp(-(0.4 + 1.5 * x[0] - 0.8 * x[1]))));
            })
            .ToList();
        const double ridge = 2;
        var w = new double[4];
        for (var step = 0; step < 20_000; step++)
        {
            var slope = new double[4];
            foreach (var row in rows)
            {
                var off = 1 / (1 + Math.Exp(-(w[3] + w[0] * row.Values[0] + w[1] * row.Values[1] + w[2] * row.Values[2]))) - (row.Won ? 1 : 0);
                for (var i = 0; i < 3; i++)
                    slope[i] += off * row.Values[i];
                slope[3] += off;
            }
            for (var i = 0; i < 4; i++)
                w[i] -= 0.01 * (slope[i] + (i < 3 ? ridge * w[i] : 0));
        }
        var fit = LogisticRegression.Fit(rows, 3, ridge);
        for (var i = 0; i < 3; i++)
            fit.Weights[i].ShouldBe(w[i], 1e-6);
        fit.Intercept.ShouldBe(w[3], 1e-6);
    }

    // With one yes-or-no feature and next to no penalty the answer is the difference of the log-odds, its error that of Woolf (1955).
    [Fact]
    public void OneFeatureGivesTheLogOddsRatio()
    {
        var rows = new[] { (1, true, 30), (1, false, 10), (0, true, 20), (0, false, 40) }
            .SelectMany(c => Enumerable.Repeat(new SparseRow(c.Item1 == 1 ? [0] : [], c.Item1 == 1 ? [1.0] : [], c.Item2), c.Item3))
            .ToList();
        var fit = LogisticRegression.Fit(rows, 1, 1e-8);
        fit.Weights[0].ShouldBe(Math.Log(30.0 * 40 / (10 * 20)), 1e-5);
        fit.Intercept.ShouldBe(Math.Log(20.0 / 40), 1e-5);
        fit.Errors[0].ShouldBe(Math.Sqrt(1 / 30.0 + 1 / 10.0 + 1 / 20.0 + 1 / 40.0), 1e-5);
    }

    [Fact]
    public void AFeatureThatTellsAllHasAnAnswerStill() =>
        LogisticRegression
            .Fit([.. Enumerable.Range(0, 40).Select(i => new SparseRow(i % 2 == 0 ? [0] : [], i % 2 == 0 ? [1.0] : [], i % 2 == 0))], 1, 1)
            .Weights[0]
            .ShouldBeInRange(2, 10);

    [Fact]
    public void EveryOutcomeStandsInOneBandAndOneQuarter()
    {
        var outcomes = Made(400);
        var report = OutcomeReport.Of(ScoringSample.Model, Sample.Catalogue, outcomes);
        foreach (
            var sum in new[]
            {
                report.Fit.Sum(b => b.Share.Count),
                report.Engagement.Sum(b => b.Share.Count),
                report.Quarters.Sum(q => q.Share.Count),
                report.Calibration.Sum(c => c.Share.Count),
            }
        )
            sum.ShouldBe(400);
        report.Quarters.Sum(q => q.Share.Won).ShouldBe(outcomes.Count(o => o.Won));
    }

    [Fact]
    public void WhatTellsIsToldFromWhatDoesNot()
    {
        var report = OutcomeReport.Of(ScoringSample.Model, Sample.Catalogue, Made(1500));
        report.Criteria.Single(c => c.Key == "industry").Verdict.ShouldBe(LineVerdict.Tells);
        report.Criteria.Single(c => c.Key == "sites").Verdict.ShouldBe(LineVerdict.Nothing);
        report.Signals.Single(s => s.Kind == "call.reached").Verdict.ShouldBe(LineVerdict.Tells);
        report.FitRank.Low.ShouldBeGreaterThan(0.5);
        report.Criteria[0].Lines[0].Evidence.ShouldBeGreaterThan(0);
        report.Criteria[0].Lines[1].Evidence.ShouldBeLessThan(0);
    }

    [Fact]
    public void PointsTheWrongWayRoundAreFound()
    {
        var turned = ScoringSample.Model with
        {
            Fit = [ScoringSample.Model.Fit[0] with { Lines = [.. ScoringSample.Model.Fit[0].Lines.Select(l => l with { Points = -l.Points })] }],
        };
        OutcomeReport.Of(turned, Sample.Catalogue, Made(1500)).Criteria[0].Verdict.ShouldBe(LineVerdict.Opposite);
    }

    // The guide taken five days after it was decided is no sign of anything.
    [Fact]
    public void WhatHappenedAfterwardsCountsNothing() =>
        OutcomeReport.Of(ScoringSample.Model, Sample.Catalogue, Made(300)).Signals.Single(s => s.Kind == "form.guide").Share.Count.ShouldBe(0);

    [Fact]
    public void AFieldMostlyFilledAfterwardsIsCalledALeak()
    {
        var outcomes = Made(200).Select((o, i) => i % 2 == 0 ? o with { LearntLater = new HashSet<string> { "industry" } } : o).ToList();
        OutcomeReport.Of(ScoringSample.Model, Sample.Catalogue, outcomes).Warnings.ShouldContain(w => w.Problem.Code == "field-leaks" && w.Problem.Path == "fit/0");
    }

    [Theory]
    [InlineData(49)]
    [InlineData(10)]
    [InlineData(0)]
    public void FromFewerThanFiftyOutcomesNothingIsSuggested(int count)
    {
        var suggestion = PointSuggestion.Of(ScoringSample.Model, Sample.Catalogue, Made(count));
        suggestion.Refused!.Code.ShouldBe("too-few-outcomes");
        suggestion.Points.ShouldBeEmpty();
    }

    [Fact]
    public void SuggestionsPointWhereTheOutcomesDoAndAreTheSameEachTime()
    {
        var suggestion = PointSuggestion.Of(ScoringSample.Model, Sample.Catalogue, Made(1500));
        double Of(string path) => suggestion.Points.Single(p => p.Path == path).Suggested;
        Of("fit/0/lines/0").ShouldBeGreaterThan(0);
        Of("fit/0/lines/1").ShouldBeLessThan(0);
        suggestion.Points.Single(p => p.Path == "fit/0/lines/0").Sure.ShouldBeTrue();
        suggestion.Points.Single(p => p.Path == "engagement/3").Suggested.ShouldBeGreaterThan(0);
        suggestion.Points.ShouldAllBe(p => p.Low <= p.Suggested && p.Suggested <= p.High);
        suggestion.RankSuggested.ShouldBeGreaterThan(0.6);
        PointSuggestion.Of(ScoringSample.Model, Sample.Catalogue, Made(1500)).Points.ShouldBe(suggestion.Points);
    }
}
