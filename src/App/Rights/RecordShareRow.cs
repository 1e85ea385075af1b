namespace DapperLantern.App.Rights;

/// <summary>A record that somebody sees because it was shared with them. One of the four records is named.</summary>
public sealed class RecordShareRow
{
    public Guid Id { get; set; }
    public Guid PersonId { get; set; }
    public Guid? LeadId { get; set; }
    public Guid? ContactId { get; set; }
    public Guid? AccountId { get; set; }
    public Guid? DealId { get; set; }
    public DateTime At { get; set; }
}
