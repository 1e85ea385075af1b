namespace DapperLantern.Core.Deals;

/// <summary>An amount in one currency; never negative.</summary>
public readonly record struct Money(decimal Amount, string Currency);

/// <summary>A deal as the forecast sees it, or several of one currency and probability together.</summary>
/// <param name="Worth">Of all of them.</param>
/// <param name="Probability">Of the stage, 0 to 100.</param>
public readonly record struct OpenDeal(Money Worth, int Probability, int Deals = 1);

/// <summary>Totals of open deals in one currency.</summary>
public sealed record ForecastTotal(string Currency, int Deals, decimal Open, decimal Weighted);

/// <summary>Pipeline weighted by probability. Currencies are never added together.</summary>
public static class Forecast
{
    public static IReadOnlyList<ForecastTotal> Totals(IEnumerable<OpenDeal> deals) =>
        [
            .. deals
                .GroupBy(d => d.Worth.Currency)
                .Select(g => new ForecastTotal(g.Key, g.Sum(d => d.Deals), g.Sum(d => d.Worth.Amount), g.Sum(d => d.Worth.Amount * d.Probability / 100)))
                .OrderByDescending(t => t.Weighted),
        ];
}
