using System.Collections.Immutable;
using System.Data.Common;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Scoring;
using Npgsql;
using NpgsqlTypes;

namespace DapperLantern.App.Leads;

/// <summary>What a worklist shows. Checked: fields exist, the order can be ordered by.</summary>
/// <param name="Columns">Fields shown beside what every row has.</param>
/// <param name="Group">By which rows stand together; null for none.</param>
public sealed record WorklistQuery(Condition Where, ImmutableArray<SortKey> Order, ImmutableArray<FieldDefinition> Columns, Grouping? Group, string Zone);

/// <summary>Reading the worklist by pages.</summary>
public sealed class Worklist(Workspace workspace, RecordScope scope, Patience patience, TimeProvider clock)
{
    public const int PageSize = 50;

    /// <summary>So many are counted one by one; beyond, or where that would take longer than people wait, the database's estimate is given, and said to be one.</summary>
    public const int CountedExactly = 10_000;

    private static readonly TimeSpan Counting = TimeSpan.FromMilliseconds(60);

    /// <summary>One page of leads with how many there are. Both are asked for together, the page first: where counting takes too long, only that fails.</summary>
    public async Task<LeadPage> Page(LanternDb db, WorklistQuery query, Cursor? after)
    {
        // Later pages are as of the moment of the first, so that nobody is met twice or passed over as engagement fades.
        var now = after?.At ?? clock.UtcNow();
        var sql = new ConditionSql(workspace.Catalogue, now, scope);
        var holds = sql.Write(query.Where);
        List<SqlText> statements = [PageSql(sql, holds, query, after), Within(patience.For(Counting)), CountSql(query.Where, holds, sql, Most)];
        var (rows, last) = (new List<PageRow>(), (Cursor?)null);
        LeadCount? count = null;
        var warmest = IsWarmest(query);
        if (warmest)
            statements.Insert(0, Alone);
        try
        {
            await using var row = await db.Together(statements);
            if (warmest)
                await row.NextResultAsync();
            while (await row.ReadAsync())
            {
                rows.Add(RowOf(row, query, now));
                last = new Cursor([.. (string?[])row["cursor"]], (Guid)row["id"], now);
            }
            await row.NextResultAsync();
            await row.NextResultAsync();
            count = await CountOf(row);
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.QueryCanceled) { }
        count = await Told(db, count, holds, sql);
        return new LeadPage(
            [.. rows.Select(r => r.Item with { Clock = LeadQueries.Clock(r.Started, r.Due, r.Owner is { } owner ? workspace.Hours.GetValueOrDefault(owner) : null, now) })],
            ConditionWords.Sentence(query.Where, workspace.Catalogue),
            // An estimate may know less than what is seen.
            Math.Max(count.All, rows.Count),
            count.Estimated,
            count.WithoutOwner,
            rows.Count == PageSize ? last!.Write() : null
        );
    }

    private SqlText PageSql(ConditionSql sql, string holds, WorklistQuery query, Cursor? after)
    {
        var order = WorklistSql.Kept(query.Order);
        var fields = order.Select(k => workspace.Catalogue.Asked(k.Field)!).ToList();
        var columns = order.Select((k, i) => WorklistSql.SortColumn(sql, fields[i], i > 0 && order[i - 1].Field == k.Field)).ToList();
        var extra = query.Columns.Select((f, i) => $", {Shown(sql, f)} as x{i}");
        var group = query.Group is { } g ? WorklistSql.GroupKey(g, sql.Column(g.Field), sql.Parameter(query.Zone, NpgsqlDbType.Text)) : "null::text";
        var known = WorklistSql.Known(query.Where);
        var beyond = after is null ? "" : $"and {WorklistSql.After(sql, order, fields, columns, known, after)}";
        return sql.Part(
            $"""
            select {LeadRecord.Columns}, l.id, l.number, l.fit_high, l.clock_started_at, l.owner_id, s.name as source_name, p.display_name as owner_name, {sql.ShowsContactData} as shows_contact_data,
              array[{string.Join(", ", columns.Select(c => $"({c})::text"))}] as cursor, {group} as group_key {string.Concat(extra)}
            from lead l join source s on s.key = l.source left join person p on p.id = l.owner_id
            where {holds} {beyond} {(IsWarmest(query) ? WarmestBands(holds, beyond) : "")} order by {WorklistSql.OrderBy(order, columns, known)} limit {PageSize}
            """
        );
    }

    // Who is engaged over a number, the most engaged first: the bands that the page lies in are found by their index, so that only theirs are computed to be put in order.
    private static string WarmestBands(string holds, string beyond) =>
        $"and l.band >= coalesce((select min(t.band) from (select l.band from lead l where {holds} {beyond} order by l.band desc limit {PageSize}) t), 0)";

    private static bool IsWarmest(WorklistQuery query) => query.Order is [{ Field: "engagement", Descending: true }, ..] && AsksOver(query.Where);

    // How few leads those bands hold is not known when the statement is planned; helpers would take longer to be called than to help.
    private static SqlText Alone => $"select set_config('max_parallel_workers_per_gather', '0', true)";

    private static bool AsksOver(Condition where) =>
        where is Test { Field: "engagement", Operator: TestOperator.AtLeast or TestOperator.Between } || (where is AllOf all && all.Parts.Any(AsksOver));

    // Facts are read with the record; what stands around it is gathered for the rows of the page only.
    private static string Shown(ConditionSql sql, FieldDefinition field)
    {
        if (field.Origin != FieldOrigin.Related)
            return "null::text[]";
        if (!field.Many)
            return $"array[({sql.Column(field)})::text]";
        var (rows, value) = RelatedLeadFields.Shown(field);
        return $"(select array_agg(distinct {value}) from {rows})";
    }

    /// <summary>How many leads a condition holds of.</summary>
    public async Task<LeadCount> Count(LanternDb db, Condition where, bool exactly = false)
    {
        var sql = new ConditionSql(workspace.Catalogue, clock.UtcNow(), scope);
        var holds = sql.Write(where);
        LeadCount? count = null;
        try
        {
            await using var row = await db.Together([Within(exactly ? TimeSpan.Zero : patience.For(Counting)), CountSql(where, holds, sql, exactly ? "" : Most)]);
            await row.NextResultAsync();
            count = await CountOf(row);
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.QueryCanceled && !exactly) { }
        return exactly ? count! : await Told(db, count, holds, sql);
    }

    private static readonly string Most = $"limit {CountedExactly + 1}";

    // What was counted to its end, else an estimate.
    private static async Task<LeadCount> Told(LanternDb db, LeadCount? count, string holds, ConditionSql sql) =>
        count is { All: <= CountedExactly } ? count : new LeadCount(Math.Max(count is null ? 0 : CountedExactly + 1, await Estimate(db, holds, sql)), true, null);

    // Holds until the batch ends, which is one transaction; 0 for as long as it takes.
    private static SqlText Within(TimeSpan time) => $"select set_config('statement_timeout', {(int)time.TotalMilliseconds}::text, true)";

    private static SqlText CountSql(Condition where, string holds, ConditionSql sql, string most)
    {
        var parts = (sql.EngagedApart(where) ?? [holds]).Select(h => $"(select l.owner_id from lead l where {h} {most})");
        return sql.Part($"select count(*)::int, (count(*) filter (where owner_id is null))::int from (select * from ({string.Join(" union all ", parts)}) x {most}) x");
    }

    private static async Task<LeadCount> CountOf(DbDataReader row)
    {
        await row.ReadAsync();
        return new LeadCount(row.GetInt32(0), false, row.GetInt32(1));
    }

    private static async Task<int> Estimate(LanternDb db, string holds, ConditionSql sql)
    {
        var explained = await db.Read($"explain (format json) select 1 from lead l where {sql.Part(holds):sql}", row => row.GetString(0));
        using var plan = JsonDocument.Parse(explained[0]);
        return (int)Math.Min(plan.RootElement[0].GetProperty("Plan").GetProperty("Plan Rows").GetDouble(), int.MaxValue);
    }

    private sealed record PageRow(LeadListItem Item, DateTime? Started, DateTime? Due, Guid? Owner);

    private PageRow RowOf(DbDataReader row, WorklistQuery query, DateTime now) =>
        new(Item(row, LeadRecord.Read(row, workspace.Catalogue, now), query), row["clock_started_at"] as DateTime?, row["clock_due_at"] as DateTime?, row["owner_id"] as Guid?);

    private LeadListItem Item(DbDataReader row, RecordValues record, WorklistQuery query)
    {
        var (number, shown) = ((int)row["number"], (bool)row["shows_contact_data"]);
        scope.HideIn(record, shown);
        var group = row["group_key"] as string;
        return new(
            (Guid)row["id"],
            number,
            LeadRecord.NameOf(record, number, shown),
            record.Text("company"),
            record.Text("interest"),
            record.Text("state")!,
            (string)row["source_name"],
            row["owner_id"] as Guid?,
            row["owner_name"] as string,
            (int)record["fit"].Number,
            (int)row["fit_high"],
            (int)record["engagement"].Number,
            record.Text("next_move")!,
            null,
            (DateTime)row["created_at"],
            (DateTime)row["last_touch_at"],
            query.Columns.Select((f, i) => (f, i)).ToDictionary(c => c.f.Key, c => Cell(row, record, c.f, c.i)),
            group,
            query.Group?.LabelOf(group)
        );
    }

    private static string? Cell(DbDataReader row, RecordValues record, FieldDefinition field, int index)
    {
        if (field.Origin != FieldOrigin.Related)
            return record[field.Ordinal] is { IsKnown: true } value
                ? field.Type == FieldType.Date
                    ? value.ToString()
                    : field.Show(value.ToString())
                : null;
        var values = (row[$"x{index}"] as string?[] ?? []).OfType<string>().ToList();
        return values.Count == 0 ? null
            : field.Type == FieldType.Date ? DateTimeOffset.Parse(values[0], System.Globalization.CultureInfo.InvariantCulture).UtcDateTime.ToString("O")
            : string.Join(", ", values.Select(field.Show).Order());
    }
}
