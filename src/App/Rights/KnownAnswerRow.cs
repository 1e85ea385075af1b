using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DapperLantern.App.Rights;

/// <summary>That somebody was told of a record that they do not see: it is known, and with whom. One of the three records is named; of each one row a person.</summary>
public sealed class KnownAnswerRow
{
    public const string Shared = "shared";
    public const string Given = "given";
    public const string Declined = "declined";

    /// <summary>By which whoever was told asks for the record.</summary>
    public Guid Id { get; set; }

    /// <summary>Who was told.</summary>
    public Guid PersonId { get; set; }
    public Guid? LeadId { get; set; }
    public Guid? ContactId { get; set; }
    public Guid? AccountId { get; set; }
    public DateTime FirstAt { get; set; }
    public DateTime LastAt { get; set; }

    /// <summary>In how many hours they were told.</summary>
    public int Times { get; set; }

    /// <summary>When they asked for it; null while they have not.</summary>
    public DateTime? AskedAt { get; set; }

    /// <summary>What they said with it.</summary>
    public string Word { get; set; } = "";

    /// <summary>shared, given or declined; null while nobody answered.</summary>
    public string? Outcome { get; set; }
    public DateTime? AnsweredAt { get; set; }
    public Guid? AnsweredById { get; set; }

    /// <summary>Whose the record was before it was given; null for nobody's.</summary>
    public Guid? OwnerBeforeId { get; set; }

    internal static void Map(EntityTypeBuilder<KnownAnswerRow> k)
    {
        k.HasIndex(x => new { x.PersonId, x.LeadId }).IsUnique().HasFilter("lead_id is not null");
        k.HasIndex(x => new { x.PersonId, x.ContactId }).IsUnique().HasFilter("contact_id is not null");
        k.HasIndex(x => new { x.PersonId, x.AccountId }).IsUnique().HasFilter("account_id is not null");
        k.HasIndex(x => new { x.PersonId, x.LastAt });
        k.HasIndex(x => x.AskedAt).HasFilter("asked_at is not null and outcome is null");
        k.HasIndex(x => x.LeadId).HasFilter("lead_id is not null");
    }
}
