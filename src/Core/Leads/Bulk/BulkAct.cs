using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Leads.Bulk;

/// <summary>Something to be done to many leads at once.</summary>
/// <param name="Kind">One of the constants.</param>
/// <param name="Field">For <see cref="Fact"/>: key of the field.</param>
/// <param name="Value">For <see cref="Fact"/>: the value as written; empty empties the field.</param>
/// <param name="Key">Key of the tag, of the campaign, or of the pipeline.</param>
/// <param name="Response">For <see cref="Campaign"/>: how they stand to it, one of ours.</param>
/// <param name="To">For <see cref="Give"/>: who gets them, in turn; empty puts them back to wait for an owner.</param>
/// <param name="State">For <see cref="Move"/>: the new state.</param>
/// <param name="Reason">Key of the reason, for a disqualified lead.</param>
/// <param name="WakeAt">When it wakes, for a lead on hold.</param>
public sealed record BulkAct(
    string Kind,
    string? Field = null,
    string? Value = null,
    string? Key = null,
    string? Response = null,
    ImmutableArray<Guid>? To = null,
    string? State = null,
    string? Reason = null,
    DateTimeOffset? WakeAt = null
)
{
    /// <summary>For <see cref="Give"/>: true to let the rule sheet say who gets each, in place of <see cref="To"/>.</summary>
    public bool ByRules { get; init; }

    /// <summary>For <see cref="ByRules"/>: true to give each to somebody else than who has it, as when they are away or leave.</summary>
    public bool Onward { get; init; }

    /// <summary>For <see cref="Give"/>: true to let the owners of two leads exchange them.</summary>
    public bool Swap { get; init; }

    /// <summary>For <see cref="Swap"/>: the same act with each lead's new owner named, the leads in the order of <paramref name="owners"/>; other acts as they are.</summary>
    public BulkAct Exchanging(IEnumerable<Guid?> owners) => Swap ? this with { To = [.. owners.OfType<Guid>().Reverse()] } : this;

    public const string Fact = "fact";
    public const string Tag = "tag";
    public const string Untag = "untag";
    public const string Give = "give";
    public const string Move = "state";
    public const string Campaign = "campaign";

    /// <summary>Takes the lead out of the list, kept whole so that it can be put back.</summary>
    public const string Remove = "remove";

    /// <summary>Hands the lead over as its sheet proposes, into the pipeline <see cref="Key"/>.</summary>
    public const string HandOver = "hand_over";

    public static ImmutableArray<string> Kinds { get; } = [Fact, Tag, Untag, Give, Move, Campaign, Remove, HandOver];
}

/// <summary>What the act names, as words: a field's label, a tag, people, a campaign.</summary>
public static class BulkWords
{
    /// <summary>"Sector to Aquaculture", "Tag expo-2026", "Given in turn to two people".</summary>
    /// <param name="named">The name of the tag or campaign, or of the one person.</param>
    public static string Of(BulkAct act, FieldCatalogue catalogue, string named) =>
        act.Kind switch
        {
            BulkAct.Fact => $"{catalogue[act.Field!].Label} to {(string.IsNullOrWhiteSpace(act.Value) ? "blank" : catalogue[act.Field!].Show(act.Value))}",
            BulkAct.Tag => $"Tag {named} put on",
            BulkAct.Untag => $"Tag {named} taken off",
            BulkAct.Give when act.Swap => "Owners exchanged",
            BulkAct.Give when act.Onward => "Handed on by the rules",
            BulkAct.Give when act.ByRules => "Given by the rules",
            BulkAct.Give when act.To is not { Length: > 0 } => "Put back to wait for an owner",
            BulkAct.Give => act.To is { Length: > 1 } to ? $"Given in turn to {to.Length} people" : $"Given to {named}",
            BulkAct.Move => $"State to {LeadState.Choices.Single(c => c.Key == act.State).Label.ToLowerInvariant()}",
            BulkAct.Remove => "Removed",
            BulkAct.HandOver => $"Handed over into {named}",
            _ => $"Added to the campaign {named}",
        };
}
