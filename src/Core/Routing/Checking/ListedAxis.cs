using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Routing.Checking;

/// <summary>An axis of which all points that differ to the rules can be listed.</summary>
/// <param name="at">Place among the axes.</param>
/// <param name="points">Every point; of those that mean the same to all rules the first is kept, so the likeliest come first.</param>
internal sealed class ListedAxis(int at, ImmutableArray<string> fields, int rules, IReadOnlyList<AxisPoint> points) : Axis(at, fields)
{
    private readonly AxisPoint[] _points = [.. points.DistinctBy(p => p.Holds)];
    private readonly Dictionary<int, Mask> _meeting = [];
    private readonly Mask _always = Mask.Common(rules, points.Select(p => p.Holds));
    private readonly Dictionary<int, (AxisPoint[] Points, Mask Covering)> _within = [];

    public override IEnumerable<AxisPoint> Points(Mask within, Mask avoid, IReadOnlyList<Hole> holes)
    {
        var points = within.IsEmpty ? _points : Within(within.Members.First()).Points;
        // Mostly some point meets none of them, and then no other matters.
        foreach (var point in points)
            if (point.Holds.Has(within) && !point.Holds.Meets(avoid) && (Met(point, holes) & avoid).IsEmpty)
                return [point];
        return Least(points.Where(p => p.Holds.Has(within)).Select(p => (Met(p, holes) & avoid, p)));
    }

    // The points of a rule, and who takes them all; asked for again and again.
    private (AxisPoint[] Points, Mask Covering) Within(int rule)
    {
        if (!_within.TryGetValue(rule, out var known))
        {
            AxisPoint[] points = [.. _points.Where(p => p.Holds[rule])];
            _within[rule] = known = (points, points.Length == 0 ? Mask.None(rules) : Mask.Common(rules, points.Select(p => p.Holds)));
        }
        return known;
    }

    public override Mask Covering(Mask within) => within.IsEmpty ? _always : Mask.Union(rules, within.Members.Select(r => Within(r).Covering));

    public override bool Covers(int outer, int inner) => Within(inner).Covering[outer];

    public override Mask Meeting(int rule)
    {
        if (!_meeting.TryGetValue(rule, out var met))
            _meeting[rule] = met = Mask.Union(rules, _points.Where(p => p.Holds[rule]).Select(p => p.Holds));
        return met;
    }

    public override bool IsShutOut(int rule, Mask outside) => _points.All(p => !p.Holds[rule] || p.Holds.Meets(outside));
}
