using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>
/// Takes a sifted import in, in batches. Each batch is one transaction: its leads, everything that belongs to them, what it adds to known
/// leads, and how far the import came, so that a stop at any moment neither doubles nor drops a row. Uses the same admission as every other way in.
/// </summary>
public sealed class TakeIn(Workspace workspace, LanternDbFactory databases, Admission admission, ArrivalMerger merger)
{
    private const int BatchRows = 2000;

    /// <summary>Takes in what is left to take in and marks the import taken.</summary>
    public async Task Run(LanternDb db, Guid id, CancellationToken cancel)
    {
        using var acting = Acting.Through(Acting.Import, id);
        var job = await Begin(db, id);
        // Without a transaction of the caller's, the next batch is read on a connection of its own while this one is written.
        await using var ahead = await databases.Open(cancel);
        var next = Fetch(ahead, job, job.Import.Through);
        try
        {
            for (var rows = await next; rows.Count > 0; rows = await next)
            {
                var after = rows[^1].Arrival.RowNumber;
                next = Task.Run(() => Fetch(ahead, job, after), CancellationToken.None);
                if (!await TakeBatch(db, job, rows, cancel))
                    return;
            }
            await Finish(db, job);
        }
        finally
        {
            // The connection must not be closed under what still reads on it.
            await next.ContinueWith(_ => { }, CancellationToken.None, TaskContinuationOptions.None, TaskScheduler.Default);
        }
    }

    private async Task<Job> Begin(LanternDb db, Guid id)
    {
        var import = await db.Set<Import>().AsNoTracking().Where(x => x.Id == id).SingleAsync();
        var source = await db.Set<SourceRow>().AsNoTracking().Where(x => x.Key == import.Source).SingleAsync();
        var now = DateTime.SpecifyKind(import.StartedAt ?? import.CreatedAt, DateTimeKind.Utc);
        var constants = Json.Read<ImportConstants>(import.Constants);
        var campaign = constants.Campaign ?? source.Campaign;
        var usual = campaign is null ? null : constants.Response ?? workspace.UsualResponse(campaign);
        return new Job(import, source, constants, Json.Read<ImportPolicies>(import.Policies), now, campaign, workspace.KindOfCampaign(campaign), usual);
    }

    private async Task<List<Row>> Fetch(LanternDb db, Job job, int after)
    {
        var arrivals = await db.Set<Arrival>()
            .Where(x => x.ImportId == job.Import.Id && x.Round == job.Import.Round && x.RowNumber > after && x.Outcome != "mend" && x.Outcome != "barred")
            .OrderBy(x => x.RowNumber)
            .Take(BatchRows)
            .Select(x => new Arrival
            {
                ImportId = x.ImportId,
                RowNumber = x.RowNumber,
                Values = x.Values,
                Outcome = x.Outcome,
                Reason = x.Reason,
                SameAsRow = x.SameAsRow,
                LeadId = x.LeadId,
            })
            .ToListAsync();
        var rows = arrivals.Select(a => new Row(a, Json.ToRecord(a.Values, workspace.Catalogue))).ToList();
        var makes = rows.Where(r => SiftOutcome.MakeLead.Contains(r.Arrival.Outcome)).ToList();
        foreach (var (row, scored) in makes.Zip(await admission.Score(db, makes.Select(r => NewcomerOf(job, r)))))
            row.Scored = scored;
        return rows;
    }

    private async Task<bool> TakeBatch(LanternDb db, Job job, List<Row> rows, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var state = await db.Row<TakingState>($"select state, through from import where id = {job.Import.Id} for update");
        if (state is not { State: Import.Taking } || state.Through != job.Import.Through)
            return false;
        await Admission.Lock(db);
        await Recheck(db, job, rows);
        var desk = await RoutingContext.Open(db, job.Now);
        await TakeNew(db, job, rows, desk, cancel);
        await TakeAdditions(db, job, rows, cancel);
        await desk.Close(db);
        job.Note(desk);
        job.Import.Through = rows[^1].Arrival.RowNumber;
        job.Import.Done += rows.Count;
        await Sieve.WriteCounts(
            db,
            job.Import,
            $", through = {job.Import.Through}, done = {job.Import.Done}, knows_up_to = {job.Import.KnowsUpTo}, turns = {job.Import.Turns}::jsonb"
        );
        await transaction.CommitAsync(cancel);
        return true;
    }

    // Between sifting and taking in, the same person may have come in another way, or a lead may have gone.
    private async Task Recheck(LanternDb db, Job job, List<Row> rows)
    {
        var clock = await PeopleChange.Now(db);
        if (clock == job.Import.KnowsUpTo)
            return;
        var before = rows.Select(r => r.Arrival.Outcome).ToList();
        await FindGone(db, rows);
        var makes = rows.Where(r => SiftOutcome.MakeLead.Contains(r.Arrival.Outcome)).ToList();
        var asked = makes.Select(r => new Asked(r.Arrival.RowNumber, new RowReading(r.Facts, [], null), Identity.Of(r.Facts))).ToList();
        var known = await KnownPeople.Load(db, asked, workspace);
        foreach (var (row, ask) in makes.Zip(asked))
            Redecide(row.Arrival, ask, known);
        var changed = rows.Zip(before).Where(r => r.First.Arrival.Outcome != r.Second).ToList();
        foreach (var (row, was) in changed)
            job.Import.Counts = job.Import.Counts.With(was, -1).With(row.Arrival.Outcome, 1);
        var now = changed.ConvertAll(c => c.First.Arrival);
        var (numbers, outcomes, reasons) = (now.Select(r => r.RowNumber).ToArray(), now.Select(r => r.Outcome).ToArray(), now.Select(r => r.Reason).ToArray());
        var (leads, same) = (now.Select(r => r.LeadId).ToArray(), now.Select(r => r.SameAsRow).ToArray());
        await db.Run(
            $"""
            update arrival a set outcome = x.outcome, reason = x.reason, lead_id = x.lead, same_as_row = x.same
            from unnest({numbers}, {outcomes}, {reasons}, {leads}, {same}) x(number, outcome, reason, lead, same)
            where a.import_id = {job.Import.Id} and a.row_number = x.number
            """
        );
    }

    private void Redecide(Arrival row, Asked asked, KnownPeople known)
    {
        var verdict = Sifter.Decide(asked.Reading, asked.Identity, known.BarredBy(asked), known.Near(asked), known.AccountOf(asked), false, workspace.Matcher);
        if (verdict.Outcome is SiftOutcome.Barred)
            (row.Outcome, row.Reason, row.LeadId) = (verdict.Outcome, verdict.Reason, null);
        else if (verdict.Outcome is SiftOutcome.Adds or SiftOutcome.Duplicate)
            (row.Outcome, row.Reason, row.LeadId, row.SameAsRow) = (
                verdict.Outcome,
                verdict.Reason,
                verdict.Known!.Id,
                verdict.Known.Kind == KnownKind.EarlierRow ? verdict.Known.Row : null
            );
        else
            known.Add(asked, row.LeadId!.Value);
    }

    // Who added to a lead that is gone becomes a lead; a duplicate follows the row it is a duplicate of.
    private static async Task FindGone(LanternDb db, List<Row> rows)
    {
        var adds = rows.Where(r => r.Arrival.Outcome == SiftOutcome.Adds).ToList();
        var ids = adds.Select(r => r.Arrival.LeadId!.Value).ToArray();
        var there = await db.Set<Lead>().Where(x => ids.Contains(x.Id)).Select(x => x.Id).ToHashSetAsync();
        foreach (var row in adds.Where(r => !there.Contains(r.Arrival.LeadId!.Value)))
            (row.Arrival.Outcome, row.Arrival.LeadId, row.Arrival.Reason) = (SiftOutcome.New, Guid.CreateVersion7(), "");
    }

    private async Task TakeNew(LanternDb db, Job job, List<Row> rows, RoutingContext desk, CancellationToken cancel)
    {
        var fresh = rows.Where(r => SiftOutcome.MakeLead.Contains(r.Arrival.Outcome)).ToList();
        if (fresh.Count == 0)
            return;
        var how = new AdmissionTerms(job.Constants.Owner, job.Constants.Team, "The import names its owner", Quiet: true);
        // Who became a newcomer only now was not scored ahead.
        var late = fresh.Where(r => r.Scored is null).ToList();
        foreach (var (row, scored) in late.Zip(await admission.Score(db, late.Select(r => NewcomerOf(job, r)))))
            row.Scored = scored;
        var (before, after) = await admission.Admit(db, [.. fresh.Select(r => r.Scored!)], desk, how, cancel);
        // Only our own people came in since: there is nobody new to look for in the next batch.
        if (before == job.Import.KnowsUpTo && after - before <= 1)
            job.Import.KnowsUpTo = after;
        await Mark(db, job, fresh, cancel);
    }

    private static Newcomer NewcomerOf(Job job, Row row) =>
        new(
            row.Arrival.LeadId!.Value,
            row.Facts,
            job.Source.Key,
            job.Campaign,
            job.Import.Id,
            job.Now,
            job.EventsOf(row.Facts),
            $"Came in through {job.Source.Name}, row {row.Arrival.RowNumber} of {job.Import.FileName}. {row.Arrival.Reason}".TrimEnd()
        );

    private async Task TakeAdditions(LanternDb db, Job job, List<Row> rows, CancellationToken cancel)
    {
        var adds = rows.Where(r => SiftOutcome.AddToLead.Contains(r.Arrival.Outcome)).ToList();
        if (adds.Count == 0)
            return;
        await FollowDuplicates(db, job, adds);
        var additions = adds.Select(r => new Addition(
                r.Arrival.LeadId!.Value,
                r.Facts,
                job.EventsOf(r.Facts) is [var happened] ? happened : null,
                $"Came in again through {job.Source.Name}, row {r.Arrival.RowNumber} of {job.Import.FileName}"
            ))
            .ToList();
        var saidAt = (job.Constants.SaidAt ?? job.Import.CreatedAt).ToInstant();
        var changes = await merger.Add(db, additions, new MergeTerms(job.Source.Key, job.Import.Id, job.Now, saidAt, job.Policies.Of), cancel);
        var numbers = adds.Select(r => r.Arrival.RowNumber).ToArray();
        var leads = adds.Select(r => r.Arrival.LeadId!.Value).ToArray();
        await db.Run(
            $"update arrival a set changed = x.changed::jsonb, lead_id = x.lead from unnest({numbers}, {leads}, {changes.Select(Json.Write).ToArray()}) as x(number, lead, changed) where a.import_id = {job.Import.Id} and a.row_number = x.number"
        );
        await Mark(db, job, adds, cancel);
    }

    // The row a duplicate follows may have turned out to add to a known lead after all.
    private static async Task FollowDuplicates(LanternDb db, Job job, List<Row> adds)
    {
        var followed = adds.Where(r => r.Arrival.SameAsRow is not null).ToList();
        if (followed.Count == 0)
            return;
        var rows = followed.Select(r => r.Arrival.SameAsRow!.Value).ToArray();
        var leads = (
            await db.Set<Arrival>()
                .Where(x => x.ImportId == job.Import.Id && rows.Contains(x.RowNumber) && x.LeadId != null)
                .Select(x => new { Row = x.RowNumber, Lead = x.LeadId!.Value })
                .ToListAsync()
        ).ToDictionary(l => l.Row, l => l.Lead);
        foreach (var row in followed)
            if (leads.TryGetValue(row.Arrival.SameAsRow!.Value, out var lead))
                row.Arrival.LeadId = lead;
    }

    // Tags and consent, said once for the whole import.
    private async Task Mark(LanternDb db, Job job, List<Row> rows, CancellationToken cancel)
    {
        foreach (var tag in job.Constants.Tags)
            await db.Run(
                $"insert into lead_tag (lead_id, tag_key, import_id) select distinct x, {tag}, {job.Import.Id}::uuid from unnest({rows.Select(r => r.Arrival.LeadId!.Value).ToArray()}) x on conflict do nothing"
            );
        await KeepNotes(db, job, rows, cancel);
        if (job.Constants.Consent is { } consent)
            await ConsentRow.Save(db, rows.SelectMany(r => Consents(job, r, consent)), cancel);
        if (job.Campaign is not null)
            await CampaignResponseRow.Save(db, [.. rows.Select(r => ResponseOf(job, r))], cancel);
    }

    // What a column of notes says is a note of whoever takes the list in.
    private static async Task KeepNotes(LanternDb db, Job job, List<Row> rows, CancellationToken cancel)
    {
        List<StoryEntry> notes =
        [
            .. rows.Where(r => r.Facts[FieldCatalogue.Note].IsKnown)
                .Select(r => new StoryEntry
                {
                    Id = Guid.CreateVersion7(),
                    LeadId = r.Arrival.LeadId!.Value,
                    At = job.Now,
                    Kind = "note",
                    Text = r.Facts.Text(FieldCatalogue.Note)!,
                    PersonId = job.Import.PersonId,
                    ImportId = job.Import.Id,
                }),
        ];
        if (notes.Count == 0)
            return;
        await AdmissionBatch.StoryTable.Write(db, notes, cancel);
        await EventLog.Table.Write(db, notes.Select(n => EventLog.Row(EventLog.Lead, n.LeadId!.Value, new Noted(n.Id, n.Kind), job.Now)), cancel);
    }

    private IEnumerable<ConsentRow> Consents(Job job, Row row, ConsentGiven consent) =>
        ConsentRow.GivenBy(
            workspace.Hashes,
            row.Arrival.LeadId!.Value,
            row.Facts,
            consent.Purpose,
            consent.At,
            consent.Wording,
            $"{job.Source.Name}, row {row.Arrival.RowNumber} of {job.Import.FileName}",
            job.Import.Id
        );

    private static CampaignResponseRow ResponseOf(Job job, Row row) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            CampaignKey = job.Campaign!,
            LeadId = row.Arrival.LeadId!.Value,
            Response = job.ResponseOf(row.Facts)!,
            Known = SiftOutcome.AddToLead.Contains(row.Arrival.Outcome),
            At = job.Constants.SaidAt is { } said ? DateTime.SpecifyKind(said, DateTimeKind.Utc) : job.Now,
            Detail = $"Row {row.Arrival.RowNumber} of {job.Import.FileName}",
            ImportId = job.Import.Id,
        };

    // Each new owner hears once of all the leads of this taking in.
    private static async Task Finish(LanternDb db, Job job)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var done = await db.Set<Import>()
            .Where(x => x.Id == job.Import.Id && x.State == "taking")
            .ExecuteUpdateAsync(s =>
                s.SetProperty(x => x.State, "taken")
                    .SetProperty(x => x.TakenAt, job.Now)
                    .SetProperty(x => x.Through, 0)
                    .SetProperty(x => x.Done, 0)
                    .SetProperty(x => x.ToDo, 0)
                    .SetProperty(x => x.Tries, 0)
                    .SetProperty(x => x.Trouble, (string?)null)
                    .SetProperty(x => x.Round, x => x.Round + 1)
                    .SetProperty(x => x.RowsTaken, job.Import.Counts.Takeable)
            );
        if (done > 0)
            await Tell(db, job);
        await transaction.CommitAsync();
    }

    // Each owner learns of their leads once, with the count.
    private static async Task Tell(LanternDb db, Job job)
    {
        var given = await db.Set<Lead>()
            .Where(l => l.ImportId == job.Import.Id && l.CreatedAt == job.Now && l.OwnerId != null)
            .GroupBy(l => l.OwnerId!.Value)
            .Select(g => new
            {
                Owner = g.Key,
                Count = g.Count(),
                Due = g.Min(l => l.ClockDueAt),
            })
            .ToListAsync();
        await db.Log(EventLog.Person, [.. given.Select(g => (g.Owner, (Happening)new LeadsGiven(g.Count, g.Due, job.Import.FileName)))]);
    }

    private sealed record Row(Arrival Arrival, RecordValues Facts)
    {
        public Scored? Scored { get; set; }
    }

    private sealed record Job(
        Import Import,
        SourceRow Source,
        ImportConstants Constants,
        ImportPolicies Policies,
        DateTime Now,
        string? Campaign,
        string CampaignKind,
        string? UsualResponse
    )
    {
        // Made at once: two threads read it.
        private readonly Dictionary<string, LeadEvent[]> _events = CampaignResponse
            .All.Select(r => (r.Key, Kind: r.Key == UsualResponse && r.IsTheirs ? Source.EventKind : r.EventKind))
            .Append((Key: "", Kind: Source.EventKind))
            .ToDictionary(r => r.Key, r => r.Kind is null ? [] : new[] { new LeadEvent(r.Kind, Now.ToInstant(), Source.Name, CampaignKind: CampaignKind) });

        /// <summary>What a row's person did about the campaign; null without a campaign.</summary>
        public string? ResponseOf(RecordValues row) => Campaign is null ? null : row.Text(FieldCatalogue.Response) ?? UsualResponse;

        /// <summary>
        /// What a row counts as for engagement: the source's own kind, or where the row says otherwise the response's; nothing for what we did.
        /// The same list for all rows alike, so that it is scored once.
        /// </summary>
        public LeadEvent[] EventsOf(RecordValues row) => _events[ResponseOf(row) ?? ""];

        // What the rotations gained and paid is kept, so that taking back gives it back.
        public void Note(RoutingContext desk)
        {
            var turns = Json.Read<Dictionary<string, Dictionary<Guid, long>>>(Import.Turns);
            foreach (var (team, person, credit) in desk.Moves)
            {
                if (!turns.TryGetValue(team, out var places))
                    turns[team] = places = [];
                places[person] = places.GetValueOrDefault(person) + credit;
            }
            Import.Turns = Json.Write(turns);
        }
    }

    private sealed record TakingState(string State, int Through);
}
