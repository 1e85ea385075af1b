using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>
/// Lets one value of a list stand for another on every record, in one transaction, and takes that back: each record that had the value that went is noted. What is set up to ask for
/// the value is changed by hand first, so that no rule and no view comes to mean something else by itself.
/// </summary>
public sealed class ValueMerger(LanternDb db, PickListDesk desk, ValueMoves moves, WorkspaceConfiguration configuration)
{
    public async Task<Outcome<KeptListsView>> Merge(string list, string key, string into, Guid by)
    {
        if (PickList.Find(list) is not { } kept)
            return Problem.NotFound("list");
        if (!kept.Merges)
            return new Problem("value-merge-elsewhere");
        using var patient = db.Patient(ValueMoves.Patience);
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
            var (gone, stays) = (values[from], values[to]);
            values[to] = stays with { AlsoCalled = [.. stays.AlsoCalled.Concat(gone.AlsoCalled).Append(gone.Label).Distinct()] };
            values.RemoveAt(from);
            await PickListDesk.Save(db, list, values);
            await moves.Hold(kept.Uses, key);
            await moves.Move(kept.Uses, list, gone, from, into, by);
            await transaction.CommitAsync();
        }
        moves.Wake();
        await configuration.Changed();
        return await desk.View();
    }

    /// <summary>Takes a merge back: the value stands in its place again, and on each record that had it and has the other still.</summary>
    public async Task<Outcome<KeptListsView>> Undo(Guid id)
    {
        using var patient = db.Patient(ValueMoves.Patience);
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            if (await db.Set<ValueMergeRow>().AsNoTracking().SingleOrDefaultAsync(m => m.Id == id) is not { } merge || PickList.Find(merge.List) is not { } kept)
                return Problem.NotFound("merge");
            var values = await PickListDesk.Hold(db, merge.List);
            // Under the lock of the list: two who undo at once undo once.
            if (!await moves.Undo(id))
                return new Problem("undone");
            var gone = Json.Read<Choice>(merge.FromBody);
            if (values.Any(v => v.Key == gone.Key || Folding.Heading(v.Label) == Folding.Heading(gone.Label)))
                return new Problem("value-exists", "", gone.Label);
            if (values.FindIndex(v => v.Key == merge.IntoKey) is >= 0 and var stays)
            {
                var since = gone.AlsoCalled.Append(gone.Label).ToHashSet();
                values[stays] = values[stays] with { AlsoCalled = [.. values[stays].AlsoCalled.Where(w => !since.Contains(w))] };
            }
            values.Insert(Math.Min(merge.Position, values.Count), gone);
            await PickListDesk.Save(db, merge.List, values);
            await moves.Hold(kept.Uses, merge.IntoKey);
            await moves.Back(kept.Uses, merge);
            await transaction.CommitAsync();
        }
        moves.Wake();
        await configuration.Changed();
        return await desk.View();
    }
}
