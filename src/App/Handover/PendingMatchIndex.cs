using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Matching;

namespace DapperLantern.App.Handover;

/// <summary>By what the accounts and contacts are found that a few handovers wrote, so that it is known whether what was looked up before still holds.</summary>
internal sealed class PendingMatchIndex(Matcher matcher)
{
    private readonly HashSet<Guid> _records = [];
    private readonly HashSet<string> _domains = [];
    private readonly HashSet<string> _names = [];
    private readonly List<(Identity Who, HashSet<long> Keys)> _people = [];

    /// <param name="name">In comparison form; null for a household, which is not found by its name.</param>
    public void Account(Guid id, string? name, string? domain)
    {
        _records.Add(id);
        if (name is not null)
            _names.Add(name);
        if (domain is not null)
            _domains.Add(domain);
    }

    public void Contact(Guid id, Identity who, IEnumerable<long> keys)
    {
        _records.Add(id);
        _people.Add((who, [.. keys]));
    }

    // By a key they share or by the address, and then by all that is known of both.
    private bool IsFound(Identity person)
    {
        var keys = BlockKeys.Kept(person).ToList();
        return _people.Any(p =>
            (keys.Exists(p.Keys.Contains) || (p.Who.Email.Length > 0 && p.Who.Email == person.Email)) && matcher.Compare(person, p.Who) is { Same: true } or { Duplicate: true }
        );
    }

    /// <summary>True when something written may be the lead's own account or contact, or is among what was found for it.</summary>
    public bool MayConcern(RecordValues lead, AlreadyThere found)
    {
        if (_records.Count == 0)
            return false;
        var (company, person) = (Organisation.Of(lead), Identity.Of(lead));
        return found.Accounts.Any(a => _records.Contains(a.Id))
            || found.Contacts.Any(c => _records.Contains(c.Id))
            || (company.Domain.Length > 0 && _domains.Contains(company.Domain))
            || (company.Name.Length > 0 && _names.Contains(company.Name))
            || IsFound(person);
    }
}
