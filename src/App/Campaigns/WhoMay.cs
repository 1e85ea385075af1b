using System.Runtime.CompilerServices;
using Dapper;
using Npgsql;

namespace DapperLantern.App.Campaigns;

/// <summary>Why somebody is not written to.</summary>
public enum WhyNot
{
    NoAddress,
    Barred,
    WithoutConsent,
}

/// <summary>A lead that may be written to, or why it may not.</summary>
public sealed record Addressee(Guid Id, int Number, string? FirstName, string? LastName, string? Email, string? Company, string? Country, string? Language, WhyNot? Why);

/// <summary>
/// The check on every way out: of some leads, who may be written to for a purpose. It takes an address, the latest word on the purpose from any
/// of the person's addresses and numbers being "given", and neither person nor domain on the do-not-contact list.
/// </summary>
public static class WhoMay
{
    private const int Chunk = 2000;

    /// <summary>All leads that <paramref name="which"/> holds for, a condition in SQL over the alias <c>l</c>; by pages, so that memory does not grow with their number.</summary>
    public static async IAsyncEnumerable<Addressee> Be(
        NpgsqlConnection connection,
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
            var said = await Said(connection, people, purpose);
            var barred = await Barred(connection, people);
            foreach (var person in people)
            {
                cancel.ThrowIfCancellationRequested();
                yield return person.Judged(said, barred);
            }
        }
    }

    // Consents by lead and by each address and number; the latest word of all that concern a person holds.
    private static async Task<ILookup<long, (DateTime At, string State)>> Said(NpgsqlConnection connection, List<Asked> people, string purpose) =>
        (
            await connection.QueryAsync<(long Key, DateTime At, string State)>(
                """
                select person_key, at, state from consent where purpose = @purpose and state <> 'asked' and person_key = any(@keys)
                """,
                new { purpose, keys = people.SelectMany(p => p.Keys).Distinct().ToArray() }
            )
        ).ToLookup(c => c.Key, c => (c.At, c.State));

    private static async Task<HashSet<long>> Barred(NpgsqlConnection connection, List<Asked> people) =>
        [
            .. await connection.QueryAsync<long>(
                "select hash_key from barred where hash_key = any(@keys)",
                new { keys = people.SelectMany(p => p.Keys.Concat(p.DomainKeys)).Distinct().ToArray() }
            ),
        ];

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

        public IEnumerable<long> Keys => new[] { Email, Phone, Mobile }.OfType<string>().Select(v => PersonHash.KeyOf(PersonHash.Of(v)));

        public IEnumerable<long> DomainKeys =>
            BarredRow.DomainAndAbove(Email?[(Email.IndexOf('@', StringComparison.Ordinal) + 1)..] ?? "").Select(d => PersonHash.KeyOf(PersonHash.Of(d)));

        public Addressee Judged(ILookup<long, (DateTime At, string State)> said, HashSet<long> barred) =>
            new(Id, Number, FirstName, LastName, Email, Company, Country, Language, Why(said, barred));

        private WhyNot? Why(ILookup<long, (DateTime At, string State)> said, HashSet<long> barred)
        {
            if (Email is null)
                return WhyNot.NoAddress;
            if (Keys.Concat(DomainKeys).Any(barred.Contains))
                return WhyNot.Barred;
            var latest = Keys.SelectMany(k => said[k]).OrderBy(s => s.At).LastOrDefault();
            return latest.State == ConsentRow.Given ? null : WhyNot.WithoutConsent;
        }
    }
}
