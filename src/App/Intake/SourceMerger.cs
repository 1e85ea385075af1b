using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>
/// Lets one source stand for another, with all that came from it and all that will, and takes that back; puts sources in order. The source that goes keeps its row, so that whatever
/// names it in the past is still read.
/// </summary>
public sealed class SourceMerger(LanternDb db, ValueMoves moves, WorkspaceConfiguration configuration)
{
    /// <summary>The name of the list of sources among merges of values.</summary>
    internal const string List = "source";

    // A form's source stays with its form; a source that another stands for is the merge's own.
    private static readonly ImmutableArray<ListUse> Uses =
    [
        .. RecordRegistry.TiesTo("source").Where(t => t.Table is not ("form" or "source")).Select(t => new ListUse(t.Table, t.Column)),
    ];

    public async Task<Problem?> Merge(string key, string into, Guid by)
    {
        using var patient = db.Patient(ValueMoves.Patience);
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            await moves.Hold(Uses, key);
            var held = await Hold(key, into);
            if (held.Find(s => s.Key == key) is not { MergedInto: null } gone || held.Find(s => s.Key == into) is not { MergedInto: null } stays)
                return Problem.NotFound("source");
            if (key == into)
                return new Problem("value-merge-self", "into");
            if (gone.Channel != stays.Channel)
                return new Problem("source-other-way", "into");
            if (stays.Retired)
                return Problem.Of("source-retired", "into", stays.Name);
            if (await db.Set<FormRow>().AnyAsync(f => f.Source == key))
                return new Problem("source-of-form");
            if (await ValueAsks.Of(db, List, key) is { Count: > 0 } asks)
                return Problem.Of("value-asked", "", new Whole(string.Join(", ", asks)));
            // Those that stand for others by this one stand for it by the other.
            await db.Run($"update source set merged_into = {into}, retired = true where key = {key} or merged_into = {key}");
            await moves.Move(Uses, List, new Choice(key, gone.Name) { Retired = gone.Retired }, gone.Position, into, by);
            await transaction.CommitAsync();
        }
        await Changed();
        return null;
    }

    /// <summary>Takes a merge back: what had the source that went and has the other still goes by it again.</summary>
    public async Task<Problem?> Undo(Guid id)
    {
        using var patient = db.Patient(ValueMoves.Patience);
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            if (await db.Set<ValueMergeRow>().AsNoTracking().SingleOrDefaultAsync(m => m.Id == id && m.List == List) is not { } merge)
                return Problem.NotFound("merge");
            await moves.Hold(Uses, merge.IntoKey);
            await Hold(merge.FromKey, merge.IntoKey);
            if (!await moves.Undo(id))
                return new Problem("undone");
            var gone = Json.Read<Choice>(merge.FromBody);
            if (await db.Set<SourceRow>().AnyAsync(s => s.MergedInto == null && s.Name.ToLower() == gone.Label.ToLower()))
                return Problem.Of("source-exists", "", gone.Label);
            await db.Run(
                $"""
                update source set merged_into = null, retired = {gone.Retired} where key = {merge.FromKey};
                update source s set merged_into = {merge.FromKey} from value_merge m where m.list = {List} and m.from_key = s.key and m.into_key = {merge.FromKey} and m.undone_at is null;
                """
            );
            await moves.Back(Uses, merge);
            await transaction.CommitAsync();
        }
        await Changed();
        return null;
    }

    /// <param name="keys">All of the list; those of a list that has others by now are refused.</param>
    public async Task<Problem?> Order(IReadOnlyList<string> keys)
    {
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            var there = await db.Rows<string>($"""select key as "Value" from source where merged_into is null order by key for update""");
            if (keys.Count != there.Count || !there.ToHashSet().SetEquals(keys))
                return new Problem("stale");
            await db.Run($"update source s set position = k.position from unnest({keys.ToArray()}) with ordinality k(key, position) where s.key = k.key");
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return null;
    }

    // Arrivals hold the source they come from until they are committed: those of before are moved, those of after go by the other.
    private Task<List<SourceRow>> Hold(string key, string into) =>
        db.Set<SourceRow>().FromSql($"select * from source where key in ({key}, {into}) order by key for update").AsNoTracking().ToListAsync();

    private async Task Changed()
    {
        moves.Wake();
        await configuration.Changed();
    }
}
