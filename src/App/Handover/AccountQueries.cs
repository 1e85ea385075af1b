using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Events;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

/// <summary>Reading one account whole.</summary>
public sealed class AccountQueries(DealQueries deals, RecordScope scope, Stories stories)
{
    private const int MostDeep = 20;

    /// <summary>One account with everything its page shows; null when the person sees none.</summary>
    /// <param name="user">The reader, to tell which notes they may correct.</param>
    public async Task<AccountSheet?> Sheet(LanternDb db, Guid id, ClaimsPrincipal user)
    {
        var row = await db.Row<Head>(
            $"""
            select a.name, a.household, a.kinds, a.segments, a.owner_id, p.display_name as owner_name, a.created_at, b.id as parent_id, {scope.NameBeside(
                "account",
                "b"
            ):sql} as parent_name, a.facts::text as facts,
              {scope.ShowsContactData("account", "a"):sql} as shows_contact_data
            from account a left join person p on p.id = a.owner_id left join account b on b.id = a.parent_id where a.id = {id} and {scope.Sees("account", "a"):sql}
            """
        );
        if (row is null)
            return null;
        var addresses = await db.Set<AccountAddressRow>()
            .Where(x => x.AccountId == id)
            .OrderBy(x => x.Kind)
            .ThenBy(x => x.Id)
            .Select(x => new AddressView(x.Id, x.Kind, x.Street, x.PostalCode, x.City, x.Region, x.Country))
            .ToListAsync();
        return new AccountSheet(
            id,
            row.Name,
            row.Household,
            row.Kinds,
            row.Segments,
            row.ParentId is { } parent ? new AccountRef(parent, row.ParentName!) : null,
            await scope.Of<Account>(db).Where(x => x.ParentId == id).OrderBy(x => x.Name).Take(200).Select(x => new AccountRef(x.Id, x.Name)).ToListAsync(),
            row.OwnerId,
            row.OwnerName,
            row.CreatedAt,
            [.. MainAddress(row.Facts), .. addresses],
            await Contacts(db, id),
            await deals.Rows(db, $"d.account_id = {id}", $"order by d.closed_at is not null, d.expected_close, d.id limit 200"),
            await db.Rows<AccountCampaign>(
                $"""
                select k.key, k.name, count(distinct r.lead_id)::int as people from handover h join campaign_response r on r.lead_id = h.lead_id join campaign k on k.key = r.campaign_key
                where h.account_id = {id} and h.taken_back_at is null group by 1, 2 order by 3 desc, 2
                """
            ),
            (await DealQueries.Tags(db, "account_id", id)).ToList(),
            await stories.Of(db, EventLog.Account, id, row.ShowsContactData, (user.Id(), user.May(Act.SetUp)))
        );
    }

    internal static IEnumerable<AddressView> MainAddress(string held)
    {
        var facts = Json.Read<Dictionary<string, string>>(held);
        var of = (string key) => facts.GetValueOrDefault(key, "");
        var main = new AddressView(Guid.Empty, "main", of("street"), of("postal_code"), of("city"), of("region"), of("country"));
        return (main.Street + main.PostalCode + main.City + main.Country).Length == 0 ? [] : [main];
    }

    // Those under whom they report, in the order of a tree; a circle, which the writing refuses, would end at its depth.
    private async Task<List<AccountContact>> Contacts(LanternDb db, Guid id) =>
        await db.Rows<AccountContact>(
            $"""
            with recursive own as (
              select c.*, false as former from contact c where c.account_id = {id} and {scope.Sees("contact", "c"):sql}
              union select c.*, x.until is not null from contact_account x join contact c on c.id = x.contact_id
                where x.account_id = {id} and c.account_id is distinct from {id} and {scope.Sees("contact", "c"):sql}
            ), tree as (
              select o.*, 0 as depth, array[o.name || o.id] as path from own o where o.reports_to is null or not exists (select 1 from own b where b.id = o.reports_to)
              union all select o.*, t.depth + 1, t.path || (o.name || o.id) from own o join tree t on t.id = o.reports_to where t.depth < {MostDeep}
            )
            select t.id, {scope.ContactName("t"):sql} as name, {scope.Personal("t.facts->>'job_title'"):sql} as job_title, case when {scope.ShowsContactData(
                "contact",
                "t"
            ):sql} then t.email end as email,
              case when {scope.ShowsContactData("contact", "t"):sql} then t.phone end as phone, t.kind, t.reports_to, t.depth, t.former from tree t order by t.path limit 500
            """
        );

    private sealed record Head
    {
        public string Name { get; init; } = "";
        public bool Household { get; init; }
        public string[] Kinds { get; init; } = [];
        public string[] Segments { get; init; } = [];
        public Guid? OwnerId { get; init; }
        public string? OwnerName { get; init; }
        public DateTime CreatedAt { get; init; }
        public Guid? ParentId { get; init; }
        public string? ParentName { get; init; }
        public string Facts { get; init; } = "{}";
        public bool ShowsContactData { get; init; }
    }
}
