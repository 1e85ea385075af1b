using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Matching;

/// <summary>Who said a value, the most trusted last.</summary>
public enum SaidBy : byte
{
    /// <summary>A directory filled it in.</summary>
    Directory,

    /// <summary>It came in by a list, a form, a letter or another system.</summary>
    Source,

    /// <summary>One of us wrote it.</summary>
    Person,
}

/// <summary>A value of one of two records that are to become one.</summary>
/// <param name="At">When it was said.</param>
public readonly record struct SideValue(FieldValue Value, SaidBy By, Instant At);

/// <param name="Theirs">True when the value of the record that goes is the better one.</param>
/// <param name="Why">For people; empty where there is nothing to choose.</param>
public readonly record struct MergeChoice(bool Theirs, string Why);

/// <summary>Which of two values to keep when records merge. The rules in order: what is known; what a person wrote; never the directory's; the fuller text; what was said later.</summary>
public static class MergeProposal
{
    /// <param name="ours">Of the record that stays.</param>
    /// <param name="theirs">Of the record that goes. On a draw ours is kept.</param>
    public static MergeChoice For(FieldDefinition field, SideValue ours, SideValue theirs)
    {
        if (!theirs.Value.IsKnown || ours.Value == theirs.Value)
            return new(false, "");
        if (!ours.Value.IsKnown)
            return new(true, "not known here");
        if (ours.By != theirs.By)
            return new(theirs.By > ours.By, Math.Max((int)ours.By, (int)theirs.By) == (int)SaidBy.Person ? "written by a person" : "the other is only from a directory");
        if (field.Type is FieldType.Text or FieldType.Name && Fuller(ours.Value.Text, theirs.Value.Text) is { } fuller)
            return new(fuller, "fuller");
        return theirs.At == ours.At ? new(false, "") : new(theirs.At > ours.At, "newer");
    }

    // True when theirs says all that ours says and more; null when neither does.
    private static bool? Fuller(string? ours, string? theirs)
    {
        var (x, y) = (Folding.Plain(ours), Folding.Plain(theirs));
        return x.Length == 0 || y.Length == 0 || x == y ? null
            : IsPart(x, y) ? true
            : IsPart(y, x) ? false
            : null;
    }

    // "r" of "ragna", "fjordnaer" of "fjordnaer laks".
    private static bool IsPart(string part, string whole) => whole.Length > part.Length && whole.StartsWith(part, StringComparison.Ordinal);
}
