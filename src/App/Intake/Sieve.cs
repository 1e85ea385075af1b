using System.Collections.Immutable;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Matching;
using Npgsql;
using NpgsqlTypes;

namespace DapperLantern.App.Intake;

/// <summary>How the rows of a delivery divide. Read = new + adds + aside, always.</summary>
public sealed record SiftCounts(int Read, int New, int Adds, int Aside);

/// <summary>The dry run: reads every row of a delivery, decides what it would become, and keeps row and verdict. No lead is touched.</summary>
public sealed class Sieve(Installation installation)
{
    private const int BatchRows = 2000;

    private static readonly BulkTable<Arrival> Table = new BulkTable<Arrival>("arrival")
        .Column("delivery_id", NpgsqlDbType.Uuid, a => a.DeliveryId)
        .Column("row_number", NpgsqlDbType.Integer, a => a.RowNumber)
        .Column("raw", NpgsqlDbType.Text, a => a.Raw.Replace("\0", "", StringComparison.Ordinal))
        .Column("values", NpgsqlDbType.Jsonb, a => a.Values)
        .Column("problems", NpgsqlDbType.Jsonb, a => a.Problems)
        .Column("outcome", NpgsqlDbType.Text, a => a.Outcome)
        .Column("reason", NpgsqlDbType.Text, a => a.Reason)
        .Column("same_as_row", NpgsqlDbType.Integer, a => a.SameAsRow)
        .Column("lead_id", NpgsqlDbType.Uuid, a => a.LeadId);

    /// <summary>Sifts all rows anew within the caller's transaction, in the place of an earlier sifting.</summary>
    public async Task<SiftCounts> Sift(
        NpgsqlConnection connection,
        Guid delivery,
        byte[] content,
        ListReading reading,
        ImmutableArray<ColumnMatch> matching,
        CancellationToken cancel
    )
    {
        await connection.ExecuteAsync("delete from arrival where delivery_id = @delivery", new { delivery });
        var reader = new RowReader(installation.Catalogue, matching);
        var earlier = new KnownPeople();
        var (read, fresh, adds) = (0, 0, 0);
        foreach (var batch in ListFile.Open(content, reading).Rows.Chunk(BatchRows))
        {
            var rows = batch.Select(r => (Row: r, Reading: Read(reader, r))).ToList();
            var known = await KnownPeople.Load(connection, rows.Select(r => r.Reading.Values));
            var arrivals = rows.Select(r => Decide(delivery, r.Row, r.Reading, known, earlier)).ToList();
            await Table.Write(connection, arrivals, cancel);
            read += arrivals.Count;
            fresh += arrivals.Count(a => a.Outcome == SiftOutcome.New);
            adds += arrivals.Count(a => a.Outcome == SiftOutcome.Adds);
        }
        return new SiftCounts(read, fresh, adds, read - fresh - adds);
    }

    private RowReading Read(RowReader reader, ListRow row) =>
        row.Broken is { } broken ? new RowReading(new RecordValues(installation.Catalogue), [], new Problem("row-unreadable", "", broken)) : reader.Read(row.Cells);

    private static Arrival Decide(Guid delivery, ListRow row, RowReading reading, KnownPeople known, KnownPeople earlier)
    {
        var arrival = new Arrival
        {
            DeliveryId = delivery,
            RowNumber = row.Number,
            Raw = row.Raw,
            Values = Json.Facts(reading.Values.Known()),
            Problems = Json.Write(reading.Problems),
            Outcome = SiftOutcome.New,
        };
        var identity = Identity.Of(reading.Values);
        if (reading.Unfit is { } unfit)
            (arrival.Outcome, arrival.Reason) = (SiftOutcome.Aside, unfit.Words);
        else if (known.Find(identity) is { } lead)
            (arrival.Outcome, arrival.LeadId, arrival.Reason) = (SiftOutcome.Adds, lead.Lead, $"Already lead {lead.Name}: {lead.Why}.");
        else if (earlier.Find(identity) is { } same)
            (arrival.Outcome, arrival.SameAsRow, arrival.Reason) = (SiftOutcome.Adds, same.Row, $"The same person as row {same.Row}: {same.Why}.");
        else
            earlier.Add(identity, row.Number);
        return arrival;
    }
}

/// <summary>Someone found by <see cref="KnownPeople"/>: a lead, or an earlier row of the same file, with the evidence.</summary>
public sealed record KnownPerson(Guid? Lead, int Row, string Name, string Why);

/// <summary>People to match against, found by mail address or telephone and judged by <see cref="Matcher"/>.</summary>
public sealed class KnownPeople
{
    private readonly Dictionary<string, List<(Identity Identity, Guid? Lead, int Row, string Name)>> _byKey = [];

    /// <summary>The leads that share a mail address or telephone with any of the records.</summary>
    public static async Task<KnownPeople> Load(NpgsqlConnection connection, IEnumerable<RecordValues> records)
    {
        var list = records.ToList();
        var found = await connection.QueryAsync<(Guid Id, int Number, string? Email, string? Phone, string? First, string? Last, string? CompanyKey)>(
            "select id, number, email, phone, first_name, last_name, company_key from lead where email = any(@emails) or phone = any(@phones) order by created_at, id",
            new { emails = Values(list, "email"), phones = Values(list, "phone") }
        );
        var known = new KnownPeople();
        foreach (var lead in found)
        {
            var identity = new Identity(lead.Email ?? "", lead.Phone ?? "", Folding.Plain(lead.First), Folding.Plain(lead.Last), lead.CompanyKey ?? "");
            known.Add(identity, lead.Id, 0, $"{lead.Number} {lead.First} {lead.Last}".TrimEnd());
        }
        return known;
    }

    public void Add(Identity identity, int row) => Add(identity, null, row, $"row {row}");

    /// <summary>The first that is the same person beyond doubt, or null.</summary>
    public KnownPerson? Find(Identity identity)
    {
        foreach (var key in Keys(identity))
        foreach (var candidate in _byKey.GetValueOrDefault(key) ?? [])
        {
            var match = Matcher.Compare(identity, candidate.Identity);
            if (match.Same)
                return new KnownPerson(candidate.Lead, candidate.Row, candidate.Name, string.Join(", ", match.Evidence.Select(e => e.Words)));
        }
        return null;
    }

    private void Add(Identity identity, Guid? lead, int row, string name)
    {
        foreach (var key in Keys(identity))
        {
            if (!_byKey.TryGetValue(key, out var list))
                _byKey[key] = list = [];
            list.Add((identity, lead, row, name));
        }
    }

    private static IEnumerable<string> Keys(Identity identity) => new[] { identity.Email, identity.Phone }.Where(k => k.Length > 0);

    private static string[] Values(List<RecordValues> records, string field) => [.. records.Select(r => r.Text(field)).OfType<string>().Distinct()];
}
