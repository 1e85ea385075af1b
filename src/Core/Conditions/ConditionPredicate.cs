using System.Collections.Immutable;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Conditions;

/// <summary>A condition ready to run on records in memory.</summary>
/// <param name="record">Values by the catalogue it was compiled for.</param>
/// <param name="now">The moment of asking.</param>
public delegate bool Predicate(RecordValues record, Instant now);

/// <summary>The in-memory reading of the condition language. The SQL reading gives the same answer on the same record (held by a test).</summary>
public static class ConditionPredicate
{
    /// <summary>The predicate throws <see cref="InvalidOperationException"/> for a record of another catalogue.</summary>
    /// <exception cref="KeyNotFoundException">A field is not in the catalogue; run <see cref="ConditionCheck"/> first.</exception>
    public static Predicate Compile(Condition condition, FieldCatalogue catalogue)
    {
        var holds = CompilePart(condition, catalogue);
        return (record, now) => holds(record.Of(catalogue), now);
    }

    /// <summary>The same without the check of the record's catalogue, as part of a reader that checks it once.</summary>
    internal static Predicate CompilePart(Condition condition, FieldCatalogue catalogue) =>
        condition switch
        {
            AllOf all => Every(Compiled(all.Parts, catalogue)),
            AnyOf any => Some(Compiled(any.Parts, catalogue)),
            Not not => Negated(CompilePart(not.Part, catalogue)),
            Test test => CompileTest(test, catalogue.Asked(test.Field) ?? throw new KeyNotFoundException(test.Field)),
            _ => throw new InvalidOperationException($"no reading for {condition.GetType().Name}"),
        };

    private static Predicate[] Compiled(ImmutableArray<Condition> parts, FieldCatalogue catalogue) => [.. parts.Select(p => CompilePart(p, catalogue))];

    private static Predicate Every(Predicate[] parts) =>
        (record, now) =>
        {
            foreach (var part in parts)
                if (!part(record, now))
                    return false;
            return true;
        };

    private static Predicate Some(Predicate[] parts) =>
        (record, now) =>
        {
            foreach (var part in parts)
                if (part(record, now))
                    return true;
            return false;
        };

    private static Predicate Negated(Predicate part) => (record, now) => !part(record, now);

    private static Predicate CompileTest(Test test, FieldDefinition field)
    {
        var at = field.Ordinal;
        var values = test.Values;
        return test.Operator switch
        {
            TestOperator.Known => (r, _) => r[at].IsKnown,
            TestOperator.In when field.IsNumeric => NumberIn(at, [.. values.Select(Number)]),
            TestOperator.In => TextIn(at, [.. values]),
            TestOperator.Contains => TextLike(at, [.. values.Select(Lower)], static (text, part, how) => text.Contains(part, how)),
            TestOperator.StartsWith => TextLike(at, [.. values.Select(Lower)], static (text, part, how) => text.StartsWith(part, how)),
            TestOperator.BeginsBetween => Beginning(at, Lower(values[0]), Lower(values[1])),
            TestOperator.AtLeast => From(at, Number(values[0])),
            TestOperator.AtMost => UpTo(at, Number(values[0])),
            TestOperator.Between => InRange(at, Number(values[0]), Number(values[1])),
            TestOperator.WithinDays => Within(at, Days(values[0])),
            TestOperator.OlderThanDays => Older(at, Days(values[0])),
            TestOperator.Since => Since(at, MomentOf(values[0])),
            TestOperator.Before => Before(at, MomentOf(values[0])),
            TestOperator.Past => (r, now) => r[at].Kind == ValueKind.Moment && r[at].Moment < now,
            _ => throw new InvalidOperationException($"no reading for {test.Operator}"),
        };
    }

    private static Predicate NumberIn(int at, decimal[] values) => (r, _) => r[at].Kind == ValueKind.Number && values.AsSpan().Contains(r[at].Number);

    private static Predicate TextIn(int at, HashSet<string> values) => (r, _) => r[at].AnyText(values, static (values, text) => values.Contains(text));

    // Lower case as the database has it. For plain ASCII, ignoring case says the same and makes no copy of the text.
    private static Predicate TextLike(int at, string[] parts, Func<string, string, StringComparison, bool> holds)
    {
        var asked = (Parts: parts, Plain: parts.All(p => System.Text.Ascii.IsValid(p)), Holds: holds);
        return (r, _) =>
            r[at]
                .AnyText(
                    asked,
                    static (asked, text) =>
                    {
                        var plain = asked.Plain && System.Text.Ascii.IsValid(text);
                        var (compared, how) = plain ? (text, StringComparison.OrdinalIgnoreCase) : (Lower(text), StringComparison.Ordinal);
                        foreach (var part in asked.Parts)
                            if (asked.Holds(compared, part, how))
                                return true;
                        return false;
                    }
                );
    }

    private static Predicate Beginning(int at, string from, string to) =>
        (r, _) =>
            r[at]
                .AnyText(
                    (from, to),
                    static (asked, text) =>
                        Lower(text) is var lower
                        && string.CompareOrdinal(lower, asked.from) >= 0
                        && (string.CompareOrdinal(lower, asked.to) <= 0 || lower.StartsWith(asked.to, StringComparison.Ordinal))
                );

    private static Predicate From(int at, decimal from) => (r, _) => r[at].Kind == ValueKind.Number && r[at].Number >= from;

    private static Predicate UpTo(int at, decimal to) => (r, _) => r[at].Kind == ValueKind.Number && r[at].Number <= to;

    private static Predicate InRange(int at, decimal from, decimal to) => (r, _) => r[at].Kind == ValueKind.Number && r[at].Number >= from && r[at].Number <= to;

    private static Predicate Within(int at, Duration days) => (r, now) => r[at].Kind == ValueKind.Moment && r[at].Moment >= now - days && r[at].Moment <= now;

    private static Predicate Older(int at, Duration days) => (r, now) => r[at].Kind == ValueKind.Moment && r[at].Moment < now - days;

    private static Predicate Since(int at, Instant from) => (r, _) => r[at].Kind == ValueKind.Moment && r[at].Moment >= from;

    private static Predicate Before(int at, Instant to) => (r, _) => r[at].Kind == ValueKind.Moment && r[at].Moment < to;

    private static Instant MomentOf(string text) => FieldValue.Parse(FieldType.Date, text).Moment;

    private static string Lower(string text) => text.ToLowerInvariant();

    private static decimal Number(string text) => FieldValue.Parse(FieldType.Number, text).Number;

    private static Duration Days(string text) => Duration.FromDays((double)Number(text));
}
