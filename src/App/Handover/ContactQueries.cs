using System.Security.Claims;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Events;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

/// <summary>Reading one contact whole.</summary>
public sealed class ContactQueries(Workspace workspace, RecordScope scope, Stories stories)
{
    /// <summary>One contact with everything its page shows; null when the person sees none.</summary>
    /// <param name="user">The reader, to tell which notes they may correct.</param>
    public async Task<ContactSheet?> Sheet(LanternDb db, Guid id, ClaimsPrincipal user)
    {
        var row = await db.Row<Head>(
            $"""
            select {scope.ContactName("c"):sql} as name, c.kind, c.owner_id, p.display_name as owner_name, c.reports_to,
              {scope.NameBeside("contact", "b"):sql} as boss, c.account_id, {scope.NameBeside("account", "a"):sql} as account,
              c.facts::text as facts, {scope.ShowsContactData("contact", "c"):sql} as shows_contact_data
            from contact c left join person p on p.id = c.owner_id left join contact b on b.id = c.reports_to left join account a on a.id = c.account_id where c.id = {id}
              and {scope.Sees("contact", "c"):sql}
            """
        );
        if (row is null)
            return null;
        var record = Json.ToRecord(row.Facts, workspace.Catalogue);
        var keys = PersonKeys.Of(workspace.Hashes, record);
        scope.HideIn(record, row.ShowsContactData);
        var book = await ConsentBook.Load(db, [keys]);
        var seen = scope.Of<Account>(db);
        var unseen = RecordScope.Unseen(EventLog.Account);
        var accounts = await (
            from x in db.Set<ContactAccountRow>()
            where x.ContactId == id
            join a in db.Set<Account>() on x.AccountId equals a.Id
            orderby x.Until == null descending, x.Until descending, x.Since descending
            select new ContactAccount(x.Id, x.AccountId, seen.Any(s => s.Id == a.Id) ? a.Name : unseen, scope.HidesPersonalData ? "" : x.Title, x.Since, x.Until)
        ).ToListAsync();
        if (row.AccountId is { } first)
            accounts.Insert(0, new ContactAccount(Guid.Empty, first, row.Account!, record.Text("job_title") ?? "", null, null));
        return new ContactSheet(
            id,
            row.Name,
            row.Kind,
            workspace.Value(PickList.Kinds, row.Kind)?.Label,
            record.Text("job_title"),
            row.OwnerId,
            row.OwnerName,
            row.ReportsTo is { } boss ? new ContactRef(boss, row.Boss!) : null,
            await db.Rows<ContactRef>(
                $"select c.id, {scope.ContactName("c"):sql} as name from contact c where c.reports_to = {id} and {scope.Sees("contact", "c"):sql} order by c.name limit 200"
            ),
            accounts,
            [.. workspace.ConsentPurposes.Select(p => new ContactConsent(p.Key, p.Label, book.StateOf(keys, p.Key) is { Length: > 0 } state ? state : "unknown"))],
            book.IsBarred(keys),
            await Deals(db, id),
            await db.Rows<ContactLead>(
                $"select l.id, l.number, {scope.LeadName("l"):sql} as name, h.at from handover h join lead l on l.id = h.lead_id where h.contact_id = {id} and h.taken_back_at is null and {scope.Sees("lead", "l"):sql} order by h.at desc"
            ),
            (await DealQueries.Tags(db, "contact_id", id)).ToList(),
            await stories.Of(db, EventLog.Contact, id, row.ShowsContactData, (user.Id(), user.May(Act.SetUp)))
        );
    }

    private async Task<List<ContactDeal>> Deals(LanternDb db, Guid id)
    {
        var roles = workspace.List(PickList.Roles).ToDictionary(r => r.Key, r => r.Label);
        // A union of ids, so that both indexes are used.
        var ids = db.Set<Deal>()
            .TagWith("unscoped: their ids only")
            .Where(d => d.ContactId == id)
            .Select(d => d.Id)
            .Union(db.Set<DealPersonRow>().Where(p => p.ContactId == id).Select(p => p.DealId));
        var rows = await (
            from d in scope.Of<Deal>(db)
            where ids.Contains(d.Id)
            join s in db.Set<StageRow>() on new { d.PipelineKey, d.StageKey } equals new { s.PipelineKey, StageKey = s.Key }
            orderby d.ClosedAt != null, d.ExpectedClose
            select new
            {
                Deal = d,
                Stage = s.Name,
                s.Counts,
                Roles = db.Set<DealPersonRow>().Where(p => p.DealId == d.Id && p.ContactId == id && p.Role != "").Select(p => p.Role).ToList(),
            }
        )
            .Take(200)
            .AsNoTracking()
            .ToListAsync();
        return
        [
            .. rows.Select(r => new ContactDeal(
                r.Deal.Id,
                r.Deal.Name,
                r.Stage,
                r.Counts,
                r.Deal.Amount,
                r.Deal.Currency,
                r.Deal.ExpectedClose,
                [.. r.Roles.Select(k => roles.GetValueOrDefault(k, k))]
            )),
        ];
    }

    private sealed record Head
    {
        public string Name { get; init; } = "";
        public string Kind { get; init; } = "";
        public Guid? OwnerId { get; init; }
        public string? OwnerName { get; init; }
        public Guid? ReportsTo { get; init; }
        public string? Boss { get; init; }
        public Guid? AccountId { get; init; }
        public string? Account { get; init; }
        public string Facts { get; init; } = "{}";
        public bool ShowsContactData { get; init; }
    }
}
