using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Routing;

/// <summary>The tables of routing and of the staff's hours.</summary>
internal static class RoutingTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        new RecordTable("routing_decision").Bulk().OfLead().Tie("person", "owner_id").Give("routing", "decisions on who gets them").Not("edition"),
        new RecordTable("team"),
        new RecordTable("turn").Tie("person", "person_id").Not("team_key"),
        new RecordTable("rep_load").Tie("person", "person_id"),
        new RecordTable("absence").Tie("person", "person_id").Tie("person", "stand_in_id"),
        new RecordTable("holiday_calendar"),
        new RecordTable("holiday").Tie("holiday_calendar", "calendar_key"),
    ];
}
