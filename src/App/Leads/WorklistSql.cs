using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using DapperLantern.App.Data;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using NpgsqlTypes;
using SortKey = DapperLantern.Core.Leads.SortKey;

namespace DapperLantern.App.Leads;

/// <summary>Where a page ends: the values of the order's keys in the last row, null for what is not known, and its id.</summary>
/// <param name="At">The moment the list is as of.</param>
public sealed record Cursor(ImmutableArray<string?> Values, Guid Id, DateTime? At = null)
{
    public string Write() => Convert.ToBase64String(Encoding.UTF8.GetBytes(Json.Write(this)));

    /// <summary>Reads a cursor made for the same order; null when it is not one.</summary>
    public static Cursor? Read(string text, IReadOnlyList<SortKey> given, FieldCatalogue catalogue)
    {
        var order = WorklistSql.Kept(given);
        try
        {
            var cursor = Json.Read<Cursor>(Encoding.UTF8.GetString(Convert.FromBase64String(text)));
            return
                !cursor.Values.IsDefault
                && cursor.Values.Length == order.Count
                && order.Zip(cursor.Values, (k, v) => WorklistSql.Parses(catalogue.Asked(k.Field)!, v)).All(good => good)
                ? cursor
                : null;
        }
        catch (Exception e) when (e is FormatException or System.Text.Json.JsonException)
        {
            return null;
        }
    }
}

/// <summary>The SQL of orders, pages and groups over the table <c>lead</c> under the alias <c>l</c>.</summary>
public static class WorklistSql
{
    private static readonly HashSet<string> AlwaysThere = ["state", "source", "fit", "engagement", "next_move", "created_at", "last_touch_at"];

    /// <summary>
    /// The keys as they are ordered by. Engagement takes two: the band it is kept in, which an index follows, and within it what it is now.
    /// </summary>
    public static IReadOnlyList<SortKey> Kept(IEnumerable<SortKey> order) => [.. order.SelectMany(k => k.Field == "engagement" ? [k, k] : new[] { k })];

    /// <summary>What a field is ordered by: people, sources and campaigns by their names, the rest by its value.</summary>
    /// <param name="second">True for the second of the keys of one field.</param>
    public static string SortColumn(ConditionSql sql, FieldDefinition field, bool second) =>
        field.Key switch
        {
            "engagement" => second ? sql.Warmth : "l.band",
            "owner" => "(select sp.display_name from person sp where sp.id = l.owner_id)",
            "source" => "(select ss.name from source ss where ss.key = l.source)",
            "campaign" => "(select sc.name from campaign sc where sc.key = l.campaign)",
            _ => sql.Column(field),
        };

    /// <summary>The fields that every lead a condition holds of has: then nothing need be said of those without, and an index is in order. Owner and campaign are ordered by names, which may be gone.</summary>
    public static IReadOnlySet<string> Known(Condition where)
    {
        var known = new HashSet<string>(AlwaysThere);
        foreach (var part in where is AllOf all ? all.Parts : [where])
            if (part is Test { Field: not ("owner" or "campaign") } test)
                known.Add(test.Field);
        return known;
    }

    /// <summary>What to order by, the id at last so that no two leads stand on the same place.</summary>
    /// <param name="known">See <see cref="Known"/>.</param>
    public static string OrderBy(IReadOnlyList<SortKey> order, IReadOnlyList<string> columns, IReadOnlySet<string> known)
    {
        var keys = order.Zip(columns, (key, column) => $"{column}{(key.Descending ? " desc" : "")}{(known.Contains(key.Field) ? "" : " nulls last")}");
        return $"{string.Join(", ", keys)}, l.id{(IdDescends(order) ? " desc" : "")}";
    }

    /// <summary>The rows after a cursor. Where all keys are always known and run the same way, rows are compared whole, which an index can follow.</summary>
    public static string After(
        ConditionSql sql,
        IReadOnlyList<SortKey> order,
        IReadOnlyList<FieldDefinition> fields,
        IReadOnlyList<string> columns,
        IReadOnlySet<string> known,
        Cursor cursor
    )
    {
        var values = fields.Zip(cursor.Values, (f, v) => v is null ? null : $"{sql.Parameter(v, NpgsqlDbType.Text)}::{TypeOf(f)}").ToList();
        var id = sql.Parameter(cursor.Id, NpgsqlDbType.Uuid);
        if (order.Select((k, i) => (k, i)).All(x => known.Contains(x.k.Field) && values[x.i] is not null && x.k.Descending == order[0].Descending))
            return $"({string.Join(", ", columns)}, l.id) {(order[0].Descending ? "<" : ">")} ({string.Join(", ", values)}, {id})";
        var after = $"l.id {(IdDescends(order) ? "<" : ">")} {id}";
        for (var i = order.Count - 1; i >= 0; i--)
            after = values[i] is { } value
                ? $"({columns[i]} {(order[i].Descending ? "<" : ">")} {value} or {columns[i]} is null or ({columns[i]} = {value} and {after}))"
                : $"({columns[i]} is null and {after})";
        return after;
    }

    /// <summary>The key of a lead's group as text; null for what is not known.</summary>
    /// <param name="zone">A parameter with the name of the time zone.</param>
    public static string GroupKey(Grouping grouping, string column, string zone) =>
        grouping.Grain switch
        {
            Grain.Value => $"({column})::text",
            Grain.Band when grouping.ByScore => $"least(floor({column} / 20.0) * 20, 80)::int::text",
            Grain.Band => $"(case when {column} < 1 then 0 when {column} >= 1 then power(10::numeric, floor(log({column}::numeric))) end)::numeric(40, 0)::text",
            var grain => $"to_char(date_trunc('{grain.ToString().ToLowerInvariant()}', {column} at time zone {zone}), 'YYYY-MM-DD')",
        };

    internal static bool Parses(FieldDefinition field, string? value) =>
        value is null
        || TypeOf(field) switch
        {
            "int" => int.TryParse(value, CultureInfo.InvariantCulture, out _),
            "numeric" => decimal.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out _),
            "timestamptz" => DateTimeOffset.TryParse(value, CultureInfo.InvariantCulture, out _),
            _ => true,
        };

    private static bool IdDescends(IReadOnlyList<SortKey> order) => order[0].Descending;

    private static string TypeOf(FieldDefinition field) =>
        BuiltInFields.WholeNumbers.Contains(field.Key) ? "int"
        : field.IsNumeric ? "numeric"
        : field.Type == FieldType.Date ? "timestamptz"
        : "text";
}
