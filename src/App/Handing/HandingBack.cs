using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.People;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Handing;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handing;

/// <summary>What came back of a handing.</summary>
/// <param name="Left">Records that were changed since, and stay where they are.</param>
/// <param name="Words">What else could not be given back.</param>
public sealed record HandedBack(int Restored, int Left, IReadOnlyList<string> Words);

/// <summary>Gives back what was handed on: by hand, or at the end of a leave. What changed hands since stays.</summary>
internal sealed class HandingBack(LanternDb db, WorkspaceConfiguration configuration, HandingAsides asides, TimeProvider clock)
{
    /// <summary>Undoes a handing; the person is here again where they left with it.</summary>
    public async Task<Outcome<HandedBack>> Undo(Guid id, Guid by)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockUntilEnd(PeopleDesk.Lock);
        await Admission.Lock(db);
        if (await db.Entity<HandingRow>($"select * from handing where id = {id} for update") is not { } handing)
            return Problem.NotFound("handing");
        if (handing.BackAt is not null)
            return new Problem("handing-back");
        HandedBack? back = null;
        var problem = await StaffEndpoints.Try(
            db,
            configuration.Current,
            clock,
            async () =>
            {
                if (handing.Leaves)
                    await db
                        .Users.Where(p => p.Id == handing.PersonId && p.PasswordHash != null)
                        .ExecuteUpdateAsync(s => s.SetProperty(p => p.Here, true).SetProperty(p => p.Version, p => p.Version + 1));
                back = await Give(handing, by, clock.UtcNow());
                return null;
            }
        );
        if (problem is not null)
            return problem;
        await transaction.CommitAsync();
        await configuration.Changed();
        return back!;
    }

    /// <summary>Gives it back. In the caller's transaction, with the handing held and <see cref="Admission.Lock"/> taken.</summary>
    public async Task<HandedBack> Give(HandingRow handing, Guid? by, DateTime now)
    {
        using var acting = Acting.Through(Acting.Handing, handing.Id, by);
        await db.TellActing();
        var items = await db.Set<HandingItemRow>().AsNoTracking().Where(i => i.HandingId == handing.Id).ToListAsync();
        List<(string Kind, string Record)> restored = [];
        foreach (var kind in items.GroupBy(i => i.Kind))
            restored.AddRange((await Back(kind.Key, [.. kind], handing.PersonId)).Select(r => (kind.Key, r)));
        var (kinds, records) = (restored.Select(r => r.Kind).ToArray(), restored.Select(r => r.Record).ToArray());
        await db.Run(
            $"""
            update handing_item i set restored = exists (select 1 from unnest({kinds}, {records}) x(kind, record) where x.kind = i.kind and x.record = i.record) where i.handing_id = {handing.Id};
            update handing set back_at = {now} where id = {handing.Id};
            """
        );
        var words = await asides.Back(handing, by, now);
        if (restored.Count > 0)
            await db.Log(EventLog.Person, handing.PersonId, new HandedOn(handing.PersonId, restored.GroupBy(r => r.Kind).ToDictionary(g => g.Key, g => g.Count()), Back: true));
        return new HandedBack(restored.Count, items.Count - restored.Count, words);
    }

    private async Task<IReadOnlyCollection<string>> Back(string kind, List<HandingItemRow> items, Guid to)
    {
        if (kind == HeldKind.Lead)
            return await LeadsBack(items);
        var back = await Held.Pass(db, kind, [.. items.Where(i => i.ToId is not null).Select(i => (i.Record, i.ToId!.Value, to))]);
        if (kind == HeldKind.Meeting)
            back.UnionWith(await JoinAgain([.. items.Where(i => i.ToId is null).Select(i => i.Record)], to));
        return back;
    }

    private Task<List<string>> JoinAgain(string[] meetings, Guid person) =>
        db.Rows<string>(
            $"""update meeting set people = array_append(array_remove(people, {person}), {person}), version = version + 1 where id::text = any({meetings}) returning id::text as "Value" """
        );

    private async Task<IReadOnlyCollection<string>> LeadsBack(List<HandingItemRow> items)
    {
        var kept = items.ToDictionary(i => Guid.Parse(i.Record), i => Json.Read<BulkKept>(i.Kept!));
        var ids = kept.Keys.ToArray();
        // Whoever has it now, and whether it is still open: what was worked to its end stays with whoever did that.
        var now = await db.Rows<LeadNow>(
            $"select id, owner_id from lead where id = any({ids}) and state in ('new', 'in_work', 'on_hold', 'qualified') for update {Held.Whole:sql}"
        );
        var back = now.Where(l => l.OwnerId == kept[l.Id].OwnerAfter).Select(l => l.Id).ToArray();
        if (back.Length > 0)
            await BulkUndo.GiveBack(db, back, [.. back.Select(l => kept[l])]);
        return [.. back.Select(l => l.ToString())];
    }

    private sealed record LeadNow
    {
        public Guid Id { get; init; }
        public Guid? OwnerId { get; init; }
    }
}

/// <summary>Ends leaves on their day: what was handed on for the time goes back.</summary>
internal sealed class LeaveEnd(WorkspaceConfiguration configuration, TimeProvider clock) : IDueWork
{
    public const string Key = "leave_end";

    public string Kind => Key;

    public string Words => "Give back what was handed on for a leave";

    public int Batch => 1;

    public async Task<int> Do(LanternDb db, Guid[] keys, DateTime now, CancellationToken cancel)
    {
        var done = 0;
        foreach (var key in keys)
        {
            await using var transaction = await db.Database.BeginTransactionAsync(cancel);
            await Admission.Lock(db);
            if (
                await db.Entity<HandingRow>($"select * from handing where id = {key} and back_at is null for update", cancel) is { } handing
                && await Person.IsHere(db, handing.PersonId)
            )
                await new HandingBack(db, configuration, new HandingAsides(db, configuration), clock).Give(handing, null, now);
            done += await db.Set<DueRow>().Where(d => d.Kind == Key && d.Key == key).ExecuteDeleteAsync(cancel);
            await transaction.CommitAsync(cancel);
        }
        return done;
    }
}
