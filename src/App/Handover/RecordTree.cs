using DapperLantern.App.Data;

namespace DapperLantern.App.Handover;

/// <summary>Records that stand under one another: branches under their account, contacts under whom they report to. Never in a circle.</summary>
internal static class RecordTree
{
    /// <summary>Keeps two from closing a circle together; taken before any of the records is locked, so that nobody waits for the other.</summary>
    public static Task Lock(LanternDb db, string table)
    {
        var name = $"{table}-tree";
        return db.LockUntilEnd(name);
    }

    /// <summary>The record and all above it; empty when there is no such record. <paramref name="table"/> and <paramref name="column"/> are ours.</summary>
    public static async Task<List<Guid>> Above(LanternDb db, string table, string column, Guid from) =>
        await db.Rows<Guid>(
            $"""with recursive up as (select id, {column:sql} from {table:sql} where id = {from} union select r.id, r.{column:sql} from {table:sql} r join up on up.{column:sql} = r.id) select id as "Value" from up"""
        );
}
