using System.Collections.Frozen;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>How a record answers a criterion.</summary>
/// <param name="Line">The line that gives its points; -1 when none does.</param>
/// <param name="Low">Fewest points it could be once everything is known.</param>
/// <param name="High">Most points it could be.</param>
internal readonly record struct FitAnswer(int Line, int Points, int Low, int High)
{
    public bool Open => Low != High;

    /// <summary>The line, -1 for none, -2 for one that depends on what is not known.</summary>
    public int Hit =>
        Line >= 0 ? Line
        : Open ? -2
        : -1;
}

/// <summary>
/// What one value of a field says to all that asks it, worked out once: a lead then costs one look for each field, not for each criterion.
/// </summary>
/// <param name="Answers">One for each criterion that asks this field alone.</param>
/// <param name="Sums">Points, lowest and highest, for each group that has any of them.</param>
/// <param name="Tests">A bit for each test of the field within criteria that ask others as well: set where it holds.</param>
/// <param name="Known">False for the cell of a value that is not known.</param>
internal sealed record FitCell(FitAnswer[] Answers, (int Group, int Points, int Low, int High)[] Sums, ulong Tests, bool Known);

/// <summary>What asks one field: the criteria that ask nothing else, and single tests of those that do.</summary>
/// <param name="Places">Places of the criteria in the model.</param>
/// <param name="Groups">The group of each criterion.</param>
/// <param name="Tests">At most <see cref="MostTests"/>.</param>
internal sealed record FieldCriteria(FieldDefinition Field, int[] Places, FitCriterion[] Criteria, int[] Groups, Test[] Tests)
{
    public const int MostTests = 64;

    /// <summary>True for a test of a value that a column can look up: not whether it is known, nor how long ago it was.</summary>
    public static bool Fits(Condition condition, FieldCatalogue catalogue) =>
        condition is Test { Operator: not TestOperator.Known } test
        && !ConditionFields.AskTheTime(test)
        && catalogue.Asked(test.Field) is { Type: not FieldType.Date, Many: false };

    /// <summary>The field that a criterion asks alone, by tests that fit; null for any other.</summary>
    public static FieldDefinition? FieldOf(FitCriterion criterion, FieldCatalogue catalogue) =>
        criterion.Lines.Length > 0 && criterion.Lines.All(l => Fits(l.When, catalogue)) && criterion.Lines.Select(l => ((Test)l.When).Field).Distinct().ToList() is [var only]
            ? catalogue.Asked(only)
            : null;

    /// <summary>Everything that is asked of the value.</summary>
    public IEnumerable<Test> All => Criteria.SelectMany(c => c.Lines).Select(l => (Test)l.When).Concat(Tests);
}

/// <summary>Looks up what the value of one field says.</summary>
internal abstract class FitColumn(FieldCriteria asking)
{
    public FieldCriteria Asking { get; } = asking;

    protected FitCell Unknown { get; } = Make(asking, [.. asking.Criteria.Select(c => new FitAnswer(-1, 0, c.Least, c.Most))], 0, false);

    public abstract FitCell Of(RecordValues record, Instant now);

    /// <summary>The cell of values for which just these tests hold.</summary>
    protected FitCell Cell(Func<Test, bool> holds)
    {
        var tests = 0UL;
        for (var i = 0; i < Asking.Tests.Length; i++)
            if (holds(Asking.Tests[i]))
                tests |= 1UL << i;
        return Make(Asking, [.. Asking.Criteria.Select(c => Answer(c, holds))], tests, true);
    }

    private static FitAnswer Answer(FitCriterion criterion, Func<Test, bool> holds)
    {
        for (var line = 0; line < criterion.Lines.Length; line++)
            if (holds((Test)criterion.Lines[line].When) && criterion.Lines[line].Points is var points)
                return new FitAnswer(line, points, points, points);
        return new FitAnswer(-1, 0, 0, 0);
    }

    private static FitCell Make(FieldCriteria asking, FitAnswer[] answers, ulong tests, bool known) =>
        new(
            answers,
            [
                .. answers
                    .Zip(asking.Groups)
                    .GroupBy(a => a.Second)
                    .Select(g => (g.Key, g.Sum(a => a.First.Points), g.Sum(a => a.First.Low), g.Sum(a => a.First.High)))
                    .Where(s => s is not (_, 0, 0, 0)),
            ],
            tests,
            known
        );

    public static FitColumn Compile(FieldCriteria asking, FieldCatalogue catalogue) =>
        asking.Field.IsNumeric ? new Numbers(asking)
        : asking.All.All(t => t.Operator == TestOperator.In) ? new Values(asking)
        : new Texts(asking, catalogue);

    private sealed class Values : FitColumn
    {
        private readonly int _at;
        private readonly FitCell _none;
        private readonly FrozenDictionary<string, FitCell> _cells;

        public Values(FieldCriteria asking)
            : base(asking)
        {
            _at = asking.Field.Ordinal;
            _none = Cell(_ => false);
            _cells = asking.All.SelectMany(t => t.Values).Distinct().ToFrozenDictionary(v => v, v => Cell(t => t.Values.Contains(v)));
        }

        public override FitCell Of(RecordValues record, Instant now) => record[_at].Text is not { } text ? Unknown : _cells.GetValueOrDefault(text, _none);
    }

    // The ends of all ranges cut the numbers into pieces, each end being one by itself; within a piece every number answers alike.
    private sealed class Numbers : FitColumn
    {
        private readonly int _at;
        private readonly decimal[] _ends;
        private readonly FitCell[] _cells;

        public Numbers(FieldCriteria asking)
            : base(asking)
        {
            _at = asking.Field.Ordinal;
            _ends = [.. asking.All.SelectMany(Ranges).SelectMany(r => new[] { r.From, r.To }).Where(e => e is > decimal.MinValue and < decimal.MaxValue).Distinct().Order()];
            _cells = [.. Enumerable.Range(0, 2 * _ends.Length + 1).Select(piece => Cell(t => Ranges(t).Any(r => Holds(r, piece))))];
        }

        // An odd piece is an end, an even one lies before the end at half its place.
        private bool Holds((decimal From, decimal To) range, int piece) =>
            piece % 2 == 1
                ? _ends[piece / 2] >= range.From && _ends[piece / 2] <= range.To
                : (piece == 0 ? range.From == decimal.MinValue : range.From <= _ends[piece / 2 - 1])
                    && (piece / 2 == _ends.Length ? range.To == decimal.MaxValue : range.To >= _ends[piece / 2]);

        public override FitCell Of(RecordValues record, Instant now)
        {
            var value = record[_at];
            if (!value.IsKnown)
                return Unknown;
            var (number, from, to) = (value.Number, 0, _ends.Length);
            // The first end that is not below it.
            while (from < to)
                if ((from + to) / 2 is var middle && _ends[middle] < number)
                    from = middle + 1;
                else
                    to = middle;
            return _cells[from < _ends.Length && _ends[from] == number ? 2 * from + 1 : 2 * from];
        }

        private static IEnumerable<(decimal From, decimal To)> Ranges(Test test)
        {
            var numbers = test.Values.Select(v => FieldValue.Parse(FieldType.Number, v).Number).ToArray();
            return test.Operator switch
            {
                TestOperator.In => numbers.Select(n => (n, n)),
                TestOperator.AtLeast => [(numbers[0], decimal.MaxValue)],
                TestOperator.AtMost => [(decimal.MinValue, numbers[0])],
                TestOperator.Between => numbers[0] <= numbers[1] ? [(numbers[0], numbers[1])] : [],
                _ => throw new InvalidOperationException($"no range for {test.Operator}"),
            };
        }
    }

    // Free texts come again and again ("Operations manager"), and looking through one costs more than finding it again.
    private sealed class Texts(FieldCriteria asking, FieldCatalogue catalogue) : FitColumn(asking)
    {
        private sealed record Seen(string Text, FitCell Cell);

        private const int Room = 8192;
        private readonly int _at = asking.Field.Ordinal;
        private readonly Dictionary<Test, Predicate> _holds = asking.All.Distinct().ToDictionary(t => t, t => ConditionPredicate.CompilePart(t, catalogue));
        private readonly Seen?[] _seen = new Seen?[Room];

        public override FitCell Of(RecordValues record, Instant now)
        {
            if (record[_at].Text is not { } text)
                return Unknown;
            ref var seen = ref _seen[(uint)text.GetHashCode() % Room];
            var found = Volatile.Read(ref seen);
            if (found is null || !string.Equals(found.Text, text, StringComparison.Ordinal))
                Volatile.Write(ref seen, found = LookedThrough(text, record, now));
            return found.Cell;
        }

        // By itself, since what captures its arguments costs memory at each call.
        private Seen LookedThrough(string text, RecordValues record, Instant now) => new(text, Cell(t => _holds[t](record, now)));
    }
}
