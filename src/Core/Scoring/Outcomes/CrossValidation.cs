namespace DapperLantern.Core.Scoring.Outcomes;

/// <summary>Each row judged by a regression that has not seen it.</summary>
internal static class CrossValidation
{
    public const int Folds = 5;

    /// <summary>Strengths of the penalty that are tried, weakest first.</summary>
    public static readonly double[] Ridges = [0.3, 1, 3, 10, 30, 100];

    /// <summary>The chance of each row, in their order. The same rows are always divided the same way: won and lost alike.</summary>
    public static double[] Chances(SparseRow[] rows, int features, double ridge)
    {
        var fold = FoldOf(rows);
        var chances = new double[rows.Length];
        for (var f = 0; f < Folds; f++)
        {
            var seen = rows.Where((_, i) => fold[i] != f).ToArray();
            if (seen.Length == rows.Length)
                continue;
            var fit = LogisticRegression.Fit(seen, features, ridge);
            for (var i = 0; i < rows.Length; i++)
                if (fold[i] == f)
                    chances[i] = fit.Chance(rows[i]);
        }
        return chances;
    }

    /// <summary>The penalty under which unseen rows are foretold best, by mean log-loss; the stronger of two that are alike.</summary>
    public static (double Ridge, double Loss) Best(SparseRow[] rows, int features) =>
        Ridges.Reverse().Select(r => (Ridge: r, Loss: Loss(rows, Chances(rows, features, r)))).MinBy(x => x.Loss);

    /// <summary>Mean log-loss of foretold chances.</summary>
    public static double Loss(SparseRow[] rows, double[] chances) =>
        rows.Length == 0 ? 0 : rows.Select((r, i) => -Math.Log(Math.Max(1e-12, r.Won ? chances[i] : 1 - chances[i]))).Average();

    private static int[] FoldOf(SparseRow[] rows)
    {
        var fold = new int[rows.Length];
        foreach (var won in new[] { true, false })
        {
            var of = Enumerable.Range(0, rows.Length).Where(i => rows[i].Won == won).OrderBy(i => Mixed((ulong)i)).ToArray();
            for (var i = 0; i < of.Length; i++)
                fold[of[i]] = i % Folds;
        }
        return fold;
    }

    // The finaliser of SplitMix64 (Steele, Lea, Flood 2014): an order that looks like chance and is always the same.
    private static ulong Mixed(ulong x)
    {
        x += 0x9E3779B97F4A7C15;
        x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9;
        x = (x ^ (x >> 27)) * 0x94D049BB133111EB;
        return x ^ (x >> 31);
    }
}
