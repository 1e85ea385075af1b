using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

/// <summary>The deals of a pipeline: what they come to, those that stand by themselves in its lanes, and all of them as rows.</summary>
public sealed class PipelineQueries(Workspace workspace, DealQueries deals, RecordScope scope, TimeProvider clock)
{
    /// <summary>A lane of more deals shows the dearest of each week and counts the others.</summary>
    public const int FullLane = 60;

    /// <summary>Of a full lane, deals of each week that stand by themselves.</summary>
    public const int EachWeek = 6;

    /// <summary>At most so many rows at a time.</summary>
    public const int MostRows = 200;

    // Weeks ahead; what is further off counts as the last.
    private const int Weeks = 26;

    // How long closed deals are shown among the others, in days.
    private const int ClosedShown = 90;

    private const string WithStage = "from deal d join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key";

    private SqlText Sees => scope.Sees("deal", "d");

    // Of each stage and week, -1 for what is late, the deals that stand by themselves and how many there are.
    private SqlText ByWeek(string pipeline, DateOnly today, string[] full) =>
        $"""
            select r.stage, r.week, count(*)::int as deals, coalesce(array_agg(r.id) filter (where r.place <= {EachWeek} or r.stage <> all({full})), array[]::uuid[]) as shown from (
              select d.id, d.stage_key as stage, w.week, row_number() over (partition by s.position, w.week order by d.amount desc, d.id) as place
              {WithStage:sql}
                cross join lateral (select case when d.expected_close < {today} then -1 else least({Weeks}, (d.expected_close - {today}) / 7) end as week) w
              where d.pipeline_key = {pipeline} and s.counts = 'open' and {Sees:sql}) r
            group by 1, 2
            """;

    /// <summary>The open deals as lanes.</summary>
    public async Task<DealsView> Lanes(LanternDb db, LivePipeline pipeline)
    {
        var now = clock.UtcNow();
        var (today, since) = (DateOnly.FromDateTime(now), now.AddDays(-ClosedShown));
        var sums = await db.Rows<StageSum>(
            $"""
            select d.stage_key as stage, d.currency, coalesce(d.probability, s.probability) as probability, count(*)::int as deals, sum(d.amount) as amount,
              (count(*) filter (where d.expected_close < {today}))::int as late
            {WithStage:sql} where d.pipeline_key = {pipeline.Key} and s.counts = 'open' and {Sees:sql} group by 1, 2, 3
            """
        );
        var full = sums.GroupBy(s => s.Stage).Where(g => g.Sum(s => s.Deals) > FullLane).Select(g => g.Key).ToArray();
        var weeks = await db.Rows<StageWeek>(ByWeek(pipeline.Key, today, full));
        var ids = weeks.SelectMany(w => w.Shown).ToArray();
        var shown = await deals.Rows(db, $"d.id = any({ids})", $"order by d.expected_close, d.id");
        var lately = await scope
            .Of<Deal>(db)
            .Where(d => d.PipelineKey == pipeline.Key && d.ClosedAt > since)
            .GroupBy(d => d.StageKey)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count);
        var (byStage, needs) = (sums.ToLookup(s => s.Stage), DealSnapshots.Needs(workspace));
        return new DealsView(
            [.. workspace.Pipelines.Select(p => new PipelineView(p.Key, p.Name, [.. p.Stages.Select(s => Stage(s, p == pipeline ? [.. byStage[s.Key]] : [], lately, needs))]))],
            pipeline.Key,
            Forecast.Totals(sums.Select(Worth)),
            sums.Sum(s => s.Late),
            [.. shown],
            [
                .. weeks
                    .Where(w => w.Deals > w.Shown.Length)
                    .OrderBy(w => w.Week)
                    .Select(w => new DealsBeside(w.Stage, w.Week < 0 ? null : today.AddDays(w.Week * 7), w.Deals - w.Shown.Length)),
            ],
            today
        );
    }

    /// <summary>Some of the open deals by their expected close, or of those closed lately, the last first.</summary>
    /// <param name="stage">Only of this stage; null for all.</param>
    /// <param name="from">How many to leave out before them.</param>
    public async Task<DealRows> Rows(LanternDb db, LivePipeline pipeline, bool closed, string? stage, int from, int most)
    {
        var since = clock.UtcNow().AddDays(-ClosedShown);
        SqlText lately = $"s.counts <> 'open' and d.closed_at > {since}";
        SqlText open = $"s.counts = 'open'";
        var state = closed ? lately : open;
        SqlText which = $"{WithStage:sql} where d.pipeline_key = {pipeline.Key} and ({stage}::text is null or d.stage_key = {stage}) and {state:sql} and {Sees:sql}";
        var all = await db.One<int>($"""select count(*)::int as "Value" {which:sql}""");
        // Sorted by themselves first: what else a row shows is read for those few alone.
        SqlText order = $"order by {(closed ? "d.closed_at desc" : "d.expected_close"):sql}, d.id";
        var some = await deals.Rows(db, $"d.id in (select d.id {which:sql} {order:sql} offset {from} limit {most})", order);
        return new DealRows(all, [.. some]);
    }

    private static StageView Stage(LiveStage stage, IReadOnlyList<StageSum> sums, Dictionary<string, int> closed, IReadOnlyList<Choice> all)
    {
        var needs = stage.Needs.Select(n => all.FirstOrDefault(c => c.Key == n)?.Label).OfType<string>();
        return new StageView(
            stage.Key,
            stage.Name,
            stage.Probability,
            stage.Counts,
            stage.Colour,
            stage.Days,
            [.. needs],
            stage.IsOpen ? sums.Sum(s => s.Deals) : closed.GetValueOrDefault(stage.Key),
            Forecast.Totals(sums.Select(Worth))
        );
    }

    private static OpenDeal Worth(StageSum sum) => new(new Money(sum.Amount, sum.Currency), sum.Probability, sum.Deals);

    private sealed record StageWeek
    {
        public string Stage { get; init; } = "";
        public int Week { get; init; }
        public int Deals { get; init; }
        public Guid[] Shown { get; init; } = [];
    }

    private sealed record StageSum
    {
        public string Stage { get; init; } = "";
        public string Currency { get; init; } = "";
        public int Probability { get; init; }
        public int Deals { get; init; }
        public decimal Amount { get; init; }
        public int Late { get; init; }
    }
}
