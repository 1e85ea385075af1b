namespace DapperLantern.App.Matching;

/// <summary>Two records that may be one, waiting for a person or settled.</summary>
public sealed class DuplicateRow
{
    public const string Open = "open";
    public const string Distinct = "distinct";
    public const string Merged = "merged";

    public Guid Id { get; set; }

    /// <summary>lead, contact or account.</summary>
    public string Kind { get; set; } = "";

    /// <summary>The one of the two whose id sorts first.</summary>
    public Guid A { get; set; }
    public Guid B { get; set; }
    public decimal Bits { get; set; }

    /// <summary>True when the evidence is over the upper bar.</summary>
    public bool Sure { get; set; }

    /// <summary>JSON: the evidence as it was found.</summary>
    public string Evidence { get; set; } = "[]";

    /// <summary>open; distinct, which is remembered; or merged.</summary>
    public string State { get; set; } = Open;
    public DateTime FoundAt { get; set; }
    public DateTime? SettledAt { get; set; }
    public Guid? SettledBy { get; set; }
}

/// <summary>A record to be looked at for duplicates: it changed, or everything is looked at anew.</summary>
public sealed class DuplicateDueRow
{
    public Guid RecordId { get; set; }
    public string Kind { get; set; } = "";

    /// <summary>Another one each time it is asked for.</summary>
    public Guid Asked { get; set; }
}

/// <summary>A merge as it was done, with what is needed to take the two apart again.</summary>
public sealed class MergeRow
{
    public Guid Id { get; set; }

    /// <summary>lead, contact or account.</summary>
    public string Kind { get; set; } = "";
    public Guid KeptId { get; set; }

    /// <summary>The record that holds the gone one's part now: the one kept, or the one that was merged into since.</summary>
    public Guid NowId { get; set; }
    public Guid GoneId { get; set; }

    /// <summary>JSON by table: the row that went, whole, and its tags.</summary>
    public string Gone { get; set; } = "{}";

    /// <summary>JSON: what the merge changed of the one kept, see <see cref="Leads.KeptChange"/>.</summary>
    public string Changes { get; set; } = "[]";

    /// <summary>JSON: ids of what moved over, and of what was added, by table.</summary>
    public string Moved { get; set; } = "{}";
    public string Added { get; set; } = "{}";
    public DateTime At { get; set; }
    public Guid PersonId { get; set; }
    public DateTime? ApartAt { get; set; }
}
