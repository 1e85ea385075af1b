using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Routing;

namespace DapperLantern.App.Routing;

/// <summary>By what somebody is looked for who has an owner already.</summary>
/// <param name="Household">Last name, street and postal code; empty unless all are known.</param>
public sealed record ExistingOwnerKeys(string? Email, Organisation Organisation, string Household)
{
    public static ExistingOwnerKeys Of(RecordValues facts) => new(facts.Text("email"), Organisation.Of(facts), HouseholdOf(facts));

    private static string HouseholdOf(RecordValues facts) =>
        facts.Text("company") is null && facts.Text("last_name") is { } name && facts.Text("street") is { } street && facts.Text("postal_code") is { } code
            ? string.Join('\n', name, street, code).ToLowerInvariant()
            : "";
}

/// <summary>Who owns the contact, the account, the household or the company's other open leads, for the leads of a batch.</summary>
public sealed class ExistingOwners
{
    private readonly Dictionary<string, (ExistingOwner Owner, DateTime Since)> _found = [];

    /// <summary>Looks up a batch at once.</summary>
    /// <param name="apart">Leads that do not count: those that are themselves looked up.</param>
    /// <param name="leads">False to look among contacts and accounts only.</param>
    public async Task Find(LanternDb db, IReadOnlyList<ExistingOwnerKeys> sought, Guid[]? apart = null, bool leads = true)
    {
        var (companies, domains, emails) = (
            leads ? Distinct(sought.Select(o => o.Organisation.Name)) : [],
            Distinct(sought.Select(o => o.Organisation.Domain)),
            Distinct(sought.Select(o => o.Email ?? ""))
        );
        var households = leads ? Distinct(sought.Select(o => o.Household)) : [];
        var others = apart ?? [];
        var found = await db.Rows<FoundOwner>(
            $"""
            select 'company:' || company_key as key, (array_agg(owner_id order by created_at))[1] as owner, {Guard.Company} as kind, {CompanyWords} as words, min(created_at) as since
              from lead where company_key = any({companies}) and owner_id is not null and state in ('new', 'in_work', 'qualified') and id <> all({others}) group by company_key
            union all
            select 'domain:' || domain, owner_id, {Guard.Account}, 'owns the account ' || name, created_at from account where domain = any({domains}) and owner_id is not null
            union all
            select 'email:' || email, owner_id, {Guard.Contact}, 'owns the contact ' || name, created_at from contact where email = any({emails}) and owner_id is not null
            union all
            select 'household:' || h.key, (array_agg(l.owner_id order by l.created_at))[1], {Guard.Household}, 'has the other open leads of this household', min(l.created_at)
              from unnest({households}) h(key) join lead l on lower(l.last_name) = split_part(h.key, E'\n', 1) and lower(l.street) = split_part(h.key, E'\n', 2) and lower(l.postal_code) = split_part(h.key, E'\n', 3)
             where l.company is null and l.owner_id is not null and l.state in ('new', 'in_work', 'qualified') and l.id <> all({others}) group by h.key
            """
        );
        foreach (var (key, owner, kind, words, since) in found)
            _found[key] = (new ExistingOwner(owner, kind, words), since);
    }

    /// <summary>All that were found for one of them.</summary>
    /// <param name="before">Leaves out what came to be at that moment or after it; null for none.</param>
    public IReadOnlyList<ExistingOwner> For(ExistingOwnerKeys keys, DateTime? before = null) =>
        _found.Count == 0
            ? []
            :
            [
                .. new[] { $"email:{keys.Email}", $"domain:{keys.Organisation.Domain}", $"household:{keys.Household}", $"company:{keys.Organisation.Name}" }
                    .Select(k => _found.GetValueOrDefault(k))
                    .Where(f => f.Owner is not null && (before is null || f.Since < before))
                    .Select(f => f.Owner),
            ];

    /// <summary>Notes who was given a lead of a company, so that the next one follows.</summary>
    public void Taken(Guid owner, Organisation organisation)
    {
        if (organisation.Name.Length > 0)
            _found.TryAdd($"company:{organisation.Name}", (OfCompany(owner), DateTime.MinValue));
    }

    /// <summary>Who has a company's other open leads.</summary>
    public static ExistingOwner OfCompany(Guid owner) => new(owner, Guard.Company, CompanyWords);

    private const string CompanyWords = "has the other open leads of this company";

    private static string[] Distinct(IEnumerable<string> values) => [.. values.Where(v => v.Length > 0).Distinct()];

    private sealed record FoundOwner(string Key, Guid Owner, string Kind, string Words, DateTime Since);
}
