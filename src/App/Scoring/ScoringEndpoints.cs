using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Scoring;

public sealed record CriterionView(string Key, string Label, int Least, int Most, IReadOnlyList<FitLineView> Lines);

/// <param name="When">The condition as words.</param>
public sealed record FitLineView(string Words, string When, int Points);

/// <summary>Open leads of one cell of the map, 5 points a side. <see cref="Fit"/> and <see cref="Engagement"/> are its lower edges.</summary>
public sealed record MapCell(int Fit, int Engagement, int Leads);

public sealed record QuarterCount(string Move, string Label, int Leads);

public sealed record ScoringView(
    int Edition,
    DateTime PublishedAt,
    Bars Bars,
    IReadOnlyList<CriterionView> Fit,
    IReadOnlyList<EngagementSignal> Engagement,
    Silence? Silence,
    IReadOnlyList<MapCell> Map,
    IReadOnlyList<QuarterCount> Quarters
);

public static class ScoringEndpoints
{
    public static void MapScoring(this IEndpointRouteBuilder api) =>
        api.MapGet("/scoring", Live).Requires(Act.SeeScoring).WithTags("Scoring").WithSummary("The live scoring model and the map of open leads");

    private static async Task<Ok<ScoringView>> Live(LanternDb db, Installation installation)
    {
        var connection = await db.Connection();
        var live = await installation.Model(connection);
        var published = await connection.QuerySingleAsync<DateTime>("select published_at from edition where id = @Edition", new { live.Edition });
        var cells = await connection.QueryAsync<MapCell>(
            """
            select least(fit / 5, 19) * 5 as fit, least(engagement / 5, 19) * 5 as engagement, count(*)::int as leads
            from lead where state in ('new', 'in_work', 'on_hold', 'qualified') group by 1, 2 order by 1, 2
            """
        );
        var quarters = (
            await connection.QueryAsync<(string Move, int Leads)>("select next_move, count(*)::int from lead where state in ('new', 'in_work', 'on_hold', 'qualified') group by 1")
        ).ToDictionary(q => q.Move, q => q.Leads);
        var criteria = live.Model.Fit.Select(c => new CriterionView(
            c.Key,
            c.Label,
            c.Least,
            c.Most,
            [.. c.Lines.Select(l => new FitLineView(l.Words, ConditionWords.Sentence(l.When, installation.Catalogue), l.Points))]
        ));
        return TypedResults.Ok(
            new ScoringView(
                live.Number,
                published,
                live.Model.Bars,
                [.. criteria],
                live.Model.Engagement,
                live.Model.Silence,
                [.. cells],
                [.. NextMove.Choices.Select(c => new QuarterCount(c.Key, c.Label, quarters.GetValueOrDefault(c.Key)))]
            )
        );
    }
}
