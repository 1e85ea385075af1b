namespace DapperLantern.App.Data.Records;

/// <summary>All tables of the database, declared by their capabilities.</summary>
public static class RecordRegistry
{
    public static IReadOnlyList<RecordTable> Tables { get; } = [.. Capabilities.All.SelectMany(c => c.Tables)];

    /// <summary>The columns by which rows belong to records of a kind, in the order of their tables.</summary>
    /// <param name="to">lead, contact, account, deal and so on.</param>
    public static IEnumerable<RecordTie> TiesTo(string to) => Tables.SelectMany(t => t.Ties).Where(t => t.To == to);

    /// <summary>Tables whose rows go with a record on an occasion, with those that go with their rows first.</summary>
    /// <param name="which">The record's fate on the occasion.</param>
    internal static IReadOnlyList<SqlText> Delete(string to, Func<RecordTie, Fate> which, Guid[] ids) =>
        [
            .. TiesTo(to)
                .Where(t => which(t) == Fate.Goes)
                .SelectMany(t =>
                    TiesTo(t.Table)
                        .Where(n => which(n) == Fate.Goes)
                        .Select<RecordTie, SqlText>(n => $"delete from {n.Table:sql} where {n.Column:sql} in (select id from {t.Table:sql} where {t.Column:sql} = any({ids}))")
                        .Append((SqlText)$"delete from {t.Table:sql} where {t.Column:sql} = any({ids})")
                ),
        ];

    /// <summary>Columns that name a record that is not there, with how many rows do so. A tie whose rows outlive the record is left out.</summary>
    internal static async Task<Dictionary<string, int>> Orphans(LanternDb db)
    {
        var found = new Dictionary<string, int>();
        foreach (var tie in Tables.SelectMany(t => t.Whole))
            if (
                await db.One<int>(
                    $"""
                    select count(*)::int as "Value" from {tie.Table:sql} t
                    where t.{tie.Column:sql} is not null and not exists (select 1 from {tie.To:sql} r where r.{KeyOf(tie.To):sql} = t.{tie.Column:sql})
                    """
                )
                is > 0
                    and var rows
            )
                found[$"{tie.Table}.{tie.Column}"] = rows;
        return found;
    }

    /// <summary>The column by which rows of a table are named.</summary>
    internal static string KeyOf(string table) => ByKey.Contains(table) ? "key" : "id";

    private static readonly HashSet<string> ByKey = ["campaign", "source", "tag", "pipeline", "product", "team", "form", "resource", "holiday_calendar"];
}
