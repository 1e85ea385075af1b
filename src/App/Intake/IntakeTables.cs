using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Intake;

/// <summary>The tables of what comes in.</summary>
internal static class IntakeTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        new RecordTable("source").Tie("campaign", "campaign").Tie("source", "merged_into"),
        new RecordTable("form").Tie("source", "source"),
        new RecordTable("backfill").Tie("form", "form_key").Tie("person", "person_id"),
        new RecordTable("access_token").Tie("source", "source").Tie("person", "person_id").Tie("person", "reads_as_id"),
        new RecordTable("single_arrival")
            .Bulk()
            .Tie("lead", "lead_id", merge: Fate.Moves, erasure: Fate.ByItself)
            .Tie("source", "source")
            .Tie("campaign", "campaign")
            .Tie("form", "form_key")
            .Not("key"),
        new RecordTable("arrival_file").Bulk().Tie("single_arrival", "arrival_id"),
        new RecordTable("import").Tie("source", "source").Tie("person", "person_id"),
        new RecordTable("import_chunk").Bulk().Tie("import", "import_id"),
        new RecordTable("arrival").Bulk().Tie("import", "import_id").Tie("lead", "lead_id", erasure: Fate.ByItself),
        new RecordTable("mend").Tie("import", "import_id").Tie("person", "person_id"),
    ];
}
