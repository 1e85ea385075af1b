using System.Text.Json.Nodes;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads.Activities;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Events;

/// <summary>
/// Tells the story of a record: what people wrote about it, and what happened to it by the log, in words made as it is read. A contact, account or deal tells what its leads were told
/// before the handover, too; a record tells what those that were merged into it were told.
/// </summary>
public sealed class Stories(Workspace workspace, RecordScope scope, TimeProvider clock)
{
    private const int Most = 200;

    // Kinds that have no line in any story: they are for the audit and for those who listen.
    private static readonly string[] Silent =
    [
        "noted",
        "note_changed",
        "note_pinned",
        "note_removed",
        "task_changed",
        "task_done",
        "task_removed",
        "meeting_changed",
        "removed",
        "back",
        "exported",
        "failed_work",
        "clock_soon",
    ];

    // What is written with a record may be dated a little before it.
    private static readonly TimeSpan Slack = TimeSpan.FromDays(1);

    /// <summary>Pinned entries first, then the newest first.</summary>
    /// <param name="kind">lead, deal, account or contact.</param>
    /// <param name="showsContactData">False to leave addresses and numbers out.</param>
    /// <param name="reader">The reader, to tell what they may correct; null for nobody.</param>
    public async Task<List<StoryView>> Of(LanternDb db, string kind, Guid id, bool showsContactData, (Guid Id, bool All)? reader = null)
    {
        var written = await db.Rows<WrittenLine>(
            $"""
            select s.id, s.at, s.kind, s.text, s.person_id, s.pinned, s.edited_at, s.detail::text as detail, p.display_name as by
            from story_entry s left join person p on p.id = s.person_id where s.{kind:sql}_id = {id} and s.removed_at is null order by s.pinned desc, s.at desc, s.id desc limit {Most}
            """
        );
        var told = await Told(db, await db.Rows<Known>(With(kind, id)), since: null, showsContactData);
        return [.. written.Select(s => s.ToView(reader)).Concat(told.Select(t => t.ToView())).OrderByDescending(s => s.Pinned).ThenByDescending(s => s.At).Take(Most)];
    }

    /// <summary>What happened to these records alone since a moment, oldest first.</summary>
    internal async Task<List<(DateTime At, string Text, string? By)>> Since(LanternDb db, Guid[] records, DateTime since)
    {
        var told = await Told(db, [.. records.Select(r => new Known(r, since))], since, showsContactData: true);
        return [.. told.Select(t => (t.At, t.Text, t.By)).Reverse()];
    }

    // The records whose events a record tells, and when they were made.
    private SqlText With(string kind, Guid id)
    {
        SqlText own = $"""
            select {id}::uuid as id, (select x.created_at from {kind:sql} x where x.id = {id}) as made {RecordScope.Unscoped(
                "when the record of a story that is seen was made"
            ):sql}
            union all select gone_id, (gone->>'created_at')::timestamptz from record_merge where now_id = {id} and apart_at is null
            """;
        if (kind == EventLog.Lead)
            return own;
        // A handover taken back is told only where what it made is kept.
        SqlText leads =
            $"select h.lead_id, (select x.created_at from lead x where x.id = h.lead_id) from handover h where h.{kind:sql}_id = {id} and (h.taken_back_at is null or (h.made_deal and exists (select 1 /*told deal d*/ from deal d where d.id = h.deal_id))) and {scope.SeesTied("lead", "h.lead_id"):sql}";
        SqlText whole = $"{own:sql} union all ({leads:sql} order by h.at desc limit {Most})";
        if (kind != EventLog.Deal)
            whole =
                $"{whole:sql} union all (select d.id, d.created_at from deal d where d.{kind:sql}_id = {id} and {scope.Sees("deal", "d"):sql} order by d.created_at desc limit {Most})";
        return $"with r as ({whole:sql}) select id, made from r union all select m.gone_id, (m.gone->>'created_at')::timestamptz from record_merge m join r on r.id = m.now_id where m.apart_at is null and m.now_id <> {id}";
    }

    private async Task<List<ToldLine>> Told(LanternDb db, IReadOnlyList<Known> known, DateTime? since, bool showsContactData)
    {
        var ids = known.Select(k => k.Id).Distinct().ToArray();
        // Only the months in which the records were there: planning for each month that the log has would take longer than reading.
        var (from, until) = (
            since ?? (known.Any(k => k.Made is null) ? DateTime.UnixEpoch : known.Select(k => k.Made!.Value - Slack).DefaultIfEmpty().Min()),
            clock.UtcNow() + Slack
        );
        var logged = await LoggedEvents.Read(
            db,
            workspace,
            $"e.record = any({ids}) and e.kind <> all({Silent}) and e.at > {from} and e.at < {until}",
            Most,
            scope,
            showsContactData: showsContactData
        );
        var hidden = Hidden(logged.All);
        return
        [
            .. Joined(
                logged
                    .All.Where(e => e.Happening is not null && !hidden.Contains(e.Row.Id))
                    .Select(e => (e.Row, Line: EventWords.Of(e.Happening!, e.Row.RecordKind, e.Row.Many(), logged.Names)))
                    .Where(e => e.Line is not null)
                    .Select(e => new ToldLine(e.Row.Id, e.Row.At, e.Line!.Kind, e.Line.Text, e.Row.By, e.Row.Record))
            ),
        ];
    }

    // What was taken back tells nothing, and taking it back neither; the log has both.
    private static HashSet<long> Hidden(IReadOnlyList<LoggedEvent> events)
    {
        var hidden = new HashSet<long>();
        foreach (var (row, happening) in events)
            switch (happening)
            {
                case StateChanged { Why: { How: Why.Undone, Undoes: { } undone } }:
                    hidden.UnionWith([row.Id, undone]);
                    break;
                case ImportTakenBack:
                    hidden.UnionWith(
                        events.Where(e => e.Row.Record == row.Record && e.Row.CauseId == row.CauseId && e.Happening is CameInAgain && e.Row.Id < row.Id).Select(e => e.Row.Id)
                    );
                    break;
                case TakenApart apart:
                    hidden.UnionWith(events.Where(e => e.Happening is Merged merged && merged.Gone == apart.Other && e.Row.Id < row.Id).Select(e => e.Row.Id));
                    break;
            }
        return hidden;
    }

    // What was done in one act stands in one line: newest first come in, with the last of an act before its first.
    private static IEnumerable<ToldLine> Joined(IEnumerable<ToldLine> lines)
    {
        ToldLine? act = null;
        foreach (var line in lines)
            if (act is not null && act.IsOneWith(line))
            {
                if (act.Text != line.Text)
                    act = act with { Text = $"{line.Text}; {act.Text}" };
            }
            else
            {
                if (act is not null)
                    yield return act;
                act = line;
            }
        if (act is not null)
            yield return act;
    }

    private sealed record ToldLine(long Id, DateTime At, string Kind, string Text, string? By, Guid? Record)
    {
        public bool IsOneWith(ToldLine other) => (Record, At, Kind, By) == (other.Record, other.At, other.Kind, other.By) && Kind is "deal" or "edited" or "routed" or "state";

        public StoryView ToView()
        {
            Span<byte> id = stackalloc byte[16];
            BitConverter.TryWriteBytes(id[8..], Id);
            return new StoryView(new Guid(id), At, Kind, Text, By, false, null, null, false);
        }
    }

    /// <param name="Made">Null for one that is gone without a trace.</param>
    private sealed record Known(Guid Id, DateTime? Made);

    private sealed record WrittenLine
    {
        public Guid Id { get; init; }
        public DateTime At { get; init; }
        public string Kind { get; init; } = "";
        public string Text { get; init; } = "";
        public Guid? PersonId { get; init; }
        public bool Pinned { get; init; }
        public DateTime? EditedAt { get; init; }
        public string? Detail { get; init; }
        public string? By { get; init; }

        public StoryView ToView((Guid Id, bool All)? reader)
        {
            var isNote = Kind is "note" or "call" or "call_missed";
            var call = Kind is "call" or "call_missed" && Detail is not null ? Json.Read<CallDetail>(Detail) : null;
            return new StoryView(
                Id,
                At,
                Kind,
                Text,
                By,
                Pinned,
                EditedAt,
                call is null ? null : new CallView(CallOutcome.LabelOf(call.Outcome) ?? call.Outcome, call.Incoming, call.Minutes),
                isNote && reader is { } who && (who.All || PersonId == who.Id)
            );
        }
    }
}

/// <summary>Names of persons and records that events refer to, read at once; labels by the workspace.</summary>
internal sealed class EventNames(Workspace workspace, Dictionary<Guid, string> people, Dictionary<Guid, string> records, RecordScope scope, bool showsContactData) : IEventNames
{
    public static async Task<EventNames> Of(LanternDb db, Workspace workspace, IEnumerable<Guid> ids, RecordScope scope, bool showsContactData)
    {
        var asked = ids.Distinct().ToArray();
        if (asked.Length == 0)
            return new EventNames(workspace, [], [], scope, showsContactData);
        var found = await db.Rows<Named>(
            $"""
            select id, display_name as name, true as is_person from person where id = any({asked})
            union all select id, name, false from account where id = any({asked})
            union all select id, case when not {showsContactData} and name in (coalesce(email, ''), coalesce(phone, '')) then {RecordScope.Nameless} else name end, false from contact where id = any({asked})
            union all select id, name, false from deal where id = any({asked}) {RecordScope.Unscoped("names that lines of a story that is seen refer to"):sql}
            """
        );
        return new EventNames(
            workspace,
            found.Where(f => f.IsPerson).ToDictionary(f => f.Id, f => f.Name),
            found.Where(f => !f.IsPerson).ToDictionary(f => f.Id, f => f.Name),
            scope,
            showsContactData
        );
    }

    /// <summary>Ids that stand in JSON.</summary>
    public static IEnumerable<Guid> Ids(JsonNode? node) =>
        node switch
        {
            JsonObject o => o.SelectMany(p => Ids(p.Value)),
            JsonArray a => a.SelectMany(Ids),
            JsonValue v when v.TryGetValue<string>(out var text) && Guid.TryParse(text, out var id) => [id],
            _ => [],
        };

    /// <summary>Name of a person, account, contact or deal; null for others.</summary>
    public string? Find(Guid id) => people.GetValueOrDefault(id) ?? records.GetValueOrDefault(id);

    public string Person(Guid id) => people.GetValueOrDefault(id, "somebody");

    public string Record(Guid id) => records.GetValueOrDefault(id, "one that is gone");

    public string Entry(EventList list, string key) => workspace.NameOf(KeyOf(list), key);

    public string Stage(string pipeline, string stage) => workspace.Pipeline(pipeline)?.Stage(stage)?.Name ?? stage;

    public string Product(string key) => workspace.Products.FirstOrDefault(p => p.Key == key)?.Name ?? key;

    public FieldDefinition? Field(string key) => workspace.Catalogue.Find(key);

    public bool Shows(FieldDefinition field) => !scope.Hides(field, showsContactData);

    public string? Name(string? name) => showsContactData || name is null || !RecordScope.IsContactData(name) ? name : null;

    private static string KeyOf(EventList list) =>
        list switch
        {
            EventList.Reasons => PickList.Reasons,
            EventList.LostReasons => PickList.LostReasons,
            EventList.Competitors => PickList.Competitors,
            EventList.Kinds => PickList.Kinds,
            EventList.Segments => PickList.Segments,
            EventList.Roles => PickList.Roles,
            _ => throw new ArgumentOutOfRangeException(nameof(list), list, null),
        };

    private sealed record Named(Guid Id, string Name, bool IsPerson);
}
