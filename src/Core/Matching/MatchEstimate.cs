using System.Collections.Immutable;

namespace DapperLantern.Core.Matching;

/// <summary>How pairs look, counted: pairs brought together by one kind of key.</summary>
public sealed record PairCounts(BlockKind By, IReadOnlyDictionary<Levels, long> Looks);

/// <param name="Model">What was learnt; levels hardly seen are as they were.</param>
/// <param name="Rounds">By kind of key: the logarithm of the likelihood after each round, which never falls, and the share of its pairs that are one person.</param>
/// <param name="Pairs">So many pairs were looked at.</param>
public sealed record MatchEstimate(MatchModel Model, IReadOnlyList<(BlockKind By, IReadOnlyList<double> Likelihoods, double ShareOfPairs)> Rounds, long Pairs);

/// <summary>
/// Learns the probabilities from one's own records without being told which pairs are one person: u from pairs drawn by chance, m by expectation maximisation over pairs that share a
/// key (Dempster, Laird and Rubin, 1977; Winkler, 1988), each kind of key saying nothing of what its pairs agree in by being of that kind.
/// </summary>
public static class MatchEstimator
{
    private const int MostRounds = 60;
    private const double Enough = 1e-7;

    /// <summary>A level seen less often keeps its odds; the U of one that stands only where something else agrees is as it was.</summary>
    public const double FewestSeen = 20;

    /// <param name="chance">Looks of pairs drawn by chance.</param>
    public static MatchEstimate Run(MatchModel start, IReadOnlyDictionary<Levels, long> chance, IReadOnlyList<PairCounts> sharing)
    {
        var odds = new Odds(start);
        LearnU(odds, chance);
        var learnt = sharing.Where(s => s.Looks.Count > 1 && !IsOfAGroup(s.By)).Select(s => Learn(odds, s)).ToList();
        Combine(odds, learnt);
        return new MatchEstimate(odds.ToModel(), [.. learnt.Select(l => (l.By, (IReadOnlyList<double>)l.Likelihoods, l.Share))], sharing.Sum(s => s.Looks.Values.Sum()));
    }

    // Colleagues and relatives share these keys, and they, not duplicates, are what such pairs would teach.
    private static bool IsOfAGroup(BlockKind kind) => kind is BlockKind.Organisation or BlockKind.NameAndPlace or BlockKind.Address or BlockKind.Phone;

    private static void LearnU(Odds odds, IReadOnlyDictionary<Levels, long> chance)
    {
        for (var c = 0; c < Comparisons.All.Length; c++)
        {
            var seen = new double[Comparisons.All[c].Levels.Length];
            foreach (var (look, count) in chance)
                if (look[c] != Comparisons.Silent)
                    seen[look[c]] += count;
            Mix(odds.U[c], seen, l => !Comparisons.All[c].Levels[l].Given);
        }
    }

    // Shares of what was seen often enough; the rest keeps its own, and all add up to what they did before.
    private static void Mix(double[] shares, double[] seen, Func<int, bool> learns)
    {
        var all = seen.Sum();
        if (all < FewestSeen || shares.Length < 2)
            return;
        var often = Enumerable.Range(0, shares.Length).Where(l => seen[l] >= FewestSeen && learns(l)).ToList();
        var (room, known) = (often.Sum(l => shares[l]), often.Sum(l => seen[l]));
        foreach (var l in often)
            shares[l] = Math.Max(1e-12, room * seen[l] / known);
    }

    private sealed record Learnt(BlockKind By, double[][] Seen, List<double> Likelihoods, double Share);

    private static Learnt Learn(Odds start, PairCounts pairs)
    {
        var tied = BlockKeys.TiedTo(pairs.By).ToHashSet();
        var free = Enumerable.Range(0, Comparisons.All.Length).Where(c => !tied.Contains(c)).ToArray();
        var m = start.M.Select(x => x.ToArray()).ToArray();
        // Those who share a key and are different people are not like pairs drawn by chance, so how they look is learnt with the rest.
        var u = start.U.Select(x => x.ToArray()).ToArray();
        var share = 0.3;
        var likelihoods = new List<double>();
        var seen = Empty();
        for (var round = 0; round < MostRounds; round++)
        {
            seen = Empty();
            var others = Empty();
            var (one, all, likelihood) = (0.0, 0.0, 0.0);
            foreach (var (look, count) in pairs.Looks)
            {
                var (yes, no) = (share, 1 - share);
                foreach (var c in free)
                    if (look[c] is var level and >= 0)
                        (yes, no) = (yes * m[c][level], no * u[c][level]);
                var p = yes / (yes + no);
                likelihood += count * Math.Log(yes + no);
                one += p * count;
                all += count;
                foreach (var c in free)
                    if (look[c] is var level and >= 0)
                    {
                        seen[c][level] += p * count;
                        others[c][level] += (1 - p) * count;
                    }
            }
            likelihoods.Add(likelihood);
            if (round > 0 && likelihood - likelihoods[^2] < Enough * Math.Abs(likelihood))
                break;
            share = Math.Clamp(one / all, 1e-6, 1 - 1e-6);
            foreach (var c in free)
            {
                Settle(m[c], seen[c]);
                Settle(u[c], others[c]);
            }
        }
        return new Learnt(pairs.By, [.. seen.Select((s, c) => tied.Contains(c) ? new double[s.Length] : s)], likelihoods, share);
    }

    // The shares that make what was seen most likely. A level not seen at all keeps a grain, so that no look is impossible.
    private static void Settle(double[] shares, double[] seen)
    {
        var all = seen.Sum();
        if (all <= 0 || shares.Length < 2)
            return;
        for (var l = 0; l < shares.Length; l++)
            shares[l] = Math.Max(1e-9, seen[l] / all);
    }

    private static void Combine(Odds odds, List<Learnt> learnt)
    {
        for (var c = 0; c < Comparisons.All.Length; c++)
        {
            var seen = new double[Comparisons.All[c].Levels.Length];
            foreach (var one in learnt)
                for (var l = 0; l < seen.Length; l++)
                    seen[l] += one.Seen[c][l];
            Mix(odds.M[c], seen, _ => true);
        }
    }

    private static double[][] Empty() => [.. Comparisons.All.Select(c => new double[c.Levels.Length])];

    private sealed class Odds(MatchModel start)
    {
        public double[][] M { get; } = [.. Comparisons.All.Select(c => c.Levels.Select(l => start[c, l].M).ToArray())];
        public double[][] U { get; } = [.. Comparisons.All.Select(c => c.Levels.Select(l => start[c, l].U).ToArray())];

        public MatchModel ToModel() =>
            new(
                Comparisons
                    .All.Select((c, i) => (c.Key, Levels: c.Levels.Select((l, j) => (l.Key, Odds: new LevelOdds(M[i][j], U[i][j]))).ToImmutableDictionary(x => x.Key, x => x.Odds)))
                    .ToImmutableDictionary(x => x.Key, x => x.Levels)
            );
    }
}
