using System.Globalization;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Scoring;

/// <summary>
/// Between a <see cref="Glow"/> and the column <c>lead.glow</c>, an array: knee, silence points, day, day on which silence begins (infinity for never), then points and half-life of each
/// ember. The SQL function <c>engagement_at(glow, day)</c> computes from it what <see cref="Glow.Score"/> does (held by a test), so that engagement is exact whenever it is read and nothing
/// has to be written as time passes. See docs/scoring.md.
/// </summary>
public static class GlowSql
{
    private const int Head = 4;

    /// <summary>The next move of the lead under the alias l at a moment: whose engagement has fallen under its bar has the move of one that has not cleared it.</summary>
    /// <param name="now">A parameter.</param>
    public static string MoveAt(string now) =>
        $"(case when l.move_until <= {now} then case l.next_move when '{NextMove.HandOver}' then '{NextMove.Nurture}' when '{NextMove.Check}' then '{NextMove.Park}' else l.next_move end else l.next_move end)";

    /// <summary>Holds of a lead whose kept next move has not fallen at a moment.</summary>
    public static string StillAt(string now) => $"(l.move_until is null or l.move_until > {now})";

    public static double[]? Write(Glow glow)
    {
        if (glow.Embers.IsEmpty && glow.SilencePoints <= 0)
            return null;
        var row = new double[Head + 2 * glow.Embers.Length];
        (row[0], row[1], row[2], row[3]) = (glow.Knee, glow.SilencePoints, glow.At, glow.SilentAt);
        for (var i = 0; i < glow.Embers.Length; i++)
            (row[Head + 2 * i], row[Head + 2 * i + 1]) = (glow.Embers[i].Points, glow.Embers[i].HalfLifeDays);
        return row;
    }

    public static Glow Read(double[] row) =>
        new(row[0], row[1], row[2], row[3], [.. Enumerable.Range(0, (row.Length - Head) / 2).Select(i => new DecayTerm(row[Head + 2 * i], row[Head + 2 * i + 1]))]);

    /// <summary>The same as a literal of PostgreSQL; null for none.</summary>
    public static string? Text(Glow glow) => Write(glow) is { } row ? $"{{{string.Join(',', row.Select(Literal))}}}" : null;

    private static string Literal(double value) => double.IsPositiveInfinity(value) ? "Infinity" : value.ToString("R", CultureInfo.InvariantCulture);
}
