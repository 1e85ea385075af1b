using System.Data.Common;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring.Outcomes;

namespace DapperLantern.App.Scoring;

/// <summary>
/// Reads what became of leads, with only what was known before. Decided are those whose deal was won or lost, judged at their handover, and those disqualified, judged when they were. A
/// fact that was written later is not known; one that was written over since is not known either, since what stood there before is not kept with the lead.
/// </summary>
public sealed class OutcomeReader(Workspace workspace, TimeProvider clock)
{
    /// <summary>Most that are read, the newest; more would make nothing surer.</summary>
    public const int Most = 20_000;

    private const int Years = 2;

    private sealed record Decided(Guid Lead, DateTime At, bool Won);

    public async Task<List<LeadOutcome>> Read(LanternDb db, CancellationToken cancel = default)
    {
        var decided = await db.Rows<Decided>(
            $"""
            {RecordScope.Unscoped("the model is held against all that was decided"):sql} select * from (
              select h.lead_id as lead, h.at, s.counts = 'won' as won from handover h join deal d on d.id = h.deal_id join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key
                where h.taken_back_at is null and s.counts in ('won', 'lost')
              union all
              select l.id, coalesce((select max(e.at) from story_entry e where e.lead_id = l.id and e.kind = 'state'), l.last_touch_at), false from lead l where l.state = 'disqualified'
            ) x where at > {clock.UtcNow().AddYears(-Years)} order by at desc limit {Most}
            """
        );
        var outcomes = new List<LeadOutcome>(decided.Count);
        foreach (var chunk in decided.Chunk(2000))
            outcomes.AddRange(await Judged(db, chunk, cancel));
        return outcomes;
    }

    private async Task<List<LeadOutcome>> Judged(LanternDb db, Decided[] decided, CancellationToken cancel)
    {
        var leads = new Dictionary<Guid, (RecordValues Facts, Dictionary<string, Provenance> From)>();
        var ids = decided.Select(d => d.Lead).ToArray();
        var rows = db.Stream(
            $"select {LeadRecord.Columns:sql}, l.id, l.provenance::text as provenance from lead l where l.id = any({ids}) {RecordScope.Unscoped("the model is held against all that was decided"):sql}",
            row => (Id: (Guid)row["id"], Facts: LeadRecord.Read(row, workspace.Catalogue, null), From: (string)row["provenance"]),
            cancel
        );
        await foreach (var (id, facts, from) in rows)
            leads[id] = (facts, Json.Read<Dictionary<string, Provenance>>(from));
        var events = await LeadStore.EventsOf(db, [.. leads.Keys]);
        var found = new List<LeadOutcome>(decided.Length);
        foreach (var (lead, at, won) in decided)
            if (leads.TryGetValue(lead, out var known))
                found.Add(Before(known.Facts, known.From, events.GetValueOrDefault(lead) ?? [], at, won));
        return found;
    }

    private static LeadOutcome Before(RecordValues facts, Dictionary<string, Provenance> from, List<Core.Scoring.LeadEvent> events, DateTime at, bool won)
    {
        var later = from.Where(f => f.Value.At > at).Select(f => f.Key).ToHashSet();
        var known = facts.Copy();
        foreach (var key in later)
            if (known.Catalogue.Find(key) is { } field)
                known[field.Ordinal] = FieldValue.Unknown;
        return new LeadOutcome(known, events, at.ToInstant(), won, later);
    }
}
