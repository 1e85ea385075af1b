using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Matching;
using Npgsql;

namespace DapperLantern.App.Intake;

/// <summary>A row to be looked up: its number, what was read, and what identifies the person.</summary>
public sealed record Asked(int Row, RowReading Reading, Identity Identity)
{
    private string[]? _barKeys;

    /// <summary>What could bar the person: address and numbers, and the domains of address and website with the ones above them.</summary>
    public string[] BarKeys => _barKeys ??= [.. EveryBarKey().Distinct()];

    /// <summary>The organisation the row names; looked up once.</summary>
    public Organisation Organisation { get; } = new(Organisation.DomainOf(Reading.Values), Identity.Company, Reading.Values.Text("country") ?? "");

    private IEnumerable<string> EveryBarKey()
    {
        var email = Identity.Email;
        if (email.Length > 0)
            yield return email;
        foreach (var number in Identity.Numbers)
            yield return number;
        foreach (var name in BarredRow.DomainAndAbove(email[(email.IndexOf('@', StringComparison.Ordinal) + 1)..]))
            yield return name;
        foreach (var name in BarredRow.DomainAndAbove(Reading.Values.Text("website") ?? ""))
            yield return name;
    }
}

/// <summary>
/// Whom and what we know that a batch of rows could touch: leads, contacts and earlier rows that share an address or number, accounts by
/// domain or name, and who is barred. Loaded for a batch at once.
/// </summary>
public sealed class KnownPeople
{
    /// <summary>Of those who share one address or number, so many are looked at; a switchboard's number says little.</summary>
    private const int MostSharing = 200;

    private const int MostInDoubt = 3;

    // By address or number, alone and together with the last name, which must agree unless one has none.
    private readonly Dictionary<string, List<KnownPerson>> _by = [];
    private readonly Dictionary<string, string> _accounts = [];
    private readonly Dictionary<string, string> _barred = [];
    private readonly Dictionary<string, string> _withdrawn = [];

    /// <summary>Everybody the rows could be, but for earlier rows of their file.</summary>
    public static async Task<KnownPeople> Load(NpgsqlConnection connection, IReadOnlyList<Asked> rows)
    {
        var known = new KnownPeople();
        var emails = Distinct(rows.Select(r => r.Identity.Email));
        var phones = Distinct(rows.SelectMany(r => r.Identity.Numbers));
        await known.LoadPeople(connection, emails, phones);
        await known.LoadAccounts(connection, rows);
        await known.LoadBarred(connection, rows);
        return known;
    }

    /// <summary>Makes a row known to the ones after it.</summary>
    public void Add(Asked row, Guid lead) => Add(new KnownPerson(KnownKind.EarlierRow, lead, row.Row, $"row {row.Row}", row.Identity));

    /// <summary>Those who share an address or number and could be the same person, each once; and a few others who share it, for doubt.</summary>
    public IReadOnlyList<KnownPerson> Near(Identity identity)
    {
        List<KnownPerson>? near = null;
        foreach (var (key, most) in NearKeys(identity))
            if (_by.TryGetValue(key, out var list))
                foreach (var person in list.Take(most))
                    if (near is null || !near.Contains(person))
                        (near ??= []).Add(person);
        return near ?? (IReadOnlyList<KnownPerson>)[];
    }

    private static IEnumerable<(string Key, int Most)> NearKeys(Identity identity)
    {
        var named = identity.LastName.Length > 0;
        foreach (var shared in identity.Numbers.Prepend(identity.Email))
        {
            if (shared.Length == 0)
                continue;
            if (named)
            {
                yield return ($"{shared}|{identity.LastName}", MostSharing);
                yield return ($"{shared}|", MostSharing);
            }
            yield return (shared, named ? MostInDoubt : MostSharing);
        }
    }

    /// <summary>The name of the account the row's company is, by its web domain, else by its name without the legal form.</summary>
    public string? AccountOf(Asked row)
    {
        if (_accounts.Count == 0)
            return null;
        var (domain, name, _) = row.Organisation;
        return (domain.Length > 0 ? _accounts.GetValueOrDefault($"d:{domain}") : null) ?? (name.Length > 0 ? _accounts.GetValueOrDefault($"n:{name}") : null);
    }

    /// <summary>Why the row's person must not come in, or null.</summary>
    /// <param name="theyAsk">True when they come by themselves: then a consent withdrawn does not bar them.</param>
    public string? BarredBy(Asked row, bool theyAsk = false)
    {
        if (_barred.Count == 0 && (theyAsk || _withdrawn.Count == 0))
            return null;
        foreach (var key in row.BarKeys)
            if (_barred.TryGetValue(key, out var why) || (!theyAsk && _withdrawn.TryGetValue(key, out why)))
                return why;
        return null;
    }

    private async Task LoadPeople(NpgsqlConnection connection, string[] emails, string[] phones)
    {
        var found = await connection.QueryAsync<Found>(
            """
            select l.* from unnest(@emails) k cross join lateral (select id, number, email, phone, mobile, first_name, last_name, company_key
              from lead where email = k and state <> 'handed_over' order by number limit @MostSharing) l
            union
            select l.* from unnest(@phones) k cross join lateral (select id, number, email, phone, mobile, first_name, last_name, company_key
              from lead where phone = k and state <> 'handed_over' order by number limit @MostSharing) l
            union
            select l.* from unnest(@phones) k cross join lateral (select id, number, email, phone, mobile, first_name, last_name, company_key
              from lead where mobile = k and state <> 'handed_over' order by number limit @MostSharing) l
            order by number
            """,
            new
            {
                emails,
                phones,
                MostSharing,
            }
        );
        foreach (var lead in found)
            Add(new KnownPerson(KnownKind.Lead, lead.Id, 0, $"{lead.Number} {lead.FirstName} {lead.LastName}".TrimEnd(), lead.Identity()));
        var contacts = await connection.QueryAsync<Found>(
            """
            select c.id, c.email, c.phone, c.facts->>'mobile' as mobile, c.facts->>'first_name' as first_name, c.facts->>'last_name' as last_name, a.company_key, c.name
            from contact c left join account a on a.id = c.account_id where c.email = any(@emails) or c.phone = any(@phones) order by c.created_at, c.id
            """,
            new { emails, phones }
        );
        foreach (var contact in contacts)
            Add(new KnownPerson(KnownKind.Contact, contact.Id, 0, contact.Name, contact.Identity()));
    }

    /// <summary>Adds the delivery's rows kept so far that share an address, or number and last name, with these.</summary>
    /// <param name="unwritten">Earlier rows that may not be in the database yet.</param>
    /// <param name="seen">The keys of every earlier row, so that only what was met is looked up; null when they are not known.</param>
    public async Task LoadRows(
        NpgsqlConnection connection,
        IReadOnlyList<Asked> rows,
        FieldCatalogue catalogue,
        Guid delivery,
        IEnumerable<(Arrival Arrival, Asked Asked)>? unwritten = null,
        SeenKeys? seen = null
    )
    {
        var emails = Earlier(rows.Select(r => MatchKey.Of(delivery, r.Identity.Email)));
        var people = Earlier(rows.SelectMany(r => r.Identity.Numbers.Select(n => MatchKey.Of(delivery, $"{n}|{r.Identity.LastName}"))));
        if (emails.Count == 0 && people.Count == 0)
            return;
        var found = await connection.QueryAsync<(Guid Delivery, int Row, string Outcome, Guid? Lead, string Values)>(
            """
            select a.* from unnest(@emails) k cross join lateral (select delivery_id, row_number, outcome, lead_id, values from arrival where email_key = k order by row_number limit @MostSharing) a
            union
            select a.* from unnest(@people) k cross join lateral (select delivery_id, row_number, outcome, lead_id, values from arrival where phone_key = k order by row_number limit @MostSharing) a
            order by row_number
            """,
            new
            {
                emails = emails.ToArray(),
                people = people.ToArray(),
                MostSharing,
            }
        );
        var written = new HashSet<int>();
        foreach (var (of, row, outcome, lead, values) in found)
            if (of == delivery && SiftOutcome.MakeLead.Contains(outcome) && written.Add(row))
                Add(new KnownPerson(KnownKind.EarlierRow, lead!.Value, row, $"row {row}", Identity.Of(Json.ToRecord(values, catalogue))));
        foreach (var (arrival, asked) in unwritten ?? [])
            if (Shares(arrival) && SiftOutcome.MakeLead.Contains(arrival.Outcome) && written.Add(arrival.RowNumber))
                Add(asked, arrival.LeadId!.Value);
        HashSet<long> Earlier(IEnumerable<long?> keys) => [.. keys.OfType<long>().Where(k => seen?.MayHave(k) != false)];
        bool Shares(Arrival earlier) => (earlier.EmailKey is { } email && emails.Contains(email)) || (earlier.PhoneKey is { } phone && people.Contains(phone));
    }

    /// <summary>By which rows of a delivery are found that share a number and a last name: one number may be a whole company's. An earlier row is found by its first number.</summary>
    public static long? PhoneKey(Guid delivery, Identity identity) => identity.Number.Length > 0 ? MatchKey.Of(delivery, $"{identity.Number}|{identity.LastName}") : null;

    private async Task LoadAccounts(NpgsqlConnection connection, IReadOnlyList<Asked> rows)
    {
        var organisations = rows.Where(r => r.Reading.Unfit is null).Select(r => r.Organisation).ToList();
        var found = await connection.QueryAsync<(string Key, string Name)>(
            """
            select 'd:' || domain, name from account where domain = any(@domains)
            union all select 'n:' || company_key, name from account where company_key = any(@names)
            """,
            new { domains = Distinct(organisations.Select(o => o.Domain)), names = Distinct(organisations.Select(o => o.Name)) }
        );
        foreach (var (key, name) in found)
            _accounts.TryAdd(key, name);
    }

    private async Task LoadBarred(NpgsqlConnection connection, IReadOnlyList<Asked> rows)
    {
        if (!await connection.QuerySingleAsync<bool>("select exists (select 1 from barred) or exists (select 1 from consent where state = 'withdrawn')"))
            return;
        var keys = new Dictionary<long, string>();
        foreach (var key in rows.SelectMany(r => r.BarKeys).ToHashSet())
            keys[PersonHash.KeyOf(key)] = key;
        var asked = keys.Keys.ToArray();
        foreach (
            var (hash, why, shown) in await connection.QueryAsync<(byte[] Hash, string Why, string? Shown)>(
                "select hash, why, shown from barred where hash_key = any(@asked)",
                new { asked }
            )
        )
            if (keys.TryGetValue(PersonHash.KeyOf(hash), out var key))
                _barred[key] = Words(why, shown);
        var withdrawn = await connection.QueryAsync<(byte[] Hash, DateTime At)>(
            """
            select person_hash, at from (select distinct on (person_hash, purpose) person_hash, purpose, state, at from consent where person_key = any(@asked) and state <> 'asked' order by person_hash, purpose, at desc) c
            where state = 'withdrawn'
            """,
            new { asked }
        );
        foreach (var (hash, at) in withdrawn)
            if (keys.TryGetValue(PersonHash.KeyOf(hash), out var key))
                _withdrawn.TryAdd(key, $"Withdrew consent on {at:yyyy-MM-dd}.");
    }

    private static string Words(string why, string? shown) =>
        why switch
        {
            "competitor" => $"{shown ?? "This address"} belongs to a competitor.",
            "blocked" => $"{shown ?? "This address"} is a blocked domain.",
            _ => shown is null ? "On the do-not-contact list." : $"{shown} is on the do-not-contact list.",
        };

    private void Add(KnownPerson person)
    {
        var numbers = person.Kind == KnownKind.EarlierRow ? [person.Identity.Number] : person.Identity.Numbers;
        foreach (var shared in numbers.Prepend(person.Identity.Email))
            if (shared.Length > 0)
            {
                Put($"{shared}|{person.Identity.LastName}", person);
                Put(shared, person);
            }
    }

    private void Put(string key, KnownPerson person)
    {
        if (!_by.TryGetValue(key, out var list))
            _by[key] = list = [];
        if (list.Count < MostSharing)
            list.Add(person);
    }

    private static string[] Distinct(IEnumerable<string> values) => [.. values.Where(v => v.Length > 0).Distinct()];

    private sealed record Found
    {
        public Guid Id { get; init; }
        public int Number { get; init; }
        public string? Email { get; init; }
        public string? Phone { get; init; }
        public string? Mobile { get; init; }
        public string? FirstName { get; init; }
        public string? LastName { get; init; }
        public string? CompanyKey { get; init; }
        public string Name { get; init; } = "";

        public Identity Identity() => new(Email ?? "", Phone ?? "", Folding.Plain(FirstName), Folding.Plain(LastName), CompanyKey ?? "", Mobile ?? "");
    }
}
