namespace DapperLantern.Core.Scoring.Outcomes;

/// <summary>So many won of so many, with how sure that is.</summary>
/// <param name="Rate">Won of all, 0 to 1; 0 when there are none.</param>
/// <param name="Low">Lower end of the interval of 95 %.</param>
/// <param name="High">Upper end.</param>
public sealed record Share(int Count, int Won, double Rate, double Low, double High)
{
    /// <summary>Standard errors to either side of an interval of 95 %.</summary>
    internal const double Z = 1.959963984540054;

    /// <summary>The same of a list of who was won.</summary>
    public static Share Of(IReadOnlyCollection<bool> won) => Of(won.Count, won.Count(w => w));

    /// <summary>Score interval of a binomial share (Wilson 1927): right for small numbers, and never outside 0 to 1. Of nothing everything is possible.</summary>
    public static Share Of(int count, int won)
    {
        if (count == 0)
            return new Share(0, 0, 0, 0, 1);
        var (n, p) = ((double)count, (double)won / count);
        var whole = 1 + Z * Z / n;
        var middle = (p + Z * Z / (2 * n)) / whole;
        var half = Z / whole * Math.Sqrt(p * (1 - p) / n + Z * Z / (4 * n * n));
        return new Share(count, won, p, won == 0 ? 0 : Math.Max(0, middle - half), won == count ? 1 : Math.Min(1, middle + half));
    }
}
