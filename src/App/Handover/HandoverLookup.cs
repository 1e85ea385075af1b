using System.Collections.Immutable;
using System.Globalization;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Matching;

namespace DapperLantern.App.Handover;

/// <summary>An account or contact that is already there, with the evidence for it.</summary>
public sealed record FoundRecord(Guid Id, string Name, double Bits, bool Same, IReadOnlyList<string> Evidence);

/// <summary>The deal as it would be in a pipeline.</summary>
/// <param name="Amount">What the products come to; null where the price list says nothing.</param>
public sealed record DealProposal(
    string Pipeline,
    string PipelineName,
    string Stage,
    string Name,
    decimal? Amount,
    string Currency,
    DateOnly ExpectedClose,
    IReadOnlyList<WishedLine> Products
);

/// <summary>What a handover would do: the sheet, and what is already there.</summary>
public sealed record HandoverLook(RecordValues Lead, Core.Handover.HandoverSheet Sheet, LockedTargets Held, AlreadyThere There, IReadOnlyList<DealProposal> Proposals);

/// <summary>Accounts and contacts there are already that may be the lead's, the most likely first.</summary>
/// <param name="UnseenAccounts">Accounts that are the lead's beyond doubt and that the reader does not see.</param>
/// <param name="UnseenContacts">The same of contacts.</param>
public sealed record AlreadyThere(IReadOnlyList<FoundRecord> Accounts, IReadOnlyList<FoundRecord> Contacts, IReadOnlyList<Guid> UnseenAccounts, IReadOnlyList<Guid> UnseenContacts)
{
    public FoundRecord? SameAccount => Accounts.FirstOrDefault(a => a.Same);
    public FoundRecord? SameContact => Contacts.FirstOrDefault(c => c.Same);
}

/// <summary>A further lead of the company, laid out to come along.</summary>
/// <param name="Contact">The contact it is; null to make one.</param>
public sealed record AlongLook(RecordValues Lead, Core.Handover.HandoverSheet Sheet, LockedTargets Held, Guid? Contact);

/// <summary>What a lead is to be laid out against. Nothing said: what is the same beyond doubt.</summary>
/// <param name="Makes">What account is wanted; null as the sheet proposes.</param>
public sealed record HandoverWish(Guid? Account = null, Guid? Contact = null, AccountKind? Makes = null, bool NewAccount = false, bool NewContact = false);

/// <summary>Lays leads out for handing over: what is there already, what would be made, what it would be called and worth.</summary>
public sealed class HandoverLookup(Workspace workspace, RecordScope scope, TimeProvider clock)
{
    private const int Crowd = 200;

    /// <summary>Lays the lead out against the chosen account and contact; by default those that are the same beyond doubt. Null when there is no such lead.</summary>
    /// <param name="hold">True to lock what it is laid out against until it is written, which requires a transaction.</param>
    public async Task<HandoverLook?> Look(LanternDb db, Guid lead, HandoverWish? wish = null, bool hold = false) =>
        await LeadStore.Load(db, lead, workspace.Catalogue, clock.UtcNow()) is { } record
            ? await Lay(db, record, (await Find(db, [record]))[0], wish ?? new HandoverWish(), hold)
            : null;

    /// <summary>As <see cref="Look"/>, of a lead that was read already.</summary>
    /// <param name="there">What <see cref="Find"/> found for it.</param>
    public async Task<HandoverLook> Lay(LanternDb db, RecordValues record, AlreadyThere there, HandoverWish wish, bool hold)
    {
        var kind = wish.Makes ?? (wish.Account is not null ? AccountKind.Organisation : null);
        // Who is named is meant, whatever else is said.
        var ofAccount = wish.Account ?? (kind == AccountKind.None || wish.NewAccount ? null : there.SameAccount?.Id);
        var ofContact = wish.Contact ?? (wish.NewContact ? null : there.SameContact?.Id);
        var held = await LockedTargets.Read(db, ofAccount, ofContact, hold);
        var sheet = HandoverPlanner.Plan(record, held.Targets, kind ?? (ofAccount is not null ? AccountKind.Organisation : null));
        var name = there.Accounts.FirstOrDefault(a => a.Id == ofAccount)?.Name ?? sheet.AccountName;
        return new HandoverLook(record, sheet, held, there, [.. workspace.Pipelines.Where(p => p.First is not null).Select(p => Propose(record, p, name))]);
    }

    /// <summary>Lays out one that comes along to another's deal, held until it is written: against the contact named, or the one that is the same beyond doubt. Null when there is no such lead.</summary>
    public async Task<AlongLook?> LookAlong(LanternDb db, AlongOrder along, Guid? account, AccountKind makes)
    {
        if (await LeadStore.Load(db, along.LeadId, workspace.Catalogue, clock.UtcNow()) is not { } record)
            return null;
        var contact = along.ContactId ?? (along.NewContact ? null : (await Find(db, [record]))[0].SameContact?.Id);
        var held = await LockedTargets.Read(db, account, contact, hold: true);
        return new AlongLook(record, HandoverPlanner.Plan(record, held.Targets, makes, along: true), held, contact);
    }

    private DealProposal Propose(RecordValues lead, LivePipeline pipeline, string? account)
    {
        var currency = CurrencyOf(lead.Text("country"), pipeline);
        var products = workspace.Wish.Read(lead.Text("interest"), currency);
        var closes = DateOnly.FromDateTime(clock.UtcNow()).AddDays(pipeline.UsualDays);
        return new DealProposal(
            pipeline.Key,
            pipeline.Name,
            pipeline.First!.Key,
            NameConvention.Write(pipeline.NameForm, place => Say(place, lead, pipeline, account, products, closes)),
            ProductWish.Amount(products),
            currency,
            closes,
            products
        );
    }

    private string? Say(string place, RecordValues lead, LivePipeline pipeline, string? account, IReadOnlyList<WishedLine> products, DateOnly closes) =>
        place switch
        {
            "account" => account ?? HandoverPlanner.PersonOf(lead) ?? lead.Text("email") ?? lead.Text("phone"),
            "person" => HandoverPlanner.PersonOf(lead),
            "product" => products.Count > 0 ? string.Join(" and ", products.Select(p => p.Name)) : lead.Text("interest"),
            "month" => closes.ToString("MMMM yyyy", CultureInfo.InvariantCulture),
            "year" => closes.ToString("yyyy", CultureInfo.InvariantCulture),
            "pipeline" => pipeline.Name,
            _ => workspace.Catalogue.Find(place) is { } field && lead[field.Ordinal] is { IsKnown: true } value ? field.Show(value.ToString()) : null,
        };

    // The lead's own where the price list has it, else the pipeline's.
    private string CurrencyOf(string? country, LivePipeline pipeline) =>
        Currencies.Of(country) is { } own && workspace.Products.Any(p => p.Prices.ContainsKey(own)) ? own : pipeline.Currency;

    // Accounts by their web domain and name. Contacts by the keys they share, but for those of a crowd, such as the number of a switchboard; and by their own address.
    private static SqlText AccountsThere(int[] places, string[] domains, string[] names) =>
        $"""
            select q.place, a.id, a.name, a.domain, a.company_key, a.country {RecordScope.Unscoped("whoever hands over has to know what is there already"):sql}
              from unnest({places}, {domains}, {names}) q(place, domain, name)
              cross join lateral (select * from account where domain = nullif(q.domain, '') or company_key = nullif(q.name, '') order by created_at limit 50) a
            order by q.place, a.created_at
            """;

    private static SqlText ContactsThere(int[] keyPlaces, long[] keys, int[] places, string[] emails) =>
        $"""
            {RecordScope.Unscoped("whoever hands over has to know who is there already"):sql}
            select h.place, c.id, c.name, c.email, c.phone, c.facts, c.company_key, c.domain from (
              select q.place, r.id from unnest({keyPlaces}, {keys}) q(place, key)
                cross join lateral (select array_agg(record_id) as ids from (select record_id from match_key where key = q.key limit {Crowd}) x) k
                cross join lateral unnest(k.ids) r(id) where cardinality(k.ids) < {Crowd}
              union select q.place, c.id from unnest({places}, {emails}) q(place, mail) cross join lateral (select id from contact where email = nullif(q.mail, '') offset 0) c) h
              cross join lateral ({MatchKeys.OfContact:sql} where c.id = h.id offset 0) c
            order by h.place, c.created_at, c.id
            """;

    /// <summary>What is there already of each of these leads, in their order.</summary>
    public async Task<IReadOnlyList<AlreadyThere>> Find(LanternDb db, IReadOnlyList<RecordValues> leads)
    {
        var (companies, people) = (leads.Select(Organisation.Of).ToList(), leads.Select(Identity.Of).ToList());
        var keys = people.SelectMany((who, place) => BlockKeys.Kept(who).Select(key => (place, key))).ToList();
        int[] places = [.. Enumerable.Range(0, leads.Count)];
        var accounts = (await db.Rows<AccountThere>(AccountsThere(places, [.. companies.Select(c => c.Domain)], [.. companies.Select(c => c.Name)]))).ToLookup(a => a.Place);
        var contacts = (
            await db.Rows<ContactIdentity>(ContactsThere([.. keys.Select(k => k.place)], [.. keys.Select(k => k.key)], places, [.. people.Select(p => p.Email)]))
        ).ToLookup(c => c.Place);
        // Nothing is laid out against a record that whoever hands over does not see, nor linked to it without a word.
        var unseen = (await scope.Unseen(db, EventLog.Account, [.. accounts.SelectMany(g => g).Select(a => a.Id)]))
            .Concat(await scope.Unseen(db, EventLog.Contact, [.. contacts.SelectMany(g => g).Select(c => c.Id)]))
            .ToHashSet();
        return
        [
            .. companies.Select(
                (own, place) =>
                {
                    var known = Judge(
                        accounts[place].Select(a => (a.Id, a.Name, AccountMatcher.Compare(own, new Organisation(a.Domain ?? "", a.CompanyKey ?? "", a.Country ?? ""))))
                    );
                    var met = Judge(contacts[place].Select(c => (c.Id, c.Name, workspace.Matcher.Compare(people[place], c.Identity(workspace.Catalogue)))));
                    return new AlreadyThere(
                        [.. known.Where(a => !unseen.Contains(a.Id))],
                        [.. met.Where(c => !unseen.Contains(c.Id))],
                        [.. known.Where(a => a.Same && unseen.Contains(a.Id)).Select(a => a.Id)],
                        [.. met.Where(c => c.Same && unseen.Contains(c.Id)).Select(c => c.Id)]
                    );
                }
            ),
        ];
    }

    private sealed record AccountThere(int Place, Guid Id, string Name, string? Domain, string? CompanyKey, string? Country);

    private static IReadOnlyList<FoundRecord> Judge(IEnumerable<(Guid Id, string Name, MatchResult Match)> candidates) =>
        [
            .. candidates
                .Where(c => c.Match.Same || c.Match.Duplicate)
                .OrderByDescending(c => c.Match.Bits)
                .Select(c => new FoundRecord(c.Id, c.Name, c.Match.Bits, c.Match.Same, [.. c.Match.Evidence.Select(e => e.Words)])),
        ];
}
