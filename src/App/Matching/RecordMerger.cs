using System.Text.Json;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Events;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Qualifying;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Matching;

/// <summary>One field of two records that are to become one.</summary>
/// <param name="Theirs">True when the value of the one that goes is proposed.</param>
public sealed record MergeLine(FieldDefinition Field, FieldValue Ours, FieldValue Value, bool Theirs, string Why);

/// <summary>What of a merge could not be put back because people changed it since: labels.</summary>
public sealed record ApartResult(Guid Kept, Guid Back, IReadOnlyList<string> Left);

/// <summary>
/// Makes one record of two: the one kept takes the better values and everything that hangs on the other, which goes, kept whole beside. Takes them apart again. Both in the caller's
/// transaction, under <see cref="Admission.Lock"/>.
/// </summary>
public sealed partial class RecordMerger(Workspace workspace, LeadRescore rescore)
{
    // How far along a lead is; the farther one's state holds.
    private static readonly string[] StateRank = [LeadState.Disqualified, LeadState.New, LeadState.OnHold, LeadState.InWork, LeadState.Qualified];

    /// <summary>The fields where the two differ, with the proposed value.</summary>
    public async Task<List<MergeLine>> Propose(LanternDb db, string kind, DuplicateSide keep, DuplicateSide go)
    {
        var rules = await MergeRules.Load(db);
        return
        [
            .. DuplicateRecords
                .FieldsOf(kind, workspace.Catalogue)
                .Where(f => keep.Values[f.Key] != go.Values[f.Key])
                .Select(f =>
                {
                    var choice = MergeProposal.For(f, keep.Of(f, rules), go.Of(f, rules), rules.Of(f));
                    return new MergeLine(f, keep.Values[f.Key], go.Values[f.Key], choice.Theirs, choice.Why);
                }),
        ];
    }

    /// <summary>Merges <paramref name="go"/> into <paramref name="keep"/>; both locked. Gives the merge.</summary>
    /// <param name="take">By field, whether the value of the one that goes is taken; what is not named is as proposed.</param>
    public async Task<Guid> Merge(LanternDb db, string kind, DuplicateSide keep, DuplicateSide go, IReadOnlyDictionary<string, bool> take, Guid person, DateTime now)
    {
        var lines = await Propose(db, kind, keep, go);
        var taken = lines.Where(l => take.GetValueOrDefault(l.Field.Key, l.Theirs)).ToList();
        var gone = new Dictionary<string, JsonElement> { [kind] = await Row(db, kind, go.Id) };
        var added = new Dictionary<string, List<Guid>>();
        var changes = new List<KeptChange>();
        var keys = kind == "account" ? [] : await db.Set<MatchKeyRow>().Where(x => x.RecordId == go.Id).Select(x => x.Key).ToArrayAsync();
        if (kind == "lead")
        {
            gone["lead_tag"] = await Tags(db, keep.Id, go.Id);
            await KeepStricterWord(db, keep, go, taken, added, person, now);
            changes.AddRange(await TakeStanding(db, keep, go));
        }
        foreach (var tie in RecordRegistry.TiesTo(kind).Where(t => t.Merge == Fate.Goes))
            gone[tie.Table] = await Out(db, tie, go.Id);
        var moved = await Move(db, kind, go.Id, keep.Id);
        changes.AddRange(await TakeFacts(db, kind, keep, go, taken));
        var (a, b) = DuplicateDetectionWorker.InOrder(keep.Id, go.Id);
        await db.Set<DuplicateRow>()
            .Where(d => d.A == a && d.B == b)
            .ExecuteUpdateAsync(s => s.SetProperty(d => d.State, "merged").SetProperty(d => d.SettledAt, now).SetProperty(d => d.SettledBy, person));
        await db.Run($"delete from {kind:sql} where id = {go.Id}");
        await Keys(db, go.Id, keys);
        var id = await Remember(db, kind, keep.Id, go.Id, gone, changes, moved, added, person, now);
        await db.Log(kind, keep.Id, new Merged(go.Id, [.. taken.Select(t => t.Field.Key)], go.Name, $"{char.ToLowerInvariant(go.Line[0])}{go.Line[1..]}"));
        await db.Set<MergeRow>().Where(x => x.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.Added, Json.Write(added)));
        await Settle(db, kind, keep.Id, now);
        return id;
    }

    // Rows that go with the record are kept with it.
    private static async Task<JsonElement> Out(LanternDb db, RecordTie tie, Guid id) =>
        JsonSerializer.Deserialize<JsonElement>(
            await db.One<string>(
                $"""
                with gone as (delete from {tie.Table:sql} where {tie.Column:sql} = {id} returning *) select coalesce(jsonb_agg(to_jsonb(gone)), '[]')::text as "Value" from gone
                """
            )
        );

    private static async Task<JsonElement> Row(LanternDb db, string table, Guid id) =>
        JsonSerializer.Deserialize<JsonElement>(await db.One<string>($"""select to_jsonb(t)::text as "Value" from {table:sql} t where t.id = {id}"""));

    // All tags of the one that goes are kept beside; those the other lacks go over to it.
    private static async Task<JsonElement> Tags(LanternDb db, Guid keep, Guid go)
    {
        var tags = await db.One<string>(
            $"""select coalesce(jsonb_agg(to_jsonb(t) || jsonb_build_object('given', not exists (select 1 from lead_tag k where k.lead_id = {keep} and k.tag_key = t.tag_key))), '[]')::text as "Value" from lead_tag t where t.lead_id = {go}"""
        );
        await db.Run(
            $"""
            delete from lead_tag t where t.lead_id = {go} and exists (select 1 from lead_tag k where k.lead_id = {keep} and k.tag_key = t.tag_key);
            update lead_tag set lead_id = {keep} where lead_id = {go};
            """
        );
        return JsonSerializer.Deserialize<JsonElement>(tags);
    }

    // Who withdrew under either address has withdrawn, whichever address is kept.
    private async Task KeepStricterWord(LanternDb db, DuplicateSide keep, DuplicateSide go, List<MergeLine> taken, Dictionary<string, List<Guid>> added, Guid person, DateTime now)
    {
        var (one, other) = (PersonKeys.Of(workspace.Hashes, keep.Values), PersonKeys.Of(workspace.Hashes, go.Values));
        var book = await ConsentBook.Load(db, [one, other]);
        var merged = new RecordValues(workspace.Catalogue);
        foreach (var key in new[] { "email", "phone", "mobile" })
            merged[key] = taken.FirstOrDefault(t => t.Field.Key == key)?.Value ?? keep.Values[key];
        var rows = workspace
            .ConsentPurposes.Where(p => new[] { one, other }.Any(k => book.StateOf(k, p.Key) == "withdrawn"))
            .SelectMany(p => ConsentRow.GivenBy(workspace.Hashes, keep.Id, merged, p.Key, now, "Withdrawn before the two records became one", "Merge").Select(c => c.AsWithdrawn()))
            .ToList();
        if (rows.Count == 0)
            return;
        await ConsentRow.Save(db, rows, default);
        added["consent"] = [.. rows.Select(r => r.Id)];
    }

    // State, owner, clock, first coming, and what was found of need, budget, authority and timing.
    private static async Task<List<KeptChange>> TakeStanding(LanternDb db, DuplicateSide keep, DuplicateSide go)
    {
        const string Columns =
            "state, wake_at::text, state_reason, sub_state_set, owner_id::text, clock_started_at::text, clock_due_at::text, created_at::text, qualification::text";
        var (ours, theirs) = (await Standing(db, Columns, keep.Id), await Standing(db, Columns, go.Id));
        var wanted = new Dictionary<string, string?>(ours);
        if (Array.IndexOf(StateRank, go.State) > Array.IndexOf(StateRank, keep.State))
            foreach (var column in new[] { "state", "wake_at", "state_reason", "sub_state_set" })
                wanted[column] = theirs[column];
        if (keep.Owner is null && go.Owner is not null)
            foreach (var column in new[] { "owner_id", "clock_started_at", "clock_due_at" })
                wanted[column] = theirs[column];
        if (wanted["state"] != LeadState.New)
            wanted["clock_due_at"] = null;
        if (go.CreatedAt < keep.CreatedAt)
            wanted["created_at"] = theirs["created_at"];
        wanted["qualification"] = Surer(ours["qualification"]!, theirs["qualification"]!);
        var changed = wanted.Where(w => w.Value != ours[w.Key]).ToList();
        foreach (var (column, value) in changed)
            await Set(db, column, value, keep.Id);
        return [.. changed.Select(c => new KeptChange($"={c.Key}", ours[c.Key] ?? "", c.Value ?? ""))];
    }

    private static async Task<Dictionary<string, string?>> Standing(LanternDb db, string columns, Guid id) =>
        (
            await db.Read(
                $"select {columns:sql} from lead where id = {id}",
                row => Enumerable.Range(0, row.FieldCount).ToDictionary(row.GetName, i => row.IsDBNull(i) ? null : row.GetString(i))
            )
        ).Single();

    private static Task Set(LanternDb db, string column, string? value, Guid id)
    {
        var type = column switch
        {
            "owner_id" => "uuid",
            "qualification" => "jsonb",
            "state" or "state_reason" or "sub_state_set" => "text",
            _ => "timestamptz",
        };
        return db.Run($"update lead set {column:sql} = {value}::{type:sql} where id = {id}");
    }

    private static string Surer(string ours, string theirs)
    {
        if (theirs == "{}" || ours == "{}")
            return ours == "{}" ? theirs : ours;
        var surer = Json.Write(Findings.Surer(Json.Read<Findings>(ours), Json.Read<Findings>(theirs)));
        return SameFindings(surer, ours) ? ours : surer;
    }

    // However they are spaced.
    private static bool SameFindings(string a, string b) => Json.Write(Json.Read<Findings>(a)) == Json.Write(Json.Read<Findings>(b));

    private static async Task<Dictionary<string, List<Guid>>> Move(LanternDb db, string kind, Guid from, Guid to)
    {
        var moved = new Dictionary<string, List<Guid>>();
        foreach (var tie in RecordRegistry.TiesTo(kind).Where(t => t.Merge == Fate.Moves))
            if (await db.Rows<Guid>($"""update {tie.Table:sql} set {tie.Column:sql} = {to} where {tie.Column:sql} = {from} returning id as "Value" """) is { Count: > 0 } ids)
                moved[tie.Table] = ids;
        // Who reported to the other, or was its branch, is it now.
        if (kind != "lead")
            await (
                kind == "contact"
                    ? db.Set<Contact>().Where(c => c.Id == to && c.ReportsTo == c.Id).ExecuteUpdateAsync(s => s.SetProperty(c => c.ReportsTo, (Guid?)null))
                    : db.Set<Account>().Where(a => a.Id == to && a.ParentId == a.Id).ExecuteUpdateAsync(s => s.SetProperty(a => a.ParentId, (Guid?)null))
            );
        return moved;
    }

    private async Task<List<KeptChange>> TakeFacts(LanternDb db, string kind, DuplicateSide keep, DuplicateSide go, List<MergeLine> taken)
    {
        if (kind == "lead")
        {
            var known = (await LeadStore.LoadMany(db, [keep.Id], workspace.Catalogue))[keep.Id];
            var changes = taken.Select(t => new KeptChange(t.Field.Key, t.Ours.ToString(), t.Value.ToString(), known.Provenance.GetValueOrDefault(t.Field.Key))).ToList();
            foreach (var (line, from) in taken.Select(t => (t, go.From.GetValueOrDefault(t.Field.Key) ?? new Provenance(go.Values.Text("source") ?? "", go.CreatedAt))))
                await LeadStore.Write(db, keep.Id, [(line.Field, line.Value)], from.From, from.At, workspace.Catalogue);
            return changes;
        }
        await WriteFacts(db, kind, keep.Id, taken.Select(t => (t.Field, t.Value)));
        return [.. taken.Select(t => new KeptChange(t.Field.Key, t.Ours.IsKnown ? t.Ours.ToString() : "", t.Value.ToString()))];
    }

    // Columns by which records are found follow the facts they are made of.
    private async Task WriteFacts(LanternDb db, string kind, Guid id, IEnumerable<(FieldDefinition Field, FieldValue Value)> values)
    {
        var facts = Json.Read<Dictionary<string, string>>(await db.One<string>($"""select facts::text as "Value" from {kind:sql} where id = {id}"""));
        foreach (var (field, value) in values)
            if (value.IsKnown)
                facts[field.Key] = value.ToString();
            else
                facts.Remove(field.Key);
        await Handover.RecordFacts.WriteFacts(db, kind, id, facts);
        if (kind == "contact")
            await MatchKeys.WriteContacts(db, [id], workspace.Catalogue);
    }

    // The one that went is still found under what it was.
    private static Task Keys(LanternDb db, Guid gone, long[] keys) =>
        db.Run($"insert into match_key (key, record_id) select k, {gone} from unnest({keys}) k on conflict do nothing");

    private static async Task<Guid> Remember(
        LanternDb db,
        string kind,
        Guid keep,
        Guid gone,
        Dictionary<string, JsonElement> rows,
        List<KeptChange> changes,
        Dictionary<string, List<Guid>> moved,
        Dictionary<string, List<Guid>> added,
        Guid person,
        DateTime now
    )
    {
        var id = Guid.CreateVersion7();
        await db.Run(
            $"""
            update record_merge set now_id = {keep} where now_id = {gone} and apart_at is null;
            insert into record_merge (id, kind, kept_id, now_id, gone_id, gone, changes, moved, added, at, person_id)
              values ({id}, {kind}, {keep}, {keep}, {gone}, {Json.Write(rows)}::jsonb, {Json.Write(changes)}::jsonb,
                {Json.Write(moved)}::jsonb, {Json.Write(added)}::jsonb, {now}, {person})
            """
        );
        return id;
    }

    // Scores, next step and doubts follow from what the record is now.
    private async Task Settle(LanternDb db, string kind, Guid record, DateTime now)
    {
        if (kind == "lead")
        {
            await FollowUps.Refresh(db, [record]);
            await rescore.Run(db, record, now);
            await db.Set<Lead>().Where(x => x.Id == record).ExecuteUpdateAsync(s => s.SetProperty(x => x.Version, x => x.Version + 1));
        }
        await DuplicateDetectionWorker.Ask(db, kind, [record]);
        await PeopleChange.Tell(db);
    }
}
