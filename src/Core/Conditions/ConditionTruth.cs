using System.Collections.Immutable;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Conditions;

/// <summary>What is known of a condition on a record of which not everything is known.</summary>
public enum Truth : byte
{
    No,
    Yes,

    /// <summary>It depends on a value that is not known.</summary>
    Unsaid,
}

/// <summary>A condition ready to be weighed on a record in memory.</summary>
public delegate Truth Weighed(RecordValues record, Instant now);

/// <summary>
/// The three-valued reading of the condition language (Kleene 1952, strong): a test of an unknown value is unsaid; "all of" is no as soon as one part is,
/// "any of" yes as soon as one part is. Where it says yes or no, no later knowledge changes the answer.
/// </summary>
public static class ConditionTruth
{
    /// <param name="asItStands">
    /// True to take "is known" at its word: an unknown value is not known. False to hold it open, since the value may become known.
    /// </param>
    /// <exception cref="KeyNotFoundException">A field is not in the catalogue; run <see cref="ConditionCheck"/> first.</exception>
    public static Weighed Compile(Condition condition, FieldCatalogue catalogue, bool asItStands)
    {
        var truth = CompilePart(condition, catalogue, asItStands);
        return (record, now) => truth(record.Of(catalogue), now);
    }

    /// <summary>The same without the check of the record's catalogue, as part of a reader that checks it once.</summary>
    internal static Weighed CompilePart(Condition condition, FieldCatalogue catalogue, bool asItStands) =>
        condition switch
        {
            AllOf all => Folded(Compiled(all.Parts, catalogue, asItStands), Truth.No, Truth.Yes),
            AnyOf any => Folded(Compiled(any.Parts, catalogue, asItStands), Truth.Yes, Truth.No),
            Not not => Negated(CompilePart(not.Part, catalogue, asItStands)),
            Test test => CompileTest(test, catalogue, asItStands),
            _ => throw new InvalidOperationException($"no reading for {condition.GetType().Name}"),
        };

    private static Weighed[] Compiled(ImmutableArray<Condition> parts, FieldCatalogue catalogue, bool asItStands) => [.. parts.Select(p => CompilePart(p, catalogue, asItStands))];

    // The first part that decides does; else what is unsaid of any part is unsaid of all.
    private static Weighed Folded(Weighed[] parts, Truth decides, Truth otherwise) =>
        (record, now) =>
        {
            var answer = otherwise;
            foreach (var part in parts)
            {
                var truth = part(record, now);
                if (truth == decides)
                    return decides;
                if (truth == Truth.Unsaid)
                    answer = Truth.Unsaid;
            }
            return answer;
        };

    private static Weighed Negated(Weighed part) =>
        (record, now) =>
            part(record, now) switch
            {
                Truth.Yes => Truth.No,
                Truth.No => Truth.Yes,
                var unsaid => unsaid,
            };

    private static Weighed CompileTest(Test test, FieldCatalogue catalogue, bool asItStands)
    {
        var at = (catalogue.Asked(test.Field) ?? throw new KeyNotFoundException(test.Field)).Ordinal;
        if (test.Operator == TestOperator.Known)
            return (record, _) =>
                record[at].IsKnown ? Truth.Yes
                : asItStands ? Truth.No
                : Truth.Unsaid;
        var holds = ConditionPredicate.CompilePart(test, catalogue);
        return (record, now) =>
            !record[at].IsKnown ? Truth.Unsaid
            : holds(record, now) ? Truth.Yes
            : Truth.No;
    }
}
