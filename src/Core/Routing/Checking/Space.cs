using System.Collections.Immutable;

namespace DapperLantern.Core.Routing.Checking;

/// <summary>
/// All the leads there can be, as the rules see them, with the boxes that rules take and the holes found so far. Looks for a lead within some rules that avoids
/// others: axis by axis, at points that meet fewest of them, until nothing is left to avoid or something cannot be avoided any more.
/// </summary>
internal sealed class Space(ImmutableArray<Axis> axes, int rules, int masks)
{
    /// <summary>Most steps a check takes; beyond, it says that it is not whole.</summary>
    private const int MostSteps = 400_000;

    private readonly List<Hole> _holes = [];

    // By rule: those that take all it takes on every axis whose points are listed.
    private readonly Dictionary<int, Mask> _covering = [];
    private int _steps;

    public ImmutableArray<Axis> Axes { get; } = axes;
    public Mask Nothing { get; } = Mask.None(masks);

    public Mask Of(IEnumerable<int> members) => Mask.Of(masks, members);

    public Mask All { get; } = Mask.Of(masks, Enumerable.Range(0, rules));

    /// <summary>The rules that share a lead with a rule, itself among them; nothing when the rule can hold of no lead.</summary>
    public Mask Meeting(int rule) => Axes.Aggregate(All, (met, axis) => met & axis.Meeting(rule));

    /// <summary>True when a rule holds of every lead that another holds of, which is at least one.</summary>
    public bool Covers(int outer, int inner)
    {
        if (!_covering.TryGetValue(inner, out var covering))
            _covering[inner] = covering = Mask.Common(masks, Axes.Where(a => a is ListedAxis).Select(a => a.Covering(Of([inner]))));
        return covering[outer] && Axes.All(a => a is ListedAxis || a.Covers(outer, inner));
    }

    /// <summary>A lead that all of some rules hold of and none of others; a point on each axis, or null when there is none.</summary>
    /// <exception cref="CheckBudgetExceededException">It would take too many steps.</exception>
    public AxisPoint[]? Find(Mask within, Mask avoid)
    {
        var search = new Search(this, within, avoid);
        return search.Run();
    }

    /// <summary>Looks for a lead that no rule takes, outside of all holes found before; the hole around it is remembered.</summary>
    /// <returns>The lead and the hole; null when no such lead is left.</returns>
    public (AxisPoint[] Lead, Hole Hole)? NextHole()
    {
        if (Find(Nothing, Of(Enumerable.Range(0, rules + _holes.Count))) is not { } lead)
            return null;
        var hole = Around(lead);
        _holes.Add(hole);
        return (lead, hole);
    }

    // As wide as can be said: each rule is kept out by one axis, by one that keeps others out already where that can be.
    private Hole Around(AxisPoint[] lead)
    {
        var outside = Axes.Select(_ => Nothing).ToArray();
        for (var rule = 0; rule < rules; rule++)
        {
            if (Enumerable.Range(0, Axes.Length).Any(a => Axes[a].IsShutOut(rule, outside[a])))
                continue;
            var at = Enumerable.Range(0, Axes.Length).Where(a => !lead[a].Holds[rule]).MaxBy(a => (outside[a].IsEmpty ? 0 : 1, -a));
            outside[at] = outside[at].With(rule);
        }
        return new Hole(rules + _holes.Count, outside);
    }

    private void Step()
    {
        if (++_steps > MostSteps)
            throw new CheckBudgetExceededException();
    }

    private sealed class Search
    {
        private readonly Space _space;
        private readonly Mask _within;
        private readonly Mask _avoid;
        private readonly AxisPoint?[] _lead;

        // By axis: those of the avoided that some point there is free of.
        private readonly Mask[] _escapes;
        private readonly HashSet<(ulong Left, Mask Avoid)> _failed = [];

        public Search(Space space, Mask within, Mask avoid)
        {
            (_space, _within, _avoid) = (space, within, avoid);
            _lead = new AxisPoint?[space.Axes.Length];
            var holes = space.Of(space._holes.Select(h => h.Bit)) & avoid;
            _escapes =
            [
                .. space.Axes.Select((axis, a) => (avoid - holes - axis.Covering(within)) | (space.Of(space._holes.Where(h => !h.Outside[a].IsEmpty).Select(h => h.Bit)) & avoid)),
            ];
        }

        public AxisPoint[]? Run() => Lead(_lead.Length == 64 ? ~0UL : (1UL << _lead.Length) - 1, _avoid) ? [.. _lead.Select(p => p!)] : null;

        private bool Lead(ulong left, Mask avoid)
        {
            _space.Step();
            if (avoid.IsEmpty)
                return Fill(left);
            if (Choose(left, avoid) is not { } at || !_failed.Add((left, avoid)))
                return false;
            foreach (var point in _space.Axes[at].Points(_within, avoid & _escapes[at], _space._holes))
            {
                _lead[at] = point;
                if (Lead(left & ~(1UL << at), avoid & _space.Axes[at].Met(point, _space._holes)))
                    return true;
            }
            return false;
        }

        // The axis on which something can be escaped that cannot be anywhere else; else where most can. None when something cannot be escaped any more.
        private int? Choose(ulong left, Mask avoid)
        {
            var (some, twice) = (_space.Nothing, _space.Nothing);
            var (best, most) = (-1, -1);
            for (var at = 0; at < _escapes.Length; at++)
            {
                if ((left & (1UL << at)) == 0)
                    continue;
                var here = _escapes[at] & avoid;
                (some, twice) = (some | here, twice | (some & here));
                if (here.Count is var count && count > most)
                    (best, most) = (at, count);
            }
            if (!some.Has(avoid))
                return null;
            var once = some - twice;
            if (!once.IsEmpty)
                for (var at = 0; at < _escapes.Length; at++)
                    if ((left & (1UL << at)) != 0 && (_escapes[at] & avoid).Meets(once))
                        return at;
            return best;
        }

        private bool Fill(ulong left)
        {
            for (var at = 0; at < _lead.Length; at++)
                if ((left & (1UL << at)) != 0)
                {
                    if (_space.Axes[at].Points(_within, _space.Nothing, []).FirstOrDefault() is not { } point)
                        return false;
                    _lead[at] = point;
                }
            return true;
        }
    }
}
