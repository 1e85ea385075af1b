using System.Collections.Immutable;
using System.Globalization;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Setup;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Matching;
using Npgsql;

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
public sealed record HandoverLook(
    RecordValues Lead,
    Core.Handover.HandoverSheet Sheet,
    Held Held,
    IReadOnlyList<FoundRecord> Accounts,
    IReadOnlyList<FoundRecord> Contacts,
    IReadOnlyList<DealProposal> Proposals
)
{
    public FoundRecord? SameAccount => Accounts.FirstOrDefault(a => a.Same);
    public FoundRecord? SameContact => Contacts.FirstOrDefault(c => c.Same);
}

/// <summary>A further lead of the company, laid out to come along.</summary>
/// <param name="Contact">The contact it is; null to make one.</param>
public sealed record AlongLook(RecordValues Lead, Core.Handover.HandoverSheet Sheet, Held Held, Guid? Contact);

/// <summary>What a lead is to be laid out against. Nothing said: what is the same beyond doubt.</summary>
/// <param name="Makes">What account is wanted; null as the sheet proposes.</param>
public sealed record HandoverWish(Guid? Account = null, Guid? Contact = null, AccountKind? Makes = null, bool NewAccount = false, bool NewContact = false);

/// <summary>Lays leads out for handing over: what is there already, what would be made, what it would be called and worth.</summary>
public sealed class HandoverDesk(Installation installation, TimeProvider clock)
{
    private const int Crowd = 200;

    /// <summary>Lays the lead out against the chosen account and contact; by default those that are the same beyond doubt. Null when there is no such lead.</summary>
    /// <param name="hold">True to lock what it is laid out against until it is written, which requires a transaction.</param>
    public async Task<HandoverLook?> Look(NpgsqlConnection connection, Guid lead, HandoverWish? wish = null, bool hold = false) =>
        await LeadStore.Load(connection, lead, installation.Catalogue, clock.UtcNow()) is { } record ? await Lay(connection, record, wish ?? new HandoverWish(), hold) : null;

    /// <summary>As <see cref="Look"/>, of a lead that was read already.</summary>
    public async Task<HandoverLook> Lay(NpgsqlConnection connection, RecordValues record, HandoverWish wish, bool hold)
    {
        var accounts = await Accounts(connection, record);
        var contacts = await Contacts(connection, record);
        var kind = wish.Makes ?? (wish.Account is not null ? AccountKind.Organisation : null);
        // Who is named is meant, whatever else is said.
        var ofAccount = wish.Account ?? (kind == AccountKind.None || wish.NewAccount ? null : accounts.FirstOrDefault(a => a.Same)?.Id);
        var ofContact = wish.Contact ?? (wish.NewContact ? null : contacts.FirstOrDefault(c => c.Same)?.Id);
        var held = await Held.Read(connection, ofAccount, ofContact, hold);
        var sheet = HandoverPlanner.Plan(record, held.Targets, kind ?? (ofAccount is not null ? AccountKind.Organisation : null));
        var name = accounts.FirstOrDefault(a => a.Id == ofAccount)?.Name ?? sheet.AccountName;
        return new HandoverLook(record, sheet, held, accounts, contacts, [.. installation.Pipelines.Where(p => p.First is not null).Select(p => Propose(record, p, name))]);
    }

    /// <summary>Lays out one that comes along to another's deal, held until it is written: against the contact named, or the one that is the same beyond doubt. Null when there is no such lead.</summary>
    public async Task<AlongLook?> LookAlong(NpgsqlConnection connection, AlongOrder along, Guid? account, AccountKind makes)
    {
        if (await LeadStore.Load(connection, along.LeadId, installation.Catalogue, clock.UtcNow()) is not { } record)
            return null;
        var contact = along.ContactId ?? (along.NewContact ? null : (await Contacts(connection, record)).FirstOrDefault(c => c.Same)?.Id);
        var held = await Held.Read(connection, account, contact, hold: true);
        return new AlongLook(record, HandoverPlanner.Plan(record, held.Targets, makes, along: true), held, contact);
    }

    private DealProposal Propose(RecordValues lead, LivePipeline pipeline, string? account)
    {
        var currency = CurrencyOf(lead.Text("country"), pipeline);
        var products = installation.Wish.Read(lead.Text("wants"), currency);
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
            "product" => products.Count > 0 ? string.Join(" and ", products.Select(p => p.Name)) : lead.Text("wants"),
            "month" => closes.ToString("MMMM yyyy", CultureInfo.InvariantCulture),
            "year" => closes.ToString("yyyy", CultureInfo.InvariantCulture),
            "pipeline" => pipeline.Name,
            _ => installation.Catalogue.Find(place) is { } field && lead[field.Ordinal] is { IsKnown: true } value ? field.Show(value.ToString()) : null,
        };

    // The lead's own where the price list has it, else the pipeline's.
    private string CurrencyOf(string? country, LivePipeline pipeline) =>
        Currencies.Of(country) is { } own && installation.Products.Any(p => p.Prices.ContainsKey(own)) ? own : pipeline.Currency;

    private static async Task<IReadOnlyList<FoundRecord>> Accounts(NpgsqlConnection connection, RecordValues record)
    {
        var own = Organisation.Of(record);
        var found = await connection.QueryAsync<(Guid Id, string Name, string? Domain, string? Key, string? Country)>(
            """
            select id, name, domain, company_key, country from account where domain = nullif(@Domain, '') or company_key = nullif(@Name, '') order by created_at limit 50
            """,
            new { own.Domain, own.Name }
        );
        return Judge(found.Select(a => (a.Id, a.Name, AccountMatcher.Compare(own, new Organisation(a.Domain ?? "", a.Key ?? "", a.Country ?? "")))));
    }

    // By the keys it shares with them, but for those of a crowd, such as the number of a switchboard; and by its own address.
    private async Task<IReadOnlyList<FoundRecord>> Contacts(NpgsqlConnection connection, RecordValues record)
    {
        var own = Identity.Of(record);
        var ids = (
            await connection.QueryAsync<Guid>(
                """
                select distinct r.id from unnest(@keys) q(key)
                  cross join lateral (select array_agg(record_id) as ids from (select record_id from match_key where key = q.key limit @crowd) x) k
                  cross join lateral unnest(k.ids) r(id) where cardinality(k.ids) < @crowd
                union select id from contact where email = nullif(@Email, '')
                """,
                new
                {
                    own.Email,
                    keys = BlockKeys.Kept(own).ToArray(),
                    crowd = Crowd,
                }
            )
        ).ToArray();
        if (ids.Length == 0)
            return [];
        var found = await MatchKeys.Contacts(connection, ids);
        return Judge(found.Select(c => (c.Id, c.Name, installation.Matcher.Compare(own, c.Identity(installation.Catalogue)))));
    }

    private static IReadOnlyList<FoundRecord> Judge(IEnumerable<(Guid Id, string Name, MatchResult Match)> candidates) =>
        [
            .. candidates
                .Where(c => c.Match.Same || c.Match.Twin)
                .OrderByDescending(c => c.Match.Bits)
                .Select(c => new FoundRecord(c.Id, c.Name, c.Match.Bits, c.Match.Same, [.. c.Match.Evidence.Select(e => e.Words)])),
        ];
}
