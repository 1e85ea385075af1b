namespace DapperLantern.App.Scoring;

/// <summary>A lead cleared both bars, fell under one, or came back to life. Written by triggers on <c>lead</c>, whoever changes it.</summary>
public sealed class CrossingRow
{
    public const string Cleared = "cleared";
    public const string Fell = "fell";
    public const string Woke = "woke";

    public Guid Id { get; set; }
    public Guid LeadId { get; set; }
    public DateTime At { get; set; }
    public string Kind { get; set; } = "";
    public int Fit { get; set; }
    public int Engagement { get; set; }
    public Guid? Edition { get; set; }

    /// <summary>True when another edition of the model moved it, not what the lead did.</summary>
    public bool ByEdition { get; set; }
}

/// <summary>Scoring all leads anew, in the background.</summary>
public sealed class RescoreRun
{
    public Guid Id { get; set; }

    /// <summary>The edition they are scored by.</summary>
    public Guid Edition { get; set; }
    public DateTime StartedAt { get; set; }

    /// <summary>Those scored before this are scored again; null for only those of other editions.</summary>
    public DateTime? Since { get; set; }
    public DateTime? EndedAt { get; set; }
    public int Leads { get; set; }
    public int Done { get; set; }

    /// <summary>So many have another next move than before.</summary>
    public int Moved { get; set; }

    /// <summary>The last lead that was looked at; they go by id.</summary>
    public Guid AfterId { get; set; }
    public int Tries { get; set; }
    public string? Trouble { get; set; }
}
