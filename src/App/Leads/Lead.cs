using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DapperLantern.App.Leads;

/// <summary>A lead. Its facts are the columns the field catalogue describes, reached by key; the rest is what the program keeps.</summary>
public sealed class Lead
{
    private readonly Dictionary<string, object?> _facts = [];

    public Guid Id { get; set; }

    /// <summary>Short readable number, given by the database.</summary>
    public int Number { get; set; }
    public string State { get; set; } = "new";
    public string Source { get; set; } = "";
    public string? Campaign { get; set; }
    public Guid? OwnerId { get; set; }
    public Guid? ImportId { get; set; }

    /// <summary>The company in comparison form, for matching.</summary>
    public string? CompanyKey { get; set; }
    public int Fit { get; set; }
    public int FitLow { get; set; }
    public int FitHigh { get; set; }
    public int Engagement { get; set; }
    public string NextMove { get; set; } = "park";
    public Guid? ModelEdition { get; set; }

    /// <summary>What engagement follows from, see <see cref="Scoring.EngagementDecaySql"/>; null for one that is 0 and stays so.</summary>
    public double[]? Decay { get; set; }

    /// <summary>See <see cref="Core.Scoring.LeadScoreState"/>; null for never.</summary>
    public int Band { get; set; }
    public DateTime? MoveUntil { get; set; }
    public DateTime? LookAgainAt { get; set; }
    public DateTime? ScoredAt { get; set; }
    public DateTime CreatedAt { get; set; }
    public DateTime LastTouchAt { get; set; }
    public DateTime? ClockStartedAt { get; set; }
    public DateTime? ClockDueAt { get; set; }

    /// <summary>When the owner was warned that the time to answer runs out; null while it was not.</summary>
    public DateTime? ClockWarnedAt { get; set; }

    /// <summary>When it was noticed that the time had run out; null while it was not.</summary>
    public DateTime? ClockRanOutAt { get; set; }

    /// <summary>How often the lead was passed on because its time ran out.</summary>
    public int ClockPasses { get; set; }

    /// <summary>When its owner first answered, and whether that was in time; null while nobody did. Kept by a trigger, whoever stops the clock.</summary>
    public DateTime? AnsweredAt { get; set; }
    public bool? AnsweredInTime { get; set; }

    /// <summary>When the earliest open task is due; kept by <see cref="FollowUps"/>.</summary>
    public DateTime? NextStepAt { get; set; }

    /// <summary>See <see cref="Core.Leads.Signs"/>; kept with the scores.</summary>
    public DateTime? LastSignAt { get; set; }
    public int? SilentDays { get; set; }

    /// <summary>When a lead on hold wakes; null for others.</summary>
    public DateTime? WakeAt { get; set; }

    /// <summary>Key of the reason of a disqualified one; null for others.</summary>
    public string? StateReason { get; set; }

    /// <summary>Key of the finer step that was chosen last; stays while the lead is in another state, and holds again when it comes back.</summary>
    public string? SubStateSet { get; set; }

    /// <summary>The same while it is of the lead's state, else null. Written by the database.</summary>
    public string? SubState { get; private set; }

    /// <summary>JSON of <see cref="Core.Qualifying.Findings"/>.</summary>
    public string Qualification { get; set; } = "{}";

    /// <summary>The pipeline it is qualified for; null for the first.</summary>
    public string? Pipeline { get; set; }

    /// <summary>Why it is qualified though the threshold is not met; null where it is.</summary>
    public string? QualifiedBecause { get; set; }

    /// <summary>Key of who got it, in the list "competitors"; for a disqualified lead.</summary>
    public string? LostTo { get; set; }

    /// <summary>Custom fields by key, in stored form.</summary>
    public string Custom { get; set; } = "{}";

    /// <summary>Where each fact is from: field key to words.</summary>
    public string Provenance { get; set; } = "{}";

    /// <summary>Row version: one more with every change a person or a file makes; rescoring by the passing of time does not count.</summary>
    public int Version { get; set; }

    public object? this[string fact]
    {
        get => _facts.GetValueOrDefault(fact);
        set => _facts[fact] = value;
    }
}

internal sealed class LeadMapping : IEntityTypeConfiguration<Lead>
{
    public void Configure(EntityTypeBuilder<Lead> lead)
    {
        lead.ToTable("lead");
        foreach (var field in BuiltInFields.Facts)
            lead.IndexerProperty(
                field.IsNumeric ? typeof(decimal?)
                    : field.Type == FieldType.Date ? typeof(DateTime?)
                    : typeof(string),
                field.Key
            );
        lead.Property(l => l.Number).ValueGeneratedOnAdd().UseIdentityAlwaysColumn();
        lead.HasIndex(l => l.Number).IsUnique();
        lead.Property(l => l.Version).HasDefaultValue(1).IsConcurrencyToken();
        foreach (var json in new[] { nameof(Lead.Custom), nameof(Lead.Provenance), nameof(Lead.Qualification) })
            lead.Property<string>(json).HasColumnType("jsonb").HasDefaultValueSql("'{}'::jsonb");
        lead.HasIndex("email");
        lead.HasIndex("phone");
        lead.HasIndex("mobile").HasFilter("mobile is not null");
        lead.HasOne<Setup.Person>().WithMany().HasForeignKey(l => l.OwnerId).HasConstraintName("fk_lead_owner").OnDelete(DeleteBehavior.NoAction);
        lead.HasIndex(l => l.CompanyKey);
        lead.HasIndex(l => new { l.CreatedAt, l.Id }).IsDescending();
        lead.HasIndex(l => new { l.LastTouchAt, l.Id }).IsDescending();
        lead.HasIndex(l => l.ImportId);
        lead.HasIndex(l => l.StateReason).HasFilter("state_reason is not null");
        lead.HasIndex(l => l.LostTo).HasFilter("lost_to is not null");
        lead.HasIndex(l => l.AnsweredAt).HasFilter("answered_at is not null");
        lead.HasIndex(l => l.ClockDueAt).HasFilter("clock_due_at is not null");
        // What the views that ship ask for: few leads each, of many.
        lead.HasIndex(l => new { l.OwnerId, l.ClockDueAt }, "ix_lead_of_owner").IncludeProperties(l => l.State).HasFilter("state in ('new', 'in_work', 'on_hold', 'qualified')");
        lead.HasIndex(l => new { l.Band, l.Id }, "ix_lead_cleared")
            .IsDescending()
            .IncludeProperties(l => new
            {
                l.State,
                l.OwnerId,
                l.MoveUntil,
            })
            .HasFilter("next_move = 'hand_over' and state in ('new', 'in_work')");
        lead.HasIndex(l => new { l.CreatedAt, l.Id }, "ix_lead_without_owner").IsDescending().IncludeProperties(l => new { l.State, l.OwnerId }).HasFilter("owner_id is null");
        lead.HasIndex(l => new { l.LastTouchAt, l.Id }, "ix_lead_without_step").IsDescending().HasFilter("next_step_at is null and state = 'in_work'");
        lead.HasIndex(l => new { l.Band, l.Id }, "ix_lead_band").IsDescending().IncludeProperties(l => new { l.OwnerId, l.LookAgainAt }).HasFilter("band > 0");
        lead.HasIndex(l => new { l.LastTouchAt, l.Id }, "ix_lead_undecided").IncludeProperties(l => l.OwnerId).HasFilter("state = 'in_work'");
        lead.HasIndex(l => new { l.LastTouchAt, l.Id }, "ix_lead_qualified").IncludeProperties(l => l.OwnerId).HasFilter("state = 'qualified'");
        lead.HasIndex(l => l.LookAgainAt).HasFilter("look_again_at is not null");
        lead.HasIndex(l => l.WakeAt).HasFilter("wake_at is not null");
        lead.HasIndex(l => new { l.LastSignAt, l.Id }, "ix_lead_woken").IsDescending().HasFilter("silent_days >= 90");
    }
}

/// <summary>Something a lead did that engagement counts.</summary>
public sealed class LeadEventRow
{
    public Guid Id { get; set; }
    public Guid LeadId { get; set; }
    public string Kind { get; set; } = "";
    public DateTime At { get; set; }
    public string Detail { get; set; } = "";

    /// <summary>See <see cref="Core.Scoring.LeadEvent"/>.</summary>
    public string Direction { get; set; } = "in";

    /// <summary>Kind of the campaign it belongs to; empty for none.</summary>
    public string CampaignKind { get; set; } = "";
    public Guid? ImportId { get; set; }

    /// <summary>The responses to a campaign that were recorded by hand at once, of which this is one.</summary>
    public Guid? Entry { get; set; }
}

/// <summary>One entry of a story. It may belong to several records at once: after a handover the lead's notes are the contact's and the deal's too.</summary>
public sealed class StoryEntry
{
    public Guid Id { get; set; }
    public DateTime At { get; set; }

    /// <summary>came_in, added, routed, note, call, edited, state, handed_over, taken_back, deal.</summary>
    public string Kind { get; set; } = "";
    public string Text { get; set; } = "";
    public Guid? LeadId { get; set; }
    public Guid? ContactId { get; set; }
    public Guid? AccountId { get; set; }
    public Guid? DealId { get; set; }
    public Guid? PersonId { get; set; }
    public Guid? ImportId { get; set; }

    /// <summary>The responses to a campaign that were recorded by hand at once, of which this tells.</summary>
    public Guid? Entry { get; set; }

    /// <summary>JSON of what a call or meeting tells beside its text; null for most.</summary>
    public string? Detail { get; set; }
    public bool Pinned { get; set; }
    public DateTime? EditedAt { get; set; }

    /// <summary>When it was removed; it is kept, and can be brought back.</summary>
    public DateTime? RemovedAt { get; set; }

    /// <summary>JSON list of what it said before, each until when.</summary>
    public string Was { get; set; } = "[]";
}

/// <summary>A follow-up: something to do, for somebody, by a time.</summary>
public sealed class TaskRow
{
    public Guid Id { get; set; }
    public Guid? LeadId { get; set; }
    public Guid? DealId { get; set; }
    public Guid? ContactId { get; set; }
    public Guid OwnerId { get; set; }
    public string Subject { get; set; } = "";
    public DateTime DueAt { get; set; }
    public DateTime? DoneAt { get; set; }

    /// <summary>True where it stands before other tasks of the day.</summary>
    public bool Urgent { get; set; }

    /// <summary>See <see cref="Core.Leads.Activities.Repeat"/>; null for once.</summary>
    public string? Repeat { get; set; }

    /// <summary>How often what a calendar shows of it was changed; kept by a trigger.</summary>
    public int Changes { get; set; }

    /// <summary>The one that came in its place when it was done.</summary>
    public Guid? NextId { get; set; }
}
