using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Matching;

/// <summary>Takes two records apart that were merged.</summary>
public sealed partial class RecordMerger
{
    /// <summary>
    /// Takes two records apart again: the one that went comes back as it was, with all that came from it, and the one kept gets back what the merge changed of it, unless somebody
    /// changed that since. What was added since stays with the one kept.
    /// </summary>
    public async Task<ApartResult> TakeApart(LanternDb db, MergeRow merge, Guid person, DateTime now)
    {
        var kind = merge.Kind;
        var gone = Json.Read<Dictionary<string, JsonElement>>(merge.Gone);
        await KeptRows.PutBack(db, kind, [gone[kind]]);
        foreach (var (table, ids) in Json.Read<Dictionary<string, List<Guid>>>(merge.Added))
            await db.Run($"delete from {table:sql} where id = any({ids.ToArray()})");
        foreach (var (table, ids) in Json.Read<Dictionary<string, List<Guid>>>(merge.Moved))
        {
            var column = RecordRegistry.TiesTo(kind).Single(t => t.Merge == Fate.Moves && t.Table == table).Column;
            await db.Run($"update {table:sql} set {column:sql} = {merge.GoneId} where id = any({ids.ToArray()})");
        }
        foreach (var tie in RecordRegistry.TiesTo(kind).Where(t => t.Merge == Fate.Goes))
            if (gone.TryGetValue(tie.Table, out var rows))
                await KeptRows.PutBack(db, tie.Table, [.. rows.EnumerateArray()]);
        if (gone.TryGetValue("lead_tag", out var tags))
            await TagsBack(db, merge, tags);
        var left = await ChangesBack(db, kind, merge);
        var (a, b) = DuplicateDetectionWorker.InOrder(merge.KeptId, merge.GoneId);
        await db.Run(
            $"""
            update record_merge set apart_at = {now} where id = {merge.Id};
            insert into duplicate (id, kind, a, b, bits, sure, evidence, state, found_at, settled_at, settled_by)
              values (gen_random_uuid(), {merge.Kind}, {a}, {b}, 0, false, '[]', 'distinct', {now}, {now}, {person})
              on conflict (a, b) do update set state = 'distinct', settled_at = excluded.settled_at, settled_by = excluded.settled_by;
            """
        );
        await KeysBack(db, kind, merge.GoneId);
        foreach (var (record, other) in new[] { (merge.KeptId, merge.GoneId), (merge.GoneId, merge.KeptId) })
        {
            await db.Log(kind, record, new TakenApart(other));
            await Settle(db, kind, record, now);
        }
        return new ApartResult(merge.KeptId, merge.GoneId, left);
    }

    private static async Task TagsBack(LanternDb db, MergeRow merge, JsonElement tags)
    {
        await db.Run(
            $"""
            delete from lead_tag t using jsonb_array_elements({tags.GetRawText()}::jsonb) g
            where t.lead_id = {merge.KeptId} and t.tag_key = g->>'tag_key' and (g->>'given')::boolean
            """
        );
        await KeptRows.PutBack(db, "lead_tag", [.. tags.EnumerateArray()]);
    }

    private async Task<List<string>> ChangesBack(LanternDb db, string kind, MergeRow merge)
    {
        var changes = Json.Read<List<KeptChange>>(merge.Changes);
        var left = new List<string>();
        foreach (var change in changes.Where(c => c.Field.StartsWith('=')))
        {
            var column = change.Field[1..];
            var now = (await Standing(db, $"{column}::text as {column}", merge.KeptId))[column] ?? "";
            if (now == change.After || (column == "qualification" && now.Length > 0 && SameFindings(now, change.After)))
                await Set(db, column, change.Before.Length == 0 ? null : change.Before, merge.KeptId);
            else
                left.Add(StandingWords[column]);
        }
        var facts = changes
            .Where(c => !c.Field.StartsWith('=') && workspace.Catalogue.Find(c.Field) is not null)
            .Select(c => (Change: c, Field: workspace.Catalogue[c.Field]))
            .ToList();
        var current = (await DuplicateRecords.Sides(db, kind, merge.KeptId, merge.GoneId, workspace.Catalogue))[0]!;
        var back = facts.Where(f => current.Values[f.Field.Key] == FieldValue.Parse(f.Field.Type, f.Change.After)).ToList();
        left.AddRange(facts.Except(back).Select(f => f.Field.Label.ToLowerInvariant()));
        if (kind != "lead")
            await WriteFacts(db, kind, merge.KeptId, back.Select(b => (b.Field, FieldValue.Parse(b.Field.Type, b.Change.Before))));
        else
            foreach (var (change, field) in back)
                await FactBack(db, merge.KeptId, field, change);
        return left;
    }

    private async Task FactBack(LanternDb db, Guid lead, FieldDefinition field, KeptChange change)
    {
        await LeadStore.Write(db, lead, [(field, FieldValue.Parse(field.Type, change.Before))], change.From?.From ?? "", change.From?.At ?? default, workspace.Catalogue);
        if (change.From is null)
            await db.Run($"update lead set provenance = provenance - {field.Key} where id = {lead}");
    }

    private static readonly Dictionary<string, string> StandingWords = new()
    {
        ["state"] = "state",
        ["wake_at"] = "when it wakes",
        ["state_reason"] = "reason disqualified",
        ["sub_state_set"] = "sub-state",
        ["owner_id"] = "owner",
        ["clock_started_at"] = "clock",
        ["clock_due_at"] = "clock",
        ["created_at"] = "when it came in",
        ["qualification"] = "qualification",
    };

    private async Task KeysBack(LanternDb db, string kind, Guid record)
    {
        if (kind == "contact")
            await MatchKeys.WriteContacts(db, [record], workspace.Catalogue);
        else if (kind == "lead")
            await MatchKeys.Write(db, await DuplicateRecords.Identities(db, kind, [record], workspace.Catalogue));
    }
}
