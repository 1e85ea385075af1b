using System.Security.Claims;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Deals;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

public sealed record DealItem
{
    public required Guid Id { get; init; }
    public required int Version { get; init; }
    public required string Name { get; init; }
    public string? AccountName { get; init; }
    public required string ContactName { get; init; }
    public string? OwnerName { get; init; }
    public required string StageKey { get; init; }
    public required decimal Amount { get; init; }
    public required string Currency { get; init; }
    public required DateOnly ExpectedClose { get; init; }
    public required bool Late { get; init; }
    public Guid? LeadId { get; init; }
    public Guid? AccountId { get; init; }
    public required Guid ContactId { get; init; }
    public required DateTime StageSince { get; init; }
}

/// <summary>A stage with what stands in it. Totals are by currency.</summary>
public sealed record StageView(string Key, string Name, int Probability, string Counts, int Deals, IReadOnlyList<ForecastTotal> Totals);

public sealed record PipelineView(string Key, string Name, IReadOnlyList<StageView> Stages);

/// <param name="Totals">Of the open deals of the pipeline shown, by currency.</param>
/// <param name="Deals">The open deals of the pipeline shown.</param>
public sealed record DealsView(IReadOnlyList<PipelineView> Pipelines, string Pipeline, IReadOnlyList<ForecastTotal> Totals, IReadOnlyList<DealItem> Deals, DateOnly Today);

/// <param name="Pipeline">Key of the pipeline it stands in.</param>
public sealed record DealSheet(DealItem Deal, string Pipeline, string StageName, int Probability, string SourceName, string? CampaignName, IReadOnlyList<StoryView> Story);

/// <summary>What to change; null leaves it. A lost deal needs its reason.</summary>
public sealed record DealChange(string? Stage = null, DateOnly? ExpectedClose = null, decimal? Amount = null, string? LostReason = null);

public static class DealEndpoints
{
    private const string Select = """
        select d.id, d.version, d.name, a.name as account_name, c.name as contact_name, p.display_name as owner_name, d.stage_key, d.amount, d.currency, d.expected_close, d.lead_id, d.account_id, d.contact_id, d.stage_since,
          (d.expected_close < @today and s.counts = 'open') as late
        from deal d join contact c on c.id = d.contact_id join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key
          left join account a on a.id = d.account_id left join person p on p.id = d.owner_id
        """;

    public static void MapDeals(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeDeals).WithTags("Deals");
        see.MapGet("/deals", List).WithSummary("The open deals of a pipeline");
        see.MapGet("/deals/{id}", Open).WithSummary("One deal");
        api.MapPatch("/deals/{id}", Change).Requires(Act.WorkDeals).WithTags("Deals").WithSummary("Move a deal (If-Match)");
    }

    private static async Task<Results<Ok<DealsView>, ProblemHttpResult>> List(string? pipeline, LanternDb db, TimeProvider clock)
    {
        var connection = await db.Connection();
        var today = DateOnly.FromDateTime(clock.UtcNow());
        var pipelines = (await connection.QueryAsync<PipelineRow>("select * from pipeline order by name")).ToList();
        var chosen = pipeline ?? pipelines.FirstOrDefault()?.Key ?? "";
        if (pipeline is not null && pipelines.All(p => p.Key != pipeline))
            return Trouble.NotFound("pipeline");
        var stages = (await connection.QueryAsync<StageRow>("select * from stage order by pipeline_key, position")).ToList();
        var deals = (
            await connection.QueryAsync<DealItem>(
                $"{Select} where d.pipeline_key = @chosen and s.counts = 'open' order by d.expected_close, d.id limit 2000",
                new { chosen, today }
            )
        ).ToList();
        var closed = (
            await connection.QueryAsync<(string Stage, int Count)>(
                "select stage_key, count(*)::int from deal where pipeline_key = @chosen and closed_at > @since group by 1",
                new { chosen, since = clock.UtcNow().AddDays(-90) }
            )
        ).ToDictionary(c => c.Stage, c => c.Count);
        var probability = stages.Where(s => s.PipelineKey == chosen).ToDictionary(s => s.Key, s => s.Probability);
        var views = pipelines.Select(p => new PipelineView(p.Key, p.Name, [.. stages.Where(s => s.PipelineKey == p.Key).Select(s => Stage(s, deals, closed))]));
        return TypedResults.Ok(new DealsView([.. views], chosen, Forecast.Totals(deals.Select(d => Worth(d, probability[d.StageKey]))), deals, today));
    }

    private static StageView Stage(StageRow stage, List<DealItem> deals, Dictionary<string, int> closed)
    {
        var own = deals.Where(d => d.StageKey == stage.Key).ToList();
        var count = stage.Counts == "open" ? own.Count : closed.GetValueOrDefault(stage.Key);
        return new StageView(stage.Key, stage.Name, stage.Probability, stage.Counts, count, Forecast.Totals(own.Select(d => Worth(d, stage.Probability))));
    }

    private static OpenDeal Worth(DealItem deal, int probability) => new(new Money(deal.Amount, deal.Currency), probability);

    private static async Task<Results<Ok<DealSheet>, ProblemHttpResult>> Open(Guid id, LanternDb db, TimeProvider clock)
    {
        var connection = await db.Connection();
        var today = DateOnly.FromDateTime(clock.UtcNow());
        if (await connection.QuerySingleOrDefaultAsync<DealItem>($"{Select} where d.id = @id", new { id, today }) is not { } deal)
            return Trouble.NotFound("deal");
        var more = await connection.QuerySingleAsync<(string Pipeline, string Stage, int Probability, string Source, string? Campaign)>(
            """
            select d.pipeline_key, s.name, s.probability, o.name, k.name from deal d join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key
            join source o on o.key = d.source left join campaign k on k.key = d.campaign where d.id = @id
            """,
            new { id }
        );
        return TypedResults.Ok(new DealSheet(deal, more.Pipeline, more.Stage, more.Probability, more.Source, more.Campaign, await LeadQueries.StoryOf(connection, "deal_id", id)));
    }

    private static async Task<Results<Ok<DealSheet>, ProblemHttpResult>> Change(
        Guid id,
        DealChange change,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        TimeProvider clock
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var connection = await db.Connection();
        var deal = await db.Deals.FromSql($"select * from deal where id = {id} for update").SingleOrDefaultAsync();
        if (deal is null)
            return Trouble.NotFound("deal");
        if (Permissions.OwnOnly(user.Role()) && deal.OwnerId != user.Id())
            return Trouble.NotYours();
        if (request.Version() is { } version && version != deal.Version)
            return Trouble.Stale();
        var stage = change.Stage is null
            ? null
            : await connection.QuerySingleOrDefaultAsync<StageRow>(
                "select * from stage where pipeline_key = @PipelineKey and key = @Stage",
                new { deal.PipelineKey, change.Stage }
            );
        if (change.Stage is not null && stage is null)
            return Trouble.Invalid("stage-unknown", "This pipeline has no such stage.", "stage");
        if (stage is { Counts: "lost" } && string.IsNullOrWhiteSpace(change.LostReason))
            return Trouble.Invalid("reason-missing", "Say why the deal is lost; the reasons are counted.", "lostReason");
        if (change.Amount is < 0)
            return Trouble.Invalid("amount-unfit", "The amount cannot be under 0.", "amount");

        var words = Apply(deal, change, stage, clock.UtcNow());
        if (words.Count > 0)
        {
            deal.Version++;
            db.Story.Add(
                new StoryEntry
                {
                    Id = Guid.CreateVersion7(),
                    DealId = id,
                    AccountId = deal.AccountId,
                    ContactId = deal.ContactId,
                    At = clock.UtcNow(),
                    Kind = "deal",
                    Text = string.Join("; ", words),
                    PersonId = user.Id(),
                }
            );
        }
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return await Open(id, db, clock);
    }

    private static List<string> Apply(Deal deal, DealChange change, StageRow? stage, DateTime now)
    {
        var words = new List<string>();
        if (stage is not null && stage.Key != deal.StageKey)
        {
            words.Add(stage.Counts == "lost" ? $"Lost: {change.LostReason!.Trim()}" : $"Now in {stage.Name}");
            (deal.StageKey, deal.StageSince) = (stage.Key, now);
            deal.ClosedAt = stage.Counts == "open" ? null : now;
            deal.LostReason = stage.Counts == "lost" ? change.LostReason!.Trim() : null;
        }
        if (change.ExpectedClose is { } date && date != deal.ExpectedClose)
        {
            words.Add($"Expected close moved from {deal.ExpectedClose:d MMM yyyy} to {date:d MMM yyyy}");
            deal.ExpectedClose = date;
        }
        if (change.Amount is { } amount && amount != deal.Amount)
        {
            words.Add($"Amount changed from {deal.Amount:0.##} to {amount:0.##} {deal.Currency}");
            deal.Amount = amount;
        }
        return words;
    }
}
