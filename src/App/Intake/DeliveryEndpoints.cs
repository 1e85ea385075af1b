using System.Security.Claims;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Npgsql;

namespace DapperLantern.App.Intake;

/// <param name="Force">True to undo also what people changed since.</param>
public sealed record TakeBackOrder(bool Force = false);

/// <summary>A list's way through the sieve.</summary>
public static class DeliveryEndpoints
{
    public static void MapDeliveries(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeIntake).WithTags("Intake");
        see.MapGet("/deliveries/{id}", Open).WithSummary("A delivery in the sieve");
        var run = api.MapGroup("").Requires(Act.RunIntake).WithTags("Intake");
        run.MapPost("/deliveries", Drop)
            .DisableAntiforgery()
            .WithMetadata(new RequestSizeLimitAttribute(ListFile.LargestFile + (1 << 20)), new RequestFormLimitsAttribute { MultipartBodyLengthLimit = ListFile.LargestFile })
            .WithSummary("Drop a list: it is read, matched and sifted; nothing is taken in");
        run.MapDeliveryTerms();
        run.MapPost("/deliveries/{id}/take-in", Take).WithSummary("Take the sifted rows in, in the background");
        run.MapPost("/deliveries/{id}/take-back", Back).WithSummary("Undo a delivery wholly, in the background");
        run.MapDelete("/deliveries/{id}", Remove).WithSummary("Stop a delivery that is not taken in, and remove it with its file");
        run.MapPost("/deliveries/{id}/try-again", TryAgain).WithSummary("Go on with work that stopped");
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Drop(
        IFormFile file,
        ClaimsPrincipal user,
        LanternDb db,
        Deliveries deliveries,
        DeliveryAnswers answers,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (file.Length > ListFile.LargestFile)
            return Trouble.Invalid(
                "file-too-large",
                $"The file has {file.Length >> 20} MB; we read up to {ListFile.LargestFile >> 20} MB at once. Nothing was kept; split the list and drop the parts."
            );
        await using var content = file.OpenReadStream();
        var (delivery, trouble) = await deliveries.Open(await db.Connection(), file.NameOr("list"), content, user.Id(), clock.UtcNow());
        if (delivery is null)
            return Trouble.Invalid(trouble!.Type, trouble.Sentence);
        await Deliveries.Keep(db, delivery, content, cancel);
        return await answers.Settled(delivery.Id, cancel);
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Open(Guid id, LanternDb db, Installation installation, TimeProvider clock) =>
        await DeliveryQueries.Open(await db.Connection(), id, installation, clock.UtcNow()) is { } view ? TypedResults.Ok(view) : Trouble.NotFound("delivery");

    private static async Task<bool> WithoutCampaign(NpgsqlConnection connection, Delivery delivery) =>
        Json.Read<DeliveryConstants>(delivery.Constants).Campaign is null
        && Json.Read<SiftPlan>(delivery.Plan).Columns.Any(c => c.Target == FieldCatalogue.Response)
        && await connection.QuerySingleAsync<bool>("select campaign is null from source where key = @Source", new { delivery.Source });

    private static async Task<Results<Ok<DeliveryView>, ProblemHttpResult>> Take(Guid id, LanternDb db, DeliveryAnswers answers, TimeProvider clock, CancellationToken cancel)
    {
        await using (var transaction = await db.Database.BeginTransactionAsync(cancel))
        {
            var delivery = await Deliveries.Lock(db, id);
            if (delivery is null)
                return Trouble.NotFound("delivery");
            if (delivery.State is Delivery.Sifting)
                return Trouble.Conflict("still-sifting", "The rows are still being sifted. Take them in when that is done.");
            if (delivery.State is Delivery.TakingBack or Delivery.TakenBack)
                return Trouble.Conflict("taken-back", "This delivery was taken back. Sift it again to take it in anew.");
            if (delivery.Source.Length == 0)
                return Trouble.Invalid(
                    "source-missing",
                    "Say where this list comes from; what it counts as and which source is paid for follow from it. Nothing was taken in.",
                    "source"
                );
            if (await WithoutCampaign(await db.Connection(), delivery))
                return Trouble.Invalid(
                    "response-without-campaign",
                    "A column says how people answered, and no campaign is named. Choose the campaign, or leave the column out.",
                    "campaign"
                );
            var rows = delivery.State is Delivery.Sifted ? delivery.Counts.Takeable : delivery.Waiting;
            if (delivery.State is Delivery.Sifted || (delivery.State is Delivery.Taken && rows > 0))
            {
                (delivery.State, delivery.StartedAt, delivery.Through, delivery.Done, delivery.ToDo, delivery.Tries, delivery.Trouble) = (
                    Delivery.Taking,
                    clock.UtcNow(),
                    0,
                    0,
                    rows,
                    0,
                    null
                );
                await db.SaveChangesAsync(cancel);
            }
            await transaction.CommitAsync(cancel);
        }
        return await answers.Finished(id, cancel);
    }

    private static async Task<Results<Ok<DeliveryView>, ProblemHttpResult>> Back(
        Guid id,
        TakeBackOrder? order,
        LanternDb db,
        DeliveryAnswers answers,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using (var transaction = await db.Database.BeginTransactionAsync(cancel))
        {
            var delivery = await Deliveries.Lock(db, id);
            if (delivery is null)
                return Trouble.NotFound("delivery");
            // What was left can still be taken back by force.
            var again = delivery.State is Delivery.TakenBack && order?.Force == true;
            if (delivery.State is not (Delivery.Taken or Delivery.TakingBack) && !again)
                return Trouble.Conflict("not-taken", "This delivery is not taken in, so there is nothing to take back.");
            if (delivery.State is not Delivery.TakingBack)
            {
                (delivery.State, delivery.StartedAt, delivery.Through, delivery.Done, delivery.ToDo) = (Delivery.TakingBack, clock.UtcNow(), 0, 0, delivery.Counts.Takeable);
                (delivery.Force, delivery.Tries, delivery.Trouble) = (order?.Force == true, 0, null);
                await db.SaveChangesAsync(cancel);
            }
            await transaction.CommitAsync(cancel);
        }
        return await answers.Finished(id, cancel);
    }

    private static async Task<Results<Ok<DeliveryView>, ProblemHttpResult>> TryAgain(Guid id, LanternDb db, DeliveryAnswers answers, CancellationToken cancel)
    {
        var connection = await db.Connection();
        if (await connection.ExecuteAsync("update delivery set tries = 0, trouble = null where id = @id", new { id }) == 0)
            return Trouble.NotFound("delivery");
        return await answers.Finished(id, cancel);
    }

    // The row is locked here and by every batch of the sieve, so a sifting under way finds it gone and ends.
    private static async Task<Results<NoContent, ProblemHttpResult>> Remove(Guid id, LanternDb db, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var delivery = await Deliveries.Lock(db, id);
        if (delivery is null)
            return Trouble.NotFound("delivery");
        var connection = await db.Connection();
        if (delivery.State is not (Delivery.Sifting or Delivery.Sifted or Delivery.TakenBack))
            return Trouble.Conflict("already-taken", "This delivery is taken in; take it back before you remove it.");
        if (await connection.QuerySingleAsync<bool>("select exists (select 1 from lead where delivery_id = @id)", new { id }))
            return Trouble.Conflict("leads-left", "Leads of this delivery are still here, since people changed them. Take those back too before you remove it.");
        await connection.ExecuteAsync(
            "delete from arrival where delivery_id = @id; delete from mend where delivery_id = @id; delete from delivery_chunk where delivery_id = @id; delete from delivery where id = @id",
            new { id }
        );
        await transaction.CommitAsync(cancel);
        return TypedResults.NoContent();
    }
}
