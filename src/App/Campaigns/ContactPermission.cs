using System.Runtime.CompilerServices;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>Why somebody is not written to.</summary>
public enum ContactRefusal
{
    NoAddress,
    Barred,
    WithoutConsent,
}

/// <summary>A lead that may be written to, or why it may not.</summary>
public sealed record Addressee(Guid Id, int Number, string? FirstName, string? LastName, string? Email, string? Company, string? Country, string? Language, ContactRefusal? Why);

/// <summary>Of some leads, who may be written to for a purpose. It takes an address, consent given to the purpose, and no bar.</summary>
public static class ContactPermission
{
    private const int Chunk = 2000;

    /// <summary>All leads that <paramref name="which"/> holds for, read by pages, so that memory does not grow with their number.</summary>
    public static async IAsyncEnumerable<Addressee> Be(
        LanternDb db,
        PersonHash hashes,
        IQueryable<Lead> which,
        string purpose,
        [EnumeratorCancellation] CancellationToken cancel = default
    )
    {
        for (var after = 0; ; )
        {
            var last = after;
            var people = await which
                .Where(l => l.Number > last)
                .OrderBy(l => l.Number)
                .Take(Chunk)
                .Select(l => new Asked(
                    l.Id,
                    l.Number,
                    (string?)l["first_name"],
                    (string?)l["last_name"],
                    (string?)l["email"],
                    (string?)l["phone"],
                    (string?)l["mobile"],
                    (string?)l["company"],
                    (string?)l["country"],
                    (string?)l["language"]
                ))
                .ToListAsync(cancel);
            if (people.Count == 0)
                yield break;
            after = people[^1].Number;
            var keys = people.Select(p => new PersonKeys(hashes, p.Email, p.Phone, p.Mobile)).ToList();
            var book = await ConsentBook.Load(db, keys);
            foreach (var (person, known) in people.Zip(keys))
            {
                cancel.ThrowIfCancellationRequested();
                yield return person.Judged(Why(person, known, book, purpose));
            }
        }
    }

    private static ContactRefusal? Why(Asked person, PersonKeys keys, ConsentBook book, string purpose) =>
        person.Email is null ? ContactRefusal.NoAddress
        : book.IsBarred(keys) ? ContactRefusal.Barred
        : book.StateOf(keys, purpose) == ConsentRow.Given ? null
        : ContactRefusal.WithoutConsent;

    private sealed record Asked(
        Guid Id,
        int Number,
        string? FirstName,
        string? LastName,
        string? Email,
        string? Phone,
        string? Mobile,
        string? Company,
        string? Country,
        string? Language
    )
    {
        public Addressee Judged(ContactRefusal? why) => new(Id, Number, FirstName, LastName, Email, Company, Country, Language, why);
    }
}
