using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Matching;
using DapperLantern.App.Routing;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Leads;

/// <summary>A lead about to be written.</summary>
public sealed class LeadRow(Guid id, RecordValues facts)
{
    public Guid Id { get; } = id;
    public RecordValues Facts { get; } = facts;
    public Organisation Organisation { get; } = Organisation.Of(facts);
    public Identity Identity { get; } = Identity.Of(facts);
    public string Source { get; set; } = "";
    public string? Campaign { get; init; }
    public Guid? ImportId { get; init; }
    public required StoredScores Scores { get; init; }
    public DateTime CreatedAt { get; init; }

    /// <summary>JSON, see <see cref="Leads.Provenance"/>: what did not come with the lead itself.</summary>
    public string Provenance { get; init; } = "{}";
    public Guid? OwnerId { get; set; }
    public DateTime? ClockStartedAt { get; set; }
    public DateTime? ClockDueAt { get; set; }
    public DateTime? NextStepAt { get; set; }
}

/// <summary>The tables that admission writes, and how. Column lists come from the field catalogue.</summary>
public sealed class AdmissionBatch
{
    public static BulkTable<LeadRow> LeadTable { get; } = MakeLeadTable();

    private static readonly BulkTable<LeadEventRow> EventTable = new BulkTable<LeadEventRow>("lead_event")
        .Uuid("id", e => e.Id)
        .Uuid("lead_id", e => e.LeadId)
        .Text("kind", e => e.Kind)
        .Moment("at", e => e.At)
        .Text("detail", e => e.Detail)
        .Text("direction", e => e.Direction)
        .Text("campaign_kind", e => e.CampaignKind)
        .Uuid("import_id", e => e.ImportId)
        .Uuid("entry", e => e.Entry);

    internal static readonly BulkTable<StoryEntry> StoryTable = new BulkTable<StoryEntry>("story_entry")
        .Uuid("id", s => s.Id)
        .Uuid("lead_id", s => s.LeadId)
        .Moment("at", s => s.At)
        .Text("kind", s => s.Kind)
        .Text("text", s => s.Text)
        .Uuid("person_id", s => s.PersonId)
        .Uuid("import_id", s => s.ImportId)
        .Uuid("entry", s => s.Entry);

    private static readonly BulkTable<TaskRow> TaskTable = new BulkTable<TaskRow>("task")
        .Uuid("id", t => t.Id)
        .Uuid("lead_id", t => t.LeadId)
        .Uuid("owner_id", t => t.OwnerId)
        .Text("subject", t => t.Subject)
        .Moment("due_at", t => t.DueAt)
        .Bool("urgent", t => t.Urgent);

    private static readonly BulkTable<RoutingDecisionRow> DecisionTable = new BulkTable<RoutingDecisionRow>("routing_decision")
        .Uuid("id", d => d.Id)
        .Uuid("lead_id", d => d.LeadId)
        .Moment("at", d => d.At)
        .Uuid("edition", d => d.Edition)
        .Text("rule", d => d.Rule)
        .Uuid("owner_id", d => d.OwnerId)
        .Json("trace", d => d.Trace)
        .Text("moment", d => d.Moment)
        .Json("asked", d => d.Asked);

    public static BulkTable<OutboxRow> OutboxTable { get; } =
        new BulkTable<OutboxRow>("outbox")
            .Uuid("id", o => o.Id)
            .Text("kind", o => o.Kind)
            .Uuid("person_id", o => o.PersonId)
            .Text("to_email", o => o.ToEmail)
            .Text("language", o => o.Language)
            .Uuid("lead_id", o => o.LeadId)
            .Text("subject", o => o.Subject)
            .Text("text", o => o.Text)
            .Moment("created_at", o => o.CreatedAt)
            .Int("tries", o => o.Tries);

    private readonly List<LeadRow> _leads = [];
    private readonly List<LeadEventRow> _events = [];
    private readonly List<EventRow> _log = [];
    private readonly List<TaskRow> _tasks = [];
    private readonly List<RoutingDecisionRow> _decisions = [];
    private readonly List<OutboxRow> _outbox = [];
    private readonly List<MatchKeyRow> _keys = [];

    public void Add(TaskRow task) => _tasks.Add(task);

    public void Add(RoutingDecisionRow decision) => _decisions.Add(decision);

    public void Add(OutboxRow message) => _outbox.Add(message);

    public void Add(Newcomer newcomer, LeadRow lead)
    {
        _leads.Add(lead);
        _keys.AddRange(MatchKeys.Of(lead.Id, lead.Identity));
        foreach (var e in newcomer.Events)
            _events.Add(EventOf(lead.Id, e, newcomer.Import));
        _log.Add(EventLog.Row(EventLog.Lead, lead.Id, new CameIn(newcomer.CameIn), newcomer.At, newcomer.Acting));
    }

    /// <summary>Logs that something came in about a lead we have, with what it did.</summary>
    /// <param name="fields">Keys of the fields it filled or changed.</param>
    public void AddTo(Addition addition, MergeTerms terms, string[] fields)
    {
        if (addition.Happened is { } deed)
            _events.Add(EventOf(addition.Lead, deed, terms.Import, terms.Entry));
        _log.Add(EventLog.Row(EventLog.Lead, addition.Lead, new CameInAgain(addition.Words, fields, addition.Asks ? true : null), terms.Now, addition.Acting));
    }

    private static LeadEventRow EventOf(Guid lead, LeadEvent e, Guid? import, Guid? entry = null) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            LeadId = lead,
            Kind = e.Kind,
            At = e.At.ToUtc(),
            Detail = e.Detail,
            Direction = e.Direction,
            CampaignKind = e.CampaignKind,
            ImportId = import,
            Entry = entry,
        };

    public async Task Write(LanternDb db, CancellationToken cancel)
    {
        await HoldSources(db);
        await WriteSome(LeadTable, _leads);
        await WriteSome(EventTable, _events);
        await WriteSome(EventLog.Table, _log);
        await WriteSome(TaskTable, _tasks);
        await WriteSome(DecisionTable, _decisions);
        await WriteSome(OutboxTable, _outbox);
        await WriteSome(MatchKeys.Table, _keys);
        Task WriteSome<T>(BulkTable<T> table, List<T> rows) => rows.Count == 0 ? Task.CompletedTask : table.Write(db, rows, cancel);
    }

    private sealed record MergedSource(string Key, string? MergedInto);

    // Until the commit no source is merged into another; where one was since the lead came, the lead goes by the other.
    private async Task HoldSources(LanternDb db)
    {
        if (_leads.Count == 0)
            return;
        var named = _leads.Select(l => l.Source).Distinct().ToArray();
        var merged = (await db.Rows<MergedSource>($"select key, merged_into from source where key = any({named}) order by key for key share"))
            .Where(s => s.MergedInto is not null)
            .ToDictionary(s => s.Key, s => s.MergedInto!);
        if (merged.Count > 0)
            foreach (var lead in _leads)
                lead.Source = merged.GetValueOrDefault(lead.Source, lead.Source);
    }

    private static BulkTable<LeadRow> MakeLeadTable()
    {
        var table = new BulkTable<LeadRow>("lead").Uuid("id", l => l.Id);
        foreach (var field in BuiltInFields.Facts)
            AddFact(table, field);
        return table
            .Text("state", _ => "new")
            .Text("source", l => l.Source)
            .Text("campaign", l => l.Campaign)
            .Uuid("owner_id", l => l.OwnerId)
            .Uuid("import_id", l => l.ImportId)
            .Text("company_key", l => l.Organisation.Name is { Length: > 0 } name ? name : null)
            .Scores(l => l.Scores)
            .Moment("created_at", l => l.CreatedAt)
            .Moment("last_touch_at", l => l.CreatedAt)
            .Moment("clock_started_at", l => l.ClockStartedAt)
            .Moment("clock_due_at", l => l.ClockDueAt)
            .Moment("next_step_at", l => l.NextStepAt)
            .Json("custom", Custom)
            .Json("provenance", l => l.Provenance);
    }

    // Built-in facts stand at the same place in every catalogue.
    private static void AddFact(BulkTable<LeadRow> table, FieldDefinition field)
    {
        var at = BuiltInFields.Facts.IndexOf(field);
        if (field.IsNumeric)
            table.Number(field.Key, l => l.Facts[at] is { IsKnown: true } value ? value.Number : null);
        else if (field.Type == FieldType.Date)
            table.Moment(field.Key, l => l.Facts[at] is { IsKnown: true } value ? value.Moment.ToUtc() : null);
        else
            table.Text(field.Key, l => l.Facts[at].Text);
    }

    private static string Custom(LeadRow lead)
    {
        foreach (var field in lead.Facts.Catalogue.Fields)
            if (field.Origin == FieldOrigin.Custom && lead.Facts[field.Ordinal].IsKnown)
                return Json.Facts(lead.Facts.Known().Where(k => k.Field.Origin == FieldOrigin.Custom));
        return "{}";
    }
}
