using System.Globalization;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using NodaTime;
using Npgsql;
using NpgsqlTypes;

namespace DapperLantern.App.Leads;

/// <summary>What is counted or summed in each cell: leads, or a number's sum or mean.</summary>
public enum MeasureKind
{
    Count,
    Sum,
    Mean,
}

public sealed record Measure(MeasureKind Kind, FieldDefinition? Field);

/// <param name="Key">Null for what is not known.</param>
/// <param name="Where">The condition that holds of the group's leads among those asked for; null for the rest, which has none.</param>
public sealed record GroupView(string? Key, string Label, Condition? Where);

/// <param name="Row">Place among the rows; <paramref name="Column"/> likewise, 0 when there are no columns.</param>
/// <param name="Value">The measure; null when no lead of the cell has the number.</param>
public sealed record CellView(int Row, int Column, int Count, double? Value);

/// <summary>Leads counted by one or two groupings. The counts of the cells add up to <paramref name="Total"/>.</summary>
public sealed record GroupsView(IReadOnlyList<GroupView> Rows, IReadOnlyList<GroupView> Columns, IReadOnlyList<CellView> Cells, int Total, string Measure);

/// <summary>Grouped counts and pivots over leads.</summary>
public sealed class LeadGroups(Workspace workspace, RecordScope scope, TimeProvider clock)
{
    /// <summary>Most rows and most columns shown; the smallest beyond come together as the rest.</summary>
    public const int MostRows = 200;

    public const int MostColumns = 24;

    private const string Rest = "the rest";

    public async Task<GroupsView> Count(LanternDb db, Condition where, Grouping rows, Grouping? columns, Measure measure, string zone)
    {
        var found = await Read(db, where, rows, columns, measure, zone);
        var days = DateTimeZoneProviders.Tzdb[zone];
        var (across, placeAcross) = columns is null ? ([], _ => 0) : Places(found.Select(f => (f.Column, f.Count)), columns, MostColumns, days);
        var (down, placeDown) = Places(found.Select(f => (f.Row, f.Count)), rows, MostRows, days);
        var cells = found
            .GroupBy(f => (Row: placeDown(f.Row), Column: placeAcross(f.Column)))
            .OrderBy(g => g.Key)
            .Select(g => new CellView(g.Key.Row, g.Key.Column, g.Sum(f => f.Count), Together(measure, [.. g])))
            .ToList();
        return new GroupsView(down, across, cells, cells.Sum(c => c.Count), Words(measure));
    }

    private async Task<List<Found>> Read(LanternDb db, Condition where, Grouping rows, Grouping? columns, Measure measure, string zone)
    {
        var sql = new ConditionSql(workspace.Catalogue, clock.UtcNow(), scope);
        var holds = sql.Write(where);
        var inZone = sql.Parameter(zone, NpgsqlDbType.Text);
        var column = columns is null ? "null::text" : WorklistSql.GroupKey(columns, sql.Column(columns.Field), inZone);
        var measured = measure.Field is { } f ? $"({sql.Column(f)})::float8" : "null::float8";
        var text = $"""
            select r, c, count(*)::int, sum(m), count(m)::int from
              (select {WorklistSql.GroupKey(rows, sql.Column(rows.Field), inZone)} as r, {column} as c, {measured} as m from lead l where {holds}) x group by r, c
            """;
        return await db.Read(
            sql.Part(text),
            row => new Found(
                row.IsDBNull(0) ? null : row.GetString(0),
                row.IsDBNull(1) ? null : row.GetString(1),
                row.GetInt32(2),
                row.IsDBNull(3) ? 0 : row.GetDouble(3),
                row.GetInt32(4)
            )
        );
    }

    // The groups in order, and where each key stands. Dates and bands go by themselves, the rest by size; what is not known comes last.
    private static (List<GroupView> Groups, Func<string?, int> PlaceOf) Places(IEnumerable<(string? Key, int Count)> found, Grouping grouping, int most, DateTimeZone zone)
    {
        var sizes = found.GroupBy(f => f.Key ?? "\0").Select(g => (Key: g.Key == "\0" ? null : g.Key, Count: g.Sum(f => f.Count))).ToList();
        var shown = sizes.OrderByDescending(s => s.Count).ThenBy(s => s.Key, StringComparer.Ordinal).Take(sizes.Count > most ? most - 1 : most);
        var ordered = grouping.Grain switch
        {
            Grain.Value => shown.OrderBy(s => s.Key is null),
            Grain.Band => shown.OrderBy(s => s.Key is null).ThenBy(s => s.Key is null ? 0 : decimal.Parse(s.Key, CultureInfo.InvariantCulture)),
            _ => shown.OrderBy(s => s.Key is null).ThenBy(s => s.Key, StringComparer.Ordinal),
        };
        var groups = ordered.Select(s => new GroupView(s.Key, grouping.LabelOf(s.Key), grouping.Of(s.Key, zone))).ToList();
        var places = groups.Select((g, i) => (Key: g.Key ?? "\0", i)).ToDictionary(g => g.Key, g => g.i);
        if (sizes.Count > places.Count)
            groups.Add(new GroupView(null, Rest, null));
        return (groups, key => places.GetValueOrDefault(key ?? "\0", groups.Count - 1));
    }

    private static double? Together(Measure measure, List<Found> cells)
    {
        var known = cells.Sum(c => c.Known);
        return measure.Kind switch
        {
            MeasureKind.Count => cells.Sum(c => c.Count),
            _ when known == 0 => null,
            MeasureKind.Sum => cells.Sum(c => c.Sum),
            _ => cells.Sum(c => c.Sum) / known,
        };
    }

    private static string Words(Measure measure) =>
        measure.Kind switch
        {
            MeasureKind.Sum => $"sum of {measure.Field!.Label.ToLowerInvariant()} of these leads",
            MeasureKind.Mean => $"mean {measure.Field!.Label.ToLowerInvariant()} of these leads",
            _ => "leads",
        };

    private sealed record Found(string? Row, string? Column, int Count, double Sum, int Known);
}
