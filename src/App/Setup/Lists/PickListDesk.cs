using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>A value as it is kept.</summary>
public sealed record KeptValue(string Key, string Label, IReadOnlyList<string> AlsoCalled, bool Retired);

/// <param name="IsRead">True where files and forms name its values in words of their own.</param>
/// <param name="Merges">False where values are merged by changing leads in the worklist.</param>
/// <param name="States">The states of leads that its values belong to, by the beginning of their keys; empty for other lists.</param>
public sealed record KeptListView(string Key, string Name, string About, bool IsRead, bool Merges, IReadOnlyList<ChoiceView> States, IReadOnlyList<KeptValue> Values);

/// <summary>A merge that can be taken back.</summary>
/// <param name="Records">How many had the value that went.</param>
public sealed record ValueMergeView(Guid Id, string List, string From, string Into, int Records, DateTime At, string By);

public sealed record KeptListsView(IReadOnlyList<KeptListView> Lists, IReadOnlyList<ValueMergeView> Merges);

/// <summary>Keeps the lists of values: adds, renames, orders, retires, takes away.</summary>
public sealed class PickListDesk(LanternDb db, WorkspaceConfiguration configuration)
{
    private const int MostValues = 200;
    private const int LongestLabel = 60;

    public async Task<KeptListsView> View()
    {
        var workspace = configuration.Current;
        var merges = await ValueMergeRow.Views(db, [.. PickList.All.Select(l => l.Key)], workspace.NameOf);
        return new KeptListsView(
            [
                .. PickList.All.Select(l => new KeptListView(
                    l.Key,
                    l.Name,
                    l.About,
                    l.IsRead,
                    l.Merges,
                    l.OfStates ? [.. LeadState.Divisible.Select(s => new ChoiceView(s.Key, s.Label))] : [],
                    [.. workspace.List(l.Key).Select(v => new KeptValue(v.Key, v.Label, v.AlsoCalled, v.Retired))]
                )),
            ],
            merges
        );
    }

    /// <summary>How many records have each value, by list and key.</summary>
    public async Task<IReadOnlyDictionary<string, IReadOnlyDictionary<string, int>>> Uses()
    {
        Dictionary<string, IReadOnlyDictionary<string, int>> all = [];
        foreach (var list in PickList.All)
            all[list.Key] = await Uses(list);
        return all;
    }

    private sealed record Counted(string Key, int Count);

    internal async Task<IReadOnlyDictionary<string, int>> Uses(KeptList list)
    {
        Dictionary<string, int> uses = [];
        foreach (var use in list.Uses)
        {
            var key = use.Many ? $"unnest({use.Column})" : use.Column;
            var rows = await db.Rows<Counted>(
                $"""/*unscoped: how often a value is used*/ select key, count(*)::int as count from (select {key:sql} as key from {use.Table:sql} where {use.Column:sql} is not null) x group by key"""
            );
            foreach (var row in rows)
                uses[row.Key] = uses.GetValueOrDefault(row.Key) + row.Count;
        }
        return uses;
    }

    /// <summary>Adds a value; one that is there already is given back, and offered again where it was retired.</summary>
    /// <param name="of">For a sub-state: the state it belongs to.</param>
    public async Task<Outcome<ChoiceView>> Add(string list, string typed, string? of = null)
    {
        var (label, wrong) = Read(list, typed);
        if (wrong is not null)
            return wrong;
        var key = Folding.Heading(label).Replace(' ', '_');
        if (key.Length == 0)
            return new Problem("name-without-letters", "label");
        if (PickList.Find(list)!.OfStates)
        {
            if (LeadState.Divisible.All(s => s.Key != of))
                return new Problem("sub-state-of", "of");
            key = LeadState.SubStateKey(of!, key);
        }
        Choice? known = null;
        var trouble = await Change(
            list,
            values =>
            {
                var at = values.FindIndex(v => v.Key == key || (IsBeside(list, v.Key, key) && Folding.Heading(v.Label) == Folding.Heading(label)));
                if (at >= 0)
                    known = values[at] = values[at] with { Retired = false };
                else if (values.Count >= MostValues)
                    return Problem.Of("full", "", MostValues, "values");
                else
                    values.Add(new Choice(key, label));
                return null;
            }
        );
        return trouble is not null ? trouble : new ChoiceView(known?.Key ?? key, known?.Label ?? label);
    }

    /// <summary>Renames a value, retires it or brings it back, says by which other words it is read.</summary>
    public async Task<Outcome<KeptListsView>> Change(string list, string key, ValueChange change)
    {
        var (label, wrong) = change.Label is null ? ("", PickList.Is(list) ? null : Problem.NotFound("list")) : Read(list, change.Label);
        if (wrong is not null)
            return wrong;
        ImmutableArray<string>? also = change.AlsoCalled is { } words ? [.. words.Select(FieldReader.Clean).Where(w => w.Length > 0).Distinct()] : null;
        return await Changed(
            list,
            values =>
            {
                var at = values.FindIndex(v => v.Key == key);
                if (at < 0)
                    return Problem.NotFound("value");
                var others = values.Where((v, i) => i != at && IsBeside(list, v.Key, key)).ToList();
                if (label.Length > 0 && others.Any(v => Folding.Heading(v.Label) == Folding.Heading(label)))
                    return new Problem("value-exists", "label", label);
                // One word means one value.
                if (also?.FirstOrDefault(w => others.Any(v => v.AlsoCalled.Prepend(v.Label).Any(o => Folding.Heading(o) == Folding.Heading(w)))) is { } taken)
                    return new Problem("value-exists", "alsoCalled", taken);
                var value = values[at];
                values[at] = value with { Label = label.Length > 0 ? label : value.Label, Retired = change.Retired ?? value.Retired, AlsoCalled = also ?? value.AlsoCalled };
                return null;
            }
        );
    }

    /// <param name="keys">All of the list; those of a list that has others by now are refused.</param>
    public Task<Outcome<KeptListsView>> Order(string list, IReadOnlyList<string> keys) =>
        Changed(
            list,
            values =>
            {
                if (keys.Count != values.Count || !values.Select(v => v.Key).ToHashSet().SetEquals(keys))
                    return new Problem("stale");
                var ordered = keys.Select(k => values.Single(v => v.Key == k)).ToList();
                values.Clear();
                values.AddRange(ordered);
                return null;
            }
        );

    /// <summary>Takes a value away that nothing has and nothing asks for.</summary>
    public async Task<Outcome<KeptListsView>> Remove(string list, string key)
    {
        if (PickList.Find(list) is not { } kept)
            return Problem.NotFound("list");
        if ((await Uses(kept)).GetValueOrDefault(key) is > 0 and var uses)
            return Problem.Of("value-used", "", uses);
        if (await ValueAsks.Of(db, kept, key) is { Count: > 0 } asks)
            return Problem.Of("value-asked", "", new Whole(string.Join(", ", asks)));
        return await Changed(list, values => values.RemoveAll(v => v.Key == key) == 0 ? Problem.NotFound("value") : null);
    }

    // Two states may each have a step of the same name.
    private static bool IsBeside(string list, string one, string other) => PickList.Find(list) is not { OfStates: true } || LeadState.StateOf(one) == LeadState.StateOf(other);

    private static (string Label, Problem? Wrong) Read(string list, string typed)
    {
        var label = FieldReader.Clean(typed);
        return !PickList.Is(list) ? (label, Problem.NotFound("list"))
            : label.Length is 0 or > LongestLabel ? (label, Problem.Of("name-missing", "label", LongestLabel))
            : (label, null);
    }

    private async Task<Outcome<KeptListsView>> Changed(string list, Func<List<Choice>, Problem?> change) =>
        !PickList.Is(list) ? Problem.NotFound("list")
        : await Change(list, change) is { } trouble ? trouble
        : await View();

    private async Task<Problem?> Change(string list, Func<List<Choice>, Problem?> change)
    {
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            var values = await Hold(db, list);
            if (change(values) is { } trouble)
                return trouble;
            await Save(db, list, values);
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return null;
    }

    /// <summary>The values of a list, held until the transaction ends, so that two who change it at once both find what the other did.</summary>
    internal static async Task<List<Choice>> Hold(LanternDb db, string list)
    {
        var held = await db.One<string>(
            $$"""insert into setup_entry (key, body) values ('value-lists', '{}') on conflict do nothing; select body::text as "Value" from setup_entry where key = 'value-lists' for update"""
        );
        return Json.Read<Dictionary<string, List<Choice>>>(held).GetValueOrDefault(list) ?? [.. PickList.Shipped(list)];
    }

    internal static Task Save(LanternDb db, string list, List<Choice> values) =>
        db.Run($"update setup_entry set body = body || jsonb_build_object({list}, {Json.Write(values)}::jsonb) where key = 'value-lists'");
}
