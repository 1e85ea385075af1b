using DapperLantern.App.Data;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Leads.Bulk;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads;

/// <summary>The entities of leads and of what is done with them.</summary>
internal static class LeadEntities
{
    public static void MapLeadEntities(this ModelBuilder builder)
    {
        builder.ApplyConfiguration(new LeadMapping());
        builder.Map<ViewRow>(
            "lead_view",
            v =>
            {
                v.Property(x => x.Body).HasColumnType("jsonb");
                v.Property(x => x.Version).HasDefaultValue(1).IsConcurrencyToken();
                v.HasIndex(x => x.OwnerId);
            }
        );
        builder.Map<LeadEventRow>(
            "lead_event",
            e =>
            {
                e.HasIndex(x => new { x.LeadId, x.At });
                e.Property(x => x.Direction).HasDefaultValue("in");
                e.Property(x => x.CampaignKind).HasDefaultValue("");
            }
        );
        builder.Map<TaskRow>("task", t => t.HasIndex(x => new { x.OwnerId, x.DueAt }).HasFilter("done_at is null"));
        builder.Entity<TaskRow>().HasIndex(t => t.LeadId);
        builder.Map<StoryEntry>(
            "story_entry",
            s =>
            {
                s.HasIndex(x => new { x.LeadId, x.At });
                s.Property(x => x.Detail).HasColumnType("jsonb");
                s.Property(x => x.Was).HasColumnType("jsonb").HasDefaultValueSql("'[]'::jsonb");
                s.Property(x => x.Pinned).HasDefaultValue(false);
                s.HasIndex(x => new { x.DealId, x.At }).HasFilter("deal_id is not null");
                s.HasIndex(x => new { x.AccountId, x.At }).HasFilter("account_id is not null");
            }
        );
        builder.Map<BulkEdit>(
            "bulk_edit",
            b =>
            {
                b.Property(x => x.Act).HasColumnType("jsonb");
                b.HasIndex(x => new { x.PersonId, x.RequestKey }).IsUnique().HasFilter("request_key is not null");
                b.HasIndex(x => x.State).HasFilter("state in ('doing', 'undoing')");
                b.HasIndex(x => x.CreatedAt).IsDescending();
            }
        );
        builder.Map<BulkLeadRow>(
            "bulk_lead",
            l =>
            {
                l.HasKey(x => new { x.BulkId, x.Position });
                l.HasIndex(x => x.LeadId);
                l.Property(x => x.Kept).HasColumnType("jsonb");
                l.HasOne<BulkEdit>().WithMany().HasForeignKey(x => x.BulkId).OnDelete(DeleteBehavior.Cascade);
            }
        );
        builder.Map<MeetingRow>(
            "meeting",
            m =>
            {
                m.HasIndex(x => x.LeadId);
                m.HasIndex(x => new { x.StartsAt, x.EndsAt });
                m.Property(x => x.Version).HasDefaultValue(1);
            }
        );
        builder.Map<LeadFileRow>("lead_file", f => f.HasIndex(x => x.LeadId));
        builder.Map<ResourceRow>("resource", r => r.HasKey(x => x.Key));
        builder.Map<BookingRow>("booking", b => b.HasKey(x => new { x.MeetingId, x.ResourceKey }));
    }
}
