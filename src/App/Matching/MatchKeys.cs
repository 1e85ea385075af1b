using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Matching;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Matching;

/// <summary>A key by which a lead or contact is found, see <see cref="BlockKeys"/>.</summary>
public sealed class MatchKeyRow
{
    public long Key { get; set; }

    /// <summary>A lead, a contact, or a lead that was merged into another.</summary>
    public Guid RecordId { get; set; }
}

/// <summary>Keeps the keys by which people are found up to their facts. Whoever writes facts that identify somebody calls this; keys of deleted leads go by themselves.</summary>
public static class MatchKeys
{
    /// <summary>Counts up when keys are made otherwise, so that all are made anew at the next start.</summary>
    private const int Version = 1;

    // Reading a key costs about a twentieth of asking for one, and a row has some six.
    private const int ReadRatherThanAsk = 100;

    private const string Marker = "match-keys";
    private const int BatchRecords = 5000;

    public static BulkTable<MatchKeyRow> Table { get; } = new BulkTable<MatchKeyRow>("match_key").Long("key", k => k.Key).Uuid("record_id", k => k.RecordId);

    /// <summary>Select of a <see cref="ContactIdentity"/> over the alias c.</summary>
    public const string OfContact = """
        select 0 as place, c.id, c.name, c.email, c.phone, c.facts::text as facts, c.created_at, a.company_key, a.domain from contact c left join account a on a.id = c.account_id
        """;

    /// <summary>
    /// All keys there are, for whoever looks up so many people that asking for each costs more than reading them all; null where it does not. What comes in later is not among them.
    /// </summary>
    /// <param name="rows">How many people are going to be looked up.</param>
    public static async Task<SeenKeys?> Everybody(LanternDb db, long rows, CancellationToken cancel)
    {
        var keys = await db.One<long>($"""select greatest(reltuples, 0)::bigint as "Value" from pg_class where oid = 'match_key'::regclass""");
        if (keys > rows * ReadRatherThanAsk)
            return null;
        var seen = new SeenKeys(keys);
        await using var copy = await (await db.Connection()).BeginBinaryExportAsync("copy (select key from match_key) to stdout (format binary)", cancel);
        while (await copy.StartRowAsync(cancel) != -1)
            seen.Add(await copy.ReadAsync<long>(cancel));
        return seen;
    }

    /// <summary>The keys of a record, to be written by <see cref="Table"/>.</summary>
    public static IEnumerable<MatchKeyRow> Of(Guid record, Identity who) => BlockKeys.Kept(who).Select(key => new MatchKeyRow { Key = key, RecordId = record });

    /// <summary>Replaces the keys of these records.</summary>
    public static async Task Write(LanternDb db, IReadOnlyCollection<(Guid Id, Identity Who)> records, CancellationToken cancel = default)
    {
        if (records.Count == 0)
            return;
        var ids = records.Select(r => r.Id).ToArray();
        await db.Set<MatchKeyRow>().Where(x => ids.Contains(x.RecordId)).ExecuteDeleteAsync();
        await Table.Write(db, records.SelectMany(r => Of(r.Id, r.Who)), cancel);
    }

    /// <summary>What identifies these contacts, the ones known longest first.</summary>
    public static Task<List<ContactIdentity>> Contacts(LanternDb db, Guid[] ids) =>
        db.Rows<ContactIdentity>($"{OfContact:sql} where c.id = any({ids}) order by c.created_at, c.id {RecordScope.Unscoped("what identifies them is compared, not shown"):sql}");

    /// <summary>Makes the keys of contacts anew; of those that are gone they go.</summary>
    public static async Task WriteContacts(LanternDb db, IReadOnlyCollection<Guid> contacts, FieldCatalogue catalogue)
    {
        await db.Set<MatchKeyRow>().Where(x => contacts.ToArray().Contains(x.RecordId)).ExecuteDeleteAsync();
        var rows = await Contacts(db, [.. contacts]);
        await Write(db, [.. rows.Select(r => (r.Id, r.Identity(catalogue)))]);
    }

    /// <summary>Makes all keys, where those there are were made otherwise or before there were any. Nobody is matched meanwhile.</summary>
    public static async Task Ensure(LanternDb db, FieldCatalogue catalogue)
    {
        if (await db.Row<string>($$"""select body #>> '{}' as "Value" from setup_entry where key = {{Marker}}""") == $"{Version}")
            return;
        await Rebuild(db, catalogue);
        await SetupEntries.Save(db, Marker, $"\"{Version}\"");
    }

    /// <summary>Makes the keys of all leads and contacts anew.</summary>
    public static async Task Rebuild(LanternDb db, FieldCatalogue catalogue)
    {
        await db.Set<MatchKeyRow>().Where(k => !db.Set<MergeRow>().Any(m => m.GoneId == k.RecordId)).ExecuteDeleteAsync();
        for (var after = 0; ; )
        {
            var batch = await Leads(db, after, catalogue);
            if (batch.Count == 0)
                break;
            await Table.Write(db, batch.SelectMany(l => Of(l.Id, l.Who)));
            after = batch[^1].Number;
        }
        for (var after = Guid.Empty; ; )
        {
            var batch = await db.Rows<ContactIdentity>($"{OfContact:sql} where c.id > {after} order by c.id limit {BatchRecords}");
            if (batch.Count == 0)
                break;
            await Table.Write(db, batch.SelectMany(c => Of(c.Id, c.Identity(catalogue))));
            after = batch[^1].Id;
        }
    }

    /// <summary>Leads by number, from behind one on, with what identifies them.</summary>
    public static Task<List<(Guid Id, int Number, Identity Who)>> Leads(LanternDb db, int after, FieldCatalogue catalogue, int most = BatchRecords) =>
        db.Read(
            $"select {LeadIdentity.Columns(catalogue):sql}, l.id, l.number from lead l where l.number > {after} order by l.number limit {most}",
            row => (row.GetGuid(LeadIdentity.Count), row.GetInt32(LeadIdentity.Count + 1), LeadIdentity.Read(row, catalogue, out _))
        );
}

/// <summary>What identifies a contact, as it is read.</summary>
public sealed record ContactIdentity
{
    /// <summary>Which of several that were asked for together it is found for, from 0.</summary>
    public int Place { get; init; }
    public Guid Id { get; init; }
    public string Name { get; init; } = "";
    public string? Email { get; init; }
    public string? Phone { get; init; }
    public string Facts { get; init; } = "{}";
    public string? CompanyKey { get; init; }
    public string? Domain { get; init; }

    /// <summary>The facts; the account says the company where they do not.</summary>
    public Identity Identity(FieldCatalogue catalogue)
    {
        var facts = Json.ToRecord(Facts, catalogue);
        var own = Core.Matching.Identity.Of(facts);
        return new(Email ?? own.Email, Phone ?? own.Phone, own.FirstName, own.LastName, own.Company.Length > 0 ? own.Company : CompanyKey ?? "", own.Mobile)
        {
            Domain = own.Domain.Length > 0 ? own.Domain : Domain ?? "",
            Street = own.Street,
            PostalCode = own.PostalCode,
            City = own.City,
            Region = own.Region,
            Country = own.Country,
            Born = own.Born,
        };
    }
}
