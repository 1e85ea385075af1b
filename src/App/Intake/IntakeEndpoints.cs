using DapperLantern.App.Data;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Intake.Letters;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>A channel's source with what came through it in the last 30 days. <see cref="Days"/>: arrivals a day, oldest first.</summary>
/// <param name="CostEach">Money spent in those days on the campaigns its leads came by, shared evenly over all leads of each campaign, for each of its leads; null where none was spent, or costs are kept from the reader.</param>
public sealed record SourceView(string Key, string Name, string Channel, int Arrivals, int Cleared, IReadOnlyList<int> Days, decimal? CostEach, string Currency);

/// <param name="ShowsCosts">False where costs are kept from the reader.</param>
public sealed record IntakeView(IReadOnlyList<SourceView> Sources, IReadOnlyList<ImportView> Imports, bool ShowsCosts);

public static class IntakeEndpoints
{
    public static void MapIntake(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeIntake).WithTags("Intake");
        see.MapGet("/intake", Overview).WithSummary("Sources and imports");
        api.MapImports();
        api.MapImportRows();
        api.MapCapture();
        api.MapForms();
        api.MapSingleArrivals();
        api.MapBackfills();
        api.MapLetters();
        api.MapSources();
    }

    private static async Task<Ok<IntakeView>> Overview(LanternDb db, RecordScope scope, TimeProvider clock)
    {
        var today = clock.UtcNow().Date;
        var days = (
            await db.Rows<DayOfSource>(
                $"""
                select source, ({today}::date - created_at::date) as days_ago, count(*)::int as count, count(*) filter (where next_move = 'hand_over')::int as cleared
                from lead l where created_at > {today.AddDays(-29)} and {scope.Sees("lead", "l"):sql} group by 1, 2
                """
            )
        ).ToLookup(d => d.Source);
        var sources = await db.Set<SourceRow>().AsNoTracking().Where(x => !x.Retired).OrderBy(x => x.Position).ThenBy(x => x.Channel).ThenBy(x => x.Name).ToListAsync();
        var costs = scope.HidesCosts ? [] : (await Costs(db, scope, today.AddDays(-29))).ToDictionary(c => c.Source);
        var views = sources.Select(s =>
        {
            var (each, currency) = costs.TryGetValue(s.Key, out var cost) ? (cost.Each, cost.Currency) : ((decimal?)null, "");
            return new SourceView(s.Key, s.Name, s.Channel, days[s.Key].Sum(d => d.Count), days[s.Key].Sum(d => d.Cleared), PerDay(days[s.Key]), each, currency);
        });
        return TypedResults.Ok(new IntakeView([.. views], await ImportQueries.List(db, clock.UtcNow()), !scope.HidesCosts));
    }

    private static Task<List<CostOfSource>> Costs(LanternDb db, RecordScope scope, DateTime since) =>
        db.Rows<CostOfSource>(
            $"""
            with came as (select source, campaign, count(*) as leads from lead l where created_at > {since} and {scope.Sees("lead", "l"):sql} group by 1, 2),
            spent as (select k.campaign_key, sum(k.amount) as amount, min(c.currency) as currency from campaign_cost k join campaign c on c.key = k.campaign_key where k.spent_on > {since}::date group by 1),
            shared as (select campaign, s.amount / sum(came.leads) as each, s.currency from came join spent s on s.campaign_key = came.campaign group by campaign, s.amount, s.currency)
            select came.source, round(sum(came.leads * shared.each) / (select sum(leads) from came a where a.source = came.source), 2) as each, min(shared.currency) as currency
            from came join shared on shared.campaign = came.campaign group by came.source having min(shared.currency) = max(shared.currency)
            """
        );

    private sealed record DayOfSource(string Source, int DaysAgo, int Count, int Cleared);

    private sealed record CostOfSource(string Source, decimal? Each, string Currency);

    private static int[] PerDay(IEnumerable<DayOfSource> days)
    {
        var counts = new int[30];
        foreach (var day in days)
            if (day.DaysAgo is >= 0 and < 30)
                counts[29 - day.DaysAgo] = day.Count;
        return counts;
    }
}
