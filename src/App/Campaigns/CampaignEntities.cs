using DapperLantern.App.Data;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>The entities of campaigns, tags and consents.</summary>
internal static class CampaignEntities
{
    public static void MapCampaignEntities(this ModelBuilder builder)
    {
        builder.Map<CampaignRow>(
            "campaign",
            c =>
            {
                c.HasKey(x => x.Key);
                c.Property(x => x.Kind).HasDefaultValue("other");
                c.Property(x => x.About).HasDefaultValue("");
                c.Property(x => x.Version).HasDefaultValue(1);
            }
        );
        builder.Map<CampaignCostRow>("campaign_cost", c => c.HasIndex(x => new { x.CampaignKey, x.SpentOn }));
        builder.Map<CampaignResponseRow>(
            "campaign_response",
            r =>
            {
                // Holds all that the rates are counted from, in the order in which they are counted.
                r.HasIndex(x => new
                {
                    x.CampaignKey,
                    x.Response,
                    x.LeadId,
                    x.Known,
                });
                r.HasIndex(x => x.LeadId);
            }
        );
        builder.Map<ConsentRow>(
            "consent",
            c =>
            {
                c.HasIndex(x => x.LeadId).HasFilter("lead_id is not null");
                c.HasIndex(x => x.PersonKey);
                c.HasIndex(x => x.Ask).HasFilter("ask is not null");
            }
        );
        builder.Map<BarredRow>("barred", b => b.HasIndex(x => x.HashKey));
        builder.Entity<BarredRow>().HasIndex(x => new { x.Kind, x.Hash }).IsUnique();
        builder.Map<TagRow>(
            "tag",
            t =>
            {
                t.HasKey(x => x.Key);
                t.Property(x => x.GroupName).HasDefaultValue("");
                t.Property(x => x.Colour).HasDefaultValue("slate");
            }
        );
        builder.Map<LeadTagRow>("lead_tag", t => t.HasKey(x => new { x.LeadId, x.TagKey }));
        builder.Entity<LeadTagRow>().HasIndex(t => t.TagKey);
    }
}
