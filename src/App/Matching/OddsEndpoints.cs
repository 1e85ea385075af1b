using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Matching;

/// <param name="Live">What it weighs now, in bits.</param>
/// <param name="Shipped">What it weighs as shipped.</param>
/// <param name="Draft">What it would weigh as learnt last; null where nothing is drafted.</param>
public sealed record OddsLevel(string Key, string Words, double Live, double Shipped, double? Draft);

public sealed record OddsComparison(string Key, string Label, IReadOnlyList<OddsLevel> Levels);

/// <summary>What each piece of evidence weighs.</summary>
/// <param name="Edition">Number of the live edition; 0 for what was shipped.</param>
/// <param name="Draft">Number of what was learnt last and not published; null for none.</param>
/// <param name="Pairs">So many pairs of ours the draft was learnt from.</param>
public sealed record OddsView(int Edition, int? Draft, long Pairs, double Ask, double Link, IReadOnlyList<OddsComparison> Comparisons);

/// <summary>The odds behind the matching: looked at, learnt from one's own leads, published, and back.</summary>
public static class OddsEndpoints
{
    private const int Sample = 30_000;
    private const int PairsByChance = 400_000;
    private const int FewestPairs = 300;

    public static void MapOdds(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/matching").Requires(Act.SetUp).WithTags("Duplicates");
        group.MapGet("", Show).WithSummary("What each piece of evidence weighs");
        group.MapPost("/learn", Learn).WithSummary("Learn the odds from our own leads, as a draft");
        group.MapPost("/publish", Publish).WithSummary("Match by the draft from now on");
        group.MapPost("/back", Back).WithSummary("Match as before the last edition, or as shipped");
    }

    private static async Task<Ok<OddsView>> Show(LanternDb db, Workspace workspace) => TypedResults.Ok(await View(db, workspace));

    private static async Task<OddsView> View(LanternDb db, Workspace workspace)
    {
        var editions = await db.Set<Edition>()
            .Where(x => x.Kind == Edition.Matching && (x.State == "live" || x.State == "draft"))
            .Select(x => new
            {
                x.Number,
                x.State,
                x.Body,
            })
            .ToListAsync();
        var live = editions.FirstOrDefault(e => e.State == "live");
        var draft = editions.FirstOrDefault(e => e.State == "draft");
        var (now, drafted) = (ModelOf(live?.Body) ?? MatchModel.Shipped, ModelOf(draft?.Body));
        var comparisons = Comparisons.All.Select(c => new OddsComparison(
            c.Key,
            c.Label,
            [.. c.Levels.Select(l => new OddsLevel(l.Key, l.Words, Bits(now, c, l), l.Bits, drafted is null ? null : Bits(drafted, c, l)))]
        ));
        var bars = workspace.Matcher.Bars;
        return new OddsView(live?.Number ?? 0, draft?.Number, draft is null ? 0 : Json.Read<MatchingEdition>(draft.Body).Pairs, bars.Ask, bars.Link, [.. comparisons]);
    }

    private static MatchModel? ModelOf(string? body) => body is null ? null : Json.Read<MatchingEdition>(body).Model;

    private static double Bits(MatchModel model, Comparison comparison, Level level) => Math.Round(Math.Log2(model[comparison, level].M / model[comparison, level].U), 1);

    // From the leads that came last; the same leads give the same odds.
    private static async Task<Results<Ok<OddsView>, ProblemHttpResult>> Learn(LanternDb db, WorkspaceConfiguration configuration)
    {
        var workspace = configuration.Current;
        var last = await db.Set<Lead>().MaxAsync(l => (int?)l.Number) ?? 0;
        var leads = await MatchKeys.Leads(db, Math.Max(0, last - Sample), workspace.Catalogue, Sample);
        var people = leads.Select(l => l.Who).ToList();
        var looks = Pairs.Looks(people);
        var pairs = looks.Sum(l => l.Looks.Values.Sum());
        if (pairs < FewestPairs)
            return ApiProblems.Of("too-few-pairs", "", pairs, FewestPairs);
        var estimate = MatchEstimator.Run(MatchModel.Shipped, Pairs.ByChance(people, PairsByChance, new Random(1).Next), looks);
        await using var transaction = await db.Database.BeginTransactionAsync();
        workspace = await Editions.HoldLive(db, Edition.Matching, configuration);
        var body = Json.Write(new MatchingEdition(estimate.Model, pairs));
        await db.Run(
            $"""
            delete from edition where kind = {Edition.Matching} and state = 'draft';
            insert into edition (id, kind, number, state, body) values ({Guid.CreateVersion7()}, {Edition.Matching}, (select coalesce(max(number), 0) + 1 from edition where kind = {Edition.Matching}), 'draft', {body}::jsonb);
            """
        );
        await transaction.CommitAsync();
        return TypedResults.Ok(await View(db, workspace));
    }

    private static async Task<Results<Ok<OddsView>, ProblemHttpResult>> Publish(LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await Editions.HoldLive(db, Edition.Matching, configuration);
        if (await db.Set<Edition>().Where(x => x.Kind == Edition.Matching && x.State == "draft").Select(x => (Guid?)x.Id).SingleOrDefaultAsync() is not { } draft)
            return ApiProblems.Of("no-draft");
        await db.Set<Edition>().Where(x => x.Kind == Edition.Matching && x.State == "live").ExecuteUpdateAsync(s => s.SetProperty(x => x.State, "old"));
        await db.Set<Edition>().Where(x => x.Id == draft).ExecuteUpdateAsync(s => s.SetProperty(x => x.State, "live").SetProperty(x => x.PublishedAt, clock.UtcNow()));
        await transaction.CommitAsync();
        return await Changed(db, configuration);
    }

    private static async Task<Results<Ok<OddsView>, ProblemHttpResult>> Back(LanternDb db, WorkspaceConfiguration configuration)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await Editions.HoldLive(db, Edition.Matching, configuration);
        if (await db.Set<Edition>().Where(x => x.Kind == Edition.Matching && x.State == "live").Select(x => (Guid?)x.Id).SingleOrDefaultAsync() is not { } live)
            return ApiProblems.Of("as-shipped");
        await db.Run(
            $"""
            delete from edition where kind = {Edition.Matching} and state = 'draft';
            update edition set state = 'draft' where id = {live};
            update edition set state = 'live' where id = (select id from edition where kind = {Edition.Matching} and state = 'old' order by published_at desc limit 1);
            """
        );
        await transaction.CommitAsync();
        return await Changed(db, configuration);
    }

    // What waits to be settled is weighed anew.
    private static async Task<Results<Ok<OddsView>, ProblemHttpResult>> Changed(LanternDb db, WorkspaceConfiguration configuration)
    {
        var workspace = await configuration.Changed();
        await db.Run(
            $"insert into duplicate_due (record_id, kind) select x.id, t.kind from duplicate t cross join lateral (values (t.a), (t.b)) x(id) where t.state = 'open' on conflict (record_id) do nothing"
        );
        return TypedResults.Ok(await View(db, workspace));
    }
}
