using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Upkeep;

/// <summary>The tables of the scheduler (Quartz.NET, store for PostgreSQL).</summary>
internal static class UpkeepTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        new RecordTable("qrtz_job_details"),
        new RecordTable("qrtz_triggers"),
        new RecordTable("qrtz_simple_triggers"),
        new RecordTable("qrtz_simprop_triggers"),
        new RecordTable("qrtz_cron_triggers"),
        new RecordTable("qrtz_blob_triggers"),
        new RecordTable("qrtz_calendars"),
        new RecordTable("qrtz_paused_trigger_grps"),
        new RecordTable("qrtz_fired_triggers"),
        new RecordTable("qrtz_scheduler_state"),
        new RecordTable("qrtz_locks"),
    ];
}
