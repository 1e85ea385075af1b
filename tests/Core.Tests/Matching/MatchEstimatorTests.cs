using CsCheck;
using DapperLantern.Core.Matching;

namespace DapperLantern.Core.Tests.Matching;

public sealed class MatchEstimatorTests
{
    private static Dictionary<Levels, long> Drawn(int seed, int pairs, double share, double agree, double byChance)
    {
        // Pairs of a known make: of one person they agree often, of two people seldom, in three respects that know nothing of each other.
        var random = new Random(seed);
        var looks = new Dictionary<Levels, long>();
        for (var i = 0; i < pairs; i++)
        {
            var look = new Levels();
            for (var c = 0; c < Comparisons.All.Length; c++)
                look[c] = Comparisons.Silent;
            var one = random.NextDouble() < share;
            foreach (var c in new[] { Comparisons.FirstName, Comparisons.Phone, Comparisons.Born })
                look[c] = random.NextDouble() < (one ? agree : byChance) ? 0 : Comparisons.All[c].Levels.Length - 1;
            looks[look] = looks.GetValueOrDefault(look) + 1;
        }
        return looks;
    }

    [Fact]
    public void TheSharesThatMadeThePairsAreFoundAgain()
    {
        var estimate = MatchEstimator.Run(MatchModel.Shipped, Drawn(1, 200_000, 0, .9, .1), [new PairCounts(BlockKind.Mail, Drawn(2, 100_000, .4, .9, .1))]);
        var born = Comparisons.All[Comparisons.Born];
        var odds = estimate.Model[born, born.Levels[0]];
        // The levels seen share what room they had among all levels.
        var room = born.Levels[0].M + born.Levels[^1].M;
        odds.M.ShouldBe(.9 * room, .02);
        odds.U.ShouldBe(.1 * (born.Levels[0].U + born.Levels[^1].U), .02);
        estimate.Rounds.Single().ShareOfPairs.ShouldBe(.4, .02);
    }

    [Fact]
    public void NoRoundMakesWhatWasSeenLessLikely() =>
        Gen.Select(Gen.Int[1, 1000], Gen.Double[.05, .9], Gen.Double[.6, .95], Gen.Double[.02, .4])
            .Sample(
                (seed, share, agree, chance) =>
                {
                    var estimate = MatchEstimator.Run(
                        MatchModel.Shipped,
                        Drawn(seed, 2000, 0, agree, chance),
                        [new PairCounts(BlockKind.Mail, Drawn(seed + 1, 3000, share, agree, chance))]
                    );
                    var likelihoods = estimate.Rounds.Single().Likelihoods;
                    return likelihoods.Zip(likelihoods.Skip(1)).All(p => p.Second >= p.First - 1e-3);
                },
                iter: 60
            );

    [Fact]
    public void LevelsThatNeedAnotherToAgreeAreNotLearntFromChancePairs()
    {
        // "The same number" is not said of two who have other names, so by chance it is seen far too seldom.
        var estimate = MatchEstimator.Run(MatchModel.Shipped, Drawn(1, 200_000, 0, .9, .01), [new PairCounts(BlockKind.Mail, Drawn(2, 100_000, .4, .9, .1))]);
        foreach (var comparison in Comparisons.All)
        foreach (var level in comparison.Levels.Where(l => l.Given))
            estimate.Model[comparison, level].U.ShouldBe(level.U);
        var phone = Comparisons.All[Comparisons.Phone];
        estimate.Model[phone, phone.Levels[0]].M.ShouldNotBe(phone.Levels[0].M);
        // Colleagues have different addresses at one company, and that never speaks for their being one.
        var mail = Comparisons.All[Comparisons.Email];
        var beside = mail.Levels.Single(l => l.Key == "beside");
        beside.Given.ShouldBeTrue();
        estimate.Model[mail, beside].ShouldBe(new LevelOdds(beside.M, beside.U));
    }

    [Fact]
    public void WhatIsHardlySeenKeepsItsOdds()
    {
        var estimate = MatchEstimator.Run(MatchModel.Shipped, new Dictionary<Levels, long>(), []);
        foreach (var comparison in Comparisons.All)
        foreach (var level in comparison.Levels)
            estimate.Model[comparison, level].ShouldBe(new LevelOdds(level.M, level.U));
    }
}
