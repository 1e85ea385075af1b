using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Setup;

/// <summary>The tables of the set-up, of people and their sessions, and of the program itself.</summary>
internal static class SetupTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        new RecordTable("person").Tie("person", "manager_id"),
        new RecordTable("person_claim").Tie("person", "user_id"),
        new RecordTable("person_login").Tie("person", "user_id").Not("provider_key"),
        new RecordTable("person_token").Tie("person", "user_id"),
        new RecordTable("session").Tie("person", "person_id"),
        new RecordTable("known_device").Tie("person", "person_id"),
        new RecordTable("sign_in_failure"),
        new RecordTable("setup_entry"),
        new RecordTable("value_merge").Tie("person", "by_id").Not("from_key").Not("into_key"),
        new RecordTable("identity_provider"),
        new RecordTable("provider_value"),
        new RecordTable("edition").Tie("person", "published_by"),
        new RecordTable("outbox").Bulk().Tie("person", "person_id").Tie("lead", "lead_id", merge: Fate.Moves, erasure: Fate.ByItself),
        new RecordTable("request_key"),
        new RecordTable("search_word"),
        new RecordTable("data_protection_key"),
    ];
}
