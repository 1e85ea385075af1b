using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Scoring;

/// <summary>Lines of a criterion that stand in each other's way. The first that holds counts, so a line behind another may never count, or not where one thinks.</summary>
internal static class LineOverlap
{
    public static IEnumerable<ModelFinding> Check(FitCriterion criterion, string path)
    {
        for (var i = 0; i < criterion.Lines.Length; i++)
            if (Against(criterion.Lines[i], criterion.Lines[..i]) is var (code, found))
                yield return new ModelFinding(new Problem(code, $"{path}/lines/{i}", found), code == "range-reversed");
    }

    private static (string Code, string Found)? Against(FitLine line, ImmutableArray<FitLine> earlier)
    {
        if (line.When is Test { Operator: TestOperator.Between } range && Interval.Of(range) is [var only] && only.From > only.To)
            return ("range-reversed", $"{range.Values[0]} to {range.Values[1]}");
        if (earlier.FirstOrDefault(e => Same(e.When, line.When)) is { } same)
            return same.Points == line.Points ? ("line-covered", same.Words) : ("lines-contradict", same.Words);
        if (line.When is not Test test)
            return null;
        var before = earlier.Where(e => e.When is Test t && t.Field == test.Field && t.Operator != TestOperator.Known).Select(e => (Line: e, Test: (Test)e.When)).ToList();
        return Interval.Of(test) is { } intervals ? Ranges(intervals, before)
            : test.Operator is TestOperator.In ? Values(test, before)
            : test.Operator is TestOperator.Contains ? Words(test, before)
            : null;
    }

    private static (string, string)? Values(Test test, List<(FitLine Line, Test Test)> before)
    {
        var taken = before.Where(b => b.Test.Operator == TestOperator.In).SelectMany(b => b.Test.Values.Select(v => (v, b.Line))).ToLookup(t => t.v, t => t.Line);
        var twice = test.Values.Where(taken.Contains).ToList();
        return twice.Count == 0 ? null
            : twice.Count == test.Values.Length ? ("line-covered", taken[twice[0]].First().Words)
            : ("value-twice", twice[0]);
    }

    // Whatever contains "plant manager" contains "manager" as well.
    private static (string, string)? Words(Test test, List<(FitLine Line, Test Test)> before)
    {
        var contained = before.Where(b => b.Test.Operator == TestOperator.Contains).SelectMany(b => b.Test.Values.Select(v => (Part: v, b.Line))).ToList();
        var covering = test.Values.Select(v => contained.FirstOrDefault(c => v.Contains(c.Part, StringComparison.OrdinalIgnoreCase)).Line).ToList();
        return covering.Count > 0 && covering.All(c => c is not null) ? ("line-covered", covering[0]!.Words) : null;
    }

    private static (string, string)? Ranges(List<Interval> asked, List<(FitLine Line, Test Test)> before)
    {
        var earlier = before.SelectMany(b => (Interval.Of(b.Test) ?? []).Select(i => (Interval: i, b.Line))).ToList();
        var touching = earlier.Where(e => asked.Any(a => a.From <= e.Interval.To && e.Interval.From <= a.To)).ToList();
        if (touching.Count == 0)
            return null;
        return asked.All(a => Covered(a, [.. touching.Select(t => t.Interval).OrderBy(t => t.From)]))
            ? ("line-covered", touching[0].Line.Words)
            : ("ranges-overlap", touching[0].Line.Words);
    }

    // Ends that only touch (to 4, from 5) leave 4.5 between them, so they cover nothing together there.
    private static bool Covered(Interval asked, List<Interval> sorted)
    {
        var (reached, any) = (asked.From, false);
        foreach (var interval in sorted.Where(s => s.To >= asked.From))
        {
            if (interval.From > reached || (any && interval.From == reached && reached == asked.To))
                break;
            (reached, any) = (Math.Max(reached, interval.To), true);
            if (reached >= asked.To)
                return true;
        }
        return false;
    }

    private static bool Same(Condition a, Condition b) =>
        (a, b) switch
        {
            (Test x, Test y) => x.Field == y.Field && x.Operator == y.Operator && x.Values.ToHashSet().SetEquals(y.Values),
            (AllOf x, AllOf y) => SameParts(x.Parts, y.Parts),
            (AnyOf x, AnyOf y) => SameParts(x.Parts, y.Parts),
            (Not x, Not y) => Same(x.Part, y.Part),
            _ => false,
        };

    private static bool SameParts(ImmutableArray<Condition> a, ImmutableArray<Condition> b) => a.Length == b.Length && a.Zip(b).All(p => Same(p.First, p.Second));

    private readonly record struct Interval(decimal From, decimal To)
    {
        /// <summary>What a test of a number asks for; null when it is none, or its values are no numbers.</summary>
        public static List<Interval>? Of(Test test)
        {
            var numbers = test.Values.Select(v => FieldValue.Parse(FieldType.Number, v)).ToList();
            if (numbers.Count == 0 || numbers.Any(n => !n.IsKnown))
                return null;
            return test.Operator switch
            {
                TestOperator.AtLeast => [new(numbers[0].Number, decimal.MaxValue)],
                TestOperator.AtMost => [new(decimal.MinValue, numbers[0].Number)],
                TestOperator.Between when numbers.Count > 1 => [new(numbers[0].Number, numbers[1].Number)],
                TestOperator.In => [.. numbers.Select(n => new Interval(n.Number, n.Number))],
                TestOperator.Between
                or TestOperator.Contains
                or TestOperator.StartsWith
                or TestOperator.BeginsBetween
                or TestOperator.Known
                or TestOperator.WithinDays
                or TestOperator.OlderThanDays
                or TestOperator.Past
                or TestOperator.Since
                or TestOperator.Before => null,
                _ => throw new InvalidOperationException($"it is not said what {test.Operator} takes of the numbers"),
            };
        }
    }
}
