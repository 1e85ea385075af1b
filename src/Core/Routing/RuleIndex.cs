using System.Collections.Frozen;
using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Routing;

/// <summary>
/// Finds the first rule that holds. For each field, every value that any rule names, or falls between, has the set of rules whose cell it meets; a lead takes the
/// sets of its values together. Cells that cannot be so listed (parts of texts, dates) are asked one by one of what is left. Gives what asking every rule in
/// order gives (held by a property).
/// </summary>
internal sealed class RuleIndex
{
    private readonly int _words;
    private readonly ulong[] _all;
    private readonly List<Column> _columns = [];
    private readonly Predicate?[] _rest;

    public RuleIndex(ImmutableArray<Rule> rules, FieldCatalogue catalogue)
    {
        _words = (rules.Length + 63) / 64;
        _all = Enumerable.Repeat(~0UL, _words).ToArray();
        if (rules.Length % 64 != 0 && _words > 0)
            _all[^1] = (1UL << (rules.Length % 64)) - 1;
        var cells = rules.Select(r => RuleCells.Of(r.When)).ToArray();
        var rest = cells.Select(c => c.Mixed.ToList()).ToArray();
        foreach (var key in cells.SelectMany(c => c.Cells.Keys).Distinct())
        {
            var field = catalogue.Asked(key) ?? throw new KeyNotFoundException(key);
            var asked = cells.Select(c => c.Cells.GetValueOrDefault(key)).ToArray();
            if (asked.All(c => c is null || ConditionFields.Tests(c).All(t => Listed(t, field))))
                _columns.Add(Column.Of(field, asked, catalogue, _words));
            else
                for (var i = 0; i < asked.Length; i++)
                    if (asked[i] is { } cell)
                        rest[i].Add(cell);
        }
        _rest = [.. rest.Select(parts => parts.Count == 0 ? null : ConditionPredicate.CompilePart(new AllOf([.. parts]), catalogue))];
        // Where the sets of one column leave nothing the others need not be asked: those that ask most come first.
        _columns.Sort((a, b) => b.Asking.CompareTo(a.Asking));
    }

    private static bool Listed(Test test, FieldDefinition field) =>
        test.Operator == TestOperator.Known
        || (
            field.IsNumeric
                ? test.Operator is TestOperator.In or TestOperator.AtLeast or TestOperator.AtMost or TestOperator.Between
                : field.Type != FieldType.Date && test.Operator == TestOperator.In
        );

    /// <summary>The first rule after another, -1 for the first of all, that holds; -1 when none does.</summary>
    public int First(RecordValues lead, Instant now, int after = -1)
    {
        Span<ulong> left = stackalloc ulong[_words];
        _all.CopyTo(left);
        foreach (var column in _columns)
            column.Keep(lead, left);
        for (var word = 0; word < _words; word++)
        for (var bits = left[word]; bits != 0; bits &= bits - 1)
        {
            var rule = word * 64 + System.Numerics.BitOperations.TrailingZeroCount(bits);
            if (rule > after && (_rest[rule] is not { } rest || rest(lead, now)))
                return rule;
        }
        return -1;
    }

    // The sets of rules by the values of one field.
    private sealed class Column
    {
        private int _at;
        private ulong[] _unknown = [];
        private ulong[] _other = [];
        private FrozenDictionary<string, ulong[]>? _texts;
        private decimal[] _breaks = [];
        private ulong[][] _spans = [];

        public int Asking { get; private init; }

        public static Column Of(FieldDefinition field, Condition?[] cells, FieldCatalogue catalogue, int words)
        {
            var holds = cells.Select(c => c is null ? null : ConditionPredicate.CompilePart(c, catalogue)).ToArray();
            var record = new RecordValues(catalogue);
            ulong[] SetOf(FieldValue value)
            {
                record[field.Ordinal] = value;
                var set = new ulong[words];
                for (var i = 0; i < holds.Length; i++)
                    if (holds[i] is not { } asks || asks(record, default))
                        set[i / 64] |= 1UL << (i % 64);
                return set;
            }
            var column = new Column
            {
                _at = field.Ordinal,
                _unknown = SetOf(default),
                Asking = cells.Count(c => c is not null),
            };
            var values = cells.Where(c => c is not null).SelectMany(c => ConditionFields.Tests(c!)).SelectMany(t => t.Values).Distinct();
            if (field.IsNumeric)
                column.Span([.. values.Select(v => FieldValue.Parse(FieldType.Number, v).Number).Distinct().Order()], SetOf);
            else
            {
                column._texts = values.ToFrozenDictionary(v => v, v => SetOf(FieldValue.Of(v)));
                // A text that no rule names: longer than all of them.
                column._other = SetOf(FieldValue.Of(string.Concat(column._texts.Keys) + "?"));
            }
            return column;
        }

        // Below the first break, at it, between it and the second, and so on.
        private void Span(decimal[] breaks, Func<FieldValue, ulong[]> setOf)
        {
            _breaks = breaks;
            _spans = [.. Enumerable.Range(0, breaks.Length * 2 + 1).Select(i => setOf(FieldValue.Of(Within(breaks, i))))];
        }

        private static decimal Within(decimal[] breaks, int span) =>
            span % 2 == 1 ? breaks[span / 2]
            : breaks.Length == 0 ? 0
            : span == 0 ? breaks[0] - 1
            : span == breaks.Length * 2 ? breaks[^1] + 1
            : (breaks[span / 2 - 1] + breaks[span / 2]) / 2;

        public void Keep(RecordValues lead, Span<ulong> left)
        {
            var set = SetOf(lead[_at]);
            for (var i = 0; i < left.Length; i++)
                left[i] &= set[i];
        }

        private ulong[] SetOf(FieldValue value)
        {
            if (!value.IsKnown)
                return _unknown;
            if (_texts is null)
                return value.Kind == ValueKind.Number ? _spans[SpanOf(value.Number)] : _unknown;
            return value.Text is { } text ? _texts.GetValueOrDefault(text, _other) : _other;
        }

        private int SpanOf(decimal number)
        {
            var at = Array.BinarySearch(_breaks, number);
            return at >= 0 ? at * 2 + 1 : ~at * 2;
        }
    }
}
