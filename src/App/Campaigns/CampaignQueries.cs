using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.Core.Campaigns;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>A campaign in the list.</summary>
/// <param name="Standing">planned, running, over or retired.</param>
/// <param name="Budget">Null where nobody said, or costs are kept from the reader.</param>
/// <param name="Spent">Sum of the cost entries, in <paramref name="Currency"/>; null where costs are kept from the reader.</param>
/// <param name="Members">People with any response.</param>
/// <param name="Fresh">Those of them it brought in.</param>
/// <param name="Responded">Those of them who did something themselves.</param>
/// <param name="HandedOver">Of those it brought in.</param>
/// <param name="Won">Of those it brought in.</param>
/// <param name="WonAmount">Of deals won in the campaign's currency.</param>
public sealed record CampaignListItem(
    string Key,
    string Name,
    string Kind,
    string Standing,
    DateOnly Starts,
    DateOnly Ends,
    decimal? Budget,
    decimal? Spent,
    string Currency,
    int? Target,
    int Members,
    int Fresh,
    int Responded,
    int HandedOver,
    int Won,
    decimal WonAmount
)
{
    /// <summary>What each person it brought in has cost; null while it brought in none.</summary>
    public decimal? CostEach => Fresh == 0 || Spent is not { } spent ? null : Math.Round(spent / Fresh, 2);
}

public sealed record CampaignsView(
    IReadOnlyList<CampaignListItem> Campaigns,
    IReadOnlyList<ChoiceView> Kinds,
    IReadOnlyList<ChoiceView> Responses,
    IReadOnlyList<ChoiceView> Owners,
    bool ShowsCosts,
    bool ChangesCosts
);

public sealed record CostView(Guid Id, DateOnly SpentOn, string What, decimal Amount, string? By);

/// <summary>One response with its rates; see <see cref="ResponseRate"/>.</summary>
public sealed record RateView(string Response, string Label, bool Theirs, int People, int Known, double? KnownShare, int Fresh, double? FreshShare);

/// <summary>A campaign whole.</summary>
/// <param name="ShowsCosts">False where budget and costs are kept from the reader.</param>
/// <param name="ChangesCosts">False where the reader may not change them.</param>
public sealed record CampaignSheet(
    CampaignListItem Campaign,
    string About,
    Guid? OwnerId,
    string? Owner,
    bool Retired,
    int Version,
    IReadOnlyList<CostView> Costs,
    int KnownMembers,
    IReadOnlyList<RateView> Rates,
    bool ShowsCosts,
    bool ChangesCosts
);

/// <summary>A member with all they did, latest first.</summary>
public sealed record CampaignMember(Guid Lead, int Number, string Name, string? Company, string State, bool Known, IReadOnlyList<MemberResponse> Responses);

public sealed record MemberResponse(Guid Id, string Response, string Label, DateTime At, string Detail);

/// <param name="Count">All members that fit the filter.</param>
/// <param name="Next">Pass as <c>after</c> for the next page; null on the last.</param>
public sealed record MemberPage(IReadOnlyList<CampaignMember> Members, int Count, Guid? Next);

/// <summary>Campaigns as screens show them.</summary>
public static class CampaignQueries
{
    private const int PageSize = 50;

    private static readonly string[] Theirs = [.. CampaignResponse.All.Where(r => r.IsTheirs).Select(r => r.Key)];

    /// <summary>All campaigns, or one: those that run first, the retired last.</summary>
    // One statement: each count over all responses is one pass, where a sub-query for each campaign would be as many.
    public static Task<List<CampaignListItem>> List(LanternDb db, RecordScope scope, DateOnly today, string? key = null) =>
        db.Rows<CampaignListItem>(
            $"""
            with said as (
              select campaign_key, count(distinct lead_id)::int as members, (count(distinct lead_id) filter (where response = any({Theirs})))::int as responded
              from campaign_response where {key}::text is null or campaign_key = {key} group by 1),
            brought as (select distinct campaign_key, lead_id from campaign_response where not known and ({key}::text is null or campaign_key = {key})),
            fresh as (
              select r.campaign_key, count(*)::int as fresh, (count(*) filter (where l.state = 'handed_over'))::int as handed_over
              from brought r join lead l on l.id = r.lead_id and {scope.Sees("lead", "l"):sql} group by 1),
            won as (
              select r.campaign_key, count(*)::int as won, sum(d.amount) filter (where d.currency = c.currency) as amount
              from brought r join deal d on d.lead_id = r.lead_id and {scope.Sees("deal", "d"):sql}
                join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key and s.counts = 'won'
                join campaign c on c.key = r.campaign_key group by 1),
            spent as (select campaign_key, sum(amount) as spent from campaign_cost group by 1)
            select c.key, c.name, c.kind,
              case when c.retired then 'retired' when c.starts > {today} then 'planned' when c.ends < {today} then 'over' else 'running' end as standing,
              c.starts, c.ends, {scope.Cost("c.budget"):sql} as budget, {scope.Cost(
                "coalesce(spent.spent, 0)"
            ):sql} as spent, c.currency, c.target, coalesce(said.members, 0) as members, coalesce(fresh.fresh, 0) as fresh,
              coalesce(said.responded, 0) as responded, coalesce(fresh.handed_over, 0) as handed_over, coalesce(won.won, 0) as won, coalesce(won.amount, 0) as won_amount
            from campaign c left join said on said.campaign_key = c.key left join fresh on fresh.campaign_key = c.key left join won on won.campaign_key = c.key
              left join spent on spent.campaign_key = c.key
            where {key}::text is null or c.key = {key} order by c.retired, c.ends desc, c.name
            """
        );

    /// <summary>A campaign whole; null when there is none.</summary>
    public static async Task<CampaignSheet?> Open(LanternDb db, RecordScope scope, string key, DateOnly today)
    {
        var kept = await (
            from c in db.Set<CampaignRow>()
            join p in db.Users on c.OwnerId equals p.Id into owners
            from p in owners.DefaultIfEmpty()
            where c.Key == key
            select new
            {
                c.About,
                c.OwnerId,
                Owner = p.DisplayName,
                c.Retired,
                c.Version,
            }
        ).SingleOrDefaultAsync();
        if (kept is null)
            return null;
        var item = (await List(db, scope, today, key))[0];
        var costs = await (
            from k in db.Set<CampaignCostRow>()
            join p in db.Users on k.PersonId equals p.Id into people
            from p in people.DefaultIfEmpty()
            where k.CampaignKey == key && !scope.HidesCosts
            orderby k.SpentOn descending, k.Id descending
            select new CostView(k.Id, k.SpentOn, k.What, k.Amount, p.DisplayName)
        ).ToListAsync();
        var counts = await db.Set<CampaignResponseRow>()
            .Where(r => r.CampaignKey == key)
            .GroupBy(r => r.Response)
            .Select(g => new ResponseCount(g.Key, g.Where(r => r.Known).Select(r => r.LeadId).Distinct().Count(), g.Where(r => !r.Known).Select(r => r.LeadId).Distinct().Count()))
            .ToListAsync();
        var known = item.Members - item.Fresh;
        var rates = ResponseRates.Of(new ResponseCount("", known, item.Fresh), counts);
        return new CampaignSheet(
            item,
            kept.About,
            kept.OwnerId,
            kept.Owner,
            kept.Retired,
            kept.Version,
            costs,
            known,
            [.. rates.Select(Show)],
            !scope.HidesCosts,
            !scope.LocksCosts
        );
    }

    private static RateView Show(ResponseRate rate)
    {
        var response = CampaignResponse.Find(rate.Response)!;
        return new RateView(rate.Response, response.Label, response.IsTheirs, rate.People, rate.Known, rate.KnownShare, rate.Fresh, rate.FreshShare);
    }

    /// <summary>Members in the order of their ids.</summary>
    /// <param name="response">Only who gave it; null for all.</param>
    public static async Task<MemberPage> Members(LanternDb db, RecordScope scope, string key, string? response, bool? known, Guid? after)
    {
        var responses = db.Set<CampaignResponseRow>().Where(r => r.CampaignKey == key);
        if (!scope.SeesAll("lead"))
            responses = responses.Where(r => scope.Of<Lead>(db).Any(l => l.Id == r.LeadId));
        if (response is not null)
            responses = responses.Where(r => r.Response == response);
        if (known is { } was)
            responses = responses.Where(r => r.Known == was);
        var count = await responses.Select(r => r.LeadId).Distinct().CountAsync();
        if (after is { } last)
            responses = responses.Where(r => r.LeadId > last);
        var leads = await responses.Select(r => r.LeadId).Distinct().OrderBy(l => l).Take(PageSize).ToArrayAsync();
        var people = await db.Rows<MemberRow>(
            $"""
            select l.id as lead, l.number, {scope.LeadName("l"):sql} as name, l.company, l.state
            from lead l where l.id = any({leads}) and {scope.Sees("lead", "l"):sql} order by l.id
            """
        );
        var said = (
            await db.Set<CampaignResponseRow>().AsNoTracking().Where(r => r.CampaignKey == key && leads.Contains(r.LeadId)).OrderByDescending(r => r.At).ToListAsync()
        ).ToLookup(r => r.LeadId);
        var members = people.Select(p => new CampaignMember(
            p.Lead,
            p.Number,
            p.Name,
            p.Company,
            p.State,
            said[p.Lead].All(r => r.Known),
            [.. said[p.Lead].Select(r => new MemberResponse(r.Id, r.Response, CampaignResponse.Find(r.Response)!.Label, r.At, r.Detail))]
        ));
        return new MemberPage([.. members], count, leads.Length == PageSize ? leads[^1] : null);
    }

    private sealed record MemberRow(Guid Lead, int Number, string Name, string? Company, string State);
}
