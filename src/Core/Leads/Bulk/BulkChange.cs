using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using NodaTime;

namespace DapperLantern.Core.Leads.Bulk;

/// <summary>What of a lead decides what an act upon many does to it.</summary>
/// <param name="Lacks">What stands between it and "qualified"; null for nothing.</param>
/// <param name="Has">True when it carries the tag, or is a member of the campaign with this response.</param>
/// <param name="Mine">True when whoever acts may change it.</param>
public sealed record BulkLead(RecordValues Facts, string State, string? Reason, Instant? WakesAt, Guid? Owner, string? Lacks, bool Has, bool Mine);

/// <summary>What becomes of one lead.</summary>
public enum BulkVerdict
{
    /// <summary>It is changed.</summary>
    Changed,

    /// <summary>It is so already.</summary>
    Same,

    /// <summary>It is left as it is, for a reason.</summary>
    Left,
}

/// <summary>What an act does to a lead, and why not.</summary>
/// <param name="Why">For people, where it is left; else empty.</param>
/// <param name="Value">For a fact: the value it gets.</param>
public readonly record struct BulkOutcome(BulkVerdict Verdict, string Why = "", FieldValue Value = default);

/// <summary>Decides what an act does to a lead. Preview and doing both ask this.</summary>
public static class BulkChange
{
    /// <param name="field">The field of a <see cref="BulkAct.Fact"/>; null for other acts.</param>
    public static BulkOutcome Decide(BulkAct act, FieldDefinition? field, BulkLead lead, Instant now)
    {
        if (lead.State == LeadState.HandedOver)
            return Left("handed over, so read-only");
        if (!lead.Mine)
            return Left("not yours");
        return act.Kind switch
        {
            BulkAct.Fact => Put(act, field!, lead),
            BulkAct.Give => Give(act, lead),
            BulkAct.Move => Move(act, lead, now),
            BulkAct.Remove => Changed,
            BulkAct.HandOver => lead.State == LeadState.Qualified ? Changed : Left("not qualified"),
            BulkAct.Untag => lead.Has ? Changed : Same,
            _ => lead.Has ? Same : Changed,
        };
    }

    private static BulkOutcome Changed => new(BulkVerdict.Changed);
    private static BulkOutcome Same => new(BulkVerdict.Same);

    private static BulkOutcome Left(string why) => new(BulkVerdict.Left, why);

    // Telephones and regions are read by each lead's own country.
    private static BulkOutcome Put(BulkAct act, FieldDefinition field, BulkLead lead)
    {
        var read = FieldReader.Read(field, act.Value, lead.Facts.Text("country"));
        if (read.Problem is { } problem)
            return Left(problem.Words);
        if (lead.Facts[field.Ordinal] == read.Value)
            return Same;
        if (read.Value.IsKnown)
            return new BulkOutcome(BulkVerdict.Changed, "", read.Value);
        var before = lead.Facts[field.Ordinal];
        lead.Facts[field.Ordinal] = read.Value;
        var unfit = RowReader.WhyUnfit(lead.Facts);
        lead.Facts[field.Ordinal] = before;
        return unfit is null ? new BulkOutcome(BulkVerdict.Changed, "", read.Value) : Left(unfit.Words);
    }

    // Who has one of those it is given to in turn keeps them.
    private static BulkOutcome Give(BulkAct act, BulkLead lead) =>
        act.ByRules ? Changed
        : act.Swap
            ? lead.Owner is null ? Left("nobody has it")
                : Changed
        : act.To is { Length: > 0 } to
            ? lead.Owner is { } owner && to.Contains(owner) ? Same
                : Changed
        : lead.Owner is null ? Same
        : Changed;

    private static BulkOutcome Move(BulkAct act, BulkLead lead, Instant now)
    {
        var wakes = act.WakeAt is { } at ? Instant.FromDateTimeOffset(at) : (Instant?)null;
        if (lead.State == act.State && lead.Reason == act.Reason && (act.State != LeadState.OnHold || lead.WakesAt == wakes))
            return Same;
        if (!LeadState.MayMove(lead.State, act.State!))
            return Left("cannot be put in that state by hand");
        return act.State == LeadState.Qualified && lead.Lacks is { } missing ? Left(missing.TrimEnd('.')) : Changed;
    }
}
