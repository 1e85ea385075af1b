using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Matching;
using DapperLantern.App.Setup;

namespace DapperLantern.App.Leads.Bulk;

/// <summary>
/// Takes leads out, kept whole, and puts them back as they were. Consents, the raw posts they came by, their files and what was sent to them stay where they are: they are found again
/// with the lead, and a consent withdrawn holds meanwhile.
/// </summary>
public sealed class LeadRemoval(Workspace workspace)
{
    // What goes and comes with a lead, by the column lead_id; a booking goes by its meeting.
    private static readonly string[] Along = ["lead_event", "story_entry", "task", "routing_decision", "campaign_response", "lead_tag", "meeting", "crossing"];

    // Columns that came after some were taken out.
    private static readonly Dictionary<string, string> Later = new()
    {
        ["lead"] = """{"band": 0, "clock_passes": 0}""",
        ["lead_event"] = """{"direction": "in", "campaign_kind": ""}""",
        ["routing_decision"] = """{"moment": "arrival", "asked": {}}""",
        ["task"] = """{"urgent": false}""",
    };

    /// <summary>Puts kept rows back as they were. Triggers that tell what happens to leads keep still, since nothing does.</summary>
    /// <param name="rows">A JSON list of rows of the table.</param>
    internal static Task Insert(LanternDb db, string table, string rows) =>
        db.Run(
            $"""
            select set_config('lantern.putting_back', 'yes', true);
            insert into {table:sql} {(table == "lead" ? "overriding system value" : ""):sql}
              select r.* from jsonb_array_elements({rows}::jsonb) e cross join lateral jsonb_populate_record(null::{table:sql}, {Later.GetValueOrDefault(
                table,
                "{}"
            )}::jsonb || e) r on conflict do nothing;
            select set_config('lantern.putting_back', '', true);
            """
        );

    private static SqlText Bookings(SqlText lead) => $"booking t where t.meeting_id in (select id from meeting where lead_id = {lead:sql})";

    /// <summary>Takes locked leads out. Gives each with all that goes with it, by table.</summary>
    public static async Task<Dictionary<Guid, Dictionary<string, JsonElement>>> Take(LanternDb db, Guid[] ids)
    {
        var parts = Along.Select(t => $"'{t}', (select jsonb_agg(to_jsonb(t)) from {t} t where t.lead_id = l.id)");
        var rows = await db.Rows<Taken>(
            $"""
            select l.id, jsonb_build_object('lead', jsonb_build_array(to_jsonb(l)), {string.Join(", ", parts):sql}, 'booking', (select jsonb_agg(to_jsonb(t)) from {Bookings(
                $"l.id"
            ):sql}))::text as rows
            from lead l where l.id = any({ids})
            """
        );
        var kept = rows.ToDictionary(r => r.Id, r => Json.Read<Dictionary<string, JsonElement>>(r.Rows));
        await db.Run(
            $"""
            delete from {Bookings($"any({ids})"):sql};
            {SqlText.Joined(Along.Select<string, SqlText>(t => $"delete from {t:sql} where lead_id = any({ids})")):sql}
            delete from duplicate where state = 'open' and (a = any({ids}) or b = any({ids}));
            delete from lead where id = any({ids});
            select pg_notify('{LeadLive.Channel:sql}', id::text) from unnest({ids}) id;
            select nextval('people_change');
            """
        );
        return kept;
    }

    /// <summary>Puts leads back. What was booked for a meeting and is taken by now is left out.</summary>
    public async Task Put(LanternDb db, IReadOnlyDictionary<Guid, Dictionary<string, JsonElement>> leads)
    {
        var ids = leads.Keys.ToArray();
        foreach (var table in (string[])["lead", .. Along, "booking"])
        {
            var rows = leads.Values.SelectMany(l => l[table] is { ValueKind: JsonValueKind.Array } some ? some.EnumerateArray() : default).Select(r => r.GetRawText());
            await Insert(db, table, $"[{string.Join(',', rows)}]");
        }
        await db.Run($"update lead set version = version + 1 where id = any({ids}); select nextval('people_change')");
        await MatchKeys.Write(db, await DuplicateRecords.Identities(db, "lead", ids, workspace.Catalogue));
        await DuplicateDetectionWorker.Ask(db, "lead", ids);
        await FollowUps.Refresh(db, ids);
    }

    private sealed record Taken(Guid Id, string Rows);
}
