using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>
/// Moves records from one value to another in the caller's transaction, notes which, and moves them back. Leads that are moved are scored anew soon after: the model may ask for the value.
/// </summary>
public sealed class ValueMoves(LanternDb db, IScoresAnew scores, TimeProvider clock)
{
    /// <summary>Seconds. A reason of a hundred thousand leads takes some.</summary>
    internal const int Patience = 600;

    private const string OfLeads = "lead";

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

    /// <summary>Moves all records of a value to another, and notes it.</summary>
    /// <param name="position">Where the value that goes stood in its list, from 0.</param>
    internal async Task Move(IReadOnlyList<ListUse> uses, string list, Choice gone, int position, string into, Guid by)
    {
        var moved = await Move(uses, gone.Key, into);
        await db.Insert(
            new ValueMergeRow
            {
                Id = Guid.CreateVersion7(),
                List = list,
                FromKey = gone.Key,
                FromBody = Json.Write(gone),
                Position = position,
                IntoKey = into,
                Moved = Json.Write(moved),
                Records = moved.Count,
                At = clock.UtcNow(),
                ById = by,
            }
        );
        await ScoreMoved(moved);
    }

    /// <summary>Marks a merge as taken back; false where it was already.</summary>
    internal async Task<bool> Undo(Guid id)
    {
        var now = clock.UtcNow();
        return await db.Set<ValueMergeRow>().Where(m => m.Id == id && m.UndoneAt == null).ExecuteUpdateAsync(s => s.SetProperty(m => m.UndoneAt, now)) == 1;
    }

    /// <summary>Has the leads scored that were moved; after the commit.</summary>
    internal void Wake() => scores.Wake();

    /// <summary>
    /// Holds the leads that have a value until the transaction ends, in the order in which everybody holds them. A caller who holds rows that arrivals hold after their leads does so after this.
    /// </summary>
    internal async Task Hold(IReadOnlyList<ListUse> uses, string key)
    {
        await scores.Hold(db);
        foreach (var use in uses.Where(u => u.Table == OfLeads))
            await db.Run($"{Unscoped:sql} select count(*) from (select id from lead where {use.Column:sql} = {key} order by id for no key update) held");
    }

    private async Task ScoreMoved(MovedRecords moved)
    {
        if (moved.Ids.Any(i => i.Key.StartsWith($"{OfLeads}.", StringComparison.Ordinal) && i.Value.Length > 0))
            await scores.Begin(db);
    }

    private async Task<MovedRecords> Move(IReadOnlyList<ListUse> uses, string key, string into)
    {
        var moved = new MovedRecords([], [], []);
        foreach (var use in uses)
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
        var unscored = use.Table == OfLeads ? ", scored_at = null" : "";
        return db.Rows<Guid>(
            $"""
            {Unscoped:sql} update {use.Table:sql} set {use.Column:sql} = {to}{unscored:sql}
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

    /// <summary>Gives the value that went back to each record that had it and has the other still.</summary>
    internal async Task Back(IReadOnlyList<ListUse> uses, ValueMergeRow merge)
    {
        var (from, into) = (merge.FromKey, merge.IntoKey);
        var moved = Json.Read<MovedRecords>(merge.Moved);
        foreach (var use in uses)
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
        await ScoreMoved(moved);
    }
}
