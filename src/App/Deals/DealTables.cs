using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Deals;

/// <summary>The tables of deals, pipelines and products.</summary>
internal static class DealTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        new RecordTable("deal")
            .Tie("lead", "lead_id", erasure: Fate.ByItself)
            .Tie("contact", "contact_id", merge: Fate.Moves, erasure: Fate.ByItself)
            .Tie("account", "account_id", merge: Fate.Moves)
            .Tie("person", "owner_id")
            .Tie("pipeline", "pipeline_key")
            .Tie("source", "source")
            .Tie("campaign", "campaign")
            .Give("deals", "deals")
            .Not("stage_key"),
        new RecordTable("deal_person").Tie("deal", "deal_id").Tie("contact", "contact_id", merge: Fate.Moves),
        new RecordTable("deal_product").Tie("deal", "deal_id").Tie("product", "product_key"),
        new RecordTable("deal_stage").Tie("deal", "deal_id").Tie("person", "person_id").Not("stage_key"),
        new RecordTable("deal_competitor").Tie("deal", "deal_id"),
        new RecordTable("pipeline"),
        new RecordTable("stage").Tie("pipeline", "pipeline_key"),
        new RecordTable("product"),
        new RecordTable("price").Tie("product", "product_key"),
    ];
}
