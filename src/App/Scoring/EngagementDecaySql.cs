using System.Globalization;
using DapperLantern.App.Data;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Scoring;

/// <summary>
/// Between a <see cref="EngagementDecay"/> and the column <c>lead.decay</c>, an array: knee, silence points, day, day on which silence begins (infinity for never), then points and half-life of each
/// decay term. The SQL function <c>engagement_at(decay, day)</c> computes from it what <see cref="EngagementDecay.Score"/> does (held by a test), so that engagement is exact whenever it is read and nothing
/// has to be written as time passes. See docs/scoring.md.
/// </summary>
public static class EngagementDecaySql
{
    private const int Head = 4;

    /// <summary>The next move of the lead under the alias l at a moment: whose engagement has fallen under its bar has the move of one that has not cleared it.</summary>
    internal static SqlText MoveAt(SqlText now) =>
        $"(case when l.move_until <= {now:sql} then case l.next_move when '{NextMove.HandOver:sql}' then '{NextMove.Nurture:sql}' when '{NextMove.Check:sql}' then '{NextMove.Park:sql}' else l.next_move end else l.next_move end)";

    /// <summary>Holds of a lead whose kept next move has not fallen at a moment.</summary>
    internal static SqlText StillAt(SqlText now) => $"(l.move_until is null or l.move_until > {now:sql})";

    public static double[]? Write(EngagementDecay decay)
    {
        if (decay.Terms.IsEmpty && decay.SilencePoints <= 0)
            return null;
        var row = new double[Head + 2 * decay.Terms.Length];
        (row[0], row[1], row[2], row[3]) = (decay.Knee, decay.SilencePoints, decay.At, decay.SilentAt);
        for (var i = 0; i < decay.Terms.Length; i++)
            (row[Head + 2 * i], row[Head + 2 * i + 1]) = (decay.Terms[i].Points, decay.Terms[i].HalfLifeDays);
        return row;
    }

    public static EngagementDecay Read(double[] row) =>
        new(row[0], row[1], row[2], row[3], [.. Enumerable.Range(0, (row.Length - Head) / 2).Select(i => new DecayTerm(row[Head + 2 * i], row[Head + 2 * i + 1]))]);

    /// <summary>The same as a literal of PostgreSQL; null for none.</summary>
    public static string? Text(EngagementDecay decay) => Write(decay) is { } row ? $"{{{string.Join(',', row.Select(Literal))}}}" : null;

    /// <summary>
    /// The SQL functions <c>engagement_at(decay, day)</c>, in whole points, and <c>decay_sum(decay, day)</c>, the sum before saturation, which stands in the same order and costs half.
    /// Written out for <see cref="ModelCheck.MostHalfLives"/> terms, since a loop in SQL would cost ten times as much.
    /// </summary>
    public static string Functions()
    {
        const string silence = "case when day >= decay[4] then decay[2] else 0 end";
        var sum = silence;
        // The last term first, so that the sums are rounded in the order in which Core adds.
        for (var i = ModelCheck.MostHalfLives - 1; i >= 0; i--)
        {
            var (points, halfLife) = ($"decay[{Head + 1 + 2 * i}]", $"decay[{Head + 2 + 2 * i}]");
            sum = $"case when {points} is null then {silence} else {points} * power(2, greatest(-1000, (decay[3] - day) / {halfLife})) + {sum} end";
        }
        return $"""
            create or replace function engagement_at(decay double precision[], day double precision) returns integer language sql immutable parallel safe as $$
              select case when decay is null then 0 else floor(0.5 + least(greatest(0, ({sum})), decay[1])
                + greatest(100 - decay[1], 1e-9) * (1 - exp(-least(700, greatest(0, ({sum}) - decay[1]) / greatest(100 - decay[1], 1e-9)))))::integer end
            $$;
            create or replace function decay_sum(decay double precision[], day double precision) returns double precision language sql immutable parallel safe as $$
              select {sum}
            $$;
            """;
    }

    private static string Literal(double value) => double.IsPositiveInfinity(value) ? "Infinity" : value.ToString("R", CultureInfo.InvariantCulture);
}
