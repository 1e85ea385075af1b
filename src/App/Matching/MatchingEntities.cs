using DapperLantern.App.Data;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Matching;

/// <summary>The entities of duplicates and merges.</summary>
internal static class MatchingEntities
{
    public static void MapMatchingEntities(this ModelBuilder builder)
    {
        builder.Map<MatchKeyRow>(
            "match_key",
            k =>
            {
                k.HasKey(x => new { x.Key, x.RecordId });
                k.HasIndex(x => x.RecordId);
            }
        );
        builder.Map<DuplicateDueRow>(
            "duplicate_due",
            d =>
            {
                d.HasKey(x => x.RecordId);
                d.Property(x => x.Asked).HasDefaultValueSql("gen_random_uuid()");
            }
        );
        builder.Map<DuplicateRow>(
            "duplicate",
            t =>
            {
                t.Property(x => x.Evidence).HasColumnType("jsonb");
                t.HasIndex(x => new { x.A, x.B }).IsUnique();
                t.HasIndex(x => x.B);
                t.HasIndex(x => new { x.Kind, x.Bits }).HasFilter("state = 'open'");
            }
        );
        builder.Map<MergeRow>(
            "record_merge",
            m =>
            {
                foreach (var json in new[] { nameof(MergeRow.Gone), nameof(MergeRow.Changes), nameof(MergeRow.Moved), nameof(MergeRow.Added) })
                    m.Property<string>(json).HasColumnType("jsonb");
                m.HasIndex(x => x.KeptId);
                m.HasIndex(x => x.NowId);
                m.HasIndex(x => x.GoneId).IsUnique().HasFilter("apart_at is null");
            }
        );
    }
}
