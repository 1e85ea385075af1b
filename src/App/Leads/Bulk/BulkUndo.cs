using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Handover;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Leads.Bulk;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads.Bulk;

/// <summary>Takes back what was done to many leads, a batch a transaction. What was changed since is left, with why.</summary>
public sealed class BulkUndo(Workspace workspace, BulkBatch batch, LeadRemoval removal, HandoverUndo handovers)
{
    private const string Since = "changed since";

    /// <summary>Undoes the next batch. False when there was none left: then it is undone.</summary>
    public async Task<bool> Step(LanternDb db, Guid id, DateTime now, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var edit = await db.Entity<BulkEdit>($"select * from bulk_edit where id = {id} and state = 'undoing' for update");
        if (edit is null)
            return false;
        using var acting = Acting.Through(Acting.BulkUndo, id, edit.PersonId);
        await db.TellActing();
        var act = Json.Read<BulkAct>(edit.Act);
        var rows = await db.Entities<BulkLeadRow>(
            $"select * from bulk_lead where bulk_id = {id} and outcome = 'changed' and restored is null order by position {(act.Kind == BulkAct.HandOver ? "desc" : ""):sql} limit {BulkExecutor.BatchOf(act)}"
        );
        if (rows.Count == 0)
            await db.Set<BulkEdit>().Where(x => x.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.State, "undone").SetProperty(x => x.UndoneAt, now));
        else
            await Undo(db, edit, act, rows, now);
        await transaction.CommitAsync(cancel);
        return rows.Count > 0;
    }

    private async Task Undo(LanternDb db, BulkEdit edit, BulkAct act, List<BulkLeadRow> rows, DateTime now)
    {
        await BulkExecutor.WaitTurn(db, act);
        var found = await batch.Load(db, [.. rows.Select(r => r.LeadId)], act, null, hold: true, now);
        var field = act.Kind == BulkAct.Fact ? workspace.Catalogue.Find(act.Field!) : null;
        var asked = rows.Select(r => (Row: r, Lead: found.GetValueOrDefault(r.LeadId), Kept: Json.Read<BulkKept>(r.Kept!))).ToList();
        var whys = asked.Select(a => WhyNot(act, field, a.Lead, a.Kept)).ToList();
        if (act.Kind == BulkAct.HandOver)
            await TakeBack(db, edit, rows, whys);
        var back = asked.Zip(whys).Where(x => x.Second is null).Select(x => (Id: x.First.Row.LeadId, x.First.Lead, x.First.Kept)).ToList();
        if (back.Count > 0)
        {
            await Restore(db, edit, act, field, back, now);
            await BulkBatch.Log(db, act, [.. back.Select(b => b.Id)], back: true);
        }
        var positions = rows.Select(r => r.Position).ToArray();
        await db.Run(
            $"""
            update bulk_lead b set restored = x.why is null, why = coalesce(x.why, b.why) from unnest({positions}, {whys.ToArray()}) x(position, why) where b.bulk_id = {edit.Id} and b.position = x.position;
            update bulk_edit set looked = looked + {rows.Count}, restored = restored + {back.Count} where id = {edit.Id};
            """
        );
    }

    private static string? WhyNot(BulkAct act, FieldDefinition? field, BulkFound? lead, BulkKept kept) =>
        act.Kind == BulkAct.Remove ? (lead is null ? null : "is there again")
        : lead is null ? "gone meanwhile"
        : act.Kind == BulkAct.HandOver ? null
        : lead.Now.State == LeadState.HandedOver ? "handed over meanwhile"
        : act.Kind switch
        {
            BulkAct.Fact when field is null => "the field is gone",
            BulkAct.Fact => lead.Known.Facts[field.Ordinal] == FieldValue.Parse(field.Type, kept.After!) ? null : Since,
            BulkAct.Give => lead.Now.Owner == kept.OwnerAfter ? null : Since,
            BulkAct.Move => lead.Now.State == act.State && lead.Now.Reason == act.Reason && lead.WakeAt == act.WakeAt?.UtcDateTime ? null : Since,
            BulkAct.Untag => lead.Now.Has ? Since : null,
            _ => lead.Now.Has ? null : Since,
        };

    // A deal that was worked on since stays.
    private async Task TakeBack(LanternDb db, BulkEdit edit, List<BulkLeadRow> rows, List<string?> whys)
    {
        for (var i = 0; i < rows.Count; i++)
            if (whys[i] is null && await handovers.Run(db, rows[i].LeadId, edit.PersonId, ownOnly: false) is { } trouble)
                whys[i] = trouble.Words;
    }

    private async Task Restore(LanternDb db, BulkEdit edit, BulkAct act, FieldDefinition? field, List<(Guid Id, BulkFound? Lead, BulkKept Kept)> back, DateTime now)
    {
        var ids = back.Select(b => b.Id).ToArray();
        var kept = back.Select(b => b.Kept).ToList();
        switch (act.Kind)
        {
            case BulkAct.Remove:
                await removal.Put(db, back.ToDictionary(b => b.Id, b => b.Kept.Gone!));
                break;
            case BulkAct.HandOver:
                // Taken back one by one already, when each was asked whether it could be.
                break;
            case BulkAct.Fact:
                await batch.WriteFacts(db, [.. back.Select(b => (b.Lead!.Known, FieldValue.Parse(field!.Type, b.Kept.Before!), b.Kept.From))], field!, now);
                break;
            case BulkAct.Give:
                await GiveBack(db, ids, kept);
                break;
            case BulkAct.Move:
                await MoveBack(db, ids, kept, edit.CreatedAt);
                break;
            case BulkAct.Campaign:
                await db.Set<CampaignResponseRow>().Where(x => x.Entry == edit.Id && ids.Contains(x.LeadId)).ExecuteDeleteAsync();
                break;
            default:
                await (
                    act.Kind == BulkAct.Untag
                        ? db.Run($"insert into lead_tag (lead_id, tag_key) select id, {act.Key} from unnest({ids}) id on conflict do nothing")
                        : db.Set<LeadTagRow>().Where(l => ids.Contains(l.LeadId) && l.TagKey == act.Key).ExecuteDeleteAsync()
                );
                break;
        }
    }

    /// <summary>Gives leads back to whose they were, with their clocks and tasks. In the caller's transaction, with the leads locked.</summary>
    internal static async Task GiveBack(LanternDb db, Guid[] ids, IReadOnlyList<BulkKept> kept)
    {
        var tasks = kept.SelectMany(b => b.Tasks ?? []).ToList();
        var taskOwners = tasks.Select(t => t.Owner).ToArray();
        var owners = kept.Select(b => b.OwnerBefore).ToArray();
        var starts = kept.Select(b => b.ClockStarted).ToArray();
        var dues = kept.Select(b => b.ClockDue).ToArray();
        var made = kept.Select(b => b.TaskMade).OfType<Guid>().ToArray();
        await db.Run(
            $"""
            update lead l set owner_id = x.owner, version = version + 1, clock_started_at = x.started, clock_due_at = case when l.state = 'new' then x.due end
              from unnest({ids}, {owners}, {starts}, {dues}) x(id, owner, started, due) where l.id = x.id;
            update task t set owner_id = x.owner from unnest({tasks.Select(t => t.Task).ToArray()}, {taskOwners}) x(id, owner) where t.id = x.id and t.done_at is null;
            delete from task where id = any({made}) and done_at is null;
            """
        );
        await FollowUps.Refresh(db, ids);
    }

    // A clock that the move stopped runs again, so nobody has answered by it.
    private static Task MoveBack(LanternDb db, Guid[] ids, List<BulkKept> kept, DateTime since)
    {
        var (states, reasons) = (kept.Select(b => b.Before).ToArray(), kept.Select(b => b.ReasonBefore).ToArray());
        var (wakes, dues) = (kept.Select(b => b.WokeAt).ToArray(), kept.Select(b => b.ClockDue).ToArray());
        var (touches, moves) = (kept.Select(b => b.TouchedBefore).ToArray(), kept.Select(b => b.MovedAt).ToArray());
        return db.Run(
            $"""
            update lead l set state = x.state, state_reason = x.reason, wake_at = x.wakes, clock_due_at = x.due, version = version + 1,
              last_touch_at = case when l.last_touch_at = x.moved then coalesce(x.touched, l.last_touch_at) else l.last_touch_at end,
              answered_at = case when x.due is null or l.answered_at < {since} then l.answered_at end, answered_in_time = case when x.due is null or l.answered_at < {since} then l.answered_in_time end
            from unnest({ids}, {states}, {reasons}, {wakes}, {dues}, {touches}, {moves}) x(id, state, reason, wakes, due, touched, moved) where l.id = x.id
            """
        );
    }
}
