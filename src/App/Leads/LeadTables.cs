using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Leads;

/// <summary>The tables of leads and of what is done with them.</summary>
internal static class LeadTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        new RecordTable("lead")
            .Bulk()
            .Tie("person", "owner_id")
            .Tie("source", "source")
            .Tie("campaign", "campaign")
            .Tie("import", "import_id")
            .Give("leads", "leads", "'owner', (select display_name from person where id = t.owner_id)", "company_key", "model_edition")
            .Not("model_edition", "company_key"),
        new RecordTable("lead_event").Bulk().OfLead().Tie("import", "import_id").Give("events", "things they did").Not("entry"),
        new RecordTable("story_entry")
            .Bulk()
            .OfLead()
            .Tie("contact", "contact_id", merge: Fate.Moves, erasure: Fate.Goes)
            .Tie("account", "account_id", merge: Fate.Moves)
            .Tie("deal", "deal_id")
            .Tie("person", "person_id")
            .Tie("import", "import_id")
            .Give("story", "lines of their story", "'by', (select display_name from person where id = t.person_id)")
            .Not("entry"),
        new RecordTable("task")
            .Bulk()
            .OfLead()
            .Tie("contact", "contact_id", merge: Fate.Moves, erasure: Fate.Goes)
            .Tie("deal", "deal_id")
            .Tie("person", "owner_id")
            .Give("tasks", "tasks about them")
            .Not("next_id"),
        new RecordTable("meeting").OfLead().Tie("person", "made_by").Give("meetings", "meetings with them"),
        new RecordTable("booking").Tie("meeting", "meeting_id", removal: Fate.Goes, takeBack: Fate.Goes, erasure: Fate.Goes).Tie("resource", "resource_key"),
        new RecordTable("resource"),
        new RecordTable("lead_file")
            .Tie("lead", "lead_id", Fate.Moves, Fate.Stays, Fate.Goes, Fate.Goes)
            .Tie("person", "person_id")
            .Give("added_files", "files added to them", "'content', encode(t.bytes, 'base64')", "bytes"),
        new RecordTable("crossing").Bulk().OfLead().Not("edition").Give("crossings", "when they cleared or fell under the bars"),
        new RecordTable("lead_view").Tie("person", "owner_id"),
        new RecordTable("bulk_edit").Tie("person", "person_id").Not("request_key"),
        new RecordTable("bulk_lead")
            .Tie("lead", "lead_id", erasure: Fate.Goes)
            .Tie("bulk_edit", "bulk_id")
            .Give("changes", "changes made to many leads, theirs among them", "'what', (select words from bulk_edit where id = t.bulk_id)"),
        new RecordTable("rescore_run").Not("after_id", "edition"),
    ];
}
