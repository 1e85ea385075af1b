using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>What a mend did.</summary>
/// <param name="Id">By which it can be undone.</param>
/// <param name="Rows">Rows read again.</param>
/// <param name="Fit">Rows among them that may come in now.</param>
public sealed record MendResult(long Id, int Rows, int Fit);

/// <summary>Values of one field that could not be read, alike in several rows.</summary>
public sealed record ProblemGroup(string Field, string Label, string Found, string Words, int Rows, IReadOnlyList<Proposal> Proposals);

/// <summary>Puts values right in an import's rows, one or all alike, and undoes that. Rows concerned are read and judged again; those taken in already are left.</summary>
public sealed class RowMender(Workspace workspace)
{
    private const int BatchRows = 1000;
    private const int MostGroups = 60;

    // Rows not taken in: those still waiting, and those of a taking in to come.
    private const string Open = "(d.state = 'sifted' or a.outcome = 'mend' or a.round = d.round)";

    /// <summary>The values that could not be read, most rows first, with what was probably meant.</summary>
    public async Task<List<ProblemGroup>> Groups(LanternDb db, Guid import)
    {
        var groups = await db.Rows<ProblemCount>(
            $"""
            select p->>'code' as code, p->>'path' as field, p->>'found' as found, count(*)::int as rows
            from arrival a join import d on d.id = a.import_id, jsonb_array_elements(a.problems) p
            where a.import_id = {import} and a.problems is not null and {Open:sql} group by 1, 2, 3 order by 4 desc, 2, 3 limit {MostGroups}
            """
        );
        return
        [
            .. groups
                .Where(g => workspace.Catalogue.Find(g.Field) is not null)
                .Select(g =>
                {
                    var field = workspace.Catalogue[g.Field];
                    return new ProblemGroup(g.Field, field.Label, g.Found, new Problem(g.Code, g.Field, g.Found).Words, g.Rows, [.. NearMiss.For(field, g.Found)]);
                }),
        ];
    }

    /// <summary>Keeps a mend and reads the rows it concerns again. Requires a transaction that holds the import's row.</summary>
    public async Task<MendResult> Put(LanternDb db, Import import, Mend mend, Guid person, DateTime now, CancellationToken cancel)
    {
        var rows = await Concerned(db, import.Id, mend);
        var id = await db.One<long>(
            $"""insert into mend (import_id, row_number, field, found, put, at, person_id) values ({import.Id}, {mend.Row}, {mend.Field}, {mend.Found}, {mend.Put}, {now}, {person}) returning id as "Value" """
        );
        return new MendResult(id, rows.Length, await ReadAgain(db, import, rows, cancel));
    }

    /// <summary>Undoes a mend; null when there is none to undo.</summary>
    public async Task<MendResult?> Undo(LanternDb db, Import import, long id, DateTime now, CancellationToken cancel)
    {
        var mend = await db.Row<Mend>(
            $"update mend set undone_at = {now} where id = {id} and import_id = {import.Id} and undone_at is null returning row_number as row, field, found, put"
        );
        if (mend is null)
            return null;
        var rows = mend.Row is { } row ? [row] : await Holding(db, import, mend);
        return new MendResult(id, rows.Length, await ReadAgain(db, import, rows, cancel));
    }

    private static async Task<int[]> Concerned(LanternDb db, Guid import, Mend mend) =>
        mend.Row is { } row
            ? [row]
            : (
                await db.Rows<int>(
                    $"""
                    select row_number as "Value" from arrival where import_id = {import} and problems is not null
                    and problems @> jsonb_build_array(jsonb_build_object('path', {mend.Field}::text, 'found', {mend.Found}::text)) order by row_number
                    """
                )
            ).ToArray();

    // Rows in which the text stands that a mend for all alike concerned: in the columns that go to its field.
    private async Task<int[]> Holding(LanternDb db, Import import, Mend mend)
    {
        var plan = Json.Read<SiftPlan>(import.Plan);
        var columns = plan.Columns.Where(c => c.Target == mend.Field || (c.Target is not null && Composites.Find(c.Target) is not null)).Select(c => c.Index + 1).ToArray();
        return (
            await db.Rows<int>(
                $"""
                select row_number as "Value" from arrival a where import_id = {import.Id} and exists (select 1 from unnest({columns}) c where position({mend.Found} in regexp_replace(a.cells[c], '\s+', ' ', 'g')) > 0)
                order by row_number
                """
            )
        ).ToArray();
    }

    private async Task<int> ReadAgain(LanternDb db, Import import, int[] numbers, CancellationToken cancel)
    {
        var plan = Json.Read<SiftPlan>(import.Plan);
        var reader = new RowReader(workspace.Catalogue, plan, await Sieve.MendsOf(db, import.Id));
        var fit = 0;
        foreach (var batch in numbers.Chunk(BatchRows))
            fit += await ReadAgain(db, import, batch, plan, reader, cancel);
        await Sieve.WriteCounts(db, import, $"");
        return fit;
    }

    private async Task<int> ReadAgain(LanternDb db, Import import, int[] numbers, SiftPlan plan, RowReader reader, CancellationToken cancel)
    {
        var rows = await db.Entities<Arrival>(
            $"select a.* from arrival a join import d on d.id = a.import_id where a.import_id = {import.Id} and a.row_number = any({numbers}) and {Open:sql} order by a.row_number for update of a"
        );
        if (rows.Count == 0)
            return 0;
        // Until they are judged again, these rows are nobody's duplicate.
        var held = rows.Select(r => r.RowNumber).ToArray();
        await db.Set<Arrival>().Where(x => x.ImportId == import.Id && held.Contains(x.RowNumber)).ExecuteDeleteAsync();
        var again = rows.Select(r => SiftedRow.Read(reader, r.RowNumber, r.Cells, r.Broken)).ToList();
        var asked = again.Select(r => r.Asked).ToList();
        var known = await KnownPeople.Load(db, asked, workspace);
        await known.LoadRows(db, asked, workspace.Catalogue, import.Id);
        var judged = again.Select(r => Sieve.Decide(import.Id, r, known, plan.AsideUnread, workspace.Matcher)).ToList();
        var counts = import.Counts;
        foreach (var (before, after) in rows.Zip(judged))
        {
            after.Round = import.Round;
            counts = counts.With(before.Outcome, -1).With(after.Outcome, 1);
        }
        import.Counts = counts;
        await Sieve.Table.Write(db, judged, cancel);
        await FollowFirst(db, import.Id, rows, judged);
        return judged.Count(j => j.Outcome is not (SiftOutcome.Mend or SiftOutcome.Barred));
    }

    // A row that others are duplicates of keeps its lead, so that they follow it still.
    private static Task<int> FollowFirst(LanternDb db, Guid import, List<Arrival> rows, List<Arrival> judged)
    {
        var first = rows.Zip(judged).Where(r => SiftOutcome.MakeLead.Contains(r.First.Outcome) && r.Second.LeadId is not null).ToList();
        var (numbers, leads) = (first.Select(r => r.First.RowNumber).ToArray(), first.Select(r => r.Second.LeadId!.Value).ToArray());
        return db.Run($"update arrival a set lead_id = x.lead from unnest({numbers}, {leads}) x(number, lead) where a.import_id = {import} and a.same_as_row = x.number");
    }

    private sealed record ProblemCount(string Code, string Field, string Found, int Rows);
}
