using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Qualifying;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

/// <summary>Reading deals.</summary>
public sealed class DealQueries(Workspace workspace, RecordScope scope, Stories stories, TimeProvider clock)
{
    // Over the aliases d, c, s, a, p.
    private SqlText Select =>
        $"""
            select d.id, d.version, d.name, {scope.NameBeside("account", "a"):sql} as account_name, {scope.NameBeside("contact", "c"):sql} as contact_name,
              p.display_name as owner_name, d.stage_key, d.amount, d.currency, d.expected_close, d.lead_id, d.account_id, d.contact_id,
              d.stage_since, d.closed_at, coalesce(d.probability, s.probability) as probability, d.probability is not null as own_probability, (d.expected_close < {Today} and s.counts = 'open') as late,
              coalesce(s.counts = 'open' and d.stage_since < {clock.UtcNow()} - make_interval(days => s.days), false) as slow
            from deal d join contact c on c.id = d.contact_id join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key
              left join account a on a.id = d.account_id left join person p on p.id = d.owner_id
            """;

    private DateOnly Today => DateOnly.FromDateTime(clock.UtcNow());

    /// <summary>Deals that the reader sees and a condition over the select's aliases holds of.</summary>
    /// <param name="order">What follows the condition; null for nothing.</param>
    internal Task<List<DealItem>> Rows(LanternDb db, SqlText where, SqlText? order = null)
    {
        SqlText none = $"";
        return db.Rows<DealItem>($"{Select:sql} where {scope.Sees("deal", "d"):sql} and {where:sql} {order ?? none:sql}");
    }

    /// <summary>One deal with everything its page shows; null when there is none.</summary>
    public async Task<DealSheet?> Sheet(LanternDb db, Guid id, ClaimsPrincipal? user = null)
    {
        if ((await Rows(db, $"d.id = {id}")).FirstOrDefault() is not { } deal)
            return null;
        var more = await db.One<More>(
            $"""
            select d.pipeline_key as pipeline, o.name as source, k.name as campaign, d.lost_reason, d.lost_to, l.qualification::text as qualification, l.pipeline as asked,
              {scope.ShowsContactData("deal", "d"):sql} as shows_contact_data
            from deal d join source o on o.key = d.source left join campaign k on k.key = d.campaign left join lead l on l.id = d.lead_id where d.id = {id}
              and {scope.Sees("deal", "d"):sql}
            """
        );
        var pipeline = workspace.Pipeline(more.Pipeline)!;
        var stage = pipeline.Stage(deal.StageKey)!;
        var products = await Products(db, id);
        return new DealSheet(
            deal,
            pipeline.Key,
            stage.Name,
            stage.Counts,
            stage.Probability,
            more.Source,
            more.Campaign,
            Named(PickList.LostReasons, more.LostReason),
            Named(PickList.Competitors, more.LostTo),
            await People(db, deal),
            products,
            products.Count == 0 ? null : products.Sum(p => p.Total),
            [
                .. (await db.Set<DealCompetitorRow>().Where(x => x.DealId == id).OrderBy(x => x.Competitor).Select(x => new { x.Competitor, x.Note }).ToListAsync()).Select(
                    r => new CompetitorView(r.Competitor, Named(PickList.Competitors, r.Competitor)!, r.Note)
                ),
            ],
            await Stages(db, id, pipeline, deal),
            await LeadQueries.TasksOf(db, "deal_id", id),
            Findings(more),
            await Tags(db, "deal_id", id),
            await stories.Of(db, EventLog.Deal, id, more.ShowsContactData, user is null ? null : (user.Id(), user.May(Act.SetUp)))
        );
    }

    /// <summary>Names of the tags of the leads that became a record.</summary>
    /// <param name="column">deal_id, contact_id or account_id.</param>
    internal static Task<List<string>> Tags(LanternDb db, string column, Guid id) =>
        db.Rows<string>(
            $"""
            select distinct t.name as "Value" from handover h join lead_tag l on l.lead_id = h.lead_id join tag m on m.key = l.tag_key join tag t on t.key = coalesce(m.merged_into, m.key)
            where h.{column:sql} = {id} and h.taken_back_at is null order by 1
            """
        );

    private string? Named(string list, string? key) => workspace.Value(list, key)?.Label ?? key;

    private List<QuestionView> Findings(More more)
    {
        if (more.Qualification is not { } kept)
            return [];
        var findings = QualifyEndpoints.Read(kept);
        return [.. (workspace.Pipeline(more.Asked) ?? workspace.Pipeline(null))!.Questions.Select(q => new QuestionView(q.Key, q.Label, q.Hint, findings.Of(q.Key)))];
    }

    private async Task<List<DealPersonView>> People(LanternDb db, DealItem deal)
    {
        var rows = await db.Rows<OnDeal>(
            $"""
            select x.id, c.id as contact, {scope.NameBeside("contact", "c"):sql} as name,
              case when {scope.Sees("contact", "c"):sql} and {scope.ShowsContactData("contact", "c"):sql} then c.email end as email, {scope.NameBeside(
                "account",
                "a"
            ):sql} as account, x.role
            from deal_person x join contact c on c.id = x.contact_id left join account a on a.id = c.account_id
            where x.deal_id = {deal.Id} order by x.contact_id <> {deal.ContactId}, x.at, x.id
            """
        );
        var people = rows.ConvertAll(r => new DealPersonView(
            r.Id,
            r.Contact,
            r.Name,
            r.Email,
            r.Account,
            r.Role,
            r.Role.Length == 0 ? null : Named(PickList.Roles, r.Role),
            r.Contact == deal.ContactId
        ));
        // Deals from before people had parts show whom they were made for.
        if (people.All(p => p.ContactId != deal.ContactId))
            people.Insert(0, new DealPersonView(Guid.Empty, deal.ContactId, deal.ContactName, null, deal.AccountName, "", null, true));
        return people;
    }

    private async Task<List<DealProductView>> Products(LanternDb db, Guid id) =>
        await (
            from d in db.Set<DealProductRow>()
            where d.DealId == id
            join p in db.Set<ProductRow>() on d.ProductKey equals p.Key
            orderby d.Position
            select new DealProductView(d.ProductKey, p.Name, p.Unit, d.Quantity, d.Price, d.Quantity * d.Price)
        ).ToListAsync();

    private async Task<List<StageStay>> Stages(LanternDb db, Guid id, LivePipeline pipeline, DealItem deal)
    {
        var rows = await (
            from s in db.Set<DealStageRow>()
            where s.DealId == id
            join p in db.Set<Person>() on s.PersonId equals p.Id into people
            from p in people.DefaultIfEmpty()
            orderby s.Since, s.Id
            select new
            {
                Stage = s.StageKey,
                s.Since,
                By = (string?)p.DisplayName,
            }
        ).ToListAsync();
        return
        [
            .. rows.Select(
                (r, i) =>
                {
                    var until = i + 1 < rows.Count ? rows[i + 1].Since : deal.ClosedAt;
                    return new StageStay(r.Stage, pipeline.Stage(r.Stage)?.Name ?? r.Stage, r.Since, until, Math.Round(((until ?? clock.UtcNow()) - r.Since).TotalDays, 1), r.By);
                }
            ),
        ];
    }

    private sealed record OnDeal(Guid Id, Guid Contact, string Name, string? Email, string? Account, string Role);

    private sealed record More
    {
        public string Pipeline { get; init; } = "";
        public string Source { get; init; } = "";
        public string? Campaign { get; init; }
        public string? LostReason { get; init; }
        public string? LostTo { get; init; }
        public string? Qualification { get; init; }
        public string? Asked { get; init; }
        public bool ShowsContactData { get; init; }
    }
}
