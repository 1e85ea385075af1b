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

/// <summary>What decides first between two values, where nobody of us wrote either.</summary>
public enum MergeRule : byte
{
    /// <summary>The source that is trusted more, then the fuller text, then what was said later.</summary>
    Trusted,

    /// <summary>The fuller text, then trust, then what was said later.</summary>
    Fullest,

    /// <summary>What was said later.</summary>
    Newest,
}

/// <summary>A value of one of two records that are to become one.</summary>
/// <param name="At">When it was said.</param>
/// <param name="Trust">How much its source is trusted: -1 less than others, 0 as others, 1 more than others.</param>
public readonly record struct SideValue(FieldValue Value, SaidBy By, Instant At, int Trust = 0);

/// <param name="Theirs">True when the value of the record that goes is the better one.</param>
/// <param name="Why">For people; empty where there is nothing to choose.</param>
public readonly record struct MergeChoice(bool Theirs, string Why);

/// <summary>
/// Which of two values to keep when records merge. In order: what is known; what a person wrote; never the directory's; then what the field's <see cref="MergeRule"/> says.
/// </summary>
public static class MergeProposal
{
    /// <param name="ours">Of the record that stays.</param>
    /// <param name="theirs">Of the record that goes. On a draw ours is kept.</param>
    public static MergeChoice For(FieldDefinition field, SideValue ours, SideValue theirs, MergeRule rule = MergeRule.Trusted)
    {
        if (!theirs.Value.IsKnown || ours.Value == theirs.Value)
            return new(false, "");
        if (!ours.Value.IsKnown)
            return new(true, "not known here");
        if (ours.By != theirs.By)
            return new(theirs.By > ours.By, Math.Max((int)ours.By, (int)theirs.By) == (int)SaidBy.Person ? "written by a person" : "the other is only from a directory");
        return rule switch
            {
                MergeRule.Newest => Newer(ours, theirs) ?? Trusted(ours, theirs) ?? Fuller(field, ours, theirs),
                MergeRule.Fullest => Fuller(field, ours, theirs) ?? Trusted(ours, theirs) ?? Newer(ours, theirs),
                _ => Trusted(ours, theirs) ?? Fuller(field, ours, theirs) ?? Newer(ours, theirs),
            } ?? new MergeChoice(false, "");
    }

    private static MergeChoice? Trusted(SideValue ours, SideValue theirs) => ours.Trust == theirs.Trust ? null : new(theirs.Trust > ours.Trust, "from a source trusted more");

    private static MergeChoice? Newer(SideValue ours, SideValue theirs) => ours.At == theirs.At ? null : new(theirs.At > ours.At, "newer");

    private static MergeChoice? Fuller(FieldDefinition field, SideValue ours, SideValue theirs) =>
        field.Type is FieldType.Text or FieldType.Name && Fuller(ours.Value.Text, theirs.Value.Text) is { } fuller ? new(fuller, "fuller") : null;

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
