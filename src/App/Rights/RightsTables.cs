using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Rights;

/// <summary>The tables of people's rights.</summary>
internal static class RightsTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        new RecordTable("erasure").Tie("person", "person_id"),
        new RecordTable("role"),
        new RecordTable("contact_reading").Tie("person", "person_id"),
        new RecordTable("known_answer")
            .OfLead()
            .Tie("contact", "contact_id", merge: Fate.Moves, erasure: Fate.Goes)
            .Tie("account", "account_id", merge: Fate.Moves)
            .Tie("person", "person_id")
            .Tie("person", "answered_by_id")
            .Tie("person", "owner_before_id")
            .Give("known_answers", "colleagues who were told that we know them"),
        new RecordTable("record_share")
            .OfLead()
            .Tie("contact", "contact_id", merge: Fate.Moves, erasure: Fate.Goes)
            .Tie("account", "account_id", merge: Fate.Moves)
            .Tie("deal", "deal_id")
            .Tie("person", "person_id")
            .Give("shares", "colleagues who see them because they were shared"),
    ];
}
