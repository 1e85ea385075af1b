using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>
/// Lets one value of a list stand for another on every record, in one transaction, and takes that back: each record that had the value that went is noted. What is set up to ask for
/// the value is changed by hand first, so that no rule and no view comes to mean something else by itself.
/// </summary>
public sealed class ValueMerger(LanternDb db, PickListDesk desk, WorkspaceConfiguration configuration, TimeProvider clock)
{
    // Seconds. A reason of a hundred thousand leads takes some.
    private const int Patience = 600;

    // A competitor who stood on a deal beside the one that stays.
    private sealed record Beside(Guid Deal, string Note, string NoteBefore, string NoteSince);

    // A record with several values of the list, as they were and as they are.
    private sealed record Several(Guid Id, string[] Was, string[] Became);

    /// <param name="Ids">By column with one value.</param>
    /// <param name="Arrays">By column with several.</param>
    private sealed record MovedRecords(Dictionary<string, Guid[]> Ids, Dictionary<string, List<Several>> Arrays, List<Beside> Beside)
    {
        public int Count => Ids.Values.Sum(i => i.Length) + Arrays.Values.Sum(a => a.Count) + Beside.Count;
    }

    public async Task<Outcome<KeptListsView>> Merge(string list, string key, string into, Guid by)
    {
        if (PickList.Find(list) is not { } kept)
            return Problem.NotFound("list");
        if (!kept.Merges)
            return new Problem("value-merge-elsewhere");
        using var patient = db.Patient(Patience);
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            var values = await PickListDesk.Hold(db, list);
            var (from, to) = (values.FindIndex(v => v.Key == key), values.FindIndex(v => v.Key == into));
            if (from < 0 || to < 0)
                return Problem.NotFound("value");
            if (from == to)
                return new Problem("value-merge-self", "into");
            if (kept.OfStates && LeadState.StateOf(key) != LeadState.StateOf(into))
                return new Problem("sub-state-other", "into");
            if (await ValueAsks.Of(db, kept, key) is { Count: > 0 } asks)
                return Problem.Of("value-asked", "", new Whole(string.Join(", ", asks)));
            var moved = await Move(kept, key, into);
            var (gone, stays) = (values[from], values[to]);
            values[to] = stays with { AlsoCalled = [.. stays.AlsoCalled.Concat(gone.AlsoCalled).Append(gone.Label).Distinct()] };
            values.RemoveAt(from);
            await PickListDesk.Save(db, list, values);
            await db.Insert(
                new ValueMergeRow
                {
                    Id = Guid.CreateVersion7(),
                    List = list,
                    FromKey = key,
                    FromBody = Json.Write(gone),
                    Position = from,
                    IntoKey = into,
                    Moved = Json.Write(moved),
                    Records = moved.Count,
                    At = clock.UtcNow(),
                    ById = by,
                }
            );
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return await desk.View();
    }

    private async Task<MovedRecords> Move(KeptList list, string key, string into)
    {
        var moved = new MovedRecords([], [], []);
        foreach (var use in list.Uses)
        {
            if (use.Table == "deal_competitor")
                moved.Beside.AddRange(await MoveBeside(key, into));
            if (use.Many)
                moved.Arrays[use.Name] = await MoveSeveral(use, key, into);
            else
                moved.Ids[use.Name] = [.. await Set(use, key, into, null)];
        }
        return moved;
    }

    private static SqlText Unscoped => $"/*unscoped: a value of a list stands for another*/";

    // All records that have a value get another; of some of them, where they are named.
    private Task<List<Guid>> Set(ListUse use, string from, string to, Guid[]? of)
    {
        var all = of is null;
        return db.Rows<Guid>(
            $"""
            {Unscoped:sql} update {use.Table:sql} set {use.Column:sql} = {to}
                where {use.Column:sql} = {from} and ({all} or {use.Id:sql} = any({of ?? []})) returning {use.Id:sql} as "Value"
            """
        );
    }

    // The value stands in the place of the one that went, or where it stood before; once.
    private Task<List<Several>> MoveSeveral(ListUse use, string from, string to) =>
        db.Rows<Several>(
            $"""
            {Unscoped:sql} with had as (
                select id, {use.Column:sql} as was, case when {to} = any({use.Column:sql}) then array_remove({use.Column:sql}, {from}) else array_replace({use.Column:sql}, {from}, {to}) end as became
                from {use.Table:sql} where {from} = any({use.Column:sql}) for update
            ), done as (update {use.Table:sql} t set {use.Column:sql} = h.became from had h where t.id = h.id)
            select id, was, became from had
            """
        );

    // Where a deal has both, the one that goes gives its note to the one that stays.
    private Task<List<Beside>> MoveBeside(string key, string into) =>
        db.Rows<Beside>(
            $"""
            with both_of as (
                select g.deal_id, g.note, s.note as before, case when g.note = '' or g.note = s.note then s.note when s.note = '' then g.note else s.note || E'\n' || g.note end as since
                from deal_competitor g join deal_competitor s on s.deal_id = g.deal_id and s.competitor = {into} where g.competitor = {key}
            ), gone as (delete from deal_competitor d using both_of b where d.deal_id = b.deal_id and d.competitor = {key}),
            kept as (update deal_competitor d set note = b.since from both_of b where d.deal_id = b.deal_id and d.competitor = {into})
            select deal_id as deal, note, before as note_before, since as note_since from both_of
            """
        );

    /// <summary>Takes a merge back: the value stands in its place again, and on each record that had it and has the other still.</summary>
    public async Task<Outcome<KeptListsView>> Undo(Guid id)
    {
        using var patient = db.Patient(Patience);
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            if (await db.Set<ValueMergeRow>().AsNoTracking().SingleOrDefaultAsync(m => m.Id == id) is not { } merge || PickList.Find(merge.List) is not { } kept)
                return Problem.NotFound("merge");
            var values = await PickListDesk.Hold(db, merge.List);
            var now = clock.UtcNow();
            // Under the lock of the list: two who undo at once undo once.
            if (await db.Set<ValueMergeRow>().Where(m => m.Id == id && m.UndoneAt == null).ExecuteUpdateAsync(s => s.SetProperty(m => m.UndoneAt, now)) == 0)
                return new Problem("undone");
            var (gone, moved) = (Json.Read<Choice>(merge.FromBody), Json.Read<MovedRecords>(merge.Moved));
            if (values.Any(v => v.Key == gone.Key || Folding.Heading(v.Label) == Folding.Heading(gone.Label)))
                return new Problem("value-exists", "", gone.Label);
            if (values.FindIndex(v => v.Key == merge.IntoKey) is >= 0 and var stays)
            {
                var since = gone.AlsoCalled.Append(gone.Label).ToHashSet();
                values[stays] = values[stays] with { AlsoCalled = [.. values[stays].AlsoCalled.Where(w => !since.Contains(w))] };
            }
            values.Insert(Math.Min(merge.Position, values.Count), gone);
            await PickListDesk.Save(db, merge.List, values);
            await Back(kept, merge, moved);
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return await desk.View();
    }

    private async Task Back(KeptList kept, ValueMergeRow merge, MovedRecords moved)
    {
        var (from, into) = (merge.FromKey, merge.IntoKey);
        foreach (var use in kept.Uses)
        {
            if (!use.Many)
                await Set(use, into, from, moved.Ids.GetValueOrDefault(use.Name, []));
            else if (moved.Arrays.TryGetValue(use.Name, out var several))
                await db.Run(
                    $"""
                    {Unscoped:sql} update {use.Table:sql} t set {use.Column:sql} = case
                        when t.{use.Column:sql} = x.became then x.was
                        when {into} = any(x.was) then array_append(array_remove(t.{use.Column:sql}, {from}), {from})
                        else array_replace(t.{use.Column:sql}, {into}, {from}) end
                    from jsonb_to_recordset({Json.Write(several)}::jsonb) as x(id uuid, was text[], became text[]) where t.id = x.id and {into} = any(t.{use.Column:sql})
                    """
                );
        }
        foreach (var b in moved.Beside)
            await db.Run(
                $"""
                insert into deal_competitor (deal_id, competitor, note) select id, {merge.FromKey}, {b.Note} from deal where id = {b.Deal} on conflict do nothing;
                update deal_competitor set note = {b.NoteBefore} where deal_id = {b.Deal} and competitor = {merge.IntoKey} and note = {b.NoteSince};
                """
            );
    }
}
