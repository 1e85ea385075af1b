using System.Text.Json;
using DapperLantern.Core.Leads.Bulk;

namespace DapperLantern.App.Leads.Bulk;

/// <summary>Something done to many leads at once: what, by whom, how far it is.</summary>
public sealed class BulkEdit
{
    public const string Doing = "doing";
    public const string Done = "done";
    public const string Undoing = "undoing";
    public const string Undone = "undone";

    public Guid Id { get; set; }
    public Guid PersonId { get; set; }

    /// <summary>JSON of a <see cref="BulkAct"/>.</summary>
    public string Act { get; set; } = "{}";

    /// <summary>The act as words.</summary>
    public string Words { get; set; } = "";

    /// <summary>True when only leads of the person may be changed.</summary>
    public bool OwnOnly { get; set; }

    /// <summary>One of the constants. While it ends in -ing, a process works on it or will.</summary>
    public string State { get; set; } = Doing;

    /// <summary>By which a request sent twice is known; null when it was not given.</summary>
    public string? RequestKey { get; set; }
    public DateTime CreatedAt { get; set; }
    public DateTime? DoneAt { get; set; }
    public DateTime? UndoneAt { get; set; }

    /// <summary>Leads it is about, frozen when it was ordered.</summary>
    public int Leads { get; set; }

    /// <summary>Leads the work under way has looked at.</summary>
    public int Looked { get; set; }
    public int Changed { get; set; }
    public int LeftAlone { get; set; }

    /// <summary>Leads that are again what they were.</summary>
    public int Restored { get; set; }
    public int Tries { get; set; }
    public string? Trouble { get; set; }
}

/// <summary>One lead of a <see cref="BulkEdit"/>.</summary>
public sealed class BulkLeadRow
{
    public Guid BulkId { get; set; }

    /// <summary>From 1, in the order of the leads' numbers.</summary>
    public int Position { get; set; }
    public Guid LeadId { get; set; }

    /// <summary>changed, same or left; null while not looked at.</summary>
    public string? Outcome { get; set; }

    /// <summary>Why it was left, or not restored.</summary>
    public string? Why { get; set; }

    /// <summary>JSON of a <see cref="BulkKept"/>, of a changed one.</summary>
    public string? Kept { get; set; }

    /// <summary>True once it is what it was; false when it could not be; null before.</summary>
    public bool? Restored { get; set; }
}

/// <summary>What is needed to undo an act upon one lead: what was there before, and what was put. Only what the act touches is filled.</summary>
public sealed record BulkKept
{
    public string? Before { get; init; }
    public string? After { get; init; }
    public Provenance? From { get; init; }
    public Guid? OwnerBefore { get; init; }
    public Guid? OwnerAfter { get; init; }
    public DateTime? ClockStarted { get; init; }
    public DateTime? ClockDue { get; init; }
    public IReadOnlyList<TaskOwner>? Tasks { get; init; }
    public Guid? TaskMade { get; init; }
    public string? ReasonBefore { get; init; }
    public DateTime? WokeAt { get; init; }

    /// <summary>When the lead was touched last before a move, and when it was moved.</summary>
    public DateTime? TouchedBefore { get; init; }
    public DateTime? MovedAt { get; init; }

    /// <summary>Rows of a lead that was removed, by table.</summary>
    public Dictionary<string, JsonElement>? Gone { get; init; }
}

/// <summary>Whose an open task was.</summary>
public sealed record TaskOwner(Guid Task, Guid Owner);
