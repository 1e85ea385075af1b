using System.Text.Json.Nodes;
using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Rights;

/// <summary>One kind of record about a person.</summary>
/// <param name="Key">Its name in the file.</param>
/// <param name="Label">Its name for people, in the plural.</param>
/// <param name="From">Table with alias <c>t</c>, joins, and the condition by which its rows are the person's.</param>
/// <param name="More">What is told beside the row's own columns: an SQL object, or null.</param>
/// <param name="Without">Columns that say nothing about the person: hashes and keys of ours.</param>
internal sealed record PersonRecordKind(string Key, string Label, Func<PersonTrail, SqlText> From, string? More = null, string[]? Without = null);

/// <summary>All we have about a person, kind by kind. What is counted, what is given and what is erased go by this one table.</summary>
public static class PersonRecords
{
    /// <summary>Tables that belong to leads and contacts are told by their capabilities; the rest, found by other ways, is told here.</summary>
    internal static IReadOnlyList<PersonRecordKind> All { get; } =
    [
        .. RecordRegistry.Tables.Where(t => t.Given is not null).Select(Of),
        new("consents", "words on consent", p => $"consent t where t.lead_id = any({p.Leads}) or t.person_key = any({p.Keys})", Without: ["person_hash", "person_key", "ask"]),
        new("barred", "entries on the do-not-contact list", p => $"barred t where t.kind = 'person' and t.hash_key = any({p.Keys})", Without: ["hash", "hash_key"]),
        new("arrivals", "posts, letters, calls and messages as they came", p => $"single_arrival t where t.id = any({p.Arrivals})", Without: ["key", "text_key"]),
        new("files", "files that came along", p => $"arrival_file t where t.arrival_id = any({p.Arrivals})", "'content', encode(t.bytes, 'base64')", ["bytes"]),
        new(
            "list_rows",
            "rows of lists as they came",
            p =>
                $"arrival t join import d on d.id = t.import_id where (t.import_id, t.row_number) in (select * from unnest({p.Rows.Select(r => r.Import).ToArray()}, {p.Rows.Select(r => r.Row).ToArray()}))",
            "'list', d.file_name, 'headings', (select jsonb_agg(c->>'heading' order by (c->>'index')::int) from jsonb_array_elements(d.plan->'columns') c)",
            ["email_key", "phone_key", "name_key"]
        ),
        new(
            "merges",
            "records merged into theirs",
            p => $"record_merge t where t.kept_id = any({p.Leads}) or t.gone_id = any({p.Leads}) or t.kept_id = any({p.Contacts}) or t.gone_id = any({p.Contacts})"
        ),
        new(
            "duplicates",
            "questions whether they are somebody else",
            p => $"duplicate t where t.a = any({p.Leads}) or t.b = any({p.Leads}) or t.a = any({p.Contacts}) or t.b = any({p.Contacts})"
        ),
        new("mails", "messages to them or about them", p => $"outbox t where t.lead_id = any({p.Leads}) or lower(t.to_email) = any({p.Emails.ToArray()})"),
    ];

    private static PersonRecordKind Of(RecordTable table) => new(table.Given!.Key, table.Given.Label, p => Rows(table, p), table.Given.More, table.Given.Without);

    private static SqlText Rows(RecordTable table, PersonTrail p) =>
        table.Name switch
        {
            "lead" => $"lead t where t.id = any({p.Leads})",
            "contact" => $"contact t where t.id = any({p.Contacts})",
            var name => $"{name:sql} t where {Tied(table, "lead", p.Leads):sql} or {Tied(table, "contact", p.Contacts):sql}",
        };

    private static SqlText Tied(RecordTable table, string to, Guid[] ids)
    {
        SqlText none = $"false";
        return table.Ties.FirstOrDefault(t => t.To == to) is { } tie ? (SqlText)$"t.{tie.Column:sql} = any({ids})" : none;
    }

    /// <summary>How many of each kind there are; kinds without any are left out.</summary>
    public static async Task<Dictionary<string, int>> Count(LanternDb db, PersonTrail trail)
    {
        var counts = new Dictionary<string, int>();
        foreach (var kind in All)
            if (await db.One<int>($"""select count(*)::int as "Value" from {kind.From(trail):sql}""") is > 0 and var count)
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
            var without = kind.Without ?? [];
            var rows = await db.Rows<string>(
                $"""select (jsonb_strip_nulls(to_jsonb(t) - {without} || jsonb_build_object({kind.More ?? "":sql})))::text as "Value" from {kind.From(trail):sql}"""
            );
            all[kind.Key] = new JsonArray([.. rows.Select(r => JsonNode.Parse(r))]);
        }
        return all;
    }
}
