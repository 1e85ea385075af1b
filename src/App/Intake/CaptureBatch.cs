using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>Decides what several arrivals become and writes all of it with set operations, in the caller's transaction.</summary>
public sealed class CaptureBatch(Workspace workspace, Admission admission, ArrivalMerger merger, TimeProvider clock)
{
    /// <summary>In the order given. Requires an open transaction and <see cref="Admission.Lock"/>.</summary>
    public async Task<IReadOnlyList<Captured>> Write(LanternDb db, IReadOnlyList<NewArrival> arrived, CancellationToken cancel)
    {
        // Each was read by the set-up of its own request.
        var arriving = arrived.Select(a => a with { Facts = a.Facts.On(workspace.Catalogue) }).ToList();
        var before = await Before(db, arriving);
        var decided = await Decide(db, arriving, before);
        var fresh = decided.Where(d => d.Kept).ToList();
        await Admit(db, [.. fresh.Where(d => d.MakesLead)], cancel);
        foreach (var ofSource in fresh.Where(d => d.Adds).GroupBy(d => d.Arriving.Raw.Source))
            await Add(db, ofSource.Key, [.. ofSource], cancel);
        await Complete(db, fresh, cancel);
        var ids = decided.Select(d => d.Arriving.Raw.LeadId).OfType<Guid>().ToArray();
        var numbers = await db.Set<Lead>().Where(x => ids.Contains(x.Id)).Select(x => new { x.Id, x.Number }).ToDictionaryAsync(n => n.Id, n => n.Number);
        return [.. decided.Select(d => ResultOf(d, before, numbers))];
    }

    private sealed record Decided(NewArrival Arriving, bool Again)
    {
        public SingleArrival Raw => Arriving.Raw;
        public bool Taken => !Again && Raw.State == SingleArrival.Taken;

        /// <summary>True for what would have added to a lead of somebody else: kept, and waiting for a word.</summary>
        public bool IsOthers { get; set; }

        /// <summary>True when the key was used before for something else.</summary>
        public bool IsOtherContent { get; init; }
        public bool Kept => !Again && (Taken || IsOthers || !Arriving.DiscardUnlessLead) && (Taken || !Arriving.ApprovedManually);
        public bool MakesLead => Taken && SiftOutcome.MakeLead.Contains(Raw.Outcome);
        public bool Adds => Taken && !MakesLead;
    }

    private static Captured ResultOf(Decided d, Dictionary<Guid, SingleArrival> before, Dictionary<Guid, int> numbers)
    {
        var raw = d.Again ? before[d.Raw.Key!.Value] : d.Raw;
        return new Captured(raw.Id, raw.State, raw.LeadId, raw.LeadId is { } id ? numbers.GetValueOrDefault(id) : 0, raw.Outcome, raw.Reason, d.Again, d.IsOtherContent);
    }

    // What was kept under the same keys before, here or, as they are decided, earlier in this batch.
    private static async Task<Dictionary<Guid, SingleArrival>> Before(LanternDb db, IReadOnlyList<NewArrival> arriving)
    {
        var keys = arriving.Where(a => !a.ApprovedManually).Select(a => a.Raw.Key).OfType<Guid>().ToArray();
        if (keys.Length == 0)
            return [];
        return await db.Set<SingleArrival>().AsNoTracking().Where(x => keys.Contains(x.Key!.Value)).ToDictionaryAsync(a => a.Key!.Value);
    }

    private async Task<List<Decided>> Decide(LanternDb db, IReadOnlyList<NewArrival> arriving, Dictionary<Guid, SingleArrival> before)
    {
        var asked = arriving.Select((a, i) => new Asked(i + 1, new RowReading(a.Facts, [], RowReader.WhyUnfit(a.Facts)), Identity.Of(a.Facts))).ToList();
        var people = await KnownPeople.Load(db, asked, workspace);
        var decided = new List<Decided>();
        var words = new HashSet<Guid>();
        foreach (var (one, row) in arriving.Zip(asked))
        {
            var raw = one.Raw;
            if (one.ApprovedManually)
                raw.State = words.Add(raw.Id) && await StillWaits(db, raw) ? SingleArrival.Taken : "";
            var again = !one.ApprovedManually && raw.Key is { } key && !before.TryAdd(key, raw);
            var entry = new Decided(one, again) { IsOtherContent = again && !Json.Same(before[raw.Key!.Value].Raw, raw.Raw) };
            decided.Add(entry);
            if (again)
            {
                raw.LeadId = before[raw.Key!.Value].LeadId;
                continue;
            }
            if (raw.State != SingleArrival.Taken)
                continue;
            var bar = one.ApprovedManually ? null : people.BarredBy(row, one.SelfInitiated);
            var verdict = Sifter.Decide(row.Reading, row.Identity, bar, people.Near(row), people.AccountOf(row), false, workspace.Matcher);
            (raw.Outcome, raw.Reason) = Told(verdict);
            if (verdict.Outcome is SiftOutcome.Mend or SiftOutcome.Barred)
            {
                (raw.State, raw.Reasons) = (SingleArrival.Waiting, Json.Write(new[] { new SpamReason(verdict.Reason, 0) }));
                continue;
            }
            if (raw.Outcome == SiftOutcome.Adds && await UnseenWith(db, one, verdict.Known!.Id) is { } with)
            {
                entry.IsOthers = true;
                raw.Reason = $"{with} What was written is kept and waits for a word of the coordinator.";
                (raw.State, raw.Reasons) = (SingleArrival.Waiting, Json.Write(new[] { new SpamReason("Written by somebody who does not see the lead that it belongs to.", 0) }));
                continue;
            }
            if (raw.Outcome == SiftOutcome.Adds && await OwnedByOther(db, one, verdict.Known!.Id) is { } owner)
            {
                entry.IsOthers = true;
                raw.Reason = $"This is lead {verdict.Known.Name}, which {owner} works. What was written is kept and waits for a word of the coordinator.";
                (raw.State, raw.Reasons) = (
                    SingleArrival.Waiting,
                    Json.Write(new[] { new SpamReason($"Written by somebody who does not work lead {verdict.Known.Name}; {owner} does.", 0) })
                );
                continue;
            }
            raw.LeadId = raw.Outcome == SiftOutcome.Adds ? verdict.Known!.Id : Guid.CreateVersion7();
            if (SiftOutcome.MakeLead.Contains(verdict.Outcome))
                people.Add(row, raw.LeadId.Value);
        }
        return decided;
    }

    // That it is known and with whom, where the one who writes does not see the lead.
    private static async Task<string?> UnseenWith(LanternDb db, NewArrival one, Guid lead) =>
        one.Seen is { } scope && !scope.SeesAll("lead")
            ? (
                await db.Rows<OwnerName>(
                    $"select p.display_name as name from lead l left join person p on p.id = l.owner_id where l.id = {lead} and not {scope.Sees("lead", "l"):sql}"
                )
            )
                .Select(o => KnownAnswers.Words(o.Name))
                .SingleOrDefault()
            : null;

    private sealed record OwnerName(string? Name);

    // The name of the owner, where the one who writes may only add to leads of their own.
    private static async Task<string?> OwnedByOther(LanternDb db, NewArrival one, Guid lead) =>
        one.OwnOnly is { } own
            ? await (
                from l in db.Set<Lead>()
                where l.Id == lead && l.OwnerId != own
                join p in db.Set<Person>() on l.OwnerId equals p.Id
                select p.DisplayName
            ).SingleOrDefaultAsync()
            : null;

    // Who comes in beside somebody alike adds to the lead that one becomes.
    private static (string Outcome, string Reason) Told(SiftVerdict verdict) =>
        verdict.Outcome == SiftOutcome.Duplicate
            ? (SiftOutcome.Adds, $"Already lead, made a moment before{verdict.Reason[verdict.Reason.IndexOf(':', StringComparison.Ordinal)..]}")
            : (verdict.Outcome, verdict.Reason);

    // Locked, so that two people who take in the same thing take it in once.
    private static async Task<bool> StillWaits(LanternDb db, SingleArrival raw) =>
        await db.One<string>($"""select state as "Value" from single_arrival where id = {raw.Id} for update""") != SingleArrival.Taken;

    private async Task Admit(LanternDb db, List<Decided> fresh, CancellationToken cancel)
    {
        if (fresh.Count == 0)
            return;
        var newcomers = fresh
            .Select(d => new Newcomer(
                d.Raw.LeadId!.Value,
                d.Arriving.Facts,
                d.Raw.Source,
                d.Raw.Campaign,
                null,
                d.Raw.At,
                d.Arriving.Happened,
                $"{d.Arriving.Words}. {d.Raw.Reason}".TrimEnd(),
                d.Arriving.Acting
            ))
            .ToList();
        var desk = await RoutingContext.Open(db, newcomers[^1].At);
        await admission.Admit(db, newcomers, desk, cancel);
        await desk.Close(db);
    }

    private async Task Add(LanternDb db, string source, List<Decided> adds, CancellationToken cancel)
    {
        var now = clock.UtcNow();
        var nothing = new RecordValues(workspace.Catalogue);
        var additions = adds.SelectMany(d =>
            d.Arriving.Happened.Select(
                (e, i) =>
                    new Addition(
                        d.Raw.LeadId!.Value,
                        i == 0 ? d.Arriving.Facts : nothing,
                        e,
                        i == 0 ? Again(d.Arriving.Words) : e.Detail,
                        d.Arriving.Acting,
                        i == 0 && d.Arriving.SelfInitiated
                    )
            )
        );
        await merger.Add(db, [.. additions], new MergeTerms(source, null, now, now.ToInstant(), _ => MergePolicy.FillBlanks), cancel);
        await PlanAnswers(db, [.. adds.Where(d => d.Arriving.SelfInitiated)], now);
    }

    private static string Again(string words) => words.Replace("Came in through", "Came in again through", StringComparison.Ordinal);

    // Who asks again waits for an answer again: their owner has something to do where nothing was planned.
    private async Task PlanAnswers(LanternDb db, List<Decided> asking, DateTime now)
    {
        if (asking.Count == 0)
            return;
        var sheet = (await workspace.Rules(db)).Router.Sheet;
        var desk = await RoutingContext.Open(db, now);
        var ids = asking.Select(d => d.Raw.LeadId!.Value).Distinct().ToArray();
        var owners = await db.Set<Lead>().Where(l => ids.Contains(l.Id) && l.OwnerId != null).Select(l => new { Lead = l.Id, Owner = l.OwnerId!.Value }).ToListAsync();
        foreach (var o in owners)
        {
            var at = desk.DueAt(o.Owner, now, NodaTime.Duration.FromMinutes(sheet.AnswerWithinMinutes));
            await db.Run(
                $"""
                insert into task (id, lead_id, owner_id, subject, due_at) select gen_random_uuid(), {o.Lead}, {o.Owner}, {sheet.Task}, {at}
                  where not exists (select 1 from task where lead_id = {o.Lead} and done_at is null);
                """
            );
        }
        await FollowUps.Refresh(db, ids);
    }

    // Raw arrivals, consents, notes, follow-ups, mails.
    private async Task Complete(LanternDb db, List<Decided> fresh, CancellationToken cancel)
    {
        if (fresh.Count == 0)
            return;
        var now = clock.UtcNow();
        await SingleArrival.Save(db, fresh.Where(d => !d.Arriving.ApprovedManually).Select(d => d.Raw), cancel);
        foreach (var raw in fresh.Where(d => d.Arriving.ApprovedManually).Select(d => d.Raw))
            await db.Set<SingleArrival>()
                .Where(a => a.Id == raw.Id)
                .ExecuteUpdateAsync(s =>
                    s.SetProperty(a => a.State, raw.State).SetProperty(a => a.Outcome, raw.Outcome).SetProperty(a => a.Reason, raw.Reason).SetProperty(a => a.LeadId, raw.LeadId)
                );
        var files = fresh.SelectMany(d => d.Arriving.Files).ToList();
        if (files.Count > 0)
            await Letters.ArrivalFileRow.Table.Write(db, files, cancel);
        var taken = fresh.Where(d => d.Taken).ToList();
        var consents = taken.SelectMany(d => d.Arriving.Consents.SelectMany(c => ConsentsOf(d, c, now))).ToList();
        if (consents.Count > 0)
            await ConsentRow.Save(db, consents, cancel);
        await CampaignResponseRow.Save(db, [.. taken.Where(d => d.Raw.Campaign is not null).Select(d => ResponseOf(d, now))], cancel);
        var mails = await NotTooMany(db, [.. taken.SelectMany(d => d.Arriving.Mails.Select(m => Addressed(m, d)))], now);
        if (mails.Count > 0)
            await AdmissionBatch.OutboxTable.Write(db, mails, cancel);
        foreach (var d in taken)
            using (Acting.As(d.Arriving.Acting))
                await CompleteOne(db, d, now);
        // What admission planned stands with the lead already; only what a person planned beside it is new.
        await FollowUps.Refresh(db, [.. taken.Where(d => d.Arriving.FollowUp is not null).Select(d => d.Raw.LeadId!.Value).Distinct()]);
    }

    private IEnumerable<ConsentRow> ConsentsOf(Decided d, ConsentSaid said, DateTime now) =>
        ConsentRow
            .GivenBy(workspace.Hashes, d.Raw.LeadId!.Value, d.Arriving.Facts, said.Purpose, now, said.Wording, d.Arriving.Place)
            .Select(c => said.ToConfirm ? c.Asked(d.Arriving.Ask) : c);

    private CampaignResponseRow ResponseOf(Decided d, DateTime now) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            CampaignKey = d.Raw.Campaign!,
            LeadId = d.Raw.LeadId!.Value,
            Response = d.Arriving.Response ?? workspace.UsualResponse(d.Raw.Campaign!),
            Known = d.Adds,
            At = now,
            Detail = d.Arriving.Place.Length > 0 ? d.Arriving.Place : d.Arriving.Words,
            PersonId = d.Arriving.By,
        };

    // Anybody can type any address into a form: to one address at most one mail goes in an hour and three in a day. Under the lock that all arrivals take, so that
    // many at once are counted as well.
    private static async Task<List<OutboxRow>> NotTooMany(LanternDb db, List<OutboxRow> mails, DateTime now)
    {
        if (mails.Count == 0)
            return mails;
        var (to, hour, day) = (mails.Select(m => m.ToEmail).Distinct().ToArray(), now.AddHours(-1), now.AddDays(-1));
        var sent = await db.Set<OutboxRow>()
            .Where(o => o.Kind == "confirm-consent" && to.Contains(o.ToEmail) && o.CreatedAt > day)
            .GroupBy(o => o.ToEmail!)
            .Select(g => new
            {
                To = g.Key,
                Hour = g.Count(o => o.CreatedAt > hour),
                Day = g.Count(),
            })
            .ToDictionaryAsync(s => s.To, s => (s.Hour, s.Day));
        return [.. mails.DistinctBy(m => m.ToEmail).Where(m => sent.GetValueOrDefault(m.ToEmail ?? "") is { Hour: < MostMailsAnHour, Day: < MostMailsADay })];
    }

    private const int MostMailsAnHour = 1;
    private const int MostMailsADay = 3;

    private static OutboxRow Addressed(OutboxRow mail, Decided d)
    {
        mail.LeadId = d.Raw.LeadId;
        return mail;
    }

    // Written one by one: only what a person typed or wrote has these.
    private static async Task CompleteOne(LanternDb db, Decided d, DateTime now)
    {
        var id = d.Raw.LeadId!.Value;
        var by = d.Arriving.By;
        if (!string.IsNullOrWhiteSpace(d.Arriving.Note))
            await LeadEndpoints.AppendActivity(db, id, d.Arriving.NoteKind, d.Arriving.Note.Trim(), by, now);
        if (d.Arriving.FollowUp is { } task)
            await db.Run(
                $"insert into task (id, lead_id, owner_id, subject, due_at) select gen_random_uuid(), id, coalesce(owner_id, {by}), {task.Subject.Trim()}, {task.DueAt.ToUniversalTime()} from lead where id = {id}"
            );
    }
}
