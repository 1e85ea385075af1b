using DapperLantern.App.Data;
using DapperLantern.App.Handover;
using DapperLantern.Core.Deals;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

/// <summary>A way of selling, with its stages.</summary>
public sealed class PipelineRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";
    public int Position { get; set; }

    /// <summary>See <see cref="Core.Deals.NameConvention"/>.</summary>
    public string NameForm { get; set; } = Core.Deals.NameConvention.Usual;

    /// <summary>Days from a handover to the expected close.</summary>
    public int UsualDays { get; set; } = 90;

    /// <summary>ISO 4217; used where the price list has nothing in the lead's own.</summary>
    public string Currency { get; set; } = "EUR";

    /// <summary>JSON list of <see cref="Core.Qualifying.Question"/> beyond need, budget, authority and timing.</summary>
    public string Questions { get; set; } = "[]";

    /// <summary>JSON: the condition that makes a lead qualified; null for the usual one.</summary>
    public string? Threshold { get; set; }
    public int Version { get; set; } = 1;
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

    /// <summary>Keys of <see cref="StageNeeds"/> and of deal fields that must be known before a deal enters.</summary>
    public string[] Needs { get; set; } = [];

    /// <summary>Days a deal is expected to stay; null for no expectation.</summary>
    public int? Days { get; set; }

    /// <summary>One of the palette: slate, lamp, good, bad, ink.</summary>
    public string Colour { get; set; } = "slate";
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

    /// <summary>Said by hand in place of the stage's, 0 to 100; null for the stage's.</summary>
    public int? Probability { get; set; }
    public Guid? AccountId { get; set; }
    public Guid ContactId { get; set; }
    public Guid? OwnerId { get; set; }
    public Guid? LeadId { get; set; }
    public string Source { get; set; } = "";
    public string? Campaign { get; set; }
    public DateTime CreatedAt { get; set; }
    public DateTime StageSince { get; set; }
    public DateTime? ClosedAt { get; set; }

    /// <summary>Key of a reason in the list "lost-reasons"; null for one that is not lost.</summary>
    public string? LostReason { get; set; }

    /// <summary>Key of who got it, in the list "competitors".</summary>
    public string? LostTo { get; set; }
    public string Facts { get; set; } = "{}";
    public int Version { get; set; }
}

/// <summary>Somebody's part in a deal. The deal's first contact has one too.</summary>
public sealed class DealPersonRow
{
    public Guid Id { get; set; }
    public Guid DealId { get; set; }
    public Guid ContactId { get; set; }

    /// <summary>Key in the list "deal-roles"; empty for no role in particular.</summary>
    public string Role { get; set; } = "";
    public DateTime At { get; set; }
}

/// <summary>A product on a deal.</summary>
public sealed class DealProductRow
{
    public Guid Id { get; set; }
    public Guid DealId { get; set; }
    public int Position { get; set; }
    public string ProductKey { get; set; } = "";
    public decimal Quantity { get; set; }

    /// <summary>Of one, in the deal's currency.</summary>
    public decimal Price { get; set; }
}

/// <summary>Who else sells to them.</summary>
public sealed class DealCompetitorRow
{
    public Guid DealId { get; set; }

    /// <summary>Key in the list "competitors".</summary>
    public string Competitor { get; set; } = "";
    public string Note { get; set; } = "";
}

/// <summary>A deal's stay in a stage.</summary>
public sealed class DealStageRow
{
    public Guid Id { get; set; }
    public Guid DealId { get; set; }
    public string StageKey { get; set; } = "";
    public DateTime Since { get; set; }
    public Guid? PersonId { get; set; }
}

public sealed class ProductRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";
    public string Unit { get; set; } = "piece";
    public string[] AlsoCalled { get; set; } = [];
    public int Position { get; set; }
    public bool Retired { get; set; }
}

/// <summary>The price of one of a product in a currency.</summary>
public sealed class PriceRow
{
    public string ProductKey { get; set; } = "";
    public string Currency { get; set; } = "";
    public decimal Amount { get; set; }
}

internal static class DealMapping
{
    public static void MapDealRows(this ModelBuilder builder)
    {
        builder.Map<PipelineRow>(
            "pipeline",
            p =>
            {
                p.HasKey(x => x.Key);
                p.Property(x => x.NameForm).HasDefaultValue(NameConvention.Usual);
                p.Property(x => x.UsualDays).HasDefaultValue(90);
                p.Property(x => x.Currency).HasDefaultValue("EUR");
                p.Property(x => x.Questions).HasColumnType("jsonb").HasDefaultValueSql("'[]'::jsonb");
                p.Property(x => x.Threshold).HasColumnType("jsonb");
                p.Property(x => x.Version).HasDefaultValue(1);
            }
        );
        builder.Map<StageRow>(
            "stage",
            s =>
            {
                s.HasKey(x => new { x.PipelineKey, x.Key });
                s.Property(x => x.Needs).HasDefaultValueSql("'{}'");
                s.Property(x => x.Colour).HasDefaultValue("slate");
            }
        );
        builder.Map<Deal>(
            "deal",
            d =>
            {
                d.Property(x => x.Facts).HasColumnType("jsonb");
                d.Property(x => x.Version).HasDefaultValue(1).IsConcurrencyToken();
                d.HasIndex(x => new { x.PipelineKey, x.StageKey });
                d.HasIndex(x => x.AccountId);
                d.HasIndex(x => x.ContactId);
                d.HasIndex(x => x.LeadId);
            }
        );
        builder.Map<DealPersonRow>(
            "deal_person",
            p =>
            {
                p.HasIndex(x => x.DealId);
                p.HasIndex(x => x.ContactId);
                p.HasOne<Deal>().WithMany().HasForeignKey(x => x.DealId).OnDelete(DeleteBehavior.Cascade);
                p.HasOne<Contact>().WithMany().HasForeignKey(x => x.ContactId).OnDelete(DeleteBehavior.Cascade);
            }
        );
        builder.Map<DealProductRow>(
            "deal_product",
            p =>
            {
                p.HasIndex(x => new { x.DealId, x.Position });
                p.HasOne<Deal>().WithMany().HasForeignKey(x => x.DealId).OnDelete(DeleteBehavior.Cascade);
                p.HasOne<ProductRow>().WithMany().HasForeignKey(x => x.ProductKey);
            }
        );
        builder.Map<DealCompetitorRow>(
            "deal_competitor",
            r =>
            {
                r.HasKey(x => new { x.DealId, x.Competitor });
                r.HasOne<Deal>().WithMany().HasForeignKey(x => x.DealId).OnDelete(DeleteBehavior.Cascade);
            }
        );
        builder.Map<DealStageRow>(
            "deal_stage",
            s =>
            {
                s.HasIndex(x => new { x.DealId, x.Since });
                s.HasOne<Deal>().WithMany().HasForeignKey(x => x.DealId).OnDelete(DeleteBehavior.Cascade);
            }
        );
        builder.Map<ProductRow>(
            "product",
            p =>
            {
                p.HasKey(x => x.Key);
                p.Property(x => x.Unit).HasDefaultValue("piece");
            }
        );
        builder.Map<PriceRow>(
            "price",
            p =>
            {
                p.HasKey(x => new { x.ProductKey, x.Currency });
                p.HasOne<ProductRow>().WithMany().HasForeignKey(x => x.ProductKey).OnDelete(DeleteBehavior.Cascade);
            }
        );
    }
}
