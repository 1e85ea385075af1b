using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Routing.Checking;

/// <summary>
/// An axis of free text asked for the words it contains. Any set of words can stand in a text together, so its points are not listed but found as they are asked
/// for. Which sets a text can have is decided by pairs: who contains a word contains every part of it, and nothing else follows, since a text can put its words
/// apart.
/// </summary>
internal sealed class WordsAxis : Axis
{
    /// <summary>Most words that have to be tried both ways at once.</summary>
    private const int MostTangled = 16;

    private readonly int _at;
    private readonly int _masks;
    private readonly Condition?[] _cells;
    private readonly string[] _words;
    private readonly (HashSet<int> Wanted, HashSet<int> Unwanted)[] _asks;
    private readonly AxisPoint[] _fixed;
    private readonly string _field;
    private readonly Dictionary<int, Mask> _meeting = [];

    // Which words are a part of which, and who asks nothing here: found once.
    private readonly (int Whole, int Part)[] _parts;
    private readonly Mask _free;
    private readonly int[] _asking;
    private readonly bool[] _possible;
    private readonly HashSet<int>[] _all;
    private readonly Func<bool[], bool>[] _holds;

    /// <param name="masks">Length of masks, in rules and holes.</param>
    /// <param name="named">The points of texts that rules name as a whole, and of one that is not known.</param>
    public WordsAxis(int at, string field, int masks, Condition?[] cells, IEnumerable<AxisPoint> named)
        : base(at, [field])
    {
        (_at, _field, _masks, _cells, _fixed) = (at, field, masks, cells, [.. named]);
        _words =
        [
            .. cells
                .Where(c => c is not null)
                .SelectMany(c => ConditionFields.Tests(c!))
                .Where(t => t.Operator == TestOperator.Contains)
                .SelectMany(t => t.Values)
                .Select(Lower)
                .Distinct(),
        ];
        _asks = [.. cells.Select(Asks)];
        _all = [.. _asks.Select(a => a.Wanted.Union(a.Unwanted).ToHashSet())];
        _parts =
        [
            .. from whole in Enumerable.Range(0, _words.Length)
            from part in Enumerable.Range(0, _words.Length)
            where part != whole && _words[whole].Contains(_words[part], StringComparison.Ordinal)
            select (whole, part),
        ];
        _asking = [.. Enumerable.Range(0, cells.Length).Where(i => cells[i] is not null)];
        _holds = [.. cells.Select(c => c is null ? _ => true : Holding(c))];
        _free = Mask.Of(masks, Enumerable.Range(0, cells.Length).Where(i => cells[i] is null));
        _possible = [.. cells.Select((c, i) => c is null || Candidates(Mask.Of(masks, [i]), Mask.None(masks), []).Any(p => p.Holds[i]))];
    }

    public override IEnumerable<AxisPoint> Points(Mask within, Mask avoid, IReadOnlyList<Hole> holes) =>
        Least(Candidates(within, avoid, holes).Where(p => p.Holds.Has(within)).Select(p => (Met(p, holes) & avoid, p)));

    public override Mask Covering(Mask within) => _free | within;

    public override bool Covers(int outer, int inner) =>
        _cells[outer] is null || Candidates(Mask.Of(_masks, [inner]), Mask.Of(_masks, [outer]), []).All(p => !p.Holds[inner] || p.Holds[outer]);

    public override Mask Meeting(int rule)
    {
        if (!_meeting.TryGetValue(rule, out var met))
            _meeting[rule] = met = Mask.Of(_masks, Enumerable.Range(0, _cells.Length).Where(i => Shares(rule, i)));
        return met;
    }

    private bool Shares(int a, int b)
    {
        if (_cells[a] is null || _cells[b] is null)
            return _possible[a] && _possible[b];
        // Words that have nothing to do with each other can stand in one text.
        if (!Touches(a, b))
            return _possible[a] && _possible[b];
        var rules = Mask.Of(_masks, [a, b]);
        return Candidates(rules, Mask.None(_masks), []).Any(p => p.Holds.Has(rules));
    }

    private bool Touches(int a, int b) =>
        All(a).Overlaps(All(b)) || _parts.Any(p => (All(a).Contains(p.Whole) && All(b).Contains(p.Part)) || (All(b).Contains(p.Whole) && All(a).Contains(p.Part)));

    private HashSet<int> All(int rule) => _all[rule];

    public override bool IsShutOut(int rule, Mask outside) => outside[rule] || outside.Members.Any(o => ReferenceEquals(_cells[o], _cells[rule]));

    // Every combination of words that may matter: those the rules within ask, and those both wanted and unwanted. All others are as is best for avoiding.
    private IEnumerable<AxisPoint> Candidates(Mask within, Mask avoid, IReadOnlyList<Hole> holes)
    {
        foreach (var point in _fixed)
            yield return point;
        var (holding, tried) = Best(within, avoid, holes);
        if (tried.Count > MostTangled)
            throw new CheckBudgetExceededException();
        for (var choice = 0; choice < 1 << tried.Count; choice++)
        {
            for (var i = 0; i < tried.Count; i++)
                holding[tried[i]] = (choice & (1 << i)) != 0;
            if (IsPossible(holding))
                yield return PointOf(holding);
        }
    }

    private (bool[] Holding, List<int> Tried) Best(Mask within, Mask avoid, IReadOnlyList<Hole> holes)
    {
        var (wanted, unwanted, tried) = (new HashSet<int>(), new HashSet<int>(), new HashSet<int>());
        // To avoid a rule, what it wants should be missing; to avoid a hole, one should be taken by a rule it lies outside of.
        foreach (var rule in avoid.Members.Where(m => m < _cells.Length))
        {
            unwanted.UnionWith(_asks[rule].Wanted);
            wanted.UnionWith(_asks[rule].Unwanted);
        }
        foreach (var rule in holes.Where(h => avoid[h.Bit]).SelectMany(h => h.Outside[_at].Members))
        {
            wanted.UnionWith(_asks[rule].Wanted);
            unwanted.UnionWith(_asks[rule].Unwanted);
        }
        foreach (var rule in within.Members)
        {
            tried.UnionWith(_asks[rule].Wanted);
            tried.UnionWith(_asks[rule].Unwanted);
        }
        tried.UnionWith(wanted.Intersect(unwanted));
        var holding = new bool[_words.Length];
        for (var i = 0; i < holding.Length; i++)
            holding[i] = wanted.Contains(i) && !tried.Contains(i);
        Widen(holding, tried);
        return (holding, [.. tried]);
    }

    // A word that is best missing but part of one that may be there has to be tried, and so on.
    private void Widen(bool[] holding, HashSet<int> tried)
    {
        for (var again = true; again; )
        {
            again = false;
            foreach (var (whole, part) in _parts)
            {
                var (mayHold, mayMiss) = (holding[whole] || tried.Contains(whole), !holding[part] || tried.Contains(part));
                if (mayHold && mayMiss && (!tried.Contains(whole) || !tried.Contains(part)))
                    again |= tried.Add(whole) | tried.Add(part);
            }
        }
    }

    private bool IsPossible(bool[] holding)
    {
        foreach (var (whole, part) in _parts)
            if (holding[whole] && !holding[part])
                return false;
        return true;
    }

    private AxisPoint PointOf(bool[] holding)
    {
        var holds = _free | Mask.Of(_masks, _asking.Where(i => _holds[i](holding)));
        return new AxisPoint(holds, [(_field, FieldValue.Of(Text(holding)))]);
    }

    private string Text(bool[] holding)
    {
        var there = Enumerable.Range(0, _words.Length).Where(i => holding[i]).Select(i => _words[i]).ToList();
        var longest = there.Where(w => !there.Any(o => o.Length > w.Length && o.Contains(w, StringComparison.Ordinal))).DefaultIfEmpty("").ToList();
        // Something that no word has keeps them apart.
        var apart = ",;/|~\u00b7\u2026".First(c => !_words.Any(w => w.Contains(c)));
        return longest is [""] ? $"{apart}{apart}" : string.Join($"{apart} ", longest) + apart;
    }

    // No rule names this text as a whole, so it equals none.
    private Func<bool[], bool> Holding(Condition cell)
    {
        switch (cell)
        {
            case Not not:
                var denied = Holding(not.Part);
                return there => !denied(there);
            case Test { Operator: TestOperator.Known }:
                return _ => true;
            case Test { Operator: TestOperator.Contains } test:
                int[] words = [.. test.Values.Select(v => Array.IndexOf(_words, Lower(v)))];
                return there => words.Any(w => there[w]);
            case AllOf all:
                Func<bool[], bool>[] every = [.. all.Parts.Select(Holding)];
                return there => every.All(p => p(there));
            case AnyOf any:
                Func<bool[], bool>[] some = [.. any.Parts.Select(Holding)];
                return there => some.Any(p => p(there));
            default:
                return _ => false;
        }
    }

    private (HashSet<int> Wanted, HashSet<int> Unwanted) Asks(Condition? cell)
    {
        var (wanted, unwanted) = (new HashSet<int>(), new HashSet<int>());
        if (cell is not null)
            Gather(cell, wanted, unwanted);
        return (wanted, unwanted);
    }

    private void Gather(Condition cell, HashSet<int> wanted, HashSet<int> unwanted)
    {
        if (cell is Not not)
            Gather(not.Part, unwanted, wanted);
        else if (cell is Test { Operator: TestOperator.Contains } test)
            wanted.UnionWith(test.Values.Select(v => Array.IndexOf(_words, Lower(v))));
        else
            foreach (
                var part in cell is AllOf all ? all.Parts
                : cell is AnyOf any ? any.Parts
                : []
            )
                Gather(part, wanted, unwanted);
    }

    private static string Lower(string text) => text.ToLowerInvariant();
}

/// <summary>A check would take too long to be done wholly.</summary>
internal sealed class CheckBudgetExceededException : Exception;
