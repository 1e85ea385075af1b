using DapperLantern.App.Data;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using Npgsql;
using NpgsqlTypes;

namespace DapperLantern.App.Leads;

/// <summary>A lead about to be written.</summary>
public sealed class LeadRow(Guid id, RecordValues facts)
{
    public Guid Id { get; } = id;
    public RecordValues Facts { get; } = facts;
    public string Source { get; init; } = "";
    public string? Campaign { get; init; }
    public Guid? DeliveryId { get; init; }
    public int Fit { get; init; }
    public int FitLow { get; init; }
    public int FitHigh { get; init; }
    public int Engagement { get; init; }
    public string NextMove { get; init; } = "";
    public Guid ModelEdition { get; init; }
    public DateTime CreatedAt { get; init; }
    public Guid? OwnerId { get; set; }
    public DateTime? ClockStartedAt { get; set; }
    public DateTime? ClockDueAt { get; set; }
}

/// <summary>The tables that admission writes, and how. Column lists come from the field catalogue.</summary>
public sealed class AdmissionBatch
{
    public static BulkTable<LeadRow> LeadTable { get; } = MakeLeadTable();

    private static readonly BulkTable<LeadEventRow> EventTable = new BulkTable<LeadEventRow>("lead_event")
        .Column("id", NpgsqlDbType.Uuid, e => e.Id)
        .Column("lead_id", NpgsqlDbType.Uuid, e => e.LeadId)
        .Column("kind", NpgsqlDbType.Text, e => e.Kind)
        .Column("at", NpgsqlDbType.TimestampTz, e => e.At)
        .Column("detail", NpgsqlDbType.Text, e => e.Detail)
        .Column("delivery_id", NpgsqlDbType.Uuid, e => e.DeliveryId);

    private static readonly BulkTable<StoryEntry> StoryTable = new BulkTable<StoryEntry>("story_entry")
        .Column("id", NpgsqlDbType.Uuid, s => s.Id)
        .Column("lead_id", NpgsqlDbType.Uuid, s => s.LeadId)
        .Column("at", NpgsqlDbType.TimestampTz, s => s.At)
        .Column("kind", NpgsqlDbType.Text, s => s.Kind)
        .Column("text", NpgsqlDbType.Text, s => s.Text)
        .Column("person_id", NpgsqlDbType.Uuid, s => s.PersonId)
        .Column("delivery_id", NpgsqlDbType.Uuid, s => s.DeliveryId);

    private static readonly BulkTable<TaskRow> TaskTable = new BulkTable<TaskRow>("task")
        .Column("id", NpgsqlDbType.Uuid, t => t.Id)
        .Column("lead_id", NpgsqlDbType.Uuid, t => t.LeadId)
        .Column("owner_id", NpgsqlDbType.Uuid, t => t.OwnerId)
        .Column("subject", NpgsqlDbType.Text, t => t.Subject)
        .Column("due_at", NpgsqlDbType.TimestampTz, t => t.DueAt);

    private static readonly BulkTable<RoutingDecisionRow> DecisionTable = new BulkTable<RoutingDecisionRow>("routing_decision")
        .Column("id", NpgsqlDbType.Uuid, d => d.Id)
        .Column("lead_id", NpgsqlDbType.Uuid, d => d.LeadId)
        .Column("at", NpgsqlDbType.TimestampTz, d => d.At)
        .Column("edition", NpgsqlDbType.Uuid, d => d.Edition)
        .Column("rule", NpgsqlDbType.Text, d => d.Rule)
        .Column("owner_id", NpgsqlDbType.Uuid, d => d.OwnerId)
        .Column("trace", NpgsqlDbType.Jsonb, d => d.Trace);

    private static readonly BulkTable<OutboxRow> OutboxTable = new BulkTable<OutboxRow>("outbox")
        .Column("id", NpgsqlDbType.Uuid, o => o.Id)
        .Column("kind", NpgsqlDbType.Text, o => o.Kind)
        .Column("person_id", NpgsqlDbType.Uuid, o => o.PersonId)
        .Column("subject", NpgsqlDbType.Text, o => o.Subject)
        .Column("text", NpgsqlDbType.Text, o => o.Text)
        .Column("created_at", NpgsqlDbType.TimestampTz, o => o.CreatedAt)
        .Column("tries", NpgsqlDbType.Integer, o => o.Tries);

    private readonly List<LeadRow> _leads = [];
    private readonly List<LeadEventRow> _events = [];
    private readonly List<StoryEntry> _story = [];
    private readonly List<TaskRow> _tasks = [];
    private readonly List<RoutingDecisionRow> _decisions = [];
    private readonly List<OutboxRow> _outbox = [];

    public void Add(TaskRow task) => _tasks.Add(task);

    public void Add(RoutingDecisionRow decision) => _decisions.Add(decision);

    public void Add(OutboxRow message) => _outbox.Add(message);

    public void Add(Newcomer newcomer, LeadRow lead)
    {
        _leads.Add(lead);
        foreach (var e in newcomer.Events)
            _events.Add(
                new LeadEventRow
                {
                    Id = Guid.CreateVersion7(),
                    LeadId = lead.Id,
                    Kind = e.Kind,
                    At = e.At.ToUtc(),
                    Detail = e.Detail,
                    DeliveryId = newcomer.Delivery,
                }
            );
        _story.Add(
            new StoryEntry
            {
                Id = Guid.CreateVersion7(),
                LeadId = lead.Id,
                At = newcomer.At,
                Kind = "came_in",
                Text = newcomer.CameIn,
                DeliveryId = newcomer.Delivery,
            }
        );
    }

    public async Task Write(NpgsqlConnection connection, CancellationToken cancel)
    {
        await LeadTable.Write(connection, _leads, cancel);
        await EventTable.Write(connection, _events, cancel);
        await StoryTable.Write(connection, _story, cancel);
        await TaskTable.Write(connection, _tasks, cancel);
        await DecisionTable.Write(connection, _decisions, cancel);
        await OutboxTable.Write(connection, _outbox, cancel);
    }

    private static BulkTable<LeadRow> MakeLeadTable()
    {
        var table = new BulkTable<LeadRow>("lead").Column("id", NpgsqlDbType.Uuid, l => l.Id);
        foreach (var field in FieldCatalogue.BuiltIn)
            if (field.IsNumeric)
                table.Column(field.Key, NpgsqlDbType.Numeric, l => l.Facts[field.Key] is { IsKnown: true } v ? v.Number : null);
            else
                table.Column(field.Key, NpgsqlDbType.Text, l => l.Facts[field.Key].Text);
        return table
            .Column("state", NpgsqlDbType.Text, _ => "new")
            .Column("source", NpgsqlDbType.Text, l => l.Source)
            .Column("campaign", NpgsqlDbType.Text, l => l.Campaign)
            .Column("owner_id", NpgsqlDbType.Uuid, l => l.OwnerId)
            .Column("delivery_id", NpgsqlDbType.Uuid, l => l.DeliveryId)
            .Column("company_key", NpgsqlDbType.Text, l => l.Facts.Text("company") is { } c ? Folding.Company(c) : null)
            .Column("fit", NpgsqlDbType.Integer, l => l.Fit)
            .Column("fit_low", NpgsqlDbType.Integer, l => l.FitLow)
            .Column("fit_high", NpgsqlDbType.Integer, l => l.FitHigh)
            .Column("engagement", NpgsqlDbType.Integer, l => l.Engagement)
            .Column("next_move", NpgsqlDbType.Text, l => l.NextMove)
            .Column("model_edition", NpgsqlDbType.Uuid, l => l.ModelEdition)
            .Column("created_at", NpgsqlDbType.TimestampTz, l => l.CreatedAt)
            .Column("last_touch_at", NpgsqlDbType.TimestampTz, l => l.CreatedAt)
            .Column("clock_started_at", NpgsqlDbType.TimestampTz, l => l.ClockStartedAt)
            .Column("clock_due_at", NpgsqlDbType.TimestampTz, l => l.ClockDueAt)
            .Column("custom", NpgsqlDbType.Jsonb, l => Json.Facts(l.Facts.Known().Where(k => k.Field.Origin == FieldOrigin.Custom)))
            .Column(
                "provenance",
                NpgsqlDbType.Jsonb,
                l => Json.Write(l.Facts.Known().Where(k => k.Field.Origin != FieldOrigin.System).ToDictionary(k => k.Field.Key, _ => l.Source))
            );
    }
}
