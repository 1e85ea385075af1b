using System.Collections.Concurrent;
using System.Text.Json;

namespace DapperLantern.App.Data.Records;

/// <summary>
/// Rows that were taken out of the database and kept as JSON. A row may be older than columns of its table: such a column gets the table's own default, so every NOT NULL column that a
/// migration adds needs one. A column that is there no more is passed over.
/// </summary>
internal static class KeptRows
{
    // A table has the same columns for as long as the program runs.
    private static readonly ConcurrentDictionary<string, string[]> Columns = [];

    /// <summary>Puts rows back as they were; those that are there already stay as they are. Event triggers are disabled, because a restore is no change.</summary>
    public static async Task PutBack(LanternDb db, string table, IReadOnlyCollection<JsonElement> rows)
    {
        if (rows.Count == 0)
            return;
        if (!Columns.TryGetValue(table, out var columns))
            Columns[table] = columns = await ColumnsOf(db, table);
        var alike = rows.GroupBy(r => string.Join(", ", columns.Where(c => r.TryGetProperty(c, out _))));
        await db.Run(
            SqlText.Joined([
                $"select set_config('lantern.putting_back', 'yes', true)",
                .. alike.Select(g => Insert(table, g.Key, $"[{string.Join(',', g.Select(r => r.GetRawText()))}]")),
                $"select set_config('lantern.putting_back', '', true)",
            ])
        );
    }

    private static SqlText Insert(string table, string columns, string rows) =>
        $"""
            insert into {table:sql} ({columns:sql}) overriding system value
              select {columns:sql} from jsonb_populate_recordset(null::{table:sql}, {rows}::jsonb) on conflict do nothing
            """;

    private static async Task<string[]> ColumnsOf(LanternDb db, string table) =>
        [
            .. await db.Rows<string>(
                $"""
                select column_name::text as "Value" from information_schema.columns
                where table_schema = 'public' and table_name = {table} and is_generated = 'NEVER' order by ordinal_position
                """
            ),
        ];
}
