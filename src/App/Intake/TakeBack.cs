using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Leads;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>
/// Undoes an import, last row first, in batches that each commit: removes the leads it made, gives known leads back what they held before,
/// removes its events, story, tags and consents, and returns the turns. What people changed since is left and marked on its row, unless the
/// import says to force it; what was handed over is left in any case. Arrivals stay as they came.
/// </summary>
public sealed class TakeBack(Workspace workspace, ArrivalMerger merger)
{
    // What the rules and the clock do with a lead is no work of a person.
    private static readonly string[] OfRouting = ["owner", "clock_soon", "clock_missed"];

    private const int BatchRows = 2000;

    /// <summary>Takes back what is left to take back and marks the import taken back.</summary>
    public async Task Run(LanternDb db, Guid id, DateTime now, CancellationToken cancel)
    {
        using var acting = Acting.Through(Acting.Import, id);
        var import = await db.Set<Import>().AsNoTracking().Where(x => x.Id == id).SingleAsync();
        var before = import.Through > 0 ? import.Through : int.MaxValue;
        // What was given back once is people's to change; a second time concerns only what the first one left.
        var again = import.TakenBackAt > import.TakenAt;
        for (; ; )
        {
            await using var transaction = await db.Database.BeginTransactionAsync(cancel);
            if (await db.One<string>($"""select state as "Value" from import where id = {id} for update""") != Import.TakingBack)
                return;
            await Admission.Lock(db);
            var rows = await Rows(db, id, before, again);
            if (rows.Count == 0)
            {
                await Finish(db, import, now);
                await transaction.CommitAsync(cancel);
                return;
            }
            await Restore(db, import, rows, now);
            await Remove(db, import, rows);
            before = rows[^1].RowNumber;
            await db.Set<Import>().Where(x => x.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.Through, before).SetProperty(x => x.Done, x => x.Done + rows.Count));
            await PeopleChange.Tell(db);
            await transaction.CommitAsync(cancel);
        }
    }

    private static async Task<List<Arrival>> Rows(LanternDb db, Guid import, int before, bool again) =>
        await db.Entities<Arrival>(
            $"""
            select * from arrival where import_id = {import} and row_number < {before}
            and outcome not in ('mend', 'barred') and (not {again} or left_because is not null) order by row_number desc limit {BatchRows}
            """
        );

    // Known leads get back what they held, field by field, where they still hold what this import wrote.
    private async Task Restore(LanternDb db, Import import, List<Arrival> rows, DateTime now)
    {
        var adds = rows.Where(r => SiftOutcome.AddToLead.Contains(r.Outcome) && r.Changed is not null && r.LeadId is not null).ToList();
        if (adds.Count == 0)
            return;
        var ids = adds.Select(r => r.LeadId!.Value).Distinct().ToArray();
        var leads = await LeadStore.LoadMany(db, ids, workspace.Catalogue, now);
        var left = adds.Where(r => r.LeftBecause is not null).ToHashSet();
        foreach (var row in adds)
            if (leads.TryGetValue(row.LeadId!.Value, out var lead) && GiveBack(row, lead, import.Force))
                left.Add(row);
        // A lead the import made keeps the event it came by, until it goes itself.
        var others = await db.Set<Lead>().Where(x => ids.Contains(x.Id) && x.ImportId != import.Id).Select(x => x.Id).ToArrayAsync();
        await db.Run(
            $"""
            delete from story_entry where lead_id = any({ids}) and import_id = {import.Id} and kind in ('added', 'note');
            delete from lead_event where lead_id = any({others}) and import_id = {import.Id};
            delete from lead_tag where lead_id = any({ids}) and import_id = {import.Id};
            delete from consent where lead_id = any({ids}) and import_id = {import.Id};
            delete from campaign_response where lead_id = any({ids}) and import_id = {import.Id};
            """
        );
        await db.Log(EventLog.Lead, ids, new ImportTakenBack());
        await merger.Rescore(db, leads.Values, await LeadStore.EventsOf(db, ids), now);
        await LeadBulkUpdate.Write(db, [.. leads.Values]);
        await Mark(db, import.Id, left);
    }

    // True when something is left; the row then keeps only that as changed by it.
    private bool GiveBack(Arrival row, KnownLead lead, bool force)
    {
        var left = new List<KeptChange>();
        foreach (var change in Json.Read<List<KeptChange>>(row.Changed!))
        {
            if (workspace.Catalogue.Find(change.Field) is not { } field)
                continue;
            if (!force && lead.Facts[field.Ordinal] != FieldValue.Parse(field.Type, change.After))
            {
                left.Add(change);
                continue;
            }
            lead.Facts[field.Ordinal] = FieldValue.Parse(field.Type, change.Before);
            lead.Changed = true;
            if (change.From is { } from)
                lead.Provenance[change.Field] = from;
            else
                lead.Provenance.Remove(change.Field);
        }
        row.Changed = Json.Write(left);
        row.LeftBecause = left.Count == 0 ? null : $"Changed since, so left: {string.Join(", ", left.Select(c => workspace.Catalogue[c.Field].Label))}.";
        return left.Count > 0;
    }

    private static async Task Remove(LanternDb db, Import import, List<Arrival> rows)
    {
        var made = rows.Where(r => SiftOutcome.MakeLead.Contains(r.Outcome) && r.LeadId is not null).ToList();
        var ids = made.Select(r => r.LeadId!.Value).ToArray();
        // Nothing happened to these leads before the import, give or take what clocks differ: only its months are looked at.
        var since = import.CreatedAt.AddDays(-1);
        var worked = db.Set<EventRow>().Where(e => e.At >= since && (e.Cause != Acting.Import || e.CauseId != import.Id) && !OfRouting.Contains(e.Kind));
        var left = await db.Set<Lead>()
            .Where(l =>
                ids.Contains(l.Id)
                && (
                    l.State == LeadState.HandedOver
                    || (
                        !import.Force
                        && (l.State != LeadState.New || db.Set<StoryEntry>().Any(s => s.LeadId == l.Id && s.ImportId != import.Id) || worked.Any(e => e.Record == l.Id))
                    )
                )
            )
            .Select(l => new { l.Id, l.State })
            .ToDictionaryAsync(l => l.Id, l => l.State);
        var marked = made.Where(r => r.LeftBecause is not null || left.ContainsKey(r.LeadId!.Value)).ToList();
        foreach (var row in marked)
            row.LeftBecause = left.GetValueOrDefault(row.LeadId!.Value) switch
            {
                null => null,
                "handed_over" => "The lead was handed over, so it stays.",
                _ => "Somebody worked on the lead since, so it stays.",
            };
        var gone = ids.Where(id => !left.ContainsKey(id)).ToArray();
        await db.Run(
            $"""
            {SqlText.Joined(RecordRegistry.Delete("lead", t => t.TakeBack, gone)):sql}
            delete from consent where lead_id = any({gone}) and import_id = {import.Id};
            delete from lead where id = any({gone});
            """
        );
        await Mark(db, import.Id, marked);
        // Whose lead became part of another cannot go by itself.
        await db.Run(
            $"""
            update arrival a set left_because = 'The lead was merged into another one; take the two apart first.' from record_merge m
            where a.import_id = {import.Id} and a.row_number = any({rows.Select(r => r.RowNumber).ToArray()}) and m.gone_id = a.lead_id and m.apart_at is null
            """
        );
    }

    private static Task Mark(LanternDb db, Guid import, IReadOnlyCollection<Arrival> rows) =>
        db.Run(
            $"""
            update arrival a set left_because = x.because, changed = x.changed::jsonb
            from unnest({rows.Select(r => r.RowNumber).ToArray()}, {rows.Select(r => r.LeftBecause).ToArray()}, {rows.Select(r => r.Changed).ToArray()}) x(number, because, changed)
            where a.import_id = {import} and a.row_number = x.number
            """
        );

    // A team whose places changed since keeps its rotation: giving a part back would leave its credits out of balance.
    private static async Task Finish(LanternDb db, Import import, DateTime now)
    {
        foreach (var (team, places) in Json.Read<Dictionary<string, Dictionary<Guid, long>>>(import.Turns))
        {
            var there = (await db.Rows<Guid>($"""select person_id as "Value" from turn where team_key = {team} for update""")).ToHashSet();
            if (places.Keys.All(there.Contains))
                await db.Run(
                    $"""
                    update turn t set credit = t.credit - x.credit from unnest({places.Keys.ToArray()}, {places.Values.ToArray()}) x(person, credit)
                    where t.team_key = {team} and t.person_id = x.person
                    """
                );
        }
        await db.Set<Import>()
            .Where(x => x.Id == import.Id)
            .ExecuteUpdateAsync(s =>
                s.SetProperty(x => x.State, "taken_back")
                    .SetProperty(x => x.TakenBackAt, now)
                    .SetProperty(x => x.Through, 0)
                    .SetProperty(x => x.Done, 0)
                    .SetProperty(x => x.ToDo, 0)
                    .SetProperty(x => x.Tries, 0)
                    .SetProperty(x => x.Trouble, (string?)null)
                    .SetProperty(x => x.Turns, "{}")
            );
    }
}
