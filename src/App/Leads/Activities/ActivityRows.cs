using DapperLantern.App.Data;

namespace DapperLantern.App.Leads.Activities;

/// <summary>A meeting or visit: who, where, with what, to what end; afterwards what came of it.</summary>
public sealed class MeetingRow
{
    public Guid Id { get; set; }
    public Guid LeadId { get; set; }
    public DateTime StartsAt { get; set; }
    public DateTime EndsAt { get; set; }
    public string Subject { get; set; } = "";
    public string Place { get; set; } = "";
    public string Goal { get; set; } = "";

    /// <summary>Who comes from the other side, as written.</summary>
    public string[] Guests { get; set; } = [];

    /// <summary>Who comes from ours.</summary>
    public Guid[] People { get; set; } = [];
    public Guid MadeBy { get; set; }

    /// <summary>What came of it; null before.</summary>
    public string? Result { get; set; }

    /// <summary>How satisfied the customer was, 1 to 5; null where it was not said.</summary>
    public int? Satisfaction { get; set; }
    public DateTime? CancelledAt { get; set; }
    public int Version { get; set; } = 1;
}

/// <summary>A file that somebody added to a lead.</summary>
public sealed class LeadFileRow
{
    public Guid Id { get; set; }
    public Guid LeadId { get; set; }
    public string Name { get; set; } = "";
    public int Size { get; set; }
    public byte[] Bytes { get; set; } = [];
    public DateTime At { get; set; }
    public Guid PersonId { get; set; }
    public DateTime? RemovedAt { get; set; }
}

/// <summary>Something that is taken along to a meeting and can be at one place at a time, such as a demo buoy.</summary>
public sealed class ResourceRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";
    public bool Retired { get; set; }
}

/// <summary>A resource taken for the time of a meeting. The database lets no two overlap.</summary>
public sealed class BookingRow
{
    public Guid MeetingId { get; set; }
    public string ResourceKey { get; set; } = "";
    public DateTime StartsAt { get; set; }
    public DateTime EndsAt { get; set; }
}

/// <summary>Steps that usually follow one another, to be planned with one press.</summary>
/// <param name="Key">Stable name.</param>
public sealed record StepPlan([Text(100)] string Key, [Text(200)] string Label, [Count(20)] IReadOnlyList<PlannedStep> Steps)
{
    /// <summary>Of the setup entry that holds a workspace's own.</summary>
    public const string Entry = "step-plans";

    /// <summary>As shipped; a workspace may have its own.</summary>
    public static IReadOnlyList<StepPlan> Usual { get; } =
    [
        new("first-contact", "First contact", [new("Call for the first time", 0), new("Write, if not reached", 2), new("Call again", 5)]),
        new("keep-warm", "Keep warm", [new("Send something worth reading", 14), new("Ask how it goes", 42)]),
    ];
}

/// <param name="InDays">Days from now; 0 for today.</param>
public sealed record PlannedStep([Text(200)] string Subject, [Between(0, 730)] int InDays);
