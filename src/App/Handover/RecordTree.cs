using DapperLantern.App.Data;

namespace DapperLantern.App.Handover;

/// <summary>Records that stand under one another: branches under their account, contacts under whom they report to. Never in a circle.</summary>
internal static class RecordTree
{
    /// <summary>Keeps two from closing a circle together; taken before any of the records is locked, so that nobody waits for the other.</summary>
    public static Task Lock(LanternDb db, string table) => db.ExecuteAsync("select pg_advisory_xact_lock(hashtext(@table))", new { table = $"{table}-tree" });

    /// <summary>The record and all above it; empty when there is no such record. <paramref name="table"/> and <paramref name="column"/> are ours.</summary>
    public static async Task<List<Guid>> Above(LanternDb db, string table, string column, Guid from) =>
        (
            await db.QueryAsync<Guid>(
                $"with recursive up as (select id, {column} from {table} where id = @from union select r.id, r.{column} from {table} r join up on up.{column} = r.id) select id from up",
                new { from }
            )
        ).ToList();
}
