using DapperLantern.App.Data;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Rights;

/// <summary>The entities of people's rights.</summary>
internal static class RightsEntities
{
    public static void MapRightsEntities(this ModelBuilder builder)
    {
        builder.Map<ContactReadRow>("contact_reading", r => r.HasKey(x => new { x.PersonId, x.Hour }));
        builder.Map<RoleRow>(
            "role",
            r =>
            {
                r.HasKey(x => x.Key);
                r.Property(x => x.Body).HasColumnType("jsonb");
            }
        );
        builder.Map<KnownAnswerRow>("known_answer", KnownAnswerRow.Map);
        builder.Map<RecordShareRow>(
            "record_share",
            s =>
            {
                s.HasIndex(x => new { x.PersonId, x.LeadId }).HasFilter("lead_id is not null");
                s.HasIndex(x => new { x.PersonId, x.ContactId }).HasFilter("contact_id is not null");
                s.HasIndex(x => new { x.PersonId, x.AccountId }).HasFilter("account_id is not null");
                s.HasIndex(x => new { x.PersonId, x.DealId }).HasFilter("deal_id is not null");
                s.HasIndex(x => x.LeadId).HasFilter("lead_id is not null");
            }
        );
        builder.Map<ErasureRow>("erasure", e => e.Property(x => x.Counts).HasColumnType("jsonb"));
    }
}
