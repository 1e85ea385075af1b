namespace DapperLantern.App.Rights;

/// <summary>That somebody's data was erased: when, by whom of us, and how much it was. Nothing that says who they were.</summary>
public sealed class ErasureRow
{
    public Guid Id { get; set; }
    public DateTime At { get; set; }

    /// <summary>Who of us did it.</summary>
    public Guid PersonId { get; set; }

    /// <summary>JSON: kind of record to how many were erased or emptied.</summary>
    public string Counts { get; set; } = "{}";
}
