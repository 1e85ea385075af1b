using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Reports;

/// <summary>What came of a source in the last 365 days. Each number counts leads that arrived through it in that time.</summary>
public sealed record SourceYield(string Key, string Name, int Arrived, int HandedOver, int Won);

/// <param name="Sentence">What the picture shows, from the same numbers.</param>
public sealed record SourceReport(string Sentence, IReadOnlyList<SourceYield> Sources);

public static class ReportEndpoints
{
    public static void MapReports(this IEndpointRouteBuilder api) =>
        api.MapGet("/reports/sources", Sources).Requires(Act.SeeReports).WithTags("Reports").WithSummary("What comes of each source");

    private static async Task<Ok<SourceReport>> Sources(LanternDb db, RecordScope scope, TimeProvider clock)
    {
        var since = clock.UtcNow().AddDays(-365);
        var rows = await db.Rows<SourceYield>(
            $"""
            select s.key, s.name, count(l.id)::int as arrived, (count(l.id) filter (where l.state = 'handed_over'))::int as handed_over,
              (count(d.id) filter (where t.counts = 'won'))::int as won
            from source s left join lead l on l.source = s.key and l.created_at > {since} and {scope.Sees("lead", "l"):sql}
              left join deal d on d.lead_id = l.id and {scope.Sees("deal", "d"):sql} left join stage t on t.pipeline_key = d.pipeline_key and t.key = d.stage_key
            group by s.key, s.name order by arrived desc
            """
        );
        return TypedResults.Ok(new SourceReport(Sentence(rows), rows));
    }

    private static string Sentence(List<SourceYield> rows)
    {
        var best = rows.Where(r => r.Arrived >= 10).OrderByDescending(r => (double)r.Won / r.Arrived).FirstOrDefault();
        return best is null
            ? "Too few leads came in over the last 365 days to compare sources."
            : $"Of {rows.Sum(r => r.Arrived)} leads in the last 365 days, {rows.Sum(r => r.HandedOver)} were handed over and {rows.Sum(r => r.Won)} were won. {best.Name} won most for each lead: {best.Won} of {best.Arrived}.";
    }
}
