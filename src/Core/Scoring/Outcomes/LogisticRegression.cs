using MathNet.Numerics.LinearAlgebra;

namespace DapperLantern.Core.Scoring.Outcomes;

/// <summary>A row of a design: the places where it is not 0, and what stands there.</summary>
public readonly record struct SparseRow(int[] At, double[] Values, bool Won);

/// <summary>What a regression found.</summary>
/// <param name="Intercept">Log-odds of a row of zeros.</param>
/// <param name="Weights">Log-odds that each feature adds.</param>
/// <param name="Errors">Standard error of each weight.</param>
public sealed record LogisticFit(double Intercept, double[] Weights, double[] Errors)
{
    /// <summary>The chance, 0 to 1, of a row.</summary>
    public double Chance(in SparseRow row)
    {
        var odds = Intercept;
        for (var i = 0; i < row.At.Length; i++)
            odds += Weights[row.At[i]] * row.Values[i];
        return 1 / (1 + Math.Exp(-odds));
    }
}

/// <summary>
/// Logistic regression with a ridge penalty of half <c>ridge</c> times the sum of squared weights, the intercept free (le Cessie and van Houwelingen 1992), by Newton's method
/// with halved steps. Errors come from the inverse of the penalised information.
/// </summary>
public static class LogisticRegression
{
    private const int MostSteps = 60;

    /// <param name="ridge">Over 0, so that there is always one answer, even where a feature tells all.</param>
    /// <exception cref="ArgumentOutOfRangeException">The ridge is not over 0.</exception>
    public static LogisticFit Fit(IReadOnlyList<SparseRow> rows, int features, double ridge)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(ridge);
        var weights = Vector<double>.Build.Dense(features + 1);
        var loss = Loss(rows, weights, ridge);
        for (var step = 0; step < MostSteps; step++)
        {
            var (slope, curve) = Derivatives(rows, weights, ridge);
            var move = curve.Cholesky().Solve(slope);
            var (next, after, share) = (weights - move, double.PositiveInfinity, 1.0);
            while ((after = Loss(rows, next = weights - share * move, ridge)) > loss + 1e-12 && share > 1e-6)
                share /= 2;
            (weights, var gained, loss) = (next, loss - after, after);
            if (gained < 1e-11 * (1 + Math.Abs(loss)))
                break;
        }
        var spread = Derivatives(rows, weights, ridge).Curve.Cholesky().Solve(Matrix<double>.Build.DenseIdentity(features + 1)).Diagonal();
        return new LogisticFit(weights[features], [.. weights.Take(features)], [.. spread.Take(features).Select(v => Math.Sqrt(Math.Max(0, v)))]);
    }

    // The last weight is the intercept. log(1 + e^-m), written so that it does not overflow.
    private static double Loss(IReadOnlyList<SparseRow> rows, Vector<double> weights, double ridge)
    {
        var features = weights.Count - 1;
        var sum = 0.0;
        foreach (var row in rows)
        {
            var odds = Odds(row, weights);
            var margin = row.Won ? odds : -odds;
            sum += margin > 0 ? Math.Log(1 + Math.Exp(-margin)) : -margin + Math.Log(1 + Math.Exp(margin));
        }
        for (var i = 0; i < features; i++)
            sum += ridge / 2 * weights[i] * weights[i];
        return sum;
    }

    private static (Vector<double> Slope, Matrix<double> Curve) Derivatives(IReadOnlyList<SparseRow> rows, Vector<double> weights, double ridge)
    {
        var features = weights.Count - 1;
        var slope = Vector<double>.Build.Dense(features + 1);
        var curve = Matrix<double>.Build.Dense(features + 1, features + 1);
        foreach (var row in rows)
        {
            var chance = 1 / (1 + Math.Exp(-Odds(row, weights)));
            var (off, spread) = (chance - (row.Won ? 1 : 0), chance * (1 - chance));
            slope[features] += off;
            curve[features, features] += spread;
            for (var i = 0; i < row.At.Length; i++)
            {
                slope[row.At[i]] += off * row.Values[i];
                curve[row.At[i], features] += spread * row.Values[i];
                curve[features, row.At[i]] += spread * row.Values[i];
                for (var j = 0; j < row.At.Length; j++)
                    curve[row.At[i], row.At[j]] += spread * row.Values[i] * row.Values[j];
            }
        }
        for (var i = 0; i < features; i++)
        {
            slope[i] += ridge * weights[i];
            curve[i, i] += ridge;
        }
        // All won or all lost leaves the intercept without a bound.
        curve[features, features] += 1e-9;
        return (slope, curve);
    }

    private static double Odds(in SparseRow row, Vector<double> weights)
    {
        var odds = weights[weights.Count - 1];
        for (var i = 0; i < row.At.Length; i++)
            odds += weights[row.At[i]] * row.Values[i];
        return odds;
    }
}
