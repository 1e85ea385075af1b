using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Handover;

/// <summary>The tables of accounts, contacts and handovers.</summary>
internal static class HandoverTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        new RecordTable("account").Tie("person", "owner_id").Tie("account", "parent_id", merge: Fate.Moves).Not("company_key"),
        new RecordTable("account_address").Tie("account", "account_id", merge: Fate.Moves),
        new RecordTable("contact")
            .Tie("person", "owner_id")
            .Tie("account", "account_id", merge: Fate.Moves)
            .Tie("contact", "reports_to", merge: Fate.Moves)
            .Give("contacts", "contacts", "'account', (select name from account where id = t.account_id)"),
        new RecordTable("contact_account").Tie("contact", "contact_id", merge: Fate.Moves).Tie("account", "account_id", merge: Fate.Moves),
        new RecordTable("handover")
            .Tie("lead", "lead_id", erasure: Fate.Goes)
            .Tie("contact", "contact_id", merge: Fate.Moves, erasure: Fate.Goes)
            .Tie("account", "account_id", merge: Fate.Moves)
            .Tie("deal", "deal_id")
            .Tie("person", "person_id")
            .Outlives("contact_id", "account_id", "deal_id")
            .Give("handovers", "handovers"),
    ];
}
