using System.Security.Claims;
using System.Text;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace DapperLantern.App.Scoring;

/// <summary>An edition of the model, for the list of them.</summary>
/// <param name="State">draft, live or old.</param>
public sealed record EditionLine(int Number, string State, DateTime? PublishedAt, string? By, string Note);

public sealed record ModelOrder(ScoringModel Model, string Note = "");

/// <summary>A draft read from a file.</summary>
/// <param name="Problems">What could not be read and was left out.</param>
public sealed record ImportView(DraftModel Draft, IReadOnlyList<Problem> Problems);

/// <summary>Drafting, publishing and going back. A published edition is never changed; going back publishes an old one's model anew.</summary>
public static class EditionEndpoints
{
    private const int LongestNote = 300;

    public static void MapEditions(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("/scoring").Requires(Act.SeeScoring).WithTags("Scoring");
        see.MapGet("/editions", List).WithSummary("All editions, newest first");
        see.MapGet("/editions/{number:int}", One).WithSummary("One edition's model");
        see.MapGet("/editions/{number:int}/file", Export).WithSummary("One edition as a file").Produces<string>(200, "application/json");
        var run = api.MapGroup("/scoring").Requires(Act.SetUp).WithTags("Scoring");
        run.MapPut("/draft", Keep).WithSummary("Keep the draft (If-Match; 0 for a new one)");
        run.MapDelete("/draft", Drop).WithSummary("Drop the draft");
        run.MapPost("/draft/file", Import)
            .WithSummary("Read a draft from a file; the draft there is, is replaced (If-Match; 0 where there is none)")
            .Accepts<string>("application/json");
        run.MapPost("/publish", Publish).WithSummary("Make the draft live (If-Match)");
        run.MapPost("/editions/{number:int}/publish", Back).WithSummary("Go back to an old edition: its model goes live again");
    }

    private static async Task<Ok<List<EditionLine>>> List(LanternDb db) =>
        TypedResults.Ok(
            (
                await (await db.Connection()).QueryAsync<EditionLine>(
                    "select e.number, e.state, e.published_at, p.display_name as by, e.note from edition e left join person p on p.id = e.published_by where e.kind = @Scoring order by e.number desc",
                    new { Edition.Scoring }
                )
            ).ToList()
        );

    private static async Task<Results<Ok<ModelView>, ProblemHttpResult>> One(int number, LanternDb db, Installation installation) =>
        await Body(await db.Connection(), number) is { } model ? TypedResults.Ok(ModelView.Of(model, installation.Catalogue)) : Trouble.NotFound("edition");

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Export(int number, LanternDb db) =>
        await Body(await db.Connection(), number) is { } model
            ? TypedResults.File(Encoding.UTF8.GetBytes(ModelFile.Write(model)), "application/json", $"scoring-model-{number}.json")
            : Trouble.NotFound("edition");

    private static async Task<ScoringModel?> Body(NpgsqlConnection connection, int number) =>
        await connection.QuerySingleOrDefaultAsync<string>("select body::text from edition where kind = @Scoring and number = @number", new { Edition.Scoring, number }) is { } body
            ? Json.Read<ScoringModel>(body)
            : null;

    private static async Task<Results<Ok<DraftModel>, ProblemHttpResult>> Keep(
        ModelOrder body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        Installation installation
    ) =>
        request.Version() is not { } version ? VersionMissing()
        : await Write(await db.Connection(), body.Model, body.Note, version, user) ? TypedResults.Ok((await ScoringEndpoints.Draft(await db.Connection(), installation))!)
        : Trouble.Stale();

    private static ProblemHttpResult VersionMissing() => Trouble.Invalid("version-missing", "Say which version of the draft this changes (If-Match; 0 for a new one).");

    // One draft there is at most: who begins one while another has begun is told so, as is who changes one that has changed.
    private static async Task<bool> Write(NpgsqlConnection connection, ScoringModel model, string? note, int version, ClaimsPrincipal user) =>
        await connection.ExecuteAsync(
            version == 0
                ? """
                insert into edition (id, kind, number, state, body, note, version, published_by)
                select @id, @Scoring, coalesce(max(number), 0) + 1, 'draft', @body::jsonb, @note, 1, @by from edition where kind = @Scoring
                on conflict do nothing
                """
                : "update edition set body = @body::jsonb, note = @note, version = version + 1, published_by = @by where kind = @Scoring and state = 'draft' and version = @version",
            new
            {
                id = Guid.CreateVersion7(),
                Edition.Scoring,
                body = Json.Write(model),
                note = Shortened(note),
                version,
                by = user.Id(),
            }
        ) == 1;

    private static string Shortened(string? note) => FieldReader.Clean(note ?? "") is var text && text.Length > LongestNote ? text[..LongestNote] : text;

    private static async Task<NoContent> Drop(LanternDb db)
    {
        await (await db.Connection()).ExecuteAsync("delete from edition where kind = @Scoring and state = 'draft'", new { Edition.Scoring });
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<ImportView>, ProblemHttpResult>> Import(HttpRequest request, ClaimsPrincipal user, LanternDb db, Installation installation)
    {
        if (request.Version() is not { } version)
            return VersionMissing();
        using var reader = new StreamReader(request.Body, new UTF8Encoding(false, throwOnInvalidBytes: false));
        var reading = ModelFile.Read(await reader.ReadToEndAsync());
        if (reading.Model is not { } model)
            return Trouble.Invalid(reading.Problems[0].Code, reading.Problems[0].Words);
        var connection = await db.Connection();
        return await Write(connection, model, "From a file", version, user)
            ? TypedResults.Ok(new ImportView((await ScoringEndpoints.Draft(connection, installation))!, reading.Problems))
            : Trouble.Stale();
    }

    private static async Task<Results<Ok<ScoringView>, ProblemHttpResult>> Publish(
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        Installation installation,
        Rescoring rescoring,
        RescoreRunner runner,
        ScoreMaps maps,
        TimeProvider clock
    )
    {
        if (request.Version() is not { } version)
            return VersionMissing();
        await using var transaction = await db.Database.BeginTransactionAsync();
        var connection = await db.Connection();
        var draft = await connection.QuerySingleOrDefaultAsync<(Guid Id, string Body)?>(
            "select id, body::text from edition where kind = @Scoring and state = 'draft' and version = @version for update",
            new { Edition.Scoring, version }
        );
        if (draft is not { } d)
            return Trouble.Stale();
        if (ModelCheck.Blocking(Json.Read<ScoringModel>(d.Body), installation.Catalogue) is { } blocks)
            return Trouble.Invalid("model-unfit", $"This cannot go live yet: {blocks.Words}", blocks.Problem.Path);
        await GoLive(connection, d.Id, user, rescoring, clock);
        await transaction.CommitAsync();
        return await Done(connection, installation, runner, maps);
    }

    private static async Task<Results<Ok<ScoringView>, ProblemHttpResult>> Back(
        int number,
        ClaimsPrincipal user,
        LanternDb db,
        Installation installation,
        Rescoring rescoring,
        RescoreRunner runner,
        ScoreMaps maps,
        TimeProvider clock
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var connection = await db.Connection();
        var old = await connection.QuerySingleOrDefaultAsync<(Guid Id, string Body)?>(
            "select id, body::text from edition where kind = @Scoring and number = @number and state = 'old'",
            new { Edition.Scoring, number }
        );
        if (old is not { } o)
            return Trouble.NotFound("old edition");
        // A field or a value may have gone since.
        if (ModelCheck.Blocking(Json.Read<ScoringModel>(o.Body), installation.Catalogue) is { } blocks)
            return Trouble.Invalid("model-unfit", $"Edition {number} cannot go live again: {blocks.Words}", blocks.Problem.Path);
        var id = Guid.CreateVersion7();
        await connection.ExecuteAsync(
            """
            insert into edition (id, kind, number, state, body, note, version)
            select @id, @Scoring, max(number) + 1, 'old', @Body::jsonb, @note, 1 from edition where kind = @Scoring
            """,
            new
            {
                id,
                Edition.Scoring,
                o.Body,
                note = $"Back to edition {number}",
            }
        );
        await GoLive(connection, id, user, rescoring, clock);
        await transaction.CommitAsync();
        return await Done(connection, installation, runner, maps);
    }

    private static async Task GoLive(NpgsqlConnection connection, Guid edition, ClaimsPrincipal user, Rescoring rescoring, TimeProvider clock)
    {
        await connection.ExecuteAsync(
            """
            update edition set state = 'old' where kind = @Scoring and state = 'live';
            update edition set state = 'live', published_at = @now, published_by = @by where id = @edition;
            """,
            new
            {
                Edition.Scoring,
                edition,
                now = clock.UtcNow(),
                by = user.Id(),
            }
        );
        await rescoring.Begin(connection, edition);
    }

    private static async Task<Results<Ok<ScoringView>, ProblemHttpResult>> Done(NpgsqlConnection connection, Installation installation, RescoreRunner runner, ScoreMaps maps)
    {
        await installation.Changed();
        runner.Wake();
        return TypedResults.Ok(await ScoringEndpoints.View(connection, installation, maps));
    }
}
