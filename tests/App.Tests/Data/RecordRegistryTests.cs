using System.Text.Json;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Tests.Data;

/// <summary>The declarations of tables against the database: what was forgotten would be lost by a merge, outlive an erasure, or stay behind a removal.</summary>
public sealed class RecordRegistryTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private async Task<List<string>> Ask(string sql)
    {
        await using var connection = await fixture.Server.Connect();
        return [.. await connection.QueryAsync<string>(sql)];
    }

    [Fact]
    public async Task EveryTableIsDeclaredOnce()
    {
        var there = await Ask(
            "select relname::text from pg_class where relnamespace = 'public'::regnamespace and relkind in ('r', 'p') and not relispartition and relname <> '__EFMigrationsHistory'"
        );
        RecordRegistry.Tables.Select(t => t.Name).Order().ShouldBe(there.Order());
    }

    [Fact]
    public async Task EveryColumnThatNamesARecordIsDeclared()
    {
        var there = await Ask(
            """
            select table_name || '.' || column_name from information_schema.columns where table_schema = 'public' and table_name <> '__EFMigrationsHistory'
              and not exists (select 1 from pg_class c where c.relname = table_name and c.relnamespace = 'public'::regnamespace and c.relispartition)
              and ((data_type = 'uuid' and column_name <> 'id') or (data_type = 'text' and (column_name like '%\_key' or column_name in ('campaign', 'source', 'merged_into'))))
            """
        );
        var declared = RecordRegistry.Tables.SelectMany(t => t.Ties.Select(tie => tie.Column).Concat(t.Plain).Select(c => $"{t.Name}.{c}")).ToList();
        declared.ShouldBeUnique();
        declared.Order().ShouldBe(there.Order());
    }

    [Fact]
    public void WhatNamesAPersonsRecordIsToldAndErased()
    {
        var nobody = new PersonTrail([], [], [], [], [], [], [], []);
        var (given, erased) = (PersonRecords.All.Select(k => $"{k.From(nobody)}").ToList(), Erasure.Statements(nobody).Select(s => $"{s}").ToList());
        foreach (var tie in RecordRegistry.TiesTo("lead"))
        {
            given.ShouldContain(k => k.StartsWith($"{tie.Table} t", StringComparison.Ordinal), tie.Table);
            tie.Erasure.ShouldNotBe(Fate.Stays, tie.Table);
        }
        // What goes by itself: a deal loses the name, a row of a list is emptied, by statements of their own.
        foreach (var tie in RecordRegistry.TiesTo("lead").Where(t => t.Table is not ("deal" or "arrival" or "event")))
            erased.ShouldContain(s => s.Contains($"from {tie.Table} ") || s.Contains($"update {tie.Table} "), tie.Table);
    }

    // Changes to many leads stay with the lead that was changed, so that they can be undone; what was handed over is never merged; the log is never changed.
    [Fact]
    public void WhatBelongsToALeadGoesToTheOneThatIsKept() =>
        RecordRegistry.TiesTo("lead").Where(t => t.Merge == Fate.Stays).Select(t => t.Table).Order().ShouldBe(["arrival", "bulk_lead", "deal", "event", "handover"]);

    /// <summary>The message gives the statements for the migration that a new tie needs.</summary>
    [Fact]
    public async Task EveryTieOfATableThatNoBulkPathWritesIsAForeignKey()
    {
        var there = await Ask(
            """
            select c.conrelid::regclass || '.' || a.attname from pg_constraint c join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
            where c.contype = 'f' and array_length(c.conkey, 1) = 1 and c.connamespace = 'public'::regnamespace
            """
        );
        var missing = RecordRegistry
            .Tables.SelectMany(t => t.Held)
            .Where(t => !there.Contains($"{t.Table}.{t.Column}"))
            .Select(t =>
                $"alter table {t.Table} add constraint fk_{t.Table}_{t.Column} foreign key ({t.Column}) references {t.To} ({RecordRegistry.KeyOf(t.To)}) deferrable initially deferred;"
            )
            .ToList();
        missing.ShouldBeEmpty(string.Join("\n", missing));
    }

    [Fact]
    public void WhatBulkPathsWriteIsDeclaredSo()
    {
        var copied = Directory
            .EnumerateFiles(Path.Combine(TestServer.Root, "src", "App"), "*.cs", SearchOption.AllDirectories)
            .SelectMany(f => System.Text.RegularExpressions.Regex.Matches(File.ReadAllText(f), @"BulkTable<\w+>\(""(\w+)""\)").Select(m => m.Groups[1].Value))
            .Where(t => RecordRegistry.Tables.Any(r => r.Name == t))
            .Distinct();
        copied.Except(RecordRegistry.Tables.Where(t => t.IsBulk).Select(t => t.Name)).ShouldBeEmpty();
    }

    [Fact]
    public async Task NoRowNamesARecordThatIsNotThere()
    {
        await using var connection = await fixture.Server.Connect();
        (await RecordRegistry.Orphans(connection.Over())).ShouldBeEmpty();
    }

    public static TheoryData<string> Kept => ["account", "contact", "lead", .. RecordRegistry.TiesTo("lead").Where(t => t.Removal == Fate.Goes).Select(t => t.Table).Distinct()];

    /// <summary>A row kept before a column was added lacks it; a row kept before one was dropped has it still.</summary>
    [Theory]
    [MemberData(nameof(Kept))]
    public async Task ARowOfAnOlderShapeIsPutBack(string table)
    {
        await using var connection = await fixture.Server.Connect();
        await using var transaction = await connection.BeginTransactionAsync();
        await using var db = connection.Over();
        await db.Database.UseTransactionAsync(transaction);
        var older = JsonDocument.Parse(await File.ReadAllTextAsync(Path.Combine(TestServer.Root, "tests", "App.Tests", "Data", "Shapes", $"{table}.json"))).RootElement;
        await KeptRows.PutBack(db, table, [older]);
        (await connection.QuerySingleAsync<int>($"select count(*)::int from {table} t where to_jsonb(t) @> @row::jsonb", new { row = Known(older) }, transaction)).ShouldBe(1);
    }

    // The row without the column that no table has.
    private static string Known(JsonElement row) => Json.Write(row.EnumerateObject().Where(p => p.Name != "a_column_long_gone").ToDictionary(p => p.Name, p => p.Value));
}
