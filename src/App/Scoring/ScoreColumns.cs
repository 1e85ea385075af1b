using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using NpgsqlTypes;

namespace DapperLantern.App.Scoring;

/// <summary>A column of <c>lead</c> that scoring writes.</summary>
public sealed record ScoreColumn(string Name, NpgsqlDbType Type, Func<StoredScores, object?> Of);

/// <summary>All that is kept of a lead's scores, said once for everyone who writes it.</summary>
public static class ScoreColumns
{
    private const NpgsqlDbType Doubles = NpgsqlDbType.Array | NpgsqlDbType.Double;

    public static ImmutableArray<ScoreColumn> All { get; } =
    [
        new("fit", NpgsqlDbType.Integer, s => s.Standing.Fit.Score),
        new("fit_low", NpgsqlDbType.Integer, s => s.Standing.Fit.Low),
        new("fit_high", NpgsqlDbType.Integer, s => s.Standing.Fit.High),
        new("engagement", NpgsqlDbType.Integer, s => s.Standing.Engagement),
        new("next_move", NpgsqlDbType.Text, s => s.Standing.Move),
        new("decay", Doubles, s => EngagementDecaySql.Write(s.Standing.Decay)),
        new("band", NpgsqlDbType.Integer, s => s.Standing.Band),
        new("move_until", NpgsqlDbType.TimestampTz, s => s.Standing.MoveUntil?.ToUtc()),
        new("look_again_at", NpgsqlDbType.TimestampTz, s => s.Standing.LookAgain?.ToUtc()),
        new("scored_at", NpgsqlDbType.TimestampTz, s => s.At),
        new("model_edition", NpgsqlDbType.Uuid, s => s.Edition),
        new("last_sign_at", NpgsqlDbType.TimestampTz, s => s.Signs.Last?.ToUtc()),
        new("silent_days", NpgsqlDbType.Integer, s => s.Signs.SilentDays),
    ];

    /// <summary>The names, for a select list.</summary>
    public static string Names { get; } = string.Join(", ", All.Select(c => c.Name));

    /// <summary>What an UPDATE sets.</summary>
    /// <param name="from">Stands before each name: <c>x.</c> or <c>@</c>.</param>
    public static string Sets(string from) => string.Join(", ", All.Select(c => $"{c.Name} = {from}{c.Name}"));

    /// <summary>Writes them by COPY.</summary>
    public static BulkTable<T> Scores<T>(this BulkTable<T> table, Func<T, StoredScores> scores)
    {
        foreach (var (name, type, of) in All)
            _ = type switch
            {
                NpgsqlDbType.Integer => table.Int(name, row => (int?)of(scores(row))),
                NpgsqlDbType.TimestampTz => table.Moment(name, row => (DateTime?)of(scores(row))),
                NpgsqlDbType.Uuid => table.Uuid(name, row => (Guid?)of(scores(row))),
                Doubles => table.Doubles(name, row => (double[]?)of(scores(row))),
                _ => table.Text(name, row => (string?)of(scores(row))),
            };
        return table;
    }
}
