using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Campaigns;

/// <summary>The tables of campaigns, tags and consents.</summary>
internal static class CampaignTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        new RecordTable("campaign").Tie("person", "owner_id"),
        new RecordTable("campaign_cost").Tie("campaign", "campaign_key").Tie("person", "person_id"),
        new RecordTable("campaign_response")
            .Bulk()
            .OfLead()
            .Tie("campaign", "campaign_key")
            .Tie("import", "import_id")
            .Tie("person", "person_id")
            .Give("campaigns", "responses to campaigns", "'campaign', (select name from campaign where key = t.campaign_key)")
            .Not("entry"),
        new RecordTable("tag").Tie("person", "owner_id").Tie("tag", "merged_into"),
        new RecordTable("lead_tag")
            .Bulk()
            .Tie("lead", "lead_id", Fate.ByItself, Fate.Goes, Fate.Goes, Fate.Goes)
            .Tie("tag", "tag_key")
            .Tie("import", "import_id")
            .Give("tags", "tags", "'name', (select name from tag where key = t.tag_key)"),
        new RecordTable("consent").Bulk().Tie("lead", "lead_id", Fate.Moves, takeBack: Fate.ByItself, erasure: Fate.ByItself).Tie("import", "import_id").Not("ask"),
        new RecordTable("barred"),
    ];
}
