using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <param name="Force">True to undo also what people changed since.</param>
public sealed record TakeBackOrder(bool Force = false);

/// <summary>A list's way through the sieve.</summary>
public static class ImportEndpoints
{
    public static void MapImports(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeIntake).WithTags("Intake");
        see.MapGet("/imports/{id}", Open).WithSummary("An import in the sieve");
        var run = api.MapGroup("").Requires(Act.RunIntake).WithTags("Intake");
        run.MapPost("/imports", Drop)
            .DisableAntiforgery()
            .WithMetadata(new RequestSizeLimitAttribute(ListFile.LargestFile + (1 << 20)), new RequestFormLimitsAttribute { MultipartBodyLengthLimit = ListFile.LargestFile })
            .WithSummary("Drop a list: it is read, matched and sifted; nothing is taken in");
        run.MapImportTerms();
        run.MapPost("/imports/{id}/take-in", Take).WithSummary("Take the sifted rows in, in the background");
        run.MapPost("/imports/{id}/take-back", Back).WithSummary("Undo an import wholly, in the background");
        run.MapDelete("/imports/{id}", Remove).WithSummary("Stop an import that is not taken in, and remove it with its file");
        run.MapPost("/imports/{id}/try-again", TryAgain).WithSummary("Go on with work that stopped");
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Drop(
        IFormFile file,
        ClaimsPrincipal user,
        LanternDb db,
        Imports imports,
        ImportAnswers answers,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (file.Length > ListFile.LargestFile)
            return ApiProblems.Of("list-too-large", "", file.Length >> 20, ListFile.LargestFile >> 20);
        await using var content = file.OpenReadStream();
        var (import, trouble) = await imports.Open(db, file.NameOr("list"), content, user.Id(), clock.UtcNow());
        if (import is null)
            return ApiProblems.Of(trouble!);
        await Imports.Save(db, import, content, cancel);
        return await answers.Settled(import.Id, cancel);
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Open(Guid id, LanternDb db, Workspace workspace, TimeProvider clock) =>
        await ImportQueries.Open(db, id, workspace, clock.UtcNow()) is { } view ? TypedResults.Ok(view) : ApiProblems.NotFound("import");

    private static async Task<bool> WithoutCampaign(LanternDb db, Import import) =>
        Json.Read<ImportConstants>(import.Constants).Campaign is null
        && Json.Read<SiftPlan>(import.Plan).Columns.Any(c => c.Target == FieldCatalogue.Response)
        && await db.Set<SourceRow>().Where(x => x.Key == import.Source).Select(x => x.Campaign == null).SingleAsync();

    private static async Task<Results<Ok<ImportView>, ProblemHttpResult>> Take(Guid id, LanternDb db, ImportAnswers answers, TimeProvider clock, CancellationToken cancel)
    {
        await using (var transaction = await db.Database.BeginTransactionAsync(cancel))
        {
            var import = await Imports.Lock(db, id);
            if (import is null)
                return ApiProblems.NotFound("import");
            if (import.State is Import.Sifting)
                return ApiProblems.Of("still-sifting");
            if (import.State is Import.TakingBack or Import.TakenBack)
                return ApiProblems.Of("taken-back");
            if (import.Source is null)
                return ApiProblems.Of("source-missing", "source");
            if (await WithoutCampaign(db, import))
                return ApiProblems.Of("response-without-campaign", "campaign");
            var rows = import.State is Import.Sifted ? import.Counts.Takeable : import.Waiting;
            if (import.State is Import.Sifted || (import.State is Import.Taken && rows > 0))
            {
                (import.State, import.StartedAt, import.Through, import.Done, import.ToDo, import.Tries, import.Trouble) = (Import.Taking, clock.UtcNow(), 0, 0, rows, 0, null);
                await db.SaveChangesAsync(cancel);
            }
            await transaction.CommitAsync(cancel);
        }
        return await answers.Finished(id, cancel);
    }

    private static async Task<Results<Ok<ImportView>, ProblemHttpResult>> Back(
        Guid id,
        TakeBackOrder? order,
        LanternDb db,
        ImportAnswers answers,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using (var transaction = await db.Database.BeginTransactionAsync(cancel))
        {
            var import = await Imports.Lock(db, id);
            if (import is null)
                return ApiProblems.NotFound("import");
            // What was left can still be taken back by force.
            var again = import.State is Import.TakenBack && order?.Force == true;
            if (import.State is not (Import.Taken or Import.TakingBack) && !again)
                return ApiProblems.Of("not-taken");
            if (import.State is not Import.TakingBack)
            {
                (import.State, import.StartedAt, import.Through, import.Done, import.ToDo) = (Import.TakingBack, clock.UtcNow(), 0, 0, import.Counts.Takeable);
                (import.Force, import.Tries, import.Trouble) = (order?.Force == true, 0, null);
                await db.SaveChangesAsync(cancel);
            }
            await transaction.CommitAsync(cancel);
        }
        return await answers.Finished(id, cancel);
    }

    private static async Task<Results<Ok<ImportView>, ProblemHttpResult>> TryAgain(Guid id, LanternDb db, ImportAnswers answers, CancellationToken cancel)
    {
        if (await db.Set<Import>().Where(x => x.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.Tries, 0).SetProperty(x => x.Trouble, (string?)null)) == 0)
            return ApiProblems.NotFound("import");
        return await answers.Finished(id, cancel);
    }

    // The row is locked here and by every batch of the sieve, so a sifting under way finds it gone and ends.
    private static async Task<Results<NoContent, ProblemHttpResult>> Remove(Guid id, LanternDb db, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var import = await Imports.Lock(db, id);
        if (import is null)
            return ApiProblems.NotFound("import");
        if (import.State is not (Import.Sifting or Import.Sifted or Import.TakenBack))
            return ApiProblems.Of("already-taken");
        if (await db.Set<Lead>().AnyAsync(x => x.ImportId == id))
            return ApiProblems.Of("leads-left");
        await db.Set<Arrival>().Where(x => x.ImportId == id).ExecuteDeleteAsync(cancel);
        await db.Set<MendRow>().Where(x => x.ImportId == id).ExecuteDeleteAsync(cancel);
        await db.Set<ImportChunk>().Where(x => x.ImportId == id).ExecuteDeleteAsync(cancel);
        await db.Set<Import>().Where(x => x.Id == id).ExecuteDeleteAsync(cancel);
        await transaction.CommitAsync(cancel);
        return TypedResults.NoContent();
    }
}
