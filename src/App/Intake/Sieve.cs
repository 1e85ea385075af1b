using System.Collections.Immutable;
using System.Threading.Channels;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.App.Matching;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Matching;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>A row as it came, with what was read from it.</summary>
public sealed record SiftedRow(string[] Cells, string? Broken, Asked Asked)
{
    /// <summary>The values in the form in which they are kept.</summary>
    public string Values { get; } = Json.Facts(Asked.Reading.Values);

    /// <summary>Reads a row, or what was mended of it where it could not be cut into cells.</summary>
    public static SiftedRow Read(RowReader reader, int number, string[] cells, string? broken)
    {
        var read = broken is null ? reader.Read(cells, number) : reader.Broken(broken, number);
        return new SiftedRow(cells, broken, new Asked(number, read, Identity.Of(read.Values)));
    }
}

/// <summary>
/// The dry run: reads every row of an import, decides what it would become, and keeps row and verdict. No lead is touched. Works in
/// batches, each committed with how far it came, so that whoever goes on after a stop neither doubles nor drops a row.
/// </summary>
public sealed class Sieve(Workspace workspace, LanternDbFactory databases)
{
    private const int BatchRows = 1000;

    /// <summary>Most letters a row may have in all its cells.</summary>
    public const int MostLettersInRow = 100_000;

    private const long MostLettersInBatch = 4_000_000;

    // Bytes of a row, to tell from the size of a file about how many rows it has.
    private const int TypicalRow = 200;

    /// <summary>How the table <c>arrival</c> is written.</summary>
    public static BulkTable<Arrival> Table { get; } =
        new BulkTable<Arrival>("arrival")
            .Uuid("import_id", a => a.ImportId)
            .Int("row_number", a => a.RowNumber)
            .Texts("cells", a => a.Cells)
            .Text("broken", a => a.Broken)
            .Text("values", a => a.Values)
            .Json("problems", a => a.Problems)
            .Text("outcome", a => a.Outcome)
            .Text("reason", a => a.Reason)
            .Int("same_as_row", a => a.SameAsRow)
            .Uuid("lead_id", a => a.LeadId)
            .Long("email_key", a => a.EmailKey)
            .Long("phone_key", a => a.PhoneKey)
            .Long("name_key", a => a.NameKey)
            .Int("round", a => a.Round);

    /// <summary>Sifts what is left to sift and marks the import sifted. Returns without marking when it is to be sifted anew meanwhile.</summary>
    public async Task Run(LanternDb db, Guid id, DateTime now, CancellationToken cancel)
    {
        var import = await db.Set<Import>().AsNoTracking().Where(x => x.Id == id).SingleAsync();
        await using var content = await ImportContent.Open(db, id, cancel);
        var reading = Json.Read<ListReading>(import.Reading);
        var plan = await Begin(db, import, content, reading, now);
        var reader = new RowReader(workspace.Catalogue, plan, await MendsOf(db, id));

        using var stop = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        var read = Channel.CreateBounded<List<SiftedRow>>(1);
        var met = Channel.CreateBounded<Batch>(1);
        var judged = Channel.CreateBounded<Judged>(1);
        // Four things go on at once: reading the file, looking up who is known, judging, and keeping.
        var cutting = Stage(read.Writer, () => Read(content, reading, reader, import.Through, read.Writer, stop.Token));
        var looking = Stage(met.Writer, () => LookUp(read.Reader, met.Writer, import.Size / TypicalRow, stop.Token));
        var judging = Stage(judged.Writer, () => Judge(import, met.Reader, judged.Writer, plan.AsideUnread, stop.Token));
        try
        {
            await foreach (var batch in judged.Reader.ReadAllAsync(cancel))
                if (!await Save(db, import, batch, cancel))
                    return;
            await db.Set<Import>()
                .Where(x => x.Id == id && x.Epoch == import.Epoch && x.State == "sifting")
                .ExecuteUpdateAsync(s =>
                    s.SetProperty(x => x.State, "sifted")
                        .SetProperty(x => x.Through, 0)
                        .SetProperty(x => x.ToDo, 0)
                        .SetProperty(x => x.Done, 0)
                        .SetProperty(x => x.Tries, 0)
                        .SetProperty(x => x.Trouble, (string?)null)
                );
        }
        finally
        {
            // The file must not be closed under who still reads it.
            await stop.CancelAsync();
            await Task.WhenAll(cutting, looking, judging);
        }
    }

    // A stage ends its channel with what went wrong, so that it surfaces where the channel is read.
    private static Task Stage<T>(ChannelWriter<T> to, Func<Task> work) =>
        Task.Run(async () =>
        {
            try
            {
                await work();
                to.Complete();
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                to.Complete(e);
            }
        });

    /// <summary>The mends of an import that hold.</summary>
    public static async Task<Mends> MendsOf(LanternDb db, Guid import) =>
        new(
            await db.Set<MendRow>()
                .Where(x => x.ImportId == import && x.UndoneAt == null)
                .OrderBy(x => x.Id)
                .Select(x => new Mend(x.RowNumber, x.Field, x.Found, x.Put))
                .ToListAsync()
        );

    /// <summary>What a row becomes, as it is kept.</summary>
    public static Arrival Decide(Guid import, SiftedRow row, KnownPeople known, bool asideUnread, Matcher matcher)
    {
        var asked = row.Asked;
        var (reading, identity) = (asked.Reading, asked.Identity);
        var verdict = Sifter.Decide(reading, identity, known.BarredBy(asked), known.Near(asked), reading.Unfit is null ? known.AccountOf(asked) : null, asideUnread, matcher);
        var arrival = new Arrival
        {
            ImportId = import,
            RowNumber = asked.Row,
            Cells = row.Cells,
            Broken = row.Broken,
            Values = row.Values,
            Problems = reading.Problems.Length == 0 ? null : Json.Write(reading.Problems),
            Outcome = verdict.Outcome,
            Reason = verdict.Reason,
            EmailKey = MatchKey.Of(import, identity.Email),
            PhoneKey = KnownPeople.PhoneKey(import, identity),
            NameKey = KnownPeople.NameKey(import, asked),
        };
        if (verdict is { Outcome: SiftOutcome.Adds or SiftOutcome.Duplicate, Known: { } person })
            (arrival.LeadId, arrival.SameAsRow) = (person.Id, person.Kind == KnownKind.EarlierRow ? person.Row : null);
        else if (SiftOutcome.MakeLead.Contains(verdict.Outcome))
        {
            arrival.LeadId = Guid.CreateVersion7();
            known.Add(asked, arrival.LeadId.Value);
        }
        return arrival;
    }

    // A fresh start clears an earlier sifting and learns how whole columns write dates and numbers.
    private async Task<SiftPlan> Begin(LanternDb db, Import import, Stream content, ListReading reading, DateTime now)
    {
        var plan = Json.Read<SiftPlan>(import.Plan);
        if (import.Through > 0)
            return plan;
        plan = plan with { Columns = Settle(content, reading, plan) };
        import.Counts = SiftCounts.None;
        await db.Run(
            $"""
            delete from arrival where import_id = {import.Id};
            update import set plan = {Json.Write(plan)}::jsonb, started_at = {now}, done = 0, knows_up_to = (select last_value from people_change),
              rows_read = 0, rows_new = 0, rows_contact = 0, rows_account = 0, rows_adds = 0, rows_duplicate = 0, rows_mend = 0, rows_barred = 0 where id = {import.Id} and epoch = {import.Epoch};
            """
        );
        return plan;
    }

    /// <summary>The columns of a list with how each writes its dates and numbers, told from all its rows where nobody has said.</summary>
    public ImmutableArray<ColumnMatch> Settle(Stream content, ListReading reading, SiftPlan plan)
    {
        var open = plan
            .Columns.Where(c => !c.Said && c.Target is not null && workspace.Catalogue.Find(c.Target) is { } field && ColumnHabits.Has(field.Type))
            .Select(c => (Match: c, Habits: new ColumnHabits(workspace.Catalogue[c.Target!].Type)))
            .ToList();
        if (open.Count == 0)
            return plan.Columns;
        foreach (var row in ListFile.Open(content, reading).Rows)
        foreach (var (match, habits) in open)
            if (match.Index < row.Cells.Length && row.Cells[match.Index] is { Length: > 0 and < 60 } cell)
                habits.Add(cell.Trim());
        var columns = plan.Columns.ToBuilder();
        foreach (var (match, habits) in open)
            columns[match.Index] = habits.Settle(match, plan.Country);
        return columns.ToImmutable();
    }

    private static async Task Read(Stream content, ListReading reading, RowReader reader, int after, ChannelWriter<List<SiftedRow>> to, CancellationToken cancel)
    {
        foreach (var rows in Batches(ListFile.Open(content, reading).Rows.Where(r => r.Number > after).Select(Bounded)))
            await to.WriteAsync([.. rows.Select(r => SiftedRow.Read(reader, r.Number, Clean(r.Cells), r.Broken))], cancel);
    }

    // A row of more text than anybody writes would be kept once for every cell of a workbook that shares it.
    private static ListRow Bounded(ListRow row)
    {
        var letters = LettersIn(row);
        return letters <= MostLettersInRow
            ? row
            : row with
            {
                Cells = [string.Join(' ', row.Cells.Select(c => c.Length > 200 ? c[..200] : c)) is var text && text.Length > 4000 ? text[..4000] : text],
                Broken = $"it holds {letters} letters, and a row may have {MostLettersInRow}; the file is kept whole",
            };
    }

    private static long LettersIn(ListRow row)
    {
        var letters = 0L;
        foreach (var cell in row.Cells)
            letters += cell.Length;
        return letters;
    }

    private static IEnumerable<List<ListRow>> Batches(IEnumerable<ListRow> rows)
    {
        var (batch, letters) = (new List<ListRow>(BatchRows), 0L);
        foreach (var row in rows)
        {
            batch.Add(row);
            letters += LettersIn(row);
            if (batch.Count < BatchRows && letters < MostLettersInBatch)
                continue;
            yield return batch;
            (batch, letters) = (new List<ListRow>(BatchRows), 0L);
        }
        if (batch.Count > 0)
            yield return batch;
    }

    private async Task LookUp(ChannelReader<List<SiftedRow>> from, ChannelWriter<Batch> to, long expected, CancellationToken cancel)
    {
        await using var db = await databases.Open(cancel);
        // Whoever comes in meanwhile is met when the rows are taken in: the import notes up to when it knows.
        SeenKeys? everybody = null;
        var (looked, asked) = (0L, false);
        await foreach (var rows in from.ReadAllAsync(cancel))
        {
            if (!asked && (looked += rows.Count) > BatchRows)
                (asked, everybody) = (true, await MatchKeys.Everybody(db, expected, cancel));
            await to.WriteAsync(new Batch(rows, await KnownPeople.Load(db, [.. rows.Select(r => r.Asked)], workspace, everybody)), cancel);
        }
    }

    // A row may be the duplicate of one that is judged and not yet kept, so the last few batches stay at hand until they are.
    private async Task Judge(Import import, ChannelReader<Batch> from, ChannelWriter<Judged> to, bool asideUnread, CancellationToken cancel)
    {
        await using var db = await databases.Open(cancel);
        var counts = import.Counts;
        var unkept = new Queue<Judged>();
        // Whoever goes on where another stopped has not seen the rows before.
        var seen = import.Through == 0 ? new SeenKeys() : null;
        await foreach (var batch in from.ReadAllAsync(cancel))
        {
            while (unkept.TryPeek(out var oldest) && oldest.Kept)
                unkept.Dequeue();
            await batch.Known.LoadRows(
                db,
                [.. batch.Rows.Select(r => r.Asked)],
                workspace.Catalogue,
                import.Id,
                unkept.SelectMany(u => u.Arrivals.Zip(u.Rows, (arrival, row) => (arrival, row.Asked))),
                seen
            );
            var arrivals = new List<Arrival>(batch.Rows.Count);
            foreach (var row in batch.Rows)
            {
                var arrival = Decide(import.Id, row, batch.Known, asideUnread, workspace.Matcher);
                arrival.Round = import.Round;
                counts = counts.With(arrival.Outcome, 1);
                arrivals.Add(arrival);
                foreach (var key in KnownPeople.KeysOf(arrival))
                    seen?.Add(key);
            }
            var done = new Judged(batch.Rows, arrivals, counts);
            unkept.Enqueue(done);
            await to.WriteAsync(done, cancel);
        }
    }

    // False when the rows are to be sifted anew: what was read no longer holds.
    private static async Task<bool> Save(LanternDb db, Import import, Judged batch, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (await db.Row<int?>($"""select epoch as "Value" from import where id = {import.Id} and state = 'sifting' for update""") != import.Epoch)
            return false;
        import.Counts = batch.Counts;
        import.Through = batch.Arrivals[^1].RowNumber;
        await Table.Write(db, batch.Arrivals, cancel);
        await WriteCounts(db, import, $", through = {import.Through}, done = {import.Through}");
        await transaction.CommitAsync(cancel);
        batch.Kept = true;
        return true;
    }

    /// <summary>Writes the import's counts, and more of it.</summary>
    internal static Task WriteCounts(LanternDb db, Import import, SqlText more) =>
        db.Run(
            $"""
            update import set rows_read = {import.RowsRead}, rows_new = {import.RowsNew}, rows_contact = {import.RowsContact}, rows_account = {import.RowsAccount}, rows_adds = {import.RowsAdds},
              rows_duplicate = {import.RowsDuplicate}, rows_mend = {import.RowsMend}, rows_barred = {import.RowsBarred} {more:sql} where id = {import.Id}
            """
        );

    /// <summary>Cells as they are meant: PostgreSQL keeps no NUL in a text; an apostrophe before a formula's sign was put there by the program that wrote the list.</summary>
    public static string[] Clean(string[] cells)
    {
        for (var i = 0; i < cells.Length; i++)
            cells[i] = Csv.Meant(cells[i]).Replace("\0", "", StringComparison.Ordinal);
        return cells;
    }

    // A batch with what its rows become, and the import's counts with it.
    private sealed record Judged(IReadOnlyList<SiftedRow> Rows, List<Arrival> Arrivals, SiftCounts Counts)
    {
        private volatile bool _kept;

        /// <summary>True once it is committed, so that a later query finds it.</summary>
        public bool Kept
        {
            get => _kept;
            set => _kept = value;
        }
    }

    private sealed record Batch(List<SiftedRow> Rows, KnownPeople Known);
}
