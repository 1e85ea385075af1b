using System.Security.Claims;
using System.Text;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Scoring;

public sealed record ModelOrder(ScoringModel Model, [Text(300)] string Note = "");

/// <summary>A draft read from a file.</summary>
/// <param name="Problems">What could not be read and was left out.</param>
public sealed record ModelImportView(DraftModel Draft, IReadOnlyList<Problem> Problems);

/// <summary>Drafting, publishing and going back with scoring models; see <see cref="Editions"/>.</summary>
public static class EditionEndpoints
{
    public static void MapEditions(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("/scoring").Requires(Act.SeeScoring).WithTags("Scoring");
        see.MapGet("/editions", List).WithSummary("All editions, newest first");
        see.MapGet("/editions/{number:int}", One).WithSummary("One edition's model");
        see.MapGet("/editions/{number:int}/file", Export).WithSummary("One edition as a file").Produces<string>(200, "application/json");
        var run = api.MapGroup("/scoring").Requires(Act.SetUp).WithTags("Scoring");
        run.MapPut("/draft", SaveDraft).WithSummary("Keep the draft (If-Match; 0 for a new one)");
        run.MapDelete("/draft", Drop).WithSummary("Drop the draft");
        run.MapPost("/draft/file", Import)
            .WithSummary("Read a draft from a file; the draft there is, is replaced (If-Match; 0 where there is none)")
            .Accepts<string>("application/json");
        run.MapPost("/publish", Publish).WithSummary("Make the draft live (If-Match)");
        run.MapPost("/editions/{number:int}/publish", Back).WithSummary("Go back to an old edition: its model goes live again");
    }

    private static async Task<Ok<List<EditionLine>>> List(LanternDb db) => TypedResults.Ok(await Editions.List(db, Edition.Scoring));

    private static async Task<Results<Ok<ModelView>, ProblemHttpResult>> One(int number, LanternDb db, Workspace workspace) =>
        await Body(db, number) is { } model ? TypedResults.Ok(ModelView.Of(model, workspace.Catalogue)) : ApiProblems.NotFound("edition");

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Export(int number, LanternDb db) =>
        await Body(db, number) is { } model
            ? TypedResults.File(Encoding.UTF8.GetBytes(ModelFile.Write(model)), "application/json", $"scoring-model-{number}.json")
            : ApiProblems.NotFound("edition");

    private static async Task<ScoringModel?> Body(LanternDb db, int number) => await Editions.Body(db, Edition.Scoring, number) is { } body ? Json.Read<ScoringModel>(body) : null;

    private static async Task<Results<Ok<DraftModel>, ProblemHttpResult>> SaveDraft(
        ModelOrder body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        Workspace workspace
    ) =>
        request.Version() is not { } version ? ApiProblems.DraftVersionMissing()
        : await Write(db, body.Model, body.Note, version, user) ? TypedResults.Ok((await ScoringEndpoints.Draft(db, workspace))!)
        : ApiProblems.Stale();

    private static Task<bool> Write(LanternDb db, ScoringModel model, string? note, int version, ClaimsPrincipal user) =>
        Editions.Write(db, Edition.Scoring, Json.Write(model), note, version, user);

    private static async Task<NoContent> Drop(LanternDb db)
    {
        await Editions.Drop(db, Edition.Scoring);
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<ModelImportView>, ProblemHttpResult>> Import(HttpRequest request, ClaimsPrincipal user, LanternDb db, Workspace workspace)
    {
        if (request.Version() is not { } version)
            return ApiProblems.DraftVersionMissing();
        using var reader = new StreamReader(request.Body, new UTF8Encoding(false, throwOnInvalidBytes: false));
        var reading = ModelFile.Read(await reader.ReadToEndAsync());
        if (reading.Model is not { } model)
            return ApiProblems.Of(reading.Problems[0]);
        return await Write(db, model, "From a file", version, user)
            ? TypedResults.Ok(new ModelImportView((await ScoringEndpoints.Draft(db, workspace))!, reading.Problems))
            : ApiProblems.Stale();
    }

    private static async Task<Results<Ok<ScoringView>, ProblemHttpResult>> Publish(
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        WorkspaceConfiguration configuration,
        BatchRescorer rescorer,
        RescoreRunner runner,
        RecordScope scope,
        ScoreMaps maps,
        TimeProvider clock
    )
    {
        var workspace = configuration.Current;
        if (request.Version() is not { } version)
            return ApiProblems.DraftVersionMissing();
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await Editions.Find(db, Edition.Scoring, version) is not var (id, _, body))
            return ApiProblems.Stale();
        workspace = await Editions.HoldLive(db, Edition.Scoring, configuration);
        if (ModelCheck.Blocking(Json.Read<ScoringModel>(body), workspace.Catalogue) is { } blocks)
            return ApiProblems.Of("model-unfit", blocks.Problem.Path, blocks.Problem);
        await GoLive(db, id, user, rescorer, clock);
        await transaction.CommitAsync();
        return await Done(db, scope, configuration, runner, maps);
    }

    private static async Task<Results<Ok<ScoringView>, ProblemHttpResult>> Back(
        int number,
        ClaimsPrincipal user,
        LanternDb db,
        WorkspaceConfiguration configuration,
        BatchRescorer rescorer,
        RescoreRunner runner,
        RecordScope scope,
        ScoreMaps maps,
        TimeProvider clock
    )
    {
        var workspace = configuration.Current;
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await Editions.Old(db, Edition.Scoring, number) is not { } body)
            return ApiProblems.NotFound("old edition");
        workspace = await Editions.HoldLive(db, Edition.Scoring, configuration);
        if (await Editions.IsLive(db, Edition.Scoring, number))
            return TypedResults.Ok(await ScoringEndpoints.View(db, scope, workspace, maps));
        // A field or a value may have gone since.
        if (ModelCheck.Blocking(Json.Read<ScoringModel>(body), workspace.Catalogue) is { } blocks)
            return ApiProblems.Of("edition-unfit", blocks.Problem.Path, number, blocks.Problem);
        await GoLive(db, await Editions.Again(db, Edition.Scoring, number), user, rescorer, clock);
        await transaction.CommitAsync();
        return await Done(db, scope, configuration, runner, maps);
    }

    private static async Task GoLive(LanternDb db, Guid edition, ClaimsPrincipal user, BatchRescorer rescorer, TimeProvider clock)
    {
        await Editions.GoLive(db, Edition.Scoring, edition, user.Id(), clock.UtcNow());
        await rescorer.Begin(db, edition);
    }

    private static async Task<Results<Ok<ScoringView>, ProblemHttpResult>> Done(
        LanternDb db,
        RecordScope scope,
        WorkspaceConfiguration configuration,
        RescoreRunner runner,
        ScoreMaps maps
    )
    {
        var workspace = await configuration.Changed();
        runner.Wake();
        return TypedResults.Ok(await ScoringEndpoints.View(db, scope, workspace, maps));
    }
}
