using System.Collections.Immutable;

namespace DapperLantern.Core.Matching;

/// <summary>One piece of evidence for or against two records being one.</summary>
/// <param name="Of">Key of the comparison.</param>
/// <param name="Bits">Positive speaks for, negative against; a tenth exact.</param>
public sealed record Evidence(string Of, string Words, double Bits);

/// <summary>How two records compare. <see cref="Bits"/> is the sum of the evidence.</summary>
public sealed record MatchResult(ImmutableArray<Evidence> Evidence, MatchBars Bars)
{
    public double Bits { get; } = Math.Round(Evidence.Sum(e => e.Bits), 1);

    /// <summary>Taken as one without asking.</summary>
    public bool Same => Bits >= Bars.Link;

    /// <summary>A person is asked.</summary>
    public bool Duplicate => Bits >= Bars.Ask && Bits < Bars.Link;

    /// <summary>What speaks for it, in words.</summary>
    public string Words => string.Join(", ", Evidence.Where(e => e.Bits > 0).Select(e => e.Words));
}

/// <summary>
/// Compares people, and companies where nobody is named: the evidence of each respect is weighed in bits and added up (Fellegi and Sunter, 1969). Symmetric. Made once for a
/// model and the records at hand; safe for several threads.
/// </summary>
public sealed class Matcher
{
    private readonly double[][] _bits;
    private readonly double[][] _m;
    private readonly double[][] _u;
    private readonly ValueShares _shares;

    public Matcher(MatchModel model, long records, ValueShares? shares = null)
    {
        Bars = MatchBars.Among(records);
        _shares = shares ?? ValueShares.None;
        _m = [.. Comparisons.All.Select(c => c.Levels.Select(l => model[c, l].M).ToArray())];
        _u = [.. Comparisons.All.Select(c => c.Levels.Select(l => model[c, l].U).ToArray())];
        _bits = [.. _m.Zip(_u, (m, u) => m.Zip(u, Bits).ToArray())];
    }

    /// <summary>The shipped model, among few records.</summary>
    public static Matcher Shipped { get; } = new(MatchModel.Shipped, MatchBars.Fewest);

    public MatchBars Bars { get; }

    private static double Bits(double m, double u) => Math.Round(Math.Log2(m / u), 1);

    /// <summary>Evidence for each respect in which both tell something; what either lacks says nothing.</summary>
    public MatchResult Compare(Identity a, Identity b)
    {
        var look = ComparisonVector.Of(a, b);
        var evidence = ImmutableArray.CreateBuilder<Evidence>();
        for (var c = 0; c < Comparisons.All.Length; c++)
            if (look[c] is var level and not Comparisons.Silent && BitsOf(c, level, a, b) is var bits and not 0)
                evidence.Add(new Evidence(Comparisons.All[c].Key, WordsOf(c, level, bits), bits));
        return new MatchResult(evidence.ToImmutable(), Bars);
    }

    /// <summary>The same weight without the words.</summary>
    public double Weigh(Identity a, Identity b)
    {
        var look = ComparisonVector.Of(a, b);
        var sum = 0.0;
        for (var c = 0; c < Comparisons.All.Length; c++)
            if (look[c] is var level and not Comparisons.Silent)
                sum += BitsOf(c, level, a, b);
        return Math.Round(sum, 1);
    }

    private string WordsOf(int comparison, int level, double bits)
    {
        var words = Comparisons.All[comparison].Levels[level].Words;
        return bits < _bits[comparison][level] ? $"{words}, a common one"
            : bits > _bits[comparison][level] ? $"{words}, a rare one"
            : words;
    }

    // The name itself among them.
    private const int NamesASlipAway = 2;

    private double BitsOf(int comparison, int level, Identity a, Identity b)
    {
        if (comparison == Comparisons.LastName && level == 0 && a.Last == b.Last)
        {
            var usual = _u[comparison][level];
            var common = _shares.OfLastName(a.Last, usual);
            // A rare last name tells families apart, and of one without a first name nobody knows which of the family it is.
            return Bits(_m[comparison][level], a.First.Length == 0 || b.First.Length == 0 ? Math.Max(common, usual) : common);
        }
        if (comparison == Comparisons.LastName && level == Comparisons.LastNameNear)
        {
            // Few names are a slip from a rare one, and few people have them.
            var usual = _u[comparison][level];
            var common = Math.Max(_shares.OfLastName(a.Last, usual), _shares.OfLastName(b.Last, usual));
            return Bits(_m[comparison][level], Math.Min(usual, common * NamesASlipAway));
        }
        var share = Shared(comparison, level, a, b) is { Length: > 0 } value ? _shares.Of(Comparisons.All[comparison].Key, value) : 0;
        return share > _u[comparison][level] ? Math.Max(0, Bits(_m[comparison][level], Math.Min(share, 1))) : _bits[comparison][level];
    }

    // The value they have in common, where its being common makes it say less.
    private static string? Shared(int comparison, int level, Identity a, Identity b) =>
        comparison switch
        {
            Comparisons.FirstName when level == 0 && a.First == b.First => a.First,
            Comparisons.Organisation or Comparisons.Company when a.Company == b.Company => a.Company,
            Comparisons.Phone when level == 0 => a.Numbers.Intersect(b.Numbers).FirstOrDefault(),
            Comparisons.Place when a.City == b.City => a.City,
            _ => null,
        };
}
