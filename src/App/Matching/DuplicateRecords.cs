using DapperLantern.App.Data;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Matching;

/// <summary>A record as one side of a pair: its values with who said them when.</summary>
public sealed record DuplicateSide(
    Guid Id,
    string Name,
    string Line,
    DateTime CreatedAt,
    int Version,
    string State,
    Guid? Owner,
    RecordValues Values,
    IReadOnlyDictionary<string, Provenance> From,
    string Source = ""
)
{
    /// <summary>A value as the merge weighs it.</summary>
    public SideValue Of(FieldDefinition field, MergeRules rules)
    {
        var from = From.GetValueOrDefault(field.Key);
        var by =
            from is null ? SaidBy.Source
            : from.From == CompanyDirectory.From ? SaidBy.Directory
            : rules.People.Contains(from.From) ? SaidBy.Person
            : SaidBy.Source;
        return new SideValue(Values[field.Key], by, (from?.At ?? CreatedAt).ToInstant(), rules.Trust.GetValueOrDefault(from?.From ?? Source));
    }
}

/// <summary>Reading leads, contacts and accounts as pairs need them.</summary>
public static class DuplicateRecords
{
    private static readonly Dictionary<string, FrozenPlan> Plans = new() { ["contact"] = new("contact", TargetRecord.Contact), ["account"] = new("account", TargetRecord.Account) };

    private static SqlText OfAPair => RecordScope.Unscoped("of a pair that the gate checked");

    private sealed record FrozenPlan(string Table, TargetRecord Landing);

    /// <summary>The facts a record of the kind may have.</summary>
    public static IEnumerable<FieldDefinition> FieldsOf(string kind, FieldCatalogue catalogue) =>
        kind == "lead" ? catalogue.Facts : catalogue.FactsOf(Plans[kind].Landing).Where(f => catalogue.Find(f.Key) is not null);

    /// <summary>What identifies these records; those that are gone are left out, and leads that were handed over.</summary>
    public static async Task<List<(Guid Id, Identity Who)>> Identities(LanternDb db, string kind, Guid[] ids, FieldCatalogue catalogue)
    {
        if (kind == "lead")
            return
            [
                .. (await LeadStore.LoadMany(db, ids, catalogue, hold: false))
                    .Values.Where(l => l.Facts.Text("state") != Core.Leads.LeadState.HandedOver)
                    .Select(l => (l.Id, Identity.Of(l.Facts))),
            ];
        if (kind == "contact")
            return [.. (await MatchKeys.Contacts(db, ids)).Select(c => (c.Id, c.Identity(catalogue)))];
        var accounts = await db.Set<Account>()
            .TagWith("unscoped: what identifies them is compared, not shown")
            .Where(x => ids.Contains(x.Id))
            .Select(x => new
            {
                x.Id,
                x.Facts,
                x.Domain,
                x.Country,
            })
            .ToListAsync();
        return [.. accounts.Select(a => (a.Id, OfAccount(Json.ToRecord(a.Facts, catalogue), a.Domain, a.Country)))];
    }

    // Nobody is named, so it is compared as a company.
    private static Identity OfAccount(RecordValues facts, string? domain, string? country)
    {
        var own = Identity.Of(facts);
        return new Identity("", own.Phone, "", "", own.Company)
        {
            Domain = domain ?? own.Domain,
            Street = own.Street,
            PostalCode = own.PostalCode,
            City = own.City,
            Region = own.Region,
            Country = country ?? own.Country,
        };
    }

    /// <summary>Two records as sides, locked; null for one that is gone.</summary>
    public static async Task<DuplicateSide?[]> Sides(LanternDb db, string kind, Guid a, Guid b, FieldCatalogue catalogue)
    {
        var sides = kind == "lead" ? await LeadSides(db, [a, b], catalogue) : await OtherSides(db, Plans[kind], [a, b], catalogue);
        return [sides.GetValueOrDefault(a), sides.GetValueOrDefault(b)];
    }

    private static async Task<Dictionary<Guid, DuplicateSide>> LeadSides(LanternDb db, Guid[] ids, FieldCatalogue catalogue)
    {
        var leads = await LeadStore.LoadMany(db, ids, catalogue);
        var heads = await db.Rows<LeadHead>(
            $"""
            select l.id, l.number, l.version, l.state, l.owner_id as owner, s.name || coalesce(', ' || p.display_name, '') as words, s.key as source
            from lead l join source s on s.key = l.source left join person p on p.id = l.owner_id where l.id = any({ids}) {OfAPair:sql}
            """
        );
        return heads.ToDictionary(
            h => h.Id,
            h => new DuplicateSide(
                h.Id,
                LeadRecord.NameOf(leads[h.Id].Facts),
                $"Lead {h.Number}, {h.Words}",
                leads[h.Id].CreatedAt,
                h.Version,
                h.State,
                h.Owner,
                leads[h.Id].Facts,
                leads[h.Id].Provenance,
                h.Source
            )
        );
    }

    private static async Task<Dictionary<Guid, DuplicateSide>> OtherSides(LanternDb db, FrozenPlan plan, Guid[] ids, FieldCatalogue catalogue)
    {
        var deals = plan.Table == "account" ? "account_id" : "contact_id";
        var rows = await db.Rows<RecordHead>(
            $"""
            select t.id, t.name, t.created_at, t.owner_id as owner, t.facts::text as facts, p.display_name as owner_name, (select count(*)::int from deal where {deals:sql} = t.id) as deals
            from {plan.Table:sql} t left join person p on p.id = t.owner_id where t.id = any({ids}) order by t.id for update of t {OfAPair:sql}
            """
        );
        return rows.ToDictionary(
            r => r.Id,
            r => new DuplicateSide(
                r.Id,
                r.Name,
                $"{char.ToUpperInvariant(plan.Table[0])}{plan.Table[1..]}, {r.Deals} {(r.Deals == 1 ? "deal" : "deals")}{(r.OwnerName is null ? "" : $", {r.OwnerName}")}",
                r.CreatedAt,
                0,
                "",
                r.Owner,
                Json.ToRecord(r.Facts, catalogue),
                new Dictionary<string, Provenance>()
            )
        );
    }

    private sealed record LeadHead(Guid Id, int Number, int Version, string State, Guid? Owner, string Words, string Source);

    private sealed record RecordHead(Guid Id, string Name, DateTime CreatedAt, Guid? Owner, string Facts, string? OwnerName, int Deals);
}
