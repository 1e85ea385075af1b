using System.Runtime.CompilerServices;
using Dapper;
using Npgsql;

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

    /// <summary>All leads that <paramref name="which"/> holds for, a condition in SQL over the alias <c>l</c>; by pages, so that memory does not grow with their number.</summary>
    public static async IAsyncEnumerable<Addressee> Be(
        NpgsqlConnection connection,
        PersonHash hashes,
        string which,
        object parameters,
        string purpose,
        [EnumeratorCancellation] CancellationToken cancel = default
    )
    {
        var with = new DynamicParameters(parameters);
        with.Add("chunk", Chunk);
        for (var after = 0; ; )
        {
            with.Add("after", after);
            var people = (
                await connection.QueryAsync<Asked>(
                    $"select l.id, l.number, l.first_name, l.last_name, l.email, l.phone, l.mobile, l.company, l.country, l.language from lead l where l.number > @after and {which} order by l.number limit @chunk",
                    with
                )
            ).ToList();
            if (people.Count == 0)
                yield break;
            after = people[^1].Number;
            var keys = people.Select(p => new PersonKeys(hashes, p.Email, p.Phone, p.Mobile)).ToList();
            var book = await ConsentBook.Load(connection, keys);
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

    private sealed class Asked
    {
        public Guid Id { get; init; }
        public int Number { get; init; }
        public string? FirstName { get; init; }
        public string? LastName { get; init; }
        public string? Email { get; init; }
        public string? Phone { get; init; }
        public string? Mobile { get; init; }
        public string? Company { get; init; }
        public string? Country { get; init; }
        public string? Language { get; init; }

        public Addressee Judged(ContactRefusal? why) => new(Id, Number, FirstName, LastName, Email, Company, Country, Language, why);
    }
}
