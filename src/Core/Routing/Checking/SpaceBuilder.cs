using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;

namespace DapperLantern.Core.Routing.Checking;

/// <summary>Makes the space of a sheet: an axis each field asked, with fields that bind each other on one.</summary>
internal sealed class SpaceBuilder
{
    /// <summary>Key of the axis of moments, which is no field.</summary>
    public const string Moment = "moment";

    private readonly ImmutableArray<Rule> _rules;
    private readonly ImmutableDictionary<string, Condition>[] _cells;
    private readonly FieldCatalogue _catalogue;
    private readonly Bars? _bars;
    private readonly int _masks;

    private SpaceBuilder(ImmutableArray<Rule> rules, FieldCatalogue catalogue, Bars? bars, int holes)
    {
        (_rules, _catalogue, _bars) = (rules, catalogue, bars);
        _cells = [.. rules.Select(r => RuleCells.Of(r.When).Cells)];
        _masks = rules.Length + holes;
    }

    /// <param name="rules">Readable, and without parts that ask several fields.</param>
    /// <param name="bars">Bind the next move to the scores; null to leave them free.</param>
    /// <param name="holes">Most holes that will be looked for.</param>
    public static Space Build(RuleSheet sheet, ImmutableArray<Rule> rules, FieldCatalogue catalogue, Bars? bars, int holes)
    {
        var builder = new SpaceBuilder(rules, catalogue, bars, holes);
        return new Space(builder.Axes(sheet), rules.Length, builder._masks);
    }

    private ImmutableArray<Axis> Axes(RuleSheet sheet)
    {
        var asked = _cells.SelectMany(c => c.Keys).Distinct().OrderBy(k => sheet.Columns.IndexOf(k) is var at and >= 0 ? at : int.MaxValue).ToList();
        var axes = ImmutableArray.CreateBuilder<Axis>();
        axes.Add(Moments(sheet, axes.Count));
        foreach (var group in Groups(asked))
            axes.Add(group is [var one] ? Single(one, axes.Count) : Joint(group, axes.Count));
        return axes.ToImmutable();
    }

    // A region lies in its country; the next move follows from the scores.
    private IEnumerable<ImmutableArray<string>> Groups(List<string> asked)
    {
        string[] scores = _bars is not null && asked.Contains("next_move") && asked.Any(a => a is "fit" or "engagement") ? ["fit", "engagement", "next_move"] : [];
        string[] place = asked.Contains("region") ? ["country", "region"] : [];
        string[][] bound = [place, scores];
        foreach (var key in asked)
        {
            if (bound.FirstOrDefault(b => b.Contains(key)) is not { } group)
                yield return [key];
            else if (group.First(asked.Contains) == key)
                yield return [.. group];
        }
    }

    private ListedAxis Moments(RuleSheet sheet, int at)
    {
        var moments = sheet.Moments.Contains(RoutingMoment.Arrival) ? sheet.Moments : sheet.Moments.Insert(0, RoutingMoment.Arrival);
        return new ListedAxis(at, [Moment], _masks, [.. moments.Select(m => new AxisPoint(Those(i => _rules[i].HoldsAt(m)), [(Moment, FieldValue.Of(m))]))]);
    }

    private Mask Those(Func<int, bool> holds) => Mask.Of(_masks, Enumerable.Range(0, _rules.Length).Where(holds));

    private List<Test> TestsOf(string key) => [.. _cells.Where(c => c.ContainsKey(key)).SelectMany(c => ConditionFields.Tests(c[key]))];

    private Axis Single(string key, int at)
    {
        var (field, tests) = (_catalogue.Asked(key)!, TestsOf(key));
        if (!AxisPoints.AreWords(field, tests))
            return new ListedAxis(at, [key], _masks, [.. PointsOf(key, AxisPoints.Of(field, tests, _bars))]);
        var named = PointsOf(key, AxisPoints.Named(tests).Select(t => FieldValue.Of(t)).Append(FieldValue.Unknown));
        return new WordsAxis(at, key, _masks, [.. _cells.Select(c => c.GetValueOrDefault(key))], named);
    }

    private IEnumerable<AxisPoint> PointsOf(string key, IEnumerable<FieldValue> values)
    {
        var holds = HoldingOf(key);
        return values.Select(v => new AxisPoint(holds(v), [(key, v)]));
    }

    // Which rules' cells take a value, asked of the very reading that routes.
    private Func<FieldValue, Mask> HoldingOf(string key)
    {
        var field = _catalogue.Asked(key)!;
        var record = new RecordValues(_catalogue);
        var asking = Enumerable
            .Range(0, _cells.Length)
            .Where(i => _cells[i].ContainsKey(key))
            .Select(i => (Rule: i, Holds: ConditionPredicate.CompilePart(_cells[i][key], _catalogue)))
            .ToArray();
        var others = Those(i => !_cells[i].ContainsKey(key));
        return value =>
        {
            record[field.Ordinal] = value;
            return others | Mask.Of(_masks, asking.Where(a => a.Holds(record, AxisPoints.Asked)).Select(a => a.Rule));
        };
    }

    private ListedAxis Joint(ImmutableArray<string> group, int at) => new(at, group, _masks, [.. group[0] == "country" ? PlacePoints() : ScorePoints()]);

    private IEnumerable<AxisPoint> PlacePoints()
    {
        var (ofCountry, ofRegion) = (HoldingOf("country"), HoldingOf("region"));
        var noRegion = ofRegion(FieldValue.Unknown);
        var noCountry = ofCountry(FieldValue.Unknown);
        // Regions of which no rule asks are all alike: one of each country will do.
        var named = TestsOf("region").SelectMany(t => t.Values).ToHashSet();
        var listed = TestsOf("region").All(t => t.Operator is TestOperator.In or TestOperator.Known);
        foreach (var (code, _) in Countries.All)
        {
            var country = ofCountry(FieldValue.Of(code));
            yield return Place(country & noRegion, code, null);
            var others = 0;
            foreach (var (region, _) in Regions.Of(code))
            {
                if (listed && !named.Contains(region) && others++ > 0)
                    continue;
                var there = ofRegion(FieldValue.Of(region));
                yield return Place(country & there, code, region);
                yield return Place(noCountry & there, null, region);
            }
        }
        yield return Place(noCountry & noRegion, null, null);
    }

    private static AxisPoint Place(Mask holds, string? country, string? region) => new(holds, [("country", FieldValue.Of(country)), ("region", FieldValue.Of(region))]);

    private IEnumerable<AxisPoint> ScorePoints()
    {
        var (ofFit, ofEngagement, ofMove) = (HoldingOf("fit"), HoldingOf("engagement"), HoldingOf("next_move"));
        var moves = NextMove.Choices.Select(c => c.Key).ToList();
        foreach (var fit in AxisPoints.Of(_catalogue["fit"], TestsOf("fit"), _bars))
        foreach (var engagement in AxisPoints.Of(_catalogue["engagement"], TestsOf("engagement"), _bars))
        foreach (var move in moves.Where(m => CanBe(m, (int)fit.Number, (int)engagement.Number)))
            yield return new AxisPoint(
                ofFit(fit) & ofEngagement(engagement) & ofMove(FieldValue.Of(move)),
                [("fit", fit), ("engagement", engagement), ("next_move", FieldValue.Of(move))]
            );
    }

    // Within the slack under a bar it depends on what was cleared before.
    private bool CanBe(string move, int fit, int engagement) =>
        Enumerable.Range(0, 4).Any(before => new Cleared((before & 1) != 0, (before & 2) != 0).Next(fit, engagement, _bars!).Move == move);
}
