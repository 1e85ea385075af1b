namespace DapperLantern.App.Routing;

public sealed class TeamRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";
}

/// <summary>A person's place in a team's rotation; see <see cref="Core.Routing.Turn"/>.</summary>
public sealed class TurnRow
{
    public string TeamKey { get; set; } = "";
    public Guid PersonId { get; set; }
    public int Position { get; set; }
    public int Weight { get; set; }
    public int Credit { get; set; }
}

/// <summary>Why a lead got the owner it got: the trace as it was made, with the edition that made it.</summary>
public sealed class RoutingDecisionRow
{
    public Guid Id { get; set; }
    public Guid LeadId { get; set; }
    public DateTime At { get; set; }
    public Guid Edition { get; set; }
    public string? Rule { get; set; }
    public Guid? OwnerId { get; set; }

    /// <summary>JSON list of trace lines.</summary>
    public string Trace { get; set; } = "[]";
}

/// <summary>How many open leads a person has, kept by triggers on <c>lead</c>, so that routing never counts a million rows.</summary>
public sealed class RepLoadRow
{
    public Guid PersonId { get; set; }
    public int Open { get; set; }
}
