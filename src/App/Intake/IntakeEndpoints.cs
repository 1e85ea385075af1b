using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Intake.Letters;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Intake;

/// <summary>A channel's source with what came through it in the last 30 days. <see cref="Days"/>: arrivals a day, oldest first.</summary>
public sealed record SourceView(string Key, string Name, string Channel, int Arrivals, int Cleared, IReadOnlyList<int> Days);

public sealed record IntakeView(IReadOnlyList<SourceView> Sources, IReadOnlyList<DeliveryView> Deliveries);

public static class IntakeEndpoints
{
    public static void MapIntake(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeIntake).WithTags("Intake");
        see.MapGet("/intake", Overview).WithSummary("Sources and deliveries");
        api.MapDeliveries();
        api.MapDeliveryRows();
        api.MapCapture();
        api.MapForms();
        api.MapSingleArrivals();
        api.MapBackfills();
        api.MapLetters();
        api.MapSources();
    }

    private static async Task<Ok<IntakeView>> Overview(LanternDb db, TimeProvider clock)
    {
        var connection = await db.Connection();
        var today = clock.UtcNow().Date;
        var days = (
            await connection.QueryAsync<(string Source, int DaysAgo, int Count, int Cleared)>(
                """
                select source, (@today::date - created_at::date), count(*)::int, count(*) filter (where next_move = 'hand_over')::int
                from lead where created_at > @since group by 1, 2
                """,
                new { today, since = today.AddDays(-29) }
            )
        ).ToLookup(d => d.Source);
        var sources = await connection.QueryAsync<SourceRow>("select * from source where not retired order by channel, name");
        var views = sources.Select(s => new SourceView(s.Key, s.Name, s.Channel, days[s.Key].Sum(d => d.Count), days[s.Key].Sum(d => d.Cleared), PerDay(days[s.Key])));
        return TypedResults.Ok(new IntakeView([.. views], await DeliveryQueries.List(connection, clock.UtcNow())));
    }

    private static int[] PerDay(IEnumerable<(string Source, int DaysAgo, int Count, int Cleared)> days)
    {
        var counts = new int[30];
        foreach (var day in days)
            if (day.DaysAgo is >= 0 and < 30)
                counts[29 - day.DaysAgo] = day.Count;
        return counts;
    }
}
