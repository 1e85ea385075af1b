using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Matching;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>A row to be looked up: its number, what was read, and what identifies the person.</summary>
public sealed record Asked(int Row, RowReading Reading, Identity Identity)
{
    private string[]? _barKeys;
    private long[]? _keys;

    /// <summary>By what the person is found among those we have.</summary>
    public long[] Keys => _keys ??= [.. BlockKeys.Kept(Identity)];

    /// <summary>The one of the keys that is of the name; null where there is none.</summary>
    public long? NameKey { get; } = BlockKeys.OfName(Identity);

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
    /// <summary>Of those who share one key, so many are looked at, the ones known longest; what more share says little.</summary>
    private const int MostSharing = 24;

    /// <summary>A name that so many have says nothing by itself: whoever is the same shares more.</summary>
    private const int MostOfName = 8;

    private readonly Dictionary<long, List<KnownPerson>> _by = [];
    private readonly Dictionary<string, string> _accounts = [];
    private readonly Dictionary<string, string> _barred = [];
    private readonly Dictionary<string, string> _withdrawn = [];

    /// <summary>Everybody the rows could be, but for earlier rows of their file.</summary>
    /// <param name="among">The keys of everybody, so that only what somebody has is looked up; null where they are not at hand.</param>
    public static async Task<KnownPeople> Load(LanternDb db, IReadOnlyList<Asked> rows, Workspace workspace, SeenKeys? among = null)
    {
        var known = await LoadNear(db, rows, workspace.Catalogue, among);
        if (await known.LoadAccounts(db, rows))
            await known.LoadBarred(db, rows, workspace.Hashes);
        return known;
    }

    /// <summary>Everybody who shares a key with the rows; nothing of accounts and bars.</summary>
    public static async Task<KnownPeople> LoadNear(LanternDb db, IReadOnlyList<Asked> rows, FieldCatalogue catalogue, SeenKeys? among = null)
    {
        var known = new KnownPeople();
        await known.LoadPeople(db, await Sharing(db, rows, among), catalogue);
        return known;
    }

    /// <summary>Leads and contacts of exactly this first and last name, however they are written; of a crowd the latest few. Nobody where one of the names is missing.</summary>
    public static async Task<IEnumerable<KnownPerson>> Namesakes(LanternDb db, Identity who, FieldCatalogue catalogue)
    {
        if (who.First.Length == 0 || who.Last.Length == 0)
            return [];
        // Names in comparison form are letters and digits only, so nothing in them is an operator.
        var words = string.Join(" & ", $"{who.First} {who.Last}".Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(w => $"'{w}'"));
        var ids = await db.Rows<Guid>(
            $"""
            {RecordScope.Unscoped("whoever brings somebody in is told that we have them"):sql}
            (select id as "Value" from lead where search_words(first_name, last_name, company, email) @@ {words}::tsquery order by number desc limit {MostOfName})
            union all (select id from contact where search_words(name, email, null, null) @@ {words}::tsquery limit {MostOfName})
            """
        );
        var known = new KnownPeople();
        await known.LoadPeople(db, [.. ids], catalogue);
        return known._by.Values.SelectMany(p => p).Distinct().Where(p => p.Identity.First == who.First && p.Identity.Last == who.Last);
    }

    /// <summary>Makes a row known to the ones after it.</summary>
    public void Add(Asked row, Guid lead) => Add(new KnownPerson(KnownKind.EarlierRow, lead, row.Row, $"row {row.Row}", row.Identity), row.Keys);

    /// <summary>Those who share a key and so could be the same person, each once.</summary>
    public IReadOnlyList<KnownPerson> Near(Asked row)
    {
        List<KnownPerson>? near = null;
        foreach (var key in row.Keys)
            if (_by.TryGetValue(key, out var list) && (list.Count < MostOf(row, key) || row.NameKey is null))
                foreach (var person in list)
                    if (near is null || !near.Exists(n => ReferenceEquals(n, person)))
                        (near ??= []).Add(person);
        return near ?? (IReadOnlyList<KnownPerson>)[];
    }

    // Who is in a crowd, such as behind a switchboard's number, is found by the name; who has no name is looked for in the crowd.
    private static int MostOf(Asked row, long key) => key == row.NameKey ? MostOfName : MostSharing;

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

    // Records that share a key with the rows; of a crowd none, but for a row without a name.
    private static async Task<Guid[]> Sharing(LanternDb db, IReadOnlyList<Asked> rows, SeenKeys? among)
    {
        var keys = new Dictionary<long, (int Most, bool Alone)>();
        foreach (var row in rows)
        foreach (var key in row.Keys)
            if (among?.MayHave(key) != false)
                keys[key] = (MostOf(row, key), row.NameKey is null || (keys.TryGetValue(key, out var before) && before.Alone));
        if (keys.Count == 0)
            return [];
        var alone = keys.Values.Select(k => k.Alone).ToArray();
        var most = keys.Values.Select(k => k.Most).ToArray();
        var found = await db.Rows<Guid>(
            $"""
            select distinct r.id as "Value" from unnest({keys.Keys.ToArray()}, {most}, {alone}) q(key, most, alone)
            cross join lateral (select array_agg(record_id) as ids from (select record_id from match_key where key = q.key order by record_id limit q.most) x) k
            cross join lateral unnest(k.ids) r(id) where q.alone or cardinality(k.ids) < q.most
            """
        );
        return [.. found];
    }

    // A lead that was merged into another is known under what it was, as the one it is part of now.
    private async Task LoadPeople(LanternDb db, Guid[] ids, FieldCatalogue catalogue)
    {
        if (ids.Length == 0)
            return;
        foreach (var lead in await Leads(db, $"lead l where l.id = any({ids}) and l.state <> 'handed_over'", "l.id", catalogue))
            Add(lead);
        // The one kept may have been merged on.
        SqlText merged = $"""
            record_merge m cross join lateral jsonb_populate_record(null::lead, m.gone->'lead') l join lead k on k.id = m.now_id
            where m.gone_id = any({ids}) and m.kind = 'lead' and m.apart_at is null and k.state <> 'handed_over'
            """;
        foreach (var lead in await Leads(db, merged, "m.now_id", catalogue))
            Add(lead);
        foreach (var contact in await MatchKeys.Contacts(db, ids))
            Add(new KnownPerson(KnownKind.Contact, contact.Id, 0, contact.Name, contact.Identity(catalogue)));
    }

    private static Task<List<KnownPerson>> Leads(LanternDb db, SqlText from, string id, FieldCatalogue catalogue) =>
        db.Read(
            $"select {LeadIdentity.Columns(catalogue):sql}, {id:sql}, l.number from {from:sql} order by l.number",
            row =>
            {
                var who = LeadIdentity.Read(row, catalogue, out var name);
                return new KnownPerson(KnownKind.Lead, row.GetGuid(LeadIdentity.Count), 0, $"{row.GetInt32(LeadIdentity.Count + 1)} {name}".TrimEnd(), who);
            }
        );

    /// <summary>Adds the import's rows kept so far that share an address, or number and last name, with these.</summary>
    /// <param name="unwritten">Earlier rows that may not be in the database yet.</param>
    /// <param name="seen">The keys of every earlier row, so that only what was met is looked up; null when they are not known.</param>
    public async Task LoadRows(
        LanternDb db,
        IReadOnlyList<Asked> rows,
        FieldCatalogue catalogue,
        Guid import,
        IEnumerable<(Arrival Arrival, Asked Asked)>? unwritten = null,
        SeenKeys? seen = null
    )
    {
        var emails = Earlier(rows.Select(r => MatchKey.Of(import, r.Identity.Email)));
        var people = Earlier(rows.SelectMany(r => r.Identity.Numbers.Select(n => MatchKey.Of(import, $"{n}|{r.Identity.LastName}"))));
        var names = Earlier(rows.Select(r => NameKey(import, r)));
        if (emails.Count == 0 && people.Count == 0 && names.Count == 0)
            return;
        // Limits keep the plan to look rows up one by one: what the planner knows of a table that is being filled is out of date.
        var found = await db.Rows<EarlierRow>(
            $"""
            select a.row_number as row, a.outcome, a.lead_id as lead, a.values from (
              select a.row_number from unnest({emails.ToArray()}) k cross join lateral (select row_number from arrival where email_key = k order by row_number limit {MostSharing}) a
              union
              select a.row_number from unnest({people.ToArray()}) k cross join lateral (select row_number from arrival where phone_key = k order by row_number limit {MostSharing}) a
              union
              select r from unnest({names.ToArray()}) k
                cross join lateral (select array_agg(row_number) as rows from (select row_number from arrival where name_key = k order by row_number limit {MostOfName}) x) n
                cross join lateral unnest(n.rows) r where cardinality(n.rows) < {MostOfName}
            ) m cross join lateral (select * from arrival where import_id = {import} and row_number = m.row_number limit 1) a order by a.row_number
            """
        );
        var written = new HashSet<int>();
        foreach (var (row, outcome, lead, values) in found)
            if (SiftOutcome.MakeLead.Contains(outcome) && written.Add(row))
                Add(new KnownPerson(KnownKind.EarlierRow, lead!.Value, row, $"row {row}", Identity.Of(Json.ToRecord(values, catalogue))));
        foreach (var (arrival, asked) in unwritten ?? [])
            if (Shares(arrival) && SiftOutcome.MakeLead.Contains(arrival.Outcome) && written.Add(arrival.RowNumber))
                Add(asked, arrival.LeadId!.Value);
        HashSet<long> Earlier(IEnumerable<long?> keys) => [.. keys.OfType<long>().Where(k => seen?.MayHave(k) != false)];
        bool Shares(Arrival earlier) =>
            (earlier.EmailKey is { } email && emails.Contains(email))
            || (earlier.PhoneKey is { } phone && people.Contains(phone))
            || (earlier.NameKey is { } name && names.Contains(name));
    }

    /// <summary>The keys by which a row is found by later ones.</summary>
    public static IEnumerable<long> KeysOf(Arrival row) => new[] { row.EmailKey, row.PhoneKey, row.NameKey }.OfType<long>();

    /// <summary>By which rows of an import are found whose names share their rarest trigrams.</summary>
    public static long? NameKey(Guid import, Asked row) => row.NameKey is { } key ? key ^ MatchKey.Of(import, "name") : null;

    /// <summary>By which rows of an import are found that share a number and a last name: one number may be a whole company's. An earlier row is found by its first number.</summary>
    public static long? PhoneKey(Guid import, Identity identity) => identity.Number.Length > 0 ? MatchKey.Of(import, $"{identity.Number}|{identity.LastName}") : null;

    // True when there is anybody who could be barred.
    private async Task<bool> LoadAccounts(LanternDb db, IReadOnlyList<Asked> rows)
    {
        var organisations = rows.Where(r => r.Reading.Unfit is null).Select(r => r.Organisation).ToList();
        var (domains, names) = (Distinct(organisations.Select(o => o.Domain)), Distinct(organisations.Select(o => o.Name)));
        var found = await db.Rows<NamedAccount>(
            $"""
            {RecordScope.Unscoped("whoever brings somebody in is told that we have them"):sql} select 'd:' || domain as key, name from account where domain = any({domains})
            union all select 'n:' || company_key, name from account where company_key = any({names})
            """
        );
        foreach (var (key, name) in found)
            _accounts.TryAdd(key, name);
        return await db.Set<BarredRow>().AnyAsync() || await db.Set<ConsentRow>().AnyAsync(c => c.State == "withdrawn");
    }

    private async Task LoadBarred(LanternDb db, IReadOnlyList<Asked> rows, PersonHash hashes)
    {
        var keys = new Dictionary<long, string>();
        foreach (var key in rows.SelectMany(r => r.BarKeys).ToHashSet())
            keys[hashes.KeyOf(key)] = key;
        var asked = keys.Keys.ToArray();
        var barred = await db.Set<BarredRow>().AsNoTracking().Where(b => asked.Contains(b.HashKey)).ToListAsync();
        var withdrawn = await db.Rows<Withdrawn>(
            $"""
            select person_hash, at from (select distinct on (person_hash, purpose) person_hash, purpose, state, at from consent
              where person_key = any({asked}) and state <> 'asked' order by person_hash, purpose, at desc) c
            where state = 'withdrawn'
            """
        );
        foreach (var bar in barred)
            if (keys.TryGetValue(PersonHash.KeyOf(bar.Hash), out var key))
                _barred[key] = Words(bar.Why, bar.Shown);
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

    private void Add(KnownPerson person) => Add(person, BlockKeys.Kept(person.Identity));

    private void Add(KnownPerson person, IEnumerable<long> keys)
    {
        foreach (var key in keys)
        {
            if (!_by.TryGetValue(key, out var list))
                _by[key] = list = [];
            if (list.Count < MostSharing)
                list.Add(person);
        }
    }

    private static string[] Distinct(IEnumerable<string> values) => [.. values.Where(v => v.Length > 0).Distinct()];

    private sealed record EarlierRow(int Row, string Outcome, Guid? Lead, string Values);

    private sealed record NamedAccount(string Key, string Name);

    private sealed record Withdrawn(byte[] PersonHash, DateTime At);
}
