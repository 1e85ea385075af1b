using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>By what a person's consents and bars are found: their address and numbers.</summary>
public sealed class PersonKeys(PersonHash hashes, string? email, string? phone, string? mobile)
{
    public static PersonKeys Of(PersonHash hashes, RecordValues facts) => new(hashes, facts.Text("email"), facts.Text("phone"), facts.Text("mobile"));

    /// <summary>Of the address and the numbers themselves.</summary>
    public long[] Own { get; } = [.. new[] { email, phone, mobile }.OfType<string>().Select(hashes.KeyOf)];

    /// <summary>Of the domains that the address lies under.</summary>
    public long[] Domains { get; } = [.. BarredRow.DomainAndAbove(email?[(email.IndexOf('@', StringComparison.Ordinal) + 1)..] ?? "").Select(hashes.KeyOf)];
}

/// <summary>What some people agreed to, and which of them are barred; loaded for many at once. Every way out asks this.</summary>
public sealed class ConsentBook
{
    private readonly ILookup<(long Key, string Purpose), (DateTime At, string State)> _said;
    private readonly HashSet<long> _barred;

    private ConsentBook(ILookup<(long, string), (DateTime, string)> said, HashSet<long> barred) => (_said, _barred) = (said, barred);

    public static async Task<ConsentBook> Load(LanternDb db, IReadOnlyCollection<PersonKeys> people)
    {
        var own = people.SelectMany(p => p.Own).Distinct().ToArray();
        var all = people.SelectMany(p => p.Own.Concat(p.Domains)).Distinct().ToArray();
        var said = await db.Set<ConsentRow>()
            .Where(c => c.State != ConsentRow.ToConfirm && own.Contains(c.PersonKey))
            .Select(c => new
            {
                c.PersonKey,
                c.Purpose,
                c.At,
                c.State,
            })
            .ToListAsync();
        var barred = await db.Set<BarredRow>().Where(b => all.Contains(b.HashKey)).Select(b => b.HashKey).ToListAsync();
        return new ConsentBook(said.ToLookup(c => (c.PersonKey, c.Purpose), c => (c.At, c.State)), [.. barred]);
    }

    /// <summary>given or withdrawn, by the latest word from any of the person's address and numbers; null when nothing was said.</summary>
    public string? StateOf(PersonKeys person, string purpose) => person.Own.SelectMany(k => _said[(k, purpose)]).OrderBy(s => s.At).Select(s => s.State).LastOrDefault();

    /// <summary>Is the person, or a domain their address lies under, on the do-not-contact list?</summary>
    public bool IsBarred(PersonKeys person) => person.Own.Concat(person.Domains).Any(_barred.Contains);
}
