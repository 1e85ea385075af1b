using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Matching;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Leads.Bulk;
using DapperLantern.Core.Matching;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads.Bulk;

/// <summary>A lead with everything an act upon many may look at.</summary>
public sealed record BulkFound(int Number, KnownLead Known, BulkLead Now, DateTime? ClockStarted, DateTime? ClockDue, DateTime? WakeAt);

/// <summary>Reads and writes leads of an act, a few hundred at a time.</summary>
public sealed class BulkBatch(Workspace workspace, ArrivalMerger merger)
{
    /// <summary>Leads by their ids; those that are gone are left out.</summary>
    /// <param name="own">The only person whose leads may be changed; null for everybody's.</param>
    /// <param name="hold">True to lock them, which requires a transaction.</param>
    public async Task<Dictionary<Guid, BulkFound>> Load(LanternDb db, Guid[] ids, BulkAct act, Guid? own, bool hold, DateTime now)
    {
        var known = await LeadStore.LoadMany(db, ids, workspace.Catalogue, now, hold);
        var rows = await db.Rows<Row>(
            $"""
            select l.id, l.number, l.state, l.state_reason, l.wake_at, l.owner_id, l.clock_started_at, l.clock_due_at, l.pipeline, {Has(act):sql} as has
            from lead l where l.id = any({ids})
            """
        );
        return rows.Where(r => known.ContainsKey(r.Id)).ToDictionary(r => r.Id, r => Found(known[r.Id], r, act, own, now));
    }

    private BulkFound Found(KnownLead known, Row row, BulkAct act, Guid? own, DateTime at)
    {
        // Only who is to be qualified is held against the threshold.
        var pipeline = act.State == LeadState.Qualified ? workspace.Pipeline(row.Pipeline) ?? workspace.Pipeline(null) : null;
        var lacks = pipeline?.Threshold.Missing(known.Facts, at.ToInstant()).FirstOrDefault();
        var now = new BulkLead(known.Facts, row.State, row.StateReason, row.WakeAt?.ToInstant(), row.OwnerId, lacks, row.Has, own is null || row.OwnerId == own);
        return new BulkFound(row.Number, known, now, row.ClockStartedAt, row.ClockDueAt, row.WakeAt);
    }

    private static SqlText Has(BulkAct act) =>
        act.Kind switch
        {
            BulkAct.Tag or BulkAct.Untag =>
                $"exists (select 1 from lead_tag t join tag g on g.key = t.tag_key where t.lead_id = l.id and (g.key = {act.Key} or g.merged_into = {act.Key}))",
            BulkAct.Campaign => $"exists (select 1 from campaign_response r where r.lead_id = l.id and r.campaign_key = {act.Key} and r.response = {act.Response})",
            _ => $"false",
        };

    /// <summary>Writes a field of leads that were read locked, with the scores and keys that follow.</summary>
    public async Task WriteFacts(LanternDb db, IReadOnlyList<(KnownLead Lead, FieldValue Value, Provenance? From)> puts, FieldDefinition field, DateTime now)
    {
        await db.Log(EventLog.Lead, [.. puts.Select(p => (p.Lead.Id, (Happening)FactsChanged.Of([EventLog.Change(field, p.Lead.Facts[field.Ordinal], p.Value)])))]);
        foreach (var (lead, value, from) in puts)
        {
            (lead.Facts[field.Ordinal], lead.Changed) = (value, true);
            if (from is null)
                lead.Provenance.Remove(field.Key);
            else
                lead.Provenance[field.Key] = from;
        }
        var leads = puts.Select(p => p.Lead).ToList();
        var ids = leads.Select(l => l.Id).ToArray();
        await merger.Rescore(db, leads, await LeadStore.EventsOf(db, ids), now);
        await LeadBulkUpdate.Write(db, leads);
        if (!Identity.Fields.Contains(field.Key))
            return;
        await DuplicateDetectionWorker.Ask(db, "lead", ids);
        await PeopleChange.Tell(db);
    }

    /// <summary>Logs what an act did to each lead, or that it was taken back. Changes of state and owner log themselves, a handover tells itself.</summary>
    public static async Task Log(LanternDb db, BulkAct act, Guid[] ids, bool back)
    {
        switch (act.Kind)
        {
            case BulkAct.Tag or BulkAct.Untag:
                var name = await db.Set<TagRow>().Where(t => t.Key == act.Key).Select(t => t.Name).SingleOrDefaultAsync();
                await db.Log(EventLog.Lead, ids, new Tagged(act.Key!, name ?? act.Key!, act.Kind == BulkAct.Tag != back));
                break;
            case BulkAct.Campaign:
                await db.Log(EventLog.Lead, ids, new ResponseEntered(act.Key!, act.Response!));
                break;
            case BulkAct.Remove:
                await db.Log(EventLog.Lead, ids, back ? new PutBack() : new Removed());
                break;
        }
    }

    private sealed record Row
    {
        public Guid Id { get; init; }
        public int Number { get; init; }
        public string State { get; init; } = "";
        public string? StateReason { get; init; }
        public DateTime? WakeAt { get; init; }
        public Guid? OwnerId { get; init; }
        public DateTime? ClockStartedAt { get; init; }
        public DateTime? ClockDueAt { get; init; }
        public string? Pipeline { get; init; }
        public bool Has { get; init; }
    }
}
