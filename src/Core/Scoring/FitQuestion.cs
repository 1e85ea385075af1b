using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>A criterion that asks several fields, or what is known, or how long ago: its lines are weighed one by one, by what the columns say of their fields.</summary>
internal sealed class FitQuestion(FitCriterion criterion, Func<Test, (int Column, int Bit)?> placeOf, FieldCatalogue catalogue)
{
    private readonly (Node When, int Points)[] _lines = [.. criterion.Lines.Select(l => (Node.Of(l.When, placeOf, catalogue), l.Points))];

    // Only what asks whether something is known can be held open.
    private readonly bool _alike = criterion.Lines.All(l => ConditionFields.Tests(l.When).All(t => t.Operator != TestOperator.Known));

    /// <param name="cells">What each column says of the record.</param>
    public FitAnswer Ask(FitCell[] cells, RecordValues record, Instant now)
    {
        var (line, low, high, settled) = (-1, int.MaxValue, int.MinValue, false);
        for (var i = 0; i < _lines.Length && !(settled && line >= 0); i++)
        {
            var (when, points) = _lines[i];
            var stands = when.Weigh(cells, record, now, asItStands: true);
            var open = _alike ? stands : when.Weigh(cells, record, now, asItStands: false);
            if (line < 0 && stands == Truth.Yes)
                line = i;
            if (!settled && open != Truth.No)
                (low, high, settled) = (Math.Min(low, points), Math.Max(high, points), open == Truth.Yes);
        }
        if (!settled)
            (low, high) = (Math.Min(low, 0), Math.Max(high, 0));
        return new FitAnswer(line, line < 0 ? 0 : _lines[line].Points, low, high);
    }

    /// <summary>A part of a condition; reads as <see cref="ConditionTruth"/> does (held by a test).</summary>
    private abstract class Node
    {
        public abstract Truth Weigh(FitCell[] cells, RecordValues record, Instant now, bool asItStands);

        public static Node Of(Condition condition, Func<Test, (int Column, int Bit)?> placeOf, FieldCatalogue catalogue) =>
            condition switch
            {
                AllOf all => new Fold([.. all.Parts.Select(p => Of(p, placeOf, catalogue))], Truth.No, Truth.Yes),
                AnyOf any => new Fold([.. any.Parts.Select(p => Of(p, placeOf, catalogue))], Truth.Yes, Truth.No),
                Not not => new Turned(Of(not.Part, placeOf, catalogue)),
                Test test when placeOf(test) is var (column, bit) => new Looked(column, 1UL << bit),
                _ => new Other(ConditionTruth.CompilePart(condition, catalogue, asItStands: true), ConditionTruth.CompilePart(condition, catalogue, asItStands: false)),
            };
    }

    private sealed class Fold(Node[] parts, Truth decides, Truth otherwise) : Node
    {
        public override Truth Weigh(FitCell[] cells, RecordValues record, Instant now, bool asItStands)
        {
            var answer = otherwise;
            foreach (var part in parts)
            {
                var truth = part.Weigh(cells, record, now, asItStands);
                if (truth == decides)
                    return decides;
                if (truth == Truth.Unsaid)
                    answer = Truth.Unsaid;
            }
            return answer;
        }
    }

    private sealed class Turned(Node part) : Node
    {
        public override Truth Weigh(FitCell[] cells, RecordValues record, Instant now, bool asItStands) =>
            part.Weigh(cells, record, now, asItStands) switch
            {
                Truth.Yes => Truth.No,
                Truth.No => Truth.Yes,
                var unsaid => unsaid,
            };
    }

    private sealed class Looked(int column, ulong bit) : Node
    {
        public override Truth Weigh(FitCell[] cells, RecordValues record, Instant now, bool asItStands) =>
            !cells[column].Known ? Truth.Unsaid
            : (cells[column].Tests & bit) != 0 ? Truth.Yes
            : Truth.No;
    }

    private sealed class Other(Weighed stands, Weighed open) : Node
    {
        public override Truth Weigh(FitCell[] cells, RecordValues record, Instant now, bool asItStands) => (asItStands ? stands : open)(record, now);
    }
}
