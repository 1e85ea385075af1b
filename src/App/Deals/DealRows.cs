namespace DapperLantern.App.Deals;

public sealed class PipelineRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";
}

/// <summary>A step of a pipeline.</summary>
public sealed class StageRow
{
    public string PipelineKey { get; set; } = "";
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";
    public int Position { get; set; }

    /// <summary>0 to 100.</summary>
    public int Probability { get; set; }

    /// <summary>open, won or lost.</summary>
    public string Counts { get; set; } = "open";
}

/// <summary>A chance to sell.</summary>
public sealed class Deal
{
    public Guid Id { get; set; }
    public string Name { get; set; } = "";
    public string PipelineKey { get; set; } = "";
    public string StageKey { get; set; } = "";
    public decimal Amount { get; set; }
    public string Currency { get; set; } = "EUR";
    public DateOnly ExpectedClose { get; set; }
    public Guid? AccountId { get; set; }
    public Guid ContactId { get; set; }
    public Guid? OwnerId { get; set; }
    public Guid? LeadId { get; set; }
    public string Source { get; set; } = "";
    public string? Campaign { get; set; }
    public DateTime CreatedAt { get; set; }
    public DateTime StageSince { get; set; }
    public DateTime? ClosedAt { get; set; }
    public string? LostReason { get; set; }
    public string Facts { get; set; } = "{}";
    public int Version { get; set; }
}
