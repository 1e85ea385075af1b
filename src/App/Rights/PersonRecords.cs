using System.Text.Json.Nodes;
using Dapper;
using DapperLantern.App.Data;

namespace DapperLantern.App.Rights;

/// <summary>One kind of record about a person.</summary>
/// <param name="Key">Its name in the file.</param>
/// <param name="Label">Its name for people, in the plural.</param>
/// <param name="From">Table with alias <c>t</c>, joins, and the condition by which its rows are the person's.</param>
/// <param name="More">What is told beside the row's own columns: an SQL object, or null.</param>
/// <param name="Without">Columns that say nothing about the person: hashes and keys of ours.</param>
public sealed record PersonRecordKind(string Key, string Label, string From, string? More = null, string[]? Without = null);

/// <summary>All we have about a person, kind by kind. What is counted, what is given and what is erased go by this one table.</summary>
public static class PersonRecords
{
    private const string DealsOfPerson = "(contact_id = any(@contacts) or lead_id = any(@leads))";

    /// <summary>A new table that holds something about people is a line here, and one in <see cref="Erasure"/>.</summary>
    public static IReadOnlyList<PersonRecordKind> All { get; } =
    [
        new("leads", "leads", "lead t where t.id = any(@leads)", "'owner', (select display_name from person where id = t.owner_id)", ["company_key", "model_edition"]),
        new("contacts", "contacts", "contact t where t.id = any(@contacts)", "'account', (select name from account where id = t.account_id)"),
        new("deals", "deals", $"deal t where t.id in (select id from deal where {DealsOfPerson})"),
        new(
            "story",
            "lines of their story",
            "story_entry t where t.lead_id = any(@leads) or t.contact_id = any(@contacts)",
            "'by', (select display_name from person where id = t.person_id)"
        ),
        new("events", "things they did", "lead_event t where t.lead_id = any(@leads)"),
        new("crossings", "when they cleared or fell under the bars", "crossing t where t.lead_id = any(@leads)"),
        new("tasks", "tasks about them", "task t where t.lead_id = any(@leads) or t.contact_id = any(@contacts)"),
        new("meetings", "meetings with them", "meeting t where t.lead_id = any(@leads)"),
        new("added_files", "files added to them", "lead_file t where t.lead_id = any(@leads)", "'content', encode(t.bytes, 'base64')", ["bytes"]),
        new("tags", "tags", "lead_tag t where t.lead_id = any(@leads)", "'name', (select name from tag where key = t.tag_key)"),
        new("changes", "changes made to many leads, theirs among them", "bulk_lead t where t.lead_id = any(@leads)", "'what', (select words from bulk_edit where id = t.bulk_id)"),
        new("campaigns", "responses to campaigns", "campaign_response t where t.lead_id = any(@leads)", "'campaign', (select name from campaign where key = t.campaign_key)"),
        new("routing", "decisions on who gets them", "routing_decision t where t.lead_id = any(@leads)"),
        new("handovers", "handovers", "handover t where t.lead_id = any(@leads) or t.contact_id = any(@contacts)"),
        new("consents", "words on consent", "consent t where t.lead_id = any(@leads) or t.person_key = any(@keys)", Without: ["person_hash", "person_key", "ask"]),
        new("barred", "entries on the do-not-contact list", "barred t where t.kind = 'person' and t.hash_key = any(@keys)", Without: ["hash", "hash_key"]),
        new("arrivals", "posts, letters, calls and messages as they came", "single_arrival t where t.id = any(@arrivals)", Without: ["key", "text_key"]),
        new("files", "files that came along", "arrival_file t where t.arrival_id = any(@arrivals)", "'content', encode(t.bytes, 'base64')", ["bytes"]),
        new(
            "list_rows",
            "rows of lists as they came",
            "arrival t join import d on d.id = t.import_id where (t.import_id, t.row_number) in (select * from unnest(@imports, @rows))",
            "'list', d.file_name, 'headings', (select jsonb_agg(c->>'heading' order by (c->>'index')::int) from jsonb_array_elements(d.plan->'columns') c)",
            ["email_key", "phone_key", "name_key"]
        ),
        new(
            "merges",
            "records merged into theirs",
            "record_merge t where t.kept_id = any(@leads) or t.gone_id = any(@leads) or t.kept_id = any(@contacts) or t.gone_id = any(@contacts)"
        ),
        new("duplicates", "questions whether they are somebody else", "duplicate t where t.a = any(@leads) or t.b = any(@leads) or t.a = any(@contacts) or t.b = any(@contacts)"),
        new("mails", "messages to them or about them", "outbox t where t.lead_id = any(@leads) or lower(t.to_email) = any(@emails)"),
    ];

    public static object ParametersOf(PersonTrail trail) =>
        new
        {
            leads = trail.Leads,
            contacts = trail.Contacts,
            keys = trail.Keys,
            arrivals = trail.Arrivals,
            emails = trail.Emails.ToArray(),
            imports = trail.Rows.Select(r => r.Import).ToArray(),
            rows = trail.Rows.Select(r => r.Row).ToArray(),
        };

    /// <summary>How many of each kind there are; kinds without any are left out.</summary>
    public static async Task<Dictionary<string, int>> Count(LanternDb db, PersonTrail trail)
    {
        var counts = new Dictionary<string, int>();
        foreach (var kind in All)
            if (await db.QuerySingleAsync<int>($"select count(*)::int from {kind.From}", ParametersOf(trail)) is > 0 and var count)
                counts[kind.Key] = count;
        return counts;
    }

    /// <summary>All of it as one object: by kind a list of rows, whole.</summary>
    public static async Task<JsonObject> Give(LanternDb db, PersonTrail trail, DateTime now)
    {
        var all = new JsonObject
        {
            ["format"] = "dapper-lantern/person/1",
            ["made_at"] = now.ToString("yyyy-MM-ddTHH:mm:ssZ"),
            ["addresses"] = new JsonArray([.. trail.Emails.Select(e => (JsonNode)e)]),
            ["numbers"] = new JsonArray([.. trail.Numbers.Select(n => (JsonNode)n)]),
        };
        foreach (var kind in All)
        {
            var row = $"jsonb_strip_nulls(to_jsonb(t) - @without || jsonb_build_object({kind.More ?? ""}))";
            var parameters = new DynamicParameters(ParametersOf(trail));
            parameters.Add("without", kind.Without ?? []);
            var rows = await db.QueryAsync<string>($"select ({row})::text from {kind.From}", parameters);
            all[kind.Key] = new JsonArray([.. rows.Select(r => JsonNode.Parse(r))]);
        }
        return all;
    }
}
