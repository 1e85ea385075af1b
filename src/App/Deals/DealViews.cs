using DapperLantern.App.Data;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Deals;

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

    /// <summary>Of the deal where somebody said one, else of its stage; 0 to 100.</summary>
    public required int Probability { get; init; }

    /// <summary>True where the probability was said by hand.</summary>
    public required bool OwnProbability { get; init; }

    /// <summary>The expected close has passed.</summary>
    public required bool Late { get; init; }

    /// <summary>It has been longer in its stage than is expected there.</summary>
    public required bool Slow { get; init; }
    public Guid? LeadId { get; init; }
    public Guid? AccountId { get; init; }
    public required Guid ContactId { get; init; }
    public required DateTime StageSince { get; init; }
    public DateTime? ClosedAt { get; init; }
}

/// <summary>A stage with what stands in it. Totals are by currency.</summary>
/// <param name="Deals">Open ones; of a closed stage those of the last 90 days.</param>
public sealed record StageView(
    string Key,
    string Name,
    int Probability,
    string Counts,
    string Colour,
    int? Days,
    IReadOnlyList<string> Needs,
    int Deals,
    IReadOnlyList<ForecastTotal> Totals
);

public sealed record PipelineView(string Key, string Name, IReadOnlyList<StageView> Stages);

/// <summary>Deals of a full lane that do not stand by themselves.</summary>
/// <param name="From">First day of the week they close in; null for late ones. What is further off than half a year counts as the last week.</param>
public sealed record DealsBeside(string Stage, DateOnly? From, int Deals);

/// <summary>The open deals of a pipeline as lanes.</summary>
/// <param name="Totals">Of all of them, by currency.</param>
/// <param name="Late">How many are past their date.</param>
/// <param name="Deals">All; of a stage with more than 60 the dearest six of each week.</param>
/// <param name="Beside">The others, counted by stage and week.</param>
public sealed record DealsView(
    IReadOnlyList<PipelineView> Pipelines,
    string Pipeline,
    IReadOnlyList<ForecastTotal> Totals,
    int Late,
    IReadOnlyList<DealItem> Deals,
    IReadOnlyList<DealsBeside> Beside,
    DateOnly Today
);

/// <summary>Some deals of a list.</summary>
/// <param name="All">How many the whole list has.</param>
public sealed record DealRows(int All, IReadOnlyList<DealItem> Deals);

/// <summary>Somebody's part in a deal.</summary>
/// <param name="First">True for the contact the deal was made for.</param>
public sealed record DealPersonView(Guid Id, Guid ContactId, string Name, string? Email, string? AccountName, string Role, string? RoleName, bool First);

public sealed record DealProductView(string Product, string Name, string Unit, decimal Quantity, decimal Price, decimal Total);

public sealed record CompetitorView(string Competitor, string Name, string Note);

/// <param name="Until">Null while it lasts.</param>
public sealed record StageStay(string Stage, string Name, DateTime Since, DateTime? Until, double Days, string? By);

/// <param name="Pipeline">Key of the pipeline it stands in.</param>
/// <param name="Findings">What was found out when its lead was qualified.</param>
/// <param name="Tags">Names of the tags its lead had.</param>
public sealed record DealSheet(
    DealItem Deal,
    string Pipeline,
    string StageName,
    string Counts,
    int StageProbability,
    string SourceName,
    string? CampaignName,
    string? LostReason,
    string? LostTo,
    IReadOnlyList<DealPersonView> People,
    IReadOnlyList<DealProductView> Products,
    decimal? ProductTotal,
    IReadOnlyList<CompetitorView> Competitors,
    IReadOnlyList<StageStay> Stages,
    IReadOnlyList<TaskView> Tasks,
    IReadOnlyList<QuestionView> Findings,
    IReadOnlyList<string> Tags,
    IReadOnlyList<StoryView> Story
);

/// <summary>What to change; null leaves it. A lost deal needs its reason. A closed deal can only be opened again, by a stage that is open.</summary>
/// <param name="LostReason">Key in the list "lost-reasons".</param>
/// <param name="LostTo">Key in the list "competitors": who got it.</param>
/// <param name="Probability">Said by hand in place of the stage's, 0 to 100; -1 gives the stage's back.</param>
public sealed record DealChange(
    [Text(100)] string? Stage = null,
    DateOnly? ExpectedClose = null,
    [Between(0, 1_000_000_000_000d)] decimal? Amount = null,
    [Text(100)] string? LostReason = null,
    [Text(100)] string? LostTo = null,
    [Between(-1, 100)] int? Probability = null,
    [Text(200)] string? Name = null,
    [Text(20)] string? Currency = null,
    Guid? Owner = null
);

/// <param name="ContactId">Who.</param>
/// <param name="Role">Key in the list "deal-roles"; empty for none in particular.</param>
public sealed record PersonOnDeal([property: OfRecord("contact")] Guid ContactId, [Text(100)] string Role);

/// <param name="AmountFollows">True to make the amount what the products come to.</param>
public sealed record ProductsOnDeal([Count(100)] IReadOnlyList<OrderedProduct> Products, bool AmountFollows);

public sealed record CompetitorOnDeal([Text(100)] string Competitor, [Text(500)] string Note = "");

public sealed record CompetitorsOnDeal([Count(20)] IReadOnlyList<CompetitorOnDeal> Competitors);

/// <summary>A note or a call about a deal.</summary>
/// <param name="Kind">note or call.</param>
public sealed record DealTouch([Text(100)] string Kind, [Text(10_000)] string Text);
