using DapperLantern.App.Data;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Scoring;

/// <summary>The entities of scoring.</summary>
internal static class ScoringEntities
{
    public static void MapScoringEntities(this ModelBuilder builder)
    {
        builder.Map<CrossingRow>("crossing", c => c.HasIndex(x => new { x.LeadId, x.At }));
        builder.Map<RescoreRun>("rescore_run", r => r.HasIndex(x => x.StartedAt));
    }
}
