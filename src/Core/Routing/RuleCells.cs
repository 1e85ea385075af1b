using System.Collections.Immutable;
using DapperLantern.Core.Conditions;

namespace DapperLantern.Core.Routing;

/// <summary>A rule's condition as the cells of a decision table: what it wants of each field by itself.</summary>
/// <param name="Cells">By field key; a field that is not there may be anything.</param>
/// <param name="Mixed">Parts that ask several fields at once, which no cell can hold.</param>
public sealed record RuleCells(ImmutableDictionary<string, Condition> Cells, ImmutableArray<Condition> Mixed)
{
    public static RuleCells Of(Condition when)
    {
        var cells = ImmutableDictionary.CreateBuilder<string, Condition>();
        var mixed = ImmutableArray.CreateBuilder<Condition>();
        foreach (var part in Flat(when))
        {
            var asked = ConditionFields.Of(part).ToList();
            if (asked is [var field])
                cells[field] = cells.TryGetValue(field, out var before) ? Both(before, part) : part;
            else
                mixed.Add(part);
        }
        return new RuleCells(cells.ToImmutable(), mixed.ToImmutable());
    }

    /// <summary>The condition that all cells make together, in the order of the columns, then of their keys.</summary>
    public static Condition Join(IReadOnlyDictionary<string, Condition> cells, ImmutableArray<string> columns)
    {
        var ordered = cells.OrderBy(c => columns.IndexOf(c.Key) is var at and >= 0 ? at : int.MaxValue).ThenBy(c => c.Key, StringComparer.Ordinal).Select(c => c.Value).ToList();
        return ordered is [var only] ? only : new AllOf([.. ordered]);
    }

    // Parts that ask nothing, such as "never", stay: they are not for a cell, but they count.
    private static IEnumerable<Condition> Flat(Condition when) => when is AllOf all ? all.Parts.SelectMany(Flat) : [when];

    private static Condition Both(Condition a, Condition b) => a is AllOf all ? new AllOf(all.Parts.Add(b)) : new AllOf([a, b]);
}
