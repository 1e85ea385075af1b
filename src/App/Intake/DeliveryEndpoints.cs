using System.Collections.Immutable;
using System.Security.Claims;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.App.Setup;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Intake;

/// <summary>How a list shall be read. What does not fit its format is passed over.</summary>
/// <param name="HeadingRow">From 1; 0 for none; null to have it found.</param>
public sealed record ReadingChange(string Encoding = "", string Separator = "", string Sheet = "", int? HeadingRow = null);

/// <summary>Where a column goes: a target or empty for none; and how it writes dates and numbers, null for as the column shows.</summary>
public sealed record ColumnChange(string Target, DateOrder? Dates = null, DecimalMark? Decimals = null);

/// <summary>A changed matching, a line for each column.</summary>
/// <param name="Country">Taken where a row names none; empty for none.</param>
public sealed record MatchingChange(IReadOnlyList<ColumnChange> Columns, string Country = "", bool AsideUnread = false);

/// <summary>What holds for all rows.</summary>
public sealed record TermsChange(string Source, DeliveryConstants Constants, DeliveryPolicies Policies);

/// <param name="Force">True to undo also what people changed since.</param>
public sealed record TakeBackOrder(bool Force = false);

/// <summary>A list's way through the sieve.</summary>
public static class DeliveryEndpoints
{
    // Small lists come back with the answer; for large ones the page shows the progress.
    private static readonly TimeSpan WaitForSmall = TimeSpan.FromSeconds(2.5);

    public static void MapDeliveries(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeIntake).WithTags("Intake");
        see.MapGet("/deliveries/{id}", Open).WithSummary("A delivery in the sieve");
        var run = api.MapGroup("").Requires(Act.RunIntake).WithTags("Intake");
        run.MapPost("/deliveries", Drop)
            .DisableAntiforgery()
            .WithMetadata(new RequestSizeLimitAttribute(ListFile.LargestFile + (1 << 20)), new RequestFormLimitsAttribute { MultipartBodyLengthLimit = ListFile.LargestFile })
            .WithSummary("Drop a list: it is read, matched and sifted; nothing is taken in");
        run.MapPut("/deliveries/{id}/reading", ReadOtherwise).WithSummary("Read the file in another way; matches and sifts anew");
        run.MapPut("/deliveries/{id}/matching", Rematch).WithSummary("Change the matching; sifts anew");
        run.MapPut("/deliveries/{id}/terms", Terms).WithSummary("Source, constants and policies of a delivery not taken in yet");
        run.MapPost("/deliveries/{id}/take-in", Take).WithSummary("Take the sifted rows in, in the background");
        run.MapPost("/deliveries/{id}/take-back", Back).WithSummary("Undo a delivery wholly, in the background");
        run.MapPost("/deliveries/{id}/sift", SiftOnceMore).WithSummary("Sift a delivery that was taken back, to take it in anew");
        run.MapDelete("/deliveries/{id}", Remove).WithSummary("Stop a delivery that is not taken in, and remove it with its file");
        run.MapPost("/deliveries/{id}/try-again", TryAgain).WithSummary("Go on with work that stopped");
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Drop(
        IFormFile file,
        ClaimsPrincipal user,
        LanternDb db,
        Deliveries deliveries,
        DeliveryRunner runner,
        Installation installation,
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
        return await Settled(delivery.Id, db, runner, installation, clock, cancel);
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Open(Guid id, LanternDb db, Installation installation, TimeProvider clock) =>
        await DeliveryQueries.Open(await db.Connection(), id, installation, clock.UtcNow()) is { } view ? TypedResults.Ok(view) : Trouble.NotFound("delivery");

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> ReadOtherwise(
        Guid id,
        ReadingChange change,
        LanternDb db,
        Deliveries deliveries,
        DeliveryRunner runner,
        Installation installation,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var connection = await db.Connection();
        var delivery = await Deliveries.Lock(db, id);
        if (Refused(delivery) is { } refused)
            return refused;
        var old = Json.Read<ListReading>(delivery!.Reading);
        if (Check(change, old) is { } wrong)
            return wrong;
        var reading = old with
        {
            Encoding = old.Encoding.Length > 0 ? change.Encoding : "",
            Separator = old.Separator.Length > 0 ? change.Separator : "",
            Sheet = old.Sheet.Length > 0 ? change.Sheet : "",
            HeadingRow = change.HeadingRow ?? 1,
            Doubt = null,
        };
        await using (var content = await DeliveryContent.Open(connection, id, cancel))
        {
            if (change.HeadingRow is null)
                reading = ListFile.WithHeading(content, reading, installation.Catalogue);
            if (ListFile.Check(content, reading) is { } trouble)
                return Trouble.Invalid(trouble.Type, trouble.Sentence.Replace(" Nothing was kept.", " Nothing was changed.", StringComparison.Ordinal));
            await deliveries.Match(connection, delivery, content, reading);
        }
        SiftAnew(delivery);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return await Settled(id, db, runner, installation, clock, cancel);
    }

    private static ProblemHttpResult? Check(ReadingChange change, ListReading old)
    {
        if (old.Encoding.Length > 0 && !TextEncoding.Known.Contains(change.Encoding))
            return Trouble.Invalid("encoding-unknown", $"Choose one of {string.Join(", ", TextEncoding.Known)}.", "encoding");
        if (old.Separator.Length > 0 && (change.Separator.Length != 1 || change.Separator[0] is '"' or '\r' or '\n'))
            return Trouble.Invalid("separator-unfit", "The separator is one letter, and neither a quote nor a line break.", "separator");
        if (old.Sheet.Length > 0 && old.Sheets.All(s => s.Name != change.Sheet))
            return Trouble.Invalid("sheet-unknown", $"The workbook has no sheet \u201c{change.Sheet}\u201d.", "sheet");
        return change.HeadingRow is < 0 or > 1000 ? Trouble.Invalid("heading-row-unfit", "The heading row is between 1 and 1000, or 0 for none.", "headingRow") : null;
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Rematch(
        Guid id,
        MatchingChange change,
        LanternDb db,
        DeliveryRunner runner,
        Installation installation,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var delivery = await Deliveries.Lock(db, id);
        if (Refused(delivery) is { } refused)
            return refused;
        var plan = Json.Read<SiftPlan>(delivery!.Plan);
        if (Check(change, plan.Columns, installation.Catalogue) is { } wrong)
            return wrong;
        delivery.Plan = Json.Write(
            plan with
            {
                Columns = [.. plan.Columns.Zip(change.Columns, Changed)],
                Country = change.Country.Length > 0 ? change.Country : null,
                AsideUnread = change.AsideUnread,
            }
        );
        SiftAnew(delivery);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return await Settled(id, db, runner, installation, clock, cancel);
    }

    private static ColumnMatch Changed(ColumnMatch old, ColumnChange to)
    {
        var column = (old.Target ?? "") == to.Target ? old : old with { Target = to.Target.Length > 0 ? to.Target : null, Confidence = 100, Why = "you said so", Note = null };
        var said = to.Dates is not null || to.Decimals is not null;
        return said ? column with { Dates = to.Dates ?? column.Dates, Decimals = to.Decimals ?? column.Decimals, Said = true, Note = null } : column with { Said = false };
    }

    private static ProblemHttpResult? Check(MatchingChange change, ImmutableArray<ColumnMatch> old, FieldCatalogue catalogue)
    {
        if (change.Columns.Count != old.Length)
            return Trouble.Invalid("targets-count", $"The list has {old.Length} columns; {change.Columns.Count} targets came.", "columns");
        if (change.Country.Length > 0 && Countries.NameOf(change.Country) is null)
            return Trouble.Invalid("country-unknown", $"\u201c{change.Country}\u201d is no country code.", "country");
        var used = change.Columns.Select(c => c.Target).Where(t => t.Length > 0).ToList();
        if (used.FirstOrDefault(t => Composites.Find(t) is null && catalogue.Columns.All(f => f.Key != t)) is { } unknown)
            return Trouble.Invalid("field-unknown", $"There is no field \u201c{unknown}\u201d.", "columns");
        if (used.Where(t => !ColumnMatcher.MayGather(catalogue.Find(t))).GroupBy(t => t).FirstOrDefault(g => g.Count() > 1) is { } twice)
            return Trouble.Invalid("field-twice", $"Two columns go to {ColumnMatcher.LabelOf(catalogue, twice.Key).ToLowerInvariant()}; choose one.", "columns");
        return null;
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Terms(
        Guid id,
        TermsChange change,
        LanternDb db,
        Installation installation,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var connection = await db.Connection();
        var delivery = await Deliveries.Lock(db, id);
        if (Refused(delivery) is { } refused)
            return refused;
        if (await Check(change, connection, installation) is { } wrong)
            return wrong;
        delivery!.Source = change.Source;
        delivery.Constants = Json.Write(change.Constants);
        delivery.Policies = Json.Write(change.Policies);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return TypedResults.Ok((await DeliveryQueries.Open(connection, id, installation, clock.UtcNow()))!);
    }

    private static async Task<ProblemHttpResult?> Check(TermsChange change, NpgsqlConnection connection, Installation installation)
    {
        var (constants, catalogue) = (change.Constants, installation.Catalogue);
        // Nothing said yet stays nothing; it is asked for at taking in.
        if (change.Source.Length > 0 && !await connection.QuerySingleAsync<bool>("select exists (select 1 from source where key = @Source)", new { change.Source }))
            return Trouble.Invalid("source-unknown", "Choose the source this list comes from.", "source");
        if (constants.Campaign is { } campaign && catalogue["campaign"].Choices.All(c => c.Key != campaign))
            return Trouble.Invalid("campaign-unknown", $"There is no campaign \u201c{campaign}\u201d.", "campaign");
        if (constants.Response is { } response && CampaignResponse.Find(response) is null)
            return Trouble.Invalid("response-unknown", $"There is no response \u201c{response}\u201d.", "response");
        if (constants is { Owner: not null, Team: not null })
            return Trouble.Invalid("owner-and-team", "Name an owner or a team, not both.", "team");
        if (constants.Owner is { } owner && !await connection.QuerySingleAsync<bool>("select exists (select 1 from turn where person_id = @owner)", new { owner }))
            return Trouble.Invalid("owner-unknown", "Choose somebody who works leads.", "owner");
        if (constants.Team is { } team && !await connection.QuerySingleAsync<bool>("select exists (select 1 from team where key = @team)", new { team }))
            return Trouble.Invalid("team-unknown", $"There is no team \u201c{team}\u201d.", "team");
        if (constants.Consent is { } consent && (consent.Wording.Trim().Length == 0 || installation.ConsentPurposes.All(p => p.Key != consent.Purpose)))
            return Trouble.Invalid("consent-incomplete", "A consent needs its purpose and the words the people agreed to.", "consent");
        var known = (await connection.QueryAsync<string>("select key from tag where not retired")).ToHashSet();
        if (constants.Tags.FirstOrDefault(t => !known.Contains(t)) is { } tag)
            return Trouble.Invalid("tag-unknown", $"There is no tag \u201c{tag}\u201d.", "tags");
        return change.Policies.Fields?.Keys.FirstOrDefault(k => catalogue.Facts.All(f => f.Key != k)) is { } field
            ? Trouble.Invalid("field-unknown", $"There is no field \u201c{field}\u201d.", "policies")
            : null;
    }

    private static async Task<bool> WithoutCampaign(NpgsqlConnection connection, Delivery delivery) =>
        Json.Read<DeliveryConstants>(delivery.Constants).Campaign is null
        && Json.Read<SiftPlan>(delivery.Plan).Columns.Any(c => c.Target == FieldCatalogue.Response)
        && await connection.QuerySingleAsync<bool>("select campaign is null from source where key = @Source", new { delivery.Source });

    private static async Task<Results<Ok<DeliveryView>, ProblemHttpResult>> Take(Guid id, LanternDb db, DeliveryRunner runner, TimeProvider clock, CancellationToken cancel)
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
        return await Finished(id, db, runner, clock, cancel);
    }

    private static async Task<Results<Ok<DeliveryView>, ProblemHttpResult>> Back(
        Guid id,
        TakeBackOrder? order,
        LanternDb db,
        DeliveryRunner runner,
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
        return await Finished(id, db, runner, clock, cancel);
    }

    private static async Task<Results<Ok<DeliveryView>, ProblemHttpResult>> TryAgain(Guid id, LanternDb db, DeliveryRunner runner, TimeProvider clock, CancellationToken cancel)
    {
        var connection = await db.Connection();
        if (await connection.ExecuteAsync("update delivery set tries = 0, trouble = null where id = @id", new { id }) == 0)
            return Trouble.NotFound("delivery");
        return await Finished(id, db, runner, clock, cancel);
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> SiftOnceMore(
        Guid id,
        LanternDb db,
        DeliveryRunner runner,
        Installation installation,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var delivery = await Deliveries.Lock(db, id);
        if (Refused(delivery) is { } refused)
            return refused;
        SiftAnew(delivery!);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return await Settled(id, db, runner, installation, clock, cancel);
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

    private static void SiftAnew(Delivery delivery) =>
        (delivery.State, delivery.Epoch, delivery.Through, delivery.Done, delivery.ToDo, delivery.Tries, delivery.Trouble) = (
            Delivery.Sifting,
            delivery.Epoch + 1,
            0,
            0,
            delivery.RowsRead,
            0,
            null
        );

    private static ProblemHttpResult? Refused(Delivery? delivery) =>
        delivery switch
        {
            null => Trouble.NotFound("delivery"),
            { State: Delivery.Sifted or Delivery.Sifting or Delivery.TakenBack } => null,
            _ => Trouble.Conflict("already-taken", "This delivery is taken in; take it back before you change how it is read."),
        };

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Settled(
        Guid id,
        LanternDb db,
        DeliveryRunner runner,
        Installation installation,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await WaitFor(id, db, runner, cancel);
        return TypedResults.Ok((await DeliveryQueries.Open(await db.Connection(), id, installation, clock.UtcNow()))!);
    }

    private static async Task<Results<Ok<DeliveryView>, ProblemHttpResult>> Finished(Guid id, LanternDb db, DeliveryRunner runner, TimeProvider clock, CancellationToken cancel)
    {
        await WaitFor(id, db, runner, cancel);
        return TypedResults.Ok((await DeliveryQueries.One(await db.Connection(), id, clock.UtcNow()))!);
    }

    private static async Task WaitFor(Guid id, LanternDb db, DeliveryRunner runner, CancellationToken cancel)
    {
        runner.Wake();
        var connection = await db.Connection();
        for (var waited = TimeSpan.Zero; waited < WaitForSmall; waited += TimeSpan.FromMilliseconds(40))
        {
            if (!await connection.QuerySingleAsync<bool>("select state in ('sifting', 'taking', 'taking_back') and tries = 0 from delivery where id = @id", new { id }))
                return;
            await Task.Delay(40, cancel);
        }
    }
}
