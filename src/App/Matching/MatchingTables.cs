using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Matching;

/// <summary>The tables of matching. Their columns name a lead, a contact or an account; matching sees to them itself.</summary>
internal static class MatchingTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        new RecordTable("match_key").Bulk().Not("record_id"),
        new RecordTable("duplicate").Tie("person", "settled_by").Not("a", "b"),
        new RecordTable("duplicate_due").Not("record_id", "asked"),
        new RecordTable("record_merge").Tie("person", "person_id").Not("kept_id", "gone_id", "now_id"),
    ];
}
