using System.Collections.Concurrent;
using System.Reflection;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using DapperLantern.App.Data;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Events;

/// <summary>The one place that adds to the log. Changes of a lead's state and owner, and of a deal's stage, owner, amount and close, add themselves: the database sees to them.</summary>
internal static class EventLog
{
    public const string Lead = "lead";
    public const string Deal = "deal";
    public const string Account = "account";
    public const string Contact = "contact";
    public const string Person = "person";
    public const string Import = "import";

    /// <summary>Adds an event of one record, in the caller's transaction, or in one of its own where there is none.</summary>
    /// <param name="record">Null where it concerns no record.</param>
    public static Task Log(this LanternDb db, string recordKind, Guid? record, Happening happening) => record is { } id ? db.Log(recordKind, [id], happening) : db.Log(happening);

    /// <summary>Adds the same event of each record.</summary>
    public static Task Log(this LanternDb db, string recordKind, Guid[] records, Happening happening) =>
        records.Length == 0 ? Task.CompletedTask : Add(db, Sql(recordKind, records, happening));

    /// <summary>Adds an event that concerns no record.</summary>
    public static Task Log(this LanternDb db, Happening happening)
    {
        var (said, personal) = Parts(happening);
        return Add(db, Insert(null, $"select {happening.Kind}, null::uuid, {said}, {personal}"));
    }

    /// <summary>Adds an event of the record that something belongs to: of the first that is there.</summary>
    public static Task Log(this LanternDb db, Guid? lead, Guid? deal, Guid? account, Guid? contact, Happening happening) =>
        lead is not null ? db.Log(Lead, lead, happening)
        : deal is not null ? db.Log(Deal, deal, happening)
        : account is not null ? db.Log(Account, account, happening)
        : db.Log(Contact, contact, happening);

    // The moment of an event is that of its transaction.
    private static async Task Add(LanternDb db, SqlText statement)
    {
        if (db.Database.CurrentTransaction is not null)
        {
            await db.Run(statement);
            return;
        }
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.Run(statement);
        await transaction.CommitAsync();
    }

    /// <summary>Adds an event to each of several records, each with its own words.</summary>
    public static Task Log(this LanternDb db, string recordKind, IReadOnlyCollection<(Guid Record, Happening Happening)> events)
    {
        if (events.Count == 0)
            return Task.CompletedTask;
        var parts = events.Select(e => Parts(e.Happening)).ToList();
        var (records, kinds) = (events.Select(e => e.Record).ToArray(), events.Select(e => e.Happening.Kind).ToArray());
        var (said, personal) = (parts.Select(p => p.Said).ToArray(), parts.Select(p => p.Personal).ToArray());
        return Add(db, Insert(recordKind, $"select * from unnest({kinds}, {records}, {said}, {personal})"));
    }

    /// <summary>The statement that adds the same event of records.</summary>
    public static SqlText Sql(string recordKind, Guid[] records, Happening happening)
    {
        var (said, personal) = Parts(happening);
        return Insert(recordKind, $"select {happening.Kind}, r, {said}, {personal} from unnest({records}) r");
    }

    // The rows have the kind, the record, what is said, and what of it is personal.
    private static SqlText Insert(string? recordKind, SqlText rows)
    {
        var acting = Acting.Current;
        return $"""
            insert into event (at, kind, record_kind, record, by_id, cause, cause_id, said, personal)
              select log_at(), x.kind, {recordKind}, x.record, {acting.By}, {acting.Cause}, {acting.CauseId}, x.said::jsonb, x.personal::jsonb from ({rows:sql}) x(kind, record, said, personal)
            """;
    }

    /// <summary>Tells the transaction that is open who acts now, where that became known only in it.</summary>
    public static Task TellActing(this LanternDb db) => db.Run(Telling(Acting.Current));

    /// <summary>The statement that tells a transaction who acts from now on.</summary>
    public static SqlText Telling(Acting acting)
    {
        var (by, causeId) = ($"{acting.By}", $"{acting.CauseId}");
        return $"select set_config('lantern.by', {by}, true), set_config('lantern.cause', {acting.Cause}, true), set_config('lantern.cause_id', {causeId}, true)";
    }

    /// <summary>Says why what follows in this transaction is done, for the events that the database writes; null ends it.</summary>
    public static SqlText Because(Why? why)
    {
        var (said, personal) = why is null ? ("", null) : Parts(why);
        return $"select set_config('lantern.why', {(why is null ? "" : $$"""{"why":{{said}}}""")}, true), set_config('lantern.why_personal', {(personal is null ? "" : $$"""{"why":{{personal}}}""")}, true)";
    }

    /// <summary>What an event says, together with what of it is personal.</summary>
    public static JsonObject Whole(string said, string? personal)
    {
        var whole = JsonNode.Parse(said)!.AsObject();
        if (personal is not null)
            Lay(whole, JsonNode.Parse(personal)!.AsObject());
        return whole;
    }

    /// <summary>An event by what it says; null for a kind that this program does not know.</summary>
    public static Happening? Read(string kind, JsonObject whole) => Happening.TypeOf(kind) is { } type ? (Happening?)whole.Deserialize(type, Json.Options) : null;

    private static void Lay(JsonObject below, JsonObject above)
    {
        foreach (var (key, value) in above)
            if (value is JsonObject inner && below[key] is JsonObject held)
                Lay(held, inner);
            else
                below[key] = value?.DeepClone();
    }

    private static readonly ConcurrentDictionary<Type, string[]> PersonalOf = [];
    private static readonly JsonSerializerOptions Sparse = new(Json.Options) { DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull };

    /// <summary>What an event, or the reason for a change, says as JSON, and apart from it what is personal; null for nothing.</summary>
    public static (string Said, string? Personal) Parts(object value)
    {
        var type = value.GetType();
        var apart = PersonalOf.GetOrAdd(
            type,
            t => [.. t.GetProperties().Where(p => p.GetCustomAttribute<PersonalAttribute>() is not null).Select(p => JsonNamingPolicy.CamelCase.ConvertName(p.Name))]
        );
        // Most say nothing personal, and there may be millions of them.
        if (apart.Length == 0)
            return (JsonSerializer.Serialize(value, type, Sparse), null);
        var whole = JsonSerializer.SerializeToNode(value, type, Sparse)!.AsObject();
        var personal = new JsonObject();
        foreach (var key in apart)
            if (whole.Remove(key, out var kept))
                personal[key] = kept;
        return (whole.ToJsonString(Json.Options), personal.Count == 0 ? null : personal.ToJsonString(Json.Options));
    }

    /// <summary>How rows of the log are written in bulk, with the moment and the cause of each.</summary>
    public static BulkTable<EventRow> Table { get; } =
        new BulkTable<EventRow>("event")
            .Moment("at", e => e.At)
            .Text("kind", e => e.Kind)
            .Text("record_kind", e => e.RecordKind)
            .Uuid("record", e => e.Record)
            .Uuid("by_id", e => e.ById)
            .Text("cause", e => e.Cause)
            .Uuid("cause_id", e => e.CauseId)
            .Json("said", e => e.Said)
            .Json("personal", e => e.Personal);

    /// <summary>A row for <see cref="Table"/>.</summary>
    /// <param name="by">Null for who acts now.</param>
    public static EventRow Row(string recordKind, Guid record, Happening happening, DateTime at, Acting? by = null)
    {
        var acting = by ?? Acting.Current;
        var (said, personal) = Parts(happening);
        return new EventRow
        {
            At = at,
            Kind = happening.Kind,
            RecordKind = recordKind,
            Record = record,
            ById = acting.By,
            Cause = acting.Cause,
            CauseId = acting.CauseId,
            Said = said,
            Personal = personal,
        };
    }

    /// <summary>Changes of a catalogue record as the log keeps them.</summary>
    public static ChangedFact Change(FieldDefinition field, FieldValue before, FieldValue after) =>
        new(field.Key, before.IsKnown ? before.ToString() : null, after.IsKnown ? after.ToString() : null);
}
