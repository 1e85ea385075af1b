using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Routing.Checking;

/// <summary>Somewhere on an axis: all values there meet the same cells.</summary>
/// <param name="Holds">The rules whose cell takes it.</param>
/// <param name="Values">A value of each field of the axis, for examples.</param>
internal sealed record AxisPoint(Mask Holds, ImmutableArray<(string Field, FieldValue Value)> Values);

/// <summary>
/// One direction of the space in which leads lie: a field, or fields that bind each other, such as country and region. A rule takes a part of each axis; together
/// they are a box.
/// </summary>
/// <param name="at">Place among the axes.</param>
internal abstract class Axis(int at, ImmutableArray<string> fields)
{
    public ImmutableArray<string> Fields { get; } = fields;

    /// <summary>
    /// Points that a set of rules all take, such that no other point there meets fewer: of those whom a lead is to avoid, <paramref name="avoid"/>, each point
    /// meets a least set. Where any lead can avoid them on this axis, one at these points does.
    /// </summary>
    public abstract IEnumerable<AxisPoint> Points(Mask within, Mask avoid, IReadOnlyList<Hole> holes);

    /// <summary>The rules that take every point which all of some rules take; others may as well, where that is dear to find out.</summary>
    public abstract Mask Covering(Mask within);

    /// <summary>True when a rule takes all points that another takes.</summary>
    public abstract bool Covers(int outer, int inner);

    /// <summary>The rules that share a point with a rule; itself when it takes any.</summary>
    public abstract Mask Meeting(int rule);

    /// <summary>True when no point outside of some rules lies in a rule; false may be said where it is dear to find out.</summary>
    public abstract bool IsShutOut(int rule, Mask outside);

    /// <summary>What a point meets: the rules that take it, and the holes it does not leave.</summary>
    public Mask Met(AxisPoint point, IReadOnlyList<Hole> holes)
    {
        var met = point.Holds;
        foreach (var hole in holes)
            if (!point.Holds.Meets(hole.Outside[at]))
                met = met.With(hole.Bit);
        return met;
    }

    // Of points, those that meet a least set of what is to be avoided; the first of equals.
    protected static IEnumerable<AxisPoint> Least(IEnumerable<(Mask Met, AxisPoint Point)> points)
    {
        var least = new List<(Mask Met, AxisPoint Point)>();
        foreach (var point in points)
        {
            if (least.Any(l => point.Met.Has(l.Met)))
                continue;
            least.RemoveAll(l => l.Met.Has(point.Met));
            least.Add(point);
            if (point.Met.IsEmpty)
                break;
        }
        return least.OrderBy(l => l.Met.Count).Select(l => l.Point);
    }
}

/// <summary>A part of the space that no rule takes: on each axis, what lies outside the cells of some rules.</summary>
/// <param name="Bit">Its place in masks, after the rules.</param>
/// <param name="Outside">By axis.</param>
internal sealed record Hole(int Bit, Mask[] Outside);
