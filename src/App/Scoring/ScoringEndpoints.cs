using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Scoring;

/// <summary>Open leads of one cell of the map, 5 points a side. <see cref="Fit"/> and <see cref="Engagement"/> are its lower edges.</summary>
public sealed record MapCell(int Fit, int Engagement, int Leads);

public sealed record QuarterCount(string Move, string Label, int Leads);

/// <param name="Path"><c>fit/2/lines/0</c> or <c>vetoes/1</c>.</param>
/// <param name="Words">The condition as people read it.</param>
public sealed record LineWords(string Path, string Words);

/// <summary>A model with its conditions in words and what is to be said about it.</summary>
public sealed record ModelView(ScoringModel Model, IReadOnlyList<LineWords> Words, IReadOnlyList<ModelFinding> Findings)
{
    public static ModelView Of(ScoringModel model, FieldCatalogue catalogue) =>
        new(
            model,
            [
                .. model.Fit.SelectMany((c, i) => c.Lines.Select((l, at) => new LineWords($"fit/{i}/lines/{at}", ConditionWords.Sentence(l.When, catalogue)))),
                .. model.Vetoes.Select((v, i) => new LineWords($"vetoes/{i}", ConditionWords.Sentence(v.When, catalogue))),
            ],
            ModelCheck.Check(model, catalogue)
        );
}

/// <summary>A model being worked on.</summary>
/// <param name="Version">Row version, for If-Match.</param>
/// <param name="By">Who changed it last.</param>
public sealed record DraftModel(int Number, int Version, string Note, ModelView Shown);

/// <summary>Leads being scored by another edition.</summary>
public sealed record RunView(int Leads, int Done, int Moved, DateTime StartedAt, DateTime? EndedAt, string? Trouble);

/// <param name="MapAt">The moment the map is of; where there are very many leads it is up to a minute old.</param>
/// <param name="Draft">Null where nobody works on one.</param>
/// <param name="Run">The last rescoring of all leads; null when there never was one.</param>
public sealed record ScoringView(
    int Edition,
    DateTime PublishedAt,
    string? PublishedBy,
    ModelView Live,
    DateTime MapAt,
    IReadOnlyList<MapCell> Map,
    IReadOnlyList<QuarterCount> Quarters,
    DraftModel? Draft,
    RunView? Run
);

/// <summary>What is live, what is drafted, and the map of all open leads.</summary>
public static class ScoringEndpoints
{
    public static void MapScoring(this IEndpointRouteBuilder api)
    {
        api.MapGet("/scoring", Show).Requires(Act.SeeScoring).WithTags("Scoring").WithSummary("The live scoring model, its draft and the map of open leads");
        api.MapGet("/scoring/run", Progress).Requires(Act.SeeScoring).WithTags("Scoring").WithSummary("How far all leads are scored by the live edition");
    }

    private static async Task<Ok<ScoringView>> Show(LanternDb db, RecordScope scope, Workspace workspace, ScoreMaps maps) =>
        TypedResults.Ok(await View(db, scope, workspace, maps));

    internal static async Task<ScoringView> View(LanternDb db, RecordScope scope, Workspace workspace, ScoreMaps maps)
    {
        var live = await workspace.Model(db);
        var (at, by) = await Editions.Published(db, live.Edition);
        var map = await maps.Of(db, scope);
        return new ScoringView(
            live.Number,
            at,
            by,
            ModelView.Of(live.Model, workspace.Catalogue),
            map.At,
            map.Cells,
            [.. NextMove.Named(live.Model.Names).Select(c => new QuarterCount(c.Key, c.Label, map.Quarters.GetValueOrDefault(c.Key)))],
            await Draft(db, workspace),
            await Run(db)
        );
    }

    internal static async Task<DraftModel?> Draft(LanternDb db, Workspace workspace) =>
        await Editions.Draft(db, Edition.Scoring) is { } d ? new DraftModel(d.Number, d.Version, d.Note, ModelView.Of(Json.Read<ScoringModel>(d.Body), workspace.Catalogue)) : null;

    private static async Task<Results<Ok<RunView>, NoContent>> Progress(LanternDb db) => await Run(db) is { } run ? TypedResults.Ok(run) : TypedResults.NoContent();

    private static Task<RunView?> Run(LanternDb db) =>
        db.Set<RescoreRun>().OrderByDescending(x => x.StartedAt).Select(x => new RunView(x.Leads, x.Done, x.Moved, x.StartedAt, x.EndedAt, x.Trouble)).FirstOrDefaultAsync();
}
