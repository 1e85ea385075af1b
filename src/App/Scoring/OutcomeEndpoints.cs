using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Scoring;
using DapperLantern.Core.Scoring.Outcomes;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Scoring;

/// <summary>A model held against what became of leads, and the points that this would suggest.</summary>
public static class OutcomeEndpoints
{
    public static void MapOutcomes(this IEndpointRouteBuilder api)
    {
        api.MapGet("/scoring/outcomes", Live).Requires(Act.SeeScoring).WithTags("Scoring").WithSummary("The live model held against outcomes");
        var group = api.MapGroup("/scoring").Requires(Act.SetUp).WithTags("Scoring");
        group.MapPost("/outcomes", Given).WithSummary("A model held against outcomes");
        group.MapPost("/suggestion", Suggest).WithSummary("Points that the outcomes speak for, for a model; nothing is changed");
    }

    private static async Task<Ok<OutcomeReport>> Live(LanternDb db, Workspace workspace, OutcomeReports outcomes, CancellationToken cancel)
    {
        return TypedResults.Ok(await outcomes.Of(db, (await workspace.Model(db)).Model, cancel));
    }

    private static async Task<Results<Ok<OutcomeReport>, ProblemHttpResult>> Given(
        ScoringModel body,
        LanternDb db,
        Workspace workspace,
        OutcomeReports outcomes,
        CancellationToken cancel
    ) => WhyNot(body, workspace) is { } no ? ApiProblems.Of(no) : TypedResults.Ok(await outcomes.Of(db, body, cancel));

    private static async Task<Results<Ok<PointSuggestion>, ProblemHttpResult>> Suggest(
        ScoringModel body,
        LanternDb db,
        Workspace workspace,
        OutcomeReports outcomes,
        CancellationToken cancel
    ) => WhyNot(body, workspace) is { } no ? ApiProblems.Of(no) : TypedResults.Ok(PointSuggestion.Of(body, workspace.Catalogue, await outcomes.Outcomes(db, cancel)));

    private static Problem? WhyNot(ScoringModel model, Workspace workspace) =>
        ModelCheck.Blocking(model, workspace.Catalogue) is { } blocks ? Problem.Of("model-unfit", blocks.Problem.Path, blocks.Problem) : null;
}
