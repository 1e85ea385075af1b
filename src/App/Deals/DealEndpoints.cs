using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Deals;

public static class DealEndpoints
{
    public static void MapDeals(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeDeals).WithTags("Deals");
        see.MapGet("/deals", Lanes).WithSummary("The open deals of a pipeline as lanes");
        see.MapGet("/deals/rows", Rows).WithSummary("Some of the open deals of a pipeline, or of those closed lately");
        see.MapGet("/deals/{id:guid}", Open).WithSummary("One deal");
        api.MapPatch("/deals/{id:guid}", Change).Requires(Act.WorkDeals).WithTags("Deals").WithSummary("Move or change a deal (If-Match)");
        api.MapDealParts();
        api.MapDealMessages();
    }

    private static async Task<Results<Ok<DealsView>, ProblemHttpResult>> Lanes(string? pipeline, LanternDb db, PipelineQueries queries, Workspace workspace) =>
        workspace.Pipeline(pipeline) is { } chosen ? TypedResults.Ok(await queries.Lanes(db, chosen)) : ApiProblems.NotFound("pipeline");

    private static async Task<Results<Ok<DealRows>, ProblemHttpResult>> Rows(
        string? pipeline,
        bool? closed,
        string? stage,
        int? from,
        int? most,
        LanternDb db,
        PipelineQueries queries,
        Workspace workspace
    )
    {
        if (workspace.Pipeline(pipeline) is not { } chosen)
            return ApiProblems.NotFound("pipeline");
        if (from is < 0 or > 1_000_000 || most is < 1 or > PipelineQueries.MostRows)
            return ApiProblems.Of("page-unfit", "from", PipelineQueries.MostRows);
        return TypedResults.Ok(await queries.Rows(db, chosen, closed ?? false, stage, from ?? 0, most ?? PipelineQueries.MostRows));
    }

    private static async Task<Results<Ok<DealSheet>, ProblemHttpResult>> Open(Guid id, ClaimsPrincipal user, LanternDb db, DealQueries queries) =>
        await queries.Sheet(db, id, user) is { } sheet ? TypedResults.Ok(sheet) : ApiProblems.NotFound("deal");

    private static async Task<Results<Ok<DealSheet>, ProblemHttpResult>> Change(
        Guid id,
        DealChange change,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        DealEditor changing,
        DealQueries queries
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (deal, no) = await DealEditor.Lock(db, id, user, request.Version());
        if (no is not null)
            return ApiProblems.Of(no);
        if (await changing.Change(db, deal!, change, user) is { } trouble)
            return ApiProblems.Of(trouble);
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }
}
