using System.Security.Claims;
using System.Text;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Routing;

public sealed record SheetOrder(RuleSheet Sheet, [Text(300)] string Note = "");

/// <param name="Where">What the leads have in common, in words.</param>
/// <param name="Condition">The same in the condition language.</param>
/// <param name="Example">A made-up lead: label and value.</param>
/// <param name="Leads">Real leads of the last 90 days that are so; null while they are not counted.</param>
public sealed record HoleView(string Where, Condition Condition, IReadOnlyList<string> Moments, IReadOnlyList<Named> Example, int? Leads);

/// <param name="Whole">False when the sheet is too tangled to be checked to the end.</param>
public sealed record CheckView(IReadOnlyList<SheetFinding> Findings, IReadOnlyList<HoleView> Holes, bool Whole, IReadOnlyList<RuleWords> Words);

/// <param name="Problems">What could not be read and was left out.</param>
public sealed record SheetImport(DraftSheet Draft, IReadOnlyList<Problem> Problems);

/// <summary>Drafting, checking, publishing and going back with rule sheets; see <see cref="Editions"/>.</summary>
public static class SheetEndpoints
{
    public static void MapSheets(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("/routing").Requires(Act.SeeRouting).WithTags("Routing");
        see.MapGet("/editions", List).WithSummary("All editions of the rule sheet, newest first");
        see.MapGet("/editions/{number:int}", One).WithSummary("One edition's sheet");
        see.MapGet("/editions/{number:int}/file", Export).WithSummary("One edition as a file: json, csv or dmn").Produces<string>(200, "application/octet-stream");
        var run = api.MapGroup("/routing").Requires(Act.SetUp).WithTags("Routing");
        run.MapPost("/check", Check).WithSummary("Hold a sheet against itself, the fields and the staff");
        run.MapPost("/check/holes", Holes).WithSummary("The holes of a sheet with the leads of the last 90 days in them");
        run.MapPut("/draft", SaveDraft).WithSummary("Keep the draft (If-Match; 0 for a new one)");
        run.MapDelete("/draft", Drop).WithSummary("Drop the draft");
        run.MapPost("/draft/file", Import)
            .WithSummary("Read a draft from a file: json, csv or dmn (If-Match; 0 where there is none)")
            .Accepts<string>("application/octet-stream", "application/json", "application/xml", "text/csv");
        run.MapPost("/publish", Publish).WithSummary("Make the draft live (If-Match)");
        run.MapPost("/editions/{number:int}/publish", Back).WithSummary("Go back to an old edition: its sheet goes live again");
    }

    private static async Task<Ok<List<EditionLine>>> List(LanternDb db) => TypedResults.Ok(await Editions.List(db, Edition.Rules));

    private static async Task<RuleSheet?> Body(LanternDb db, int number) => await Editions.Body(db, Edition.Rules, number) is { } body ? Json.Read<RuleSheet>(body) : null;

    private static async Task<Results<Ok<SheetView>, ProblemHttpResult>> One(int number, LanternDb db, Workspace workspace, TimeProvider clock)
    {
        return await Body(db, number) is { } sheet
            ? TypedResults.Ok(SheetWords.Of(sheet, workspace.Catalogue, await RoutingContext.Open(db, clock.UtcNow(), hold: false)))
            : ApiProblems.NotFound("edition");
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Export(int number, string? form, LanternDb db, Workspace workspace)
    {
        if (await Body(db, number) is not { } sheet)
            return ApiProblems.NotFound("edition");
        if (SheetFiles.Find(form ?? "json") is not { } file)
            return ApiProblems.Of("form-unknown", "form");
        return TypedResults.File(Encoding.UTF8.GetBytes(file.Write(sheet, workspace.Catalogue)), file.ContentType, $"rule-sheet-{number}.{file.Ending}");
    }

    private static async Task<Results<Ok<CheckView>, ProblemHttpResult>> Check(RuleSheet body, LanternDb db, Workspace workspace, TimeProvider clock)
    {
        if (SheetSound.Made(body) is not { } sheet)
            return ApiProblems.Of(Unsound());
        var desk = await RoutingContext.Open(db, clock.UtcNow(), hold: false);
        var report = await Report(db, sheet, desk, workspace);
        return TypedResults.Ok(
            new CheckView(report.Findings, [.. report.Holes.Select(h => HoleOf(h, null, workspace.Catalogue))], report.Whole, SheetWords.Of(sheet, workspace.Catalogue, desk).Words)
        );
    }

    private static Problem Unsound() => Problem.Of("sheet-unreadable");

    internal static async Task<SheetReport> Report(LanternDb db, RuleSheet sheet, RoutingContext desk, Workspace workspace) =>
        SheetCheck.Check(sheet, workspace.Catalogue, SheetWords.Staff(desk, workspace), (await workspace.Model(db)).Model.Bars);

    private static async Task<Results<Ok<List<HoleView>>, ProblemHttpResult>> Holes(RuleSheet body, LanternDb db, Workspace workspace, TimeProvider clock)
    {
        if (SheetSound.Made(body) is not { } sheet)
            return ApiProblems.Of(Unsound());
        var now = clock.UtcNow();
        var report = await Report(db, sheet, await RoutingContext.Open(db, now, hold: false), workspace);
        var holes = new List<HoleView>();
        foreach (var hole in report.Holes)
            holes.Add(HoleOf(hole, await Fell(db, hole, workspace.Catalogue, now), workspace.Catalogue));
        return TypedResults.Ok(holes);
    }

    private static async Task<int> Fell(LanternDb db, SheetHole hole, FieldCatalogue catalogue, DateTime now)
    {
        var sql = new ConditionSql(catalogue, now, RecordScope.Everything);
        return await db.One<int>($"""select count(*)::int as "Value" from lead l where l.created_at > {now.AddDays(-90)} and {sql.Part(sql.Write(hole.Where)):sql}""");
    }

    private static HoleView HoleOf(SheetHole hole, int? leads, FieldCatalogue catalogue) =>
        new(
            HoleWords.Of(hole.Where, catalogue),
            hole.Where,
            hole.Moments,
            [.. hole.Example.Where(e => catalogue.Find(e.Field) is not null).Select(e => new Named(catalogue[e.Field].Label, catalogue[e.Field].Show(e.Value)))],
            leads
        );

    private static async Task<Results<Ok<DraftSheet>, ProblemHttpResult>> SaveDraft(
        SheetOrder body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        Workspace workspace,
        TimeProvider clock
    )
    {
        if (request.Version() is not { } version)
            return ApiProblems.DraftVersionMissing();
        if (body.Sheet is null || SheetSound.Made(body.Sheet) is not { } sheet)
            return ApiProblems.Of(Unsound());
        if (!await Editions.Write(db, Edition.Rules, Json.Write(sheet), body.Note, version, user))
            return ApiProblems.Stale();
        return TypedResults.Ok((await RoutingEndpoints.Draft(db, workspace, await RoutingContext.Open(db, clock.UtcNow(), hold: false)))!);
    }

    private static async Task<NoContent> Drop(LanternDb db)
    {
        await Editions.Drop(db, Edition.Rules);
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<SheetImport>, ProblemHttpResult>> Import(
        string? form,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        Workspace workspace,
        TimeProvider clock
    )
    {
        if (request.Version() is not { } version)
            return ApiProblems.DraftVersionMissing();
        if (SheetFiles.Find(form ?? "json") is not { } file)
            return ApiProblems.Of("form-unknown", "form");
        using var reader = new StreamReader(request.Body, new UTF8Encoding(false, throwOnInvalidBytes: false));
        var reading = file.Read(await reader.ReadToEndAsync(), workspace.Catalogue);
        if (reading.Sheet is not { } sheet)
            return ApiProblems.Of(reading.Problems[0]);
        if (!await Editions.Write(db, Edition.Rules, Json.Write(sheet), "From a file", version, user))
            return ApiProblems.Stale();
        var desk = await RoutingContext.Open(db, clock.UtcNow(), hold: false);
        return TypedResults.Ok(new SheetImport((await RoutingEndpoints.Draft(db, workspace, desk))!, reading.Problems));
    }

    private static async Task<Results<Ok<RoutingView>, ProblemHttpResult>> Publish(
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        WorkspaceConfiguration configuration,
        TimeProvider clock
    )
    {
        var workspace = configuration.Current;
        if (request.Version() is not { } version)
            return ApiProblems.DraftVersionMissing();
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await Editions.Find(db, Edition.Rules, version) is not var (id, _, body))
            return ApiProblems.Stale();
        workspace = await Editions.HoldLive(db, Edition.Rules, configuration);
        if (await Unfit(db, body, "This cannot go live yet", workspace, clock) is { } unfit)
            return ApiProblems.Of(unfit);
        await Editions.GoLive(db, Edition.Rules, id, user.Id(), clock.UtcNow());
        await transaction.CommitAsync();
        workspace = await configuration.Changed();
        return TypedResults.Ok(await RoutingEndpoints.View(db, scope, workspace, clock.UtcNow()));
    }

    private static async Task<Results<Ok<RoutingView>, ProblemHttpResult>> Back(
        int number,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        WorkspaceConfiguration configuration,
        TimeProvider clock
    )
    {
        var workspace = configuration.Current;
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await Editions.Old(db, Edition.Rules, number) is not { } body)
            return ApiProblems.NotFound("old edition");
        workspace = await Editions.HoldLive(db, Edition.Rules, configuration);
        if (await Editions.IsLive(db, Edition.Rules, number))
            return TypedResults.Ok(await RoutingEndpoints.View(db, scope, workspace, clock.UtcNow()));
        // A field, a person or a team may have gone since.
        if (await Unfit(db, body, $"Edition {number} cannot go live again", workspace, clock) is { } unfit)
            return ApiProblems.Of(unfit);
        await Editions.GoLive(db, Edition.Rules, await Editions.Again(db, Edition.Rules, number), user.Id(), clock.UtcNow());
        await transaction.CommitAsync();
        workspace = await configuration.Changed();
        return TypedResults.Ok(await RoutingEndpoints.View(db, scope, workspace, clock.UtcNow()));
    }

    private static async Task<Problem?> Unfit(LanternDb db, string body, string words, Workspace workspace, TimeProvider clock)
    {
        // Held, so that nobody empties a team between this and its going live.
        var report = await Report(db, Json.Read<RuleSheet>(body), await RoutingContext.Open(db, clock.UtcNow()), workspace);
        return report.Blocking is { } blocks ? Problem.Of("sheet-unfit", blocks.Problem.Path, words, blocks.Problem) : null;
    }
}
