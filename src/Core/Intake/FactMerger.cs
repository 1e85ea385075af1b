using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Intake;

/// <summary>Which value holds when a known record and an arrival both have one.</summary>
public enum MergePolicy : byte
{
    /// <summary>What we do not know is filled; nothing is overwritten.</summary>
    FillBlanks,

    /// <summary>Nothing is written, not even a blank filled.</summary>
    KeepOurs,

    /// <summary>Theirs holds wherever they say something.</summary>
    TakeTheirs,

    /// <summary>The value that was said later holds; on the same moment, ours.</summary>
    NewestWins,
}

/// <summary>One field of a known record that an arrival changes. <see cref="Before"/> is unknown where a blank is filled.</summary>
public readonly record struct FactChange(FieldDefinition Field, FieldValue Before, FieldValue After);

/// <summary>How known values and new values of one record come together.</summary>
public static class FactMerger
{
    /// <summary>The changes that <paramref name="incoming"/> makes to <paramref name="known"/>, in catalogue order. Equal values are no change.</summary>
    /// <param name="policyOf">The policy of a field by its key.</param>
    /// <param name="saidAt">When the arrival was true.</param>
    /// <param name="knownSince">When our value of a field was said, by its key.</param>
    public static IEnumerable<FactChange> Changes(RecordValues known, RecordValues incoming, Func<string, MergePolicy> policyOf, Instant saidAt, Func<string, Instant> knownSince)
    {
        incoming.Of(known.Catalogue);
        foreach (var field in known.Catalogue.Fields)
        {
            var (ours, theirs) = (known[field.Ordinal], incoming[field.Ordinal]);
            if (field.Origin is not (FieldOrigin.Fact or FieldOrigin.Custom) || !theirs.IsKnown || ours == theirs)
                continue;
            var holds = policyOf(field.Key) switch
            {
                MergePolicy.KeepOurs => false,
                MergePolicy.TakeTheirs => true,
                MergePolicy.NewestWins => !ours.IsKnown || saidAt > knownSince(field.Key),
                _ => !ours.IsKnown,
            };
            if (holds)
                yield return new FactChange(field, ours, theirs);
        }
    }
}
