using DapperLantern.Core.Fields;

namespace DapperLantern.App.Leads;

/// <summary>How the fields around a lead are gathered from the other tables, over the table <c>lead</c> under the alias <c>l</c>. A new one is a line here and one in the catalogue.</summary>
public static class RelatedLeadFields
{
    private static readonly Dictionary<string, (string Rows, string Value)> Several = new()
    {
        // Who has a tag has every tag that was merged with it: a view that asks for the old one goes on holding.
        ["tag"] = (
            "lead_tag g join tag gt on gt.key = g.tag_key join tag ga on coalesce(ga.merged_into, ga.key) = coalesce(gt.merged_into, gt.key) where g.lead_id = l.id",
            "ga.key"
        ),
        ["team"] = ("turn g where g.person_id = l.owner_id", "g.team_key"),
        ["in_campaign"] = ("campaign_response g where g.lead_id = l.id", "g.campaign_key"),
        ["responded"] = ("campaign_response g where g.lead_id = l.id", "g.response"),
        ["event"] = ("lead_event g where g.lead_id = l.id", "g.kind"),
        ["said"] = ("story_entry g where g.lead_id = l.id and g.kind in ('note', 'call', 'call_missed') and g.removed_at is null", "g.text"),
    };

    private static readonly Dictionary<string, string> One = new()
    {
        ["customer"] = """
            (case when exists (select 1 /*told account ga*/ /*told deal gd*/ from account ga join deal gd on gd.account_id = ga.id join stage gs on gs.pipeline_key = gd.pipeline_key and gs.key = gd.stage_key
                where ga.company_key = l.company_key and gs.counts = 'won') then 'yes'
              when exists (select 1 /*told contact gc*/ from contact gc join deal gd on gd.contact_id = gc.id join stage gs on gs.pipeline_key = gd.pipeline_key and gs.key = gd.stage_key
                where gc.email = l.email and gs.counts = 'won') then 'yes'
              else 'no' end)
            """,
        ["last_call_at"] = "(select max(g.at) from story_entry g where g.lead_id = l.id and g.kind in ('call', 'call_missed') and g.removed_at is null)",
        ["calls"] = "(select count(*)::numeric from story_entry g where g.lead_id = l.id and g.kind in ('call', 'call_missed') and g.removed_at is null)",
    };

    /// <summary>What to select from, up to and with the condition that joins it to the lead, and the value in it.</summary>
    /// <exception cref="KeyNotFoundException">The field is none that has many values.</exception>
    public static (string Rows, string Value) Rows(FieldDefinition field) => Several[field.Key];

    /// <summary>The same as it is shown: of merged tags only the one that stands for them.</summary>
    public static (string Rows, string Value) Shown(FieldDefinition field) =>
        Rows(field) is var all && field.Key == "tag" ? ($"{all.Rows} and ga.merged_into is null", all.Value) : all;

    /// <summary>The expression of a field that has one value a lead.</summary>
    /// <param name="parameter">Makes a parameter of a text.</param>
    /// <exception cref="KeyNotFoundException">The field is none of these.</exception>
    public static string Column(FieldDefinition field, Func<string, string> parameter) =>
        field.Key.StartsWith(FieldCatalogue.Consent, StringComparison.Ordinal) ? ConsentTo(parameter(field.Key[FieldCatalogue.Consent.Length..])) : One[field.Key];

    // The latest word from any of the person's address and numbers, as the consent book has it.
    private static string ConsentTo(string purpose) =>
        $"""
            (select g.state from consent g where g.purpose = {purpose} and g.state <> 'asked'
              and g.person_key = any(array[person_key(l.email), person_key(l.phone), person_key(l.mobile)]) order by g.at desc limit 1)
            """;
}
