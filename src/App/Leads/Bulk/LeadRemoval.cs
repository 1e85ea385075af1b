using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Matching;
using DapperLantern.App.Setup;

namespace DapperLantern.App.Leads.Bulk;

/// <summary>
/// Takes leads out, kept whole, and puts them back as they were. Consents, the raw posts they came by, their files and what was sent to them stay where they are: they are found again
/// with the lead, and a consent withdrawn holds meanwhile.
/// </summary>
public sealed class LeadRemoval(Workspace workspace)
{
    private static readonly RecordTie[] Along = [.. RecordRegistry.TiesTo("lead").Where(t => t.Removal == Fate.Goes)];

    // Rows that go with those, such as the bookings of a meeting.
    private static readonly (RecordTie Tie, RecordTie Of)[] Beyond =
    [
        .. Along.SelectMany(of => RecordRegistry.TiesTo(of.Table).Where(t => t.Removal == Fate.Goes).Select(t => (t, of))),
    ];

    /// <summary>Takes locked leads out. Gives each with all that goes with it, by table.</summary>
    public static async Task<Dictionary<Guid, Dictionary<string, JsonElement>>> Take(LanternDb db, Guid[] ids)
    {
        var parts = Along
            .Select(t => $"'{t.Table}', (select jsonb_agg(to_jsonb(t)) from {t.Table} t where t.{t.Column} = l.id)")
            .Concat(
                Beyond.Select(b =>
                    $"'{b.Tie.Table}', (select jsonb_agg(to_jsonb(t)) from {b.Tie.Table} t where t.{b.Tie.Column} in (select id from {b.Of.Table} where {b.Of.Column} = l.id))"
                )
            );
        var rows = await db.Rows<Taken>(
            $"""
            select l.id, jsonb_build_object('lead', jsonb_build_array(to_jsonb(l)), {string.Join(", ", parts):sql})::text as rows from lead l where l.id = any({ids})
            """
        );
        var kept = rows.ToDictionary(r => r.Id, r => Json.Read<Dictionary<string, JsonElement>>(r.Rows));
        await db.Run(
            $"""
            {SqlText.Joined(RecordRegistry.Delete("lead", t => t.Removal, ids)):sql}
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
        foreach (var table in (string[])["lead", .. Along.Select(t => t.Table), .. Beyond.Select(b => b.Tie.Table)])
            await KeptRows.PutBack(
                db,
                table,
                [.. leads.Values.SelectMany(l => l.TryGetValue(table, out var some) && some.ValueKind == JsonValueKind.Array ? some.EnumerateArray() : default)]
            );
        await db.Run($"update lead set version = version + 1 where id = any({ids}); select nextval('people_change')");
        await MatchKeys.Write(db, await DuplicateRecords.Identities(db, "lead", ids, workspace.Catalogue));
        await DuplicateDetectionWorker.Ask(db, "lead", ids);
        await FollowUps.Refresh(db, ids);
    }

    private sealed record Taken(Guid Id, string Rows);
}
