using Dapper;
using DapperLantern.App.Leads;
using DapperLantern.Core.Campaigns;
using Npgsql;

namespace DapperLantern.App.Campaigns;

/// <summary>A campaign in the list.</summary>
/// <param name="Standing">planned, running, over or retired.</param>
/// <param name="Spent">Sum of the cost entries, in <paramref name="Currency"/>.</param>
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
    decimal Spent,
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
    public decimal? CostEach => Fresh == 0 ? null : Math.Round(Spent / Fresh, 2);
}

public sealed record CampaignsView(
    IReadOnlyList<CampaignListItem> Campaigns,
    IReadOnlyList<ChoiceView> Kinds,
    IReadOnlyList<ChoiceView> Responses,
    IReadOnlyList<ChoiceView> Owners
);

public sealed record CostView(Guid Id, DateOnly SpentOn, string What, decimal Amount, string? By);

/// <summary>One response with its rates; see <see cref="ResponseRate"/>.</summary>
public sealed record RateView(string Response, string Label, bool Theirs, int People, int Known, double? KnownShare, int Fresh, double? FreshShare);

/// <summary>A campaign whole.</summary>
public sealed record CampaignSheet(
    CampaignListItem Campaign,
    string About,
    Guid? OwnerId,
    string? Owner,
    bool Retired,
    int Version,
    IReadOnlyList<CostView> Costs,
    int KnownMembers,
    IReadOnlyList<RateView> Rates
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

    private const string Select = """
        with said as (
          select campaign_key, count(distinct lead_id)::int as members, (count(distinct lead_id) filter (where response = any(@theirs)))::int as responded
          from campaign_response where @key::text is null or campaign_key = @key group by 1),
        brought as (select distinct campaign_key, lead_id from campaign_response where not known and (@key::text is null or campaign_key = @key)),
        fresh as (
          select r.campaign_key, count(*)::int as fresh, (count(*) filter (where l.state = 'handed_over'))::int as handed_over
          from brought r join lead l on l.id = r.lead_id group by 1),
        won as (
          select r.campaign_key, count(*)::int as won, sum(d.amount) filter (where d.currency = c.currency) as amount
          from brought r join deal d on d.lead_id = r.lead_id join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key and s.counts = 'won'
            join campaign c on c.key = r.campaign_key group by 1),
        spent as (select campaign_key, sum(amount) as spent from campaign_cost group by 1)
        select c.key, c.name, c.kind,
          case when c.retired then 'retired' when c.starts > @today then 'planned' when c.ends < @today then 'over' else 'running' end as standing,
          c.starts, c.ends, c.budget, coalesce(spent.spent, 0) as spent, c.currency, c.target, coalesce(said.members, 0) as members, coalesce(fresh.fresh, 0) as fresh,
          coalesce(said.responded, 0) as responded, coalesce(fresh.handed_over, 0) as handed_over, coalesce(won.won, 0) as won, coalesce(won.amount, 0) as won_amount
        from campaign c left join said on said.campaign_key = c.key left join fresh on fresh.campaign_key = c.key left join won on won.campaign_key = c.key
          left join spent on spent.campaign_key = c.key
        where @key::text is null or c.key = @key order by c.retired, c.ends desc, c.name
        """;

    private static readonly string[] Theirs = [.. CampaignResponse.All.Where(r => r.IsTheirs).Select(r => r.Key)];

    public static async Task<List<CampaignListItem>> List(NpgsqlConnection connection, DateOnly today, string? key = null) =>
        (
            await connection.QueryAsync<CampaignListItem>(
                Select,
                new
                {
                    key,
                    today,
                    theirs = Theirs,
                }
            )
        ).ToList();

    /// <summary>A campaign whole; null when there is none.</summary>
    public static async Task<CampaignSheet?> Open(NpgsqlConnection connection, string key, DateOnly today)
    {
        if (
            await connection.QuerySingleOrDefaultAsync<Kept>(
                "select c.about, c.owner_id, p.display_name as owner, c.retired, c.version from campaign c left join person p on p.id = c.owner_id where c.key = @key",
                new { key }
            )
            is not { } kept
        )
            return null;
        var item = (await List(connection, today, key))[0];
        var costs = await connection.QueryAsync<CostView>(
            """select k.id, k.spent_on, k.what, k.amount, p.display_name as by from campaign_cost k left join person p on p.id = k.person_id where k.campaign_key = @key order by k.spent_on desc, k.id desc""",
            new { key }
        );
        var counts = await connection.QueryAsync<ResponseCount>(
            """
            select response, (count(distinct lead_id) filter (where known))::int as known, (count(distinct lead_id) filter (where not known))::int as fresh
            from campaign_response where campaign_key = @key group by 1
            """,
            new { key }
        );
        var known = item.Members - item.Fresh;
        var rates = ResponseRates.Of(new ResponseCount("", known, item.Fresh), counts);
        return new CampaignSheet(item, kept.About, kept.OwnerId, kept.Owner, kept.Retired, kept.Version, [.. costs], known, [.. rates.Select(Show)]);
    }

    private static RateView Show(ResponseRate rate)
    {
        var response = CampaignResponse.Find(rate.Response)!;
        return new RateView(rate.Response, response.Label, response.IsTheirs, rate.People, rate.Known, rate.KnownShare, rate.Fresh, rate.FreshShare);
    }

    /// <summary>Members in the order of their ids.</summary>
    /// <param name="response">Only who gave it; null for all.</param>
    public static async Task<MemberPage> Members(NpgsqlConnection connection, string key, string? response, bool? known, Guid? after)
    {
        const string filter = "campaign_key = @key and (@response::text is null or response = @response) and (@known::bool is null or known = @known)";
        var with = new
        {
            key,
            response,
            known,
            after,
            PageSize,
        };
        var count = await connection.QuerySingleAsync<int>($"select count(distinct lead_id)::int from campaign_response where {filter}", with);
        var leads = (
            await connection.QueryAsync<Guid>(
                $"select distinct lead_id from campaign_response where {filter} and (@after::uuid is null or lead_id > @after) order by lead_id limit @PageSize",
                with
            )
        ).ToArray();
        var people = await connection.QueryAsync<MemberRow>(
            """
            select id as lead, number, coalesce(nullif(trim(concat_ws(' ', first_name, last_name)), ''), company, email, phone, 'No name') as name, company, state
            from lead where id = any(@leads) order by id
            """,
            new { leads }
        );
        var said = (
            await connection.QueryAsync<CampaignResponseRow>(
                "select * from campaign_response where campaign_key = @key and lead_id = any(@leads) order by at desc",
                new { key, leads }
            )
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

    private sealed record Kept(string About, Guid? OwnerId, string? Owner, bool Retired, int Version);

    private sealed record MemberRow(Guid Lead, int Number, string Name, string? Company, string State);
}
