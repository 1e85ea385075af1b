using System.Collections.Immutable;

namespace DapperLantern.Core.Matching;

/// <summary>Shares of true pairs (m) and of different people (u) that stand at a level; both over 0, at most 1.</summary>
public sealed record LevelOdds(double M, double U);

/// <summary>
/// The probabilities behind the weights, by the keys of comparison and level. What a model does not name is as shipped.
/// </summary>
public sealed record MatchModel(ImmutableDictionary<string, ImmutableDictionary<string, LevelOdds>> Odds)
{
    /// <summary>The defaults of <see cref="Comparisons.All"/>.</summary>
    public static MatchModel Shipped { get; } =
        new(Comparisons.All.ToImmutableDictionary(c => c.Key, c => c.Levels.ToImmutableDictionary(l => l.Key, l => new LevelOdds(l.M, l.U))));

    /// <summary>The odds of a level.</summary>
    public LevelOdds this[Comparison comparison, Level level] =>
        Odds.TryGetValue(comparison.Key, out var levels) && levels.TryGetValue(level.Key, out var odds) ? odds : new LevelOdds(level.M, level.U);
}

/// <summary>
/// How common values are among the records: a share in 0 to 1 for those common enough to know. Sharing a common name says less than sharing a rare one (Newcombe et al., 1959).
/// </summary>
/// <param name="rareLastName">A last name that is not among the shares is rarer than this; 0 where that is not known.</param>
public sealed class ValueShares(IReadOnlyDictionary<(string Comparison, string Value), double> shares, double rareLastName = 0)
{
    public static ValueShares None { get; } = new(new Dictionary<(string, string), double>());

    /// <summary>The least share and number of a last name that is counted by itself: one in four thousand, and five.</summary>
    public const int LastNamesOver = 4000;
    public const int FewestOfLastName = 5;

    /// <summary>How common a last name is at most.</summary>
    public double OfLastName(string name, double usual) =>
        Of("last_name", name) is var share and > 0 ? share
        : rareLastName > 0 ? Math.Min(rareLastName, usual)
        : usual;

    /// <summary>The share of a value in comparison form; 0 when it is not a common one.</summary>
    public double Of(string comparison, string value) => shares.GetValueOrDefault((comparison, value));
}

/// <summary>
/// The two bars on a pair's weight in bits. A weight of log2(n) is what makes a pair among n records as likely to be one person as not; so more is asked of a pair the more
/// records there are.
/// </summary>
/// <param name="Ask">From here a person is asked: the two are as likely one as not.</param>
/// <param name="Link">From here two records are taken as one without asking.</param>
public sealed record MatchBars(double Ask, double Link)
{
    /// <summary>As many records are assumed at least, so that a small base does not link on little.</summary>
    public const long Fewest = 1 << 14;
    public const long Most = 1 << 24;

    // As likely one as two is worth a question; 64 to 1 is sure enough.
    private const double LinkOver = 6;

    /// <summary>The bars among so many records.</summary>
    public static MatchBars Among(long records)
    {
        var even = Math.Log2(Math.Clamp(records, Fewest, Most));
        return new MatchBars(Math.Round(even, 1), Math.Round(even + LinkOver, 1));
    }
}
