using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Handover;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Leads.Bulk;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads.Bulk;

/// <summary>Does what was ordered, a batch a transaction: whoever goes on after a stop neither doubles nor drops a lead.</summary>
public sealed class BulkExecutor(Workspace workspace, BulkBatch batch, HandoverExecutor handovers, Rerouter rerouter)
{
    /// <summary>Leads of a batch.</summary>
    public const int Batch = 500;

    // A handover does much for each, and who comes in waits meanwhile.
    private const int HandoverBatch = 20;

    /// <summary>How many leads of an act go together.</summary>
    public static int BatchOf(BulkAct act) => act.Kind == BulkAct.HandOver ? HandoverBatch : Batch;

    /// <summary>An act by which leads go away waits its turn with those that come in, before it locks any: nobody is added to a lead that is gone, and nobody waits in a circle.</summary>
    public static Task WaitTurn(LanternDb db, BulkAct act) =>
        act.Kind is BulkAct.Remove or BulkAct.HandOver || act.ByRules || act.State == LeadState.Qualified ? Admission.Lock(db) : Task.CompletedTask;

    /// <summary>Does the next batch. False when there was none left: then it is done.</summary>
    public async Task<bool> Step(LanternDb db, Guid id, DateTime now, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var edit = await db.Entity<BulkEdit>($"select * from bulk_edit where id = {id} and state = 'doing' for update");
        if (edit is null)
            return false;
        using var acting = Acting.Through(Acting.Bulk, id, edit.PersonId);
        await db.TellActing();
        var act = Json.Read<BulkAct>(edit.Act);
        var rows = await db.Set<BulkLeadRow>().AsNoTracking().Where(x => x.BulkId == id && x.Outcome == null).OrderBy(x => x.Position).Take(BatchOf(act)).ToListAsync();
        if (rows.Count == 0)
            await Finish(db, edit, act, now);
        else
            await Do(db, edit, act, rows, now, cancel);
        await transaction.CommitAsync(cancel);
        return rows.Count > 0;
    }

    private async Task Do(LanternDb db, BulkEdit edit, BulkAct act, List<BulkLeadRow> rows, DateTime now, CancellationToken cancel)
    {
        var field = act.Kind == BulkAct.Fact ? workspace.Catalogue.Find(act.Field!) : null;
        await WaitTurn(db, act);
        var found = await batch.Load(db, [.. rows.Select(r => r.LeadId)], act, edit.OwnOnly ? edit.PersonId : null, hold: true, now);
        var outcomes = rows.Select(r => found.TryGetValue(r.LeadId, out var lead) ? Decide(act, field, lead.Now, now) : new BulkOutcome(BulkVerdict.Left, "gone meanwhile"))
            .ToList();
        // One of two cannot change places alone.
        if (act.Swap && outcomes.Any(o => o.Verdict != BulkVerdict.Changed))
            outcomes = [.. outcomes.Select(o => o.Verdict == BulkVerdict.Changed ? new BulkOutcome(BulkVerdict.Left, "the other one cannot change hands") : o)];
        var changed = rows.Zip(outcomes).Where(x => x.Second.Verdict == BulkVerdict.Changed).Select(x => (Lead: found[x.First.LeadId], x.Second.Value)).ToList();
        var refused = new Dictionary<Guid, string>();
        var kept = changed.Count == 0 ? [] : await Write(db, edit, act, field, changed, refused, now, cancel);
        for (var i = 0; i < rows.Count; i++)
            if (refused.TryGetValue(rows[i].LeadId, out var why))
                outcomes[i] = new BulkOutcome(BulkVerdict.Left, why);
        var positions = rows.Select(r => r.Position).ToArray();
        var (verdicts, whys) = (outcomes.Select(o => o.Verdict.ToString().ToLowerInvariant()).ToArray(), outcomes.Select(o => o.Why).ToArray());
        var before = rows.Select(r => kept.TryGetValue(r.LeadId, out var k) ? Json.Write(k) : null).ToArray();
        var left = outcomes.Count(o => o.Verdict == BulkVerdict.Left);
        await db.Run(
            $"""
            update bulk_lead b set outcome = x.outcome, why = nullif(x.why, ''), kept = x.kept::jsonb
            from unnest({positions}, {verdicts}, {whys}, {before}) x(position, outcome, why, kept) where b.bulk_id = {edit.Id} and b.position = x.position;
            update bulk_edit set looked = looked + {rows.Count}, changed = changed + {kept.Count}, left_alone = left_alone + {left} where id = {edit.Id};
            """
        );
    }

    // A field that was put away meanwhile changes nothing.
    private static BulkOutcome Decide(BulkAct act, FieldDefinition? field, BulkLead lead, DateTime now) =>
        act.Kind == BulkAct.Fact && field is null ? new BulkOutcome(BulkVerdict.Left, "the field is gone") : BulkChange.Decide(act, field, lead, now.ToInstant());

    private async Task<Dictionary<Guid, BulkKept>> Write(
        LanternDb db,
        BulkEdit edit,
        BulkAct act,
        FieldDefinition? field,
        List<(BulkFound Lead, FieldValue Value)> changed,
        Dictionary<Guid, string> refused,
        DateTime now,
        CancellationToken cancel
    )
    {
        var ids = changed.Select(c => c.Lead.Known.Id).ToArray();
        var kept = act.Kind switch
        {
            BulkAct.Fact => await Put(db, edit, field!, changed, now),
            BulkAct.Give => await Give(db, edit, act.Exchanging(changed.Select(c => c.Lead.Now.Owner)), [.. changed.Select(c => c.Lead)], now),
            BulkAct.Move => await Move(db, act, [.. changed.Select(c => c.Lead)], now),
            BulkAct.Remove => (await LeadRemoval.Take(db, ids)).ToDictionary(g => g.Key, g => new BulkKept { Gone = g.Value }),
            BulkAct.HandOver => await HandOver(db, edit, act, changed, refused),
            _ => await Mark(db, edit, act, ids, now, cancel),
        };
        await BulkBatch.Log(db, act, ids, back: false);
        return kept;
    }

    private async Task<Dictionary<Guid, BulkKept>> Put(LanternDb db, BulkEdit edit, FieldDefinition field, List<(BulkFound Lead, FieldValue Value)> changed, DateTime now)
    {
        var kept = changed.ToDictionary(
            c => c.Lead.Known.Id,
            c => new BulkKept
            {
                Before = c.Lead.Known.Facts[field.Ordinal].ToString(),
                After = c.Value.ToString(),
                From = c.Lead.Known.Provenance.GetValueOrDefault(field.Key),
            }
        );
        var by = await db.Set<Person>().Where(x => x.Id == edit.PersonId).Select(x => x.UserName!).SingleOrDefaultAsync();
        await batch.WriteFacts(db, [.. changed.Select(c => (c.Lead.Known, c.Value, (Provenance?)new Provenance(by ?? "", now)))], field, now);
        return kept;
    }

    // In turn: each lead that changes hands goes to the next of them.
    private async Task<Dictionary<Guid, BulkKept>> Give(LanternDb db, BulkEdit edit, BulkAct act, List<BulkFound> leads, DateTime now)
    {
        var sheet = (await workspace.Rules(db)).Router.Sheet;
        if (act.ByRules)
        {
            var byId = leads.ToDictionary(l => l.Known.Id);
            // Who gets them is told once, at the end.
            return (await rerouter.Run(db, [.. byId.Keys], RoutingMoment.Arrival, again: !act.Onward, now)).ToDictionary(r => r.Lead, r => Given(byId[r.Lead], r.Owner, r.Given));
        }
        var people = (act.To ?? []).Distinct().Where(workspace.Hours.ContainsKey).ToDictionary(p => p, p => workspace.AnswerDue(p, sheet, now));
        var to = act.To is { } named ? named.Where(people.ContainsKey).ToList() : [];
        var owners = leads.Select((_, i) => to.Count == 0 ? (Guid?)null : to[(edit.Changed + i) % to.Count]).ToList();
        var givings = leads.Zip(owners, (l, owner) => new OwnerAssignment(l.Known.Id, owner, owner is { } o ? people[o] : null, sheet.Task)).ToList();
        var given = await OwnerAssigner.Give(db, givings, now);
        return leads.Zip(owners, (l, owner) => (l.Known.Id, Kept: Given(l, owner, given))).ToDictionary(k => k.Id, k => k.Kept);
    }

    private static BulkKept Given(BulkFound lead, Guid? owner, OwnersAssigned given) =>
        new()
        {
            OwnerBefore = lead.Now.Owner,
            OwnerAfter = owner,
            ClockStarted = lead.ClockStarted,
            ClockDue = lead.ClockDue,
            Tasks = [.. given.Open[lead.Known.Id]],
            TaskMade = given.Made.TryGetValue(lead.Known.Id, out var made) ? made : null,
        };

    private async Task<Dictionary<Guid, BulkKept>> Move(LanternDb db, BulkAct act, List<BulkFound> leads, DateTime now)
    {
        await LeadMove.Of(act).Write(db, [.. leads.Select(l => l.Known.Id)], now, new Why(Why.ByHand));
        if (act.State == LeadState.Qualified && (await workspace.Rules(db)).Router.AskedAt(RoutingMoment.Qualified))
            await rerouter.Run(db, [.. leads.Select(l => l.Known.Id)], RoutingMoment.Qualified, again: true, now);
        return leads.ToDictionary(
            l => l.Known.Id,
            l => new BulkKept
            {
                Before = l.Now.State,
                After = act.State,
                ReasonBefore = l.Now.Reason,
                WokeAt = l.WakeAt,
                ClockDue = l.ClockDue,
                TouchedBefore = l.Known.Facts["last_touch_at"].Moment.ToUtc(),
                MovedAt = now,
            }
        );
    }

    private async Task<Dictionary<Guid, BulkKept>> HandOver(
        LanternDb db,
        BulkEdit edit,
        BulkAct act,
        List<(BulkFound Lead, FieldValue Value)> changed,
        Dictionary<Guid, string> refused
    )
    {
        var kept = new Dictionary<Guid, BulkKept>();
        var leads = changed.Select(c => (c.Lead.Known.Id, c.Lead.Known.Facts)).ToList();
        foreach (var ((id, _), trouble) in leads.Zip(await handovers.DoAsProposed(db, leads, act.Key!, edit.PersonId)))
            if (trouble is not null)
                refused[id] = trouble.Words;
            else
                kept[id] = new BulkKept();
        return kept;
    }

    // Tags and campaigns: nothing has to be kept but that it was so.
    private static async Task<Dictionary<Guid, BulkKept>> Mark(LanternDb db, BulkEdit edit, BulkAct act, Guid[] ids, DateTime now, CancellationToken cancel)
    {
        if (act.Kind == BulkAct.Campaign)
            await CampaignResponseRow.Save(db, [.. ids.Select(lead => Response(edit, act, lead, now))], cancel);
        else
            await (
                act.Kind == BulkAct.Tag
                    ? db.Run($"insert into lead_tag (lead_id, tag_key) select id, {act.Key} from unnest({ids}) id on conflict do nothing")
                    : db.Set<LeadTagRow>()
                        .Where(l => ids.Contains(l.LeadId) && db.Set<TagRow>().Any(t => t.Key == l.TagKey && (t.Key == act.Key || t.MergedInto == act.Key)))
                        .ExecuteDeleteAsync()
            );
        return ids.ToDictionary(id => id, _ => new BulkKept());
    }

    private static CampaignResponseRow Response(BulkEdit edit, BulkAct act, Guid lead, DateTime now) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            CampaignKey = act.Key!,
            LeadId = lead,
            Response = act.Response!,
            Known = true,
            At = now,
            Detail = "Entered by hand",
            PersonId = edit.PersonId,
            Entry = edit.Id,
        };

    // Each new owner is told once, with the count.
    private static async Task Finish(LanternDb db, BulkEdit edit, BulkAct act, DateTime now)
    {
        await db.Set<BulkEdit>().Where(x => x.Id == edit.Id).ExecuteUpdateAsync(s => s.SetProperty(x => x.State, "done").SetProperty(x => x.DoneAt, now));
        if (act.Kind != BulkAct.Give)
            return;
        var given = await db.Rows<Share>(
            $"""
            select (kept->>'ownerAfter')::uuid as owner, count(*)::int as leads from bulk_lead
            where bulk_id = {edit.Id} and outcome = 'changed' and kept->>'ownerAfter' is not null group by 1
            """
        );
        await db.Log(EventLog.Person, [.. given.Select(g => (g.Owner, (Happening)new LeadsGiven(g.Leads)))]);
    }

    private sealed record Share(Guid Owner, int Leads);
}
