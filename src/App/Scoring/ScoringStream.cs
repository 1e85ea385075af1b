using System.Data.Common;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.App.Scoring;

/// <summary>A lead as scoring sees it.</summary>
/// <param name="Facts">Only the fields that were asked for; its next move is as of now.</param>
/// <param name="Engagement">As kept, now.</param>
/// <param name="ScoredAt">When it was scored last; whoever scores it leaves another.</param>
public sealed record ScoringLead(Guid Id, RecordValues Facts, string State, Guid? Owner, int Fit, int Engagement, DateTime? ScoredAt, List<LeadEvent> Events);

/// <summary>
/// Reads all leads in batches, by id, with what some models ask and no more. Kinds and details of events come again and again and are kept once.
/// </summary>
public sealed class ScoringStream
{
    public const int Batch = 4000;

    /// <summary>Holds of leads that are open.</summary>
    public const string Open = "l.state in ('new', 'in_work', 'on_hold', 'qualified')";

    private readonly FieldCatalogue _catalogue;
    private readonly List<FieldDefinition> _fields;
    private readonly string _columns;
    private readonly SqlText _where;
    private readonly Dictionary<string, string> _words = [];

    /// <param name="also">Fields to read beside those the models ask.</param>
    /// <param name="where">SQL over the alias l; null for all leads.</param>
    internal ScoringStream(FieldCatalogue catalogue, IEnumerable<ScoringModel> models, SqlText? where = null, IEnumerable<string>? also = null)
    {
        _catalogue = catalogue;
        _fields = [.. models.SelectMany(m => m.Fields).Concat(also ?? []).Distinct().Select(catalogue.Find).OfType<FieldDefinition>().Where(f => f.Origin != FieldOrigin.Arrival)];
        _columns = string.Concat(_fields.Select(f => $", {Column(f)}"));
        SqlText all = $"true";
        _where = where ?? all;
    }

    /// <summary>The SQL of a field over the alias l, as <see cref="Value"/> reads it; nothing for what is computed from the moment of asking.</summary>
    internal static string Column(FieldDefinition field) =>
        field.Key == "owner" ? "l.owner_id::text"
        : field.Key is "engagement" or "next_move" ? "null"
        : field.Origin == FieldOrigin.Finding ? LeadRecord.Finding(field)
        : field.Origin == FieldOrigin.Custom ? $"l.custom->>'{field.Key}'"
        : $"l.{field.Key}";

    /// <summary>The next leads after an id; empty at the end.</summary>
    public async Task<List<ScoringLead>> Next(LanternDb db, Guid after, DateTime now, CancellationToken cancel = default)
    {
        var leads = await Leads(db, after, now, cancel);
        if (leads.Count > 0)
            await Events(db, leads, cancel);
        return leads;
    }

    private async Task<List<ScoringLead>> Leads(LanternDb db, Guid after, DateTime now, CancellationToken cancel)
    {
        var moment = now.ToInstant();
        return await db.Read(
            $"""
            select l.id, l.next_move, l.move_until, l.state, l.owner_id, l.fit, l.decay, l.scored_at{_columns:sql}
            from lead l where l.id > {after} and {_where:sql} order by l.id limit {Batch}
            """,
            row => LeadOf(row, now, moment),
            cancel
        );
    }

    private ScoringLead LeadOf(DbDataReader row, DateTime now, Instant moment)
    {
        var facts = new RecordValues(_catalogue);
        for (var i = 0; i < _fields.Count; i++)
            if (!row.IsDBNull(8 + i))
                facts[_fields[i].Ordinal] = Value(row, 8 + i, _fields[i]);
        var cleared = Cleared.Of(row.GetString(1));
        facts["next_move"] = FieldValue.Of(!row.IsDBNull(2) && row.GetDateTime(2) <= now ? cleared.Fallen.Move : cleared.Move);
        return new ScoringLead(
            row.GetGuid(0),
            facts,
            Word(row.GetString(3)),
            row.IsDBNull(4) ? null : row.GetGuid(4),
            row.GetInt32(5),
            row.IsDBNull(6) ? 0 : EngagementDecaySql.Read(row.GetFieldValue<double[]>(6)).Score(moment),
            row.IsDBNull(7) ? null : row.GetDateTime(7),
            []
        );
    }

    internal static FieldValue Value(DbDataReader row, int at, FieldDefinition field)
    {
        if (field.Origin == FieldOrigin.Custom)
            return FieldValue.Parse(field.Type, row.GetString(at));
        if (BuiltInFields.WholeNumbers.Contains(field.Key))
            return FieldValue.Of(row.GetInt32(at));
        if (field.IsNumeric)
            return FieldValue.Of(row.GetDecimal(at));
        return field.Type == FieldType.Date ? FieldValue.Of(row.GetDateTime(at).ToInstant()) : FieldValue.Of(row.GetString(at));
    }

    private async Task Events(LanternDb db, List<ScoringLead> leads, CancellationToken cancel)
    {
        var (first, last, ids) = (leads[0].Id, leads[^1].Id, leads.Select(l => l.Id).ToArray());
        var byId = leads.ToDictionary(l => l.Id, l => l.Events);
        var events = db.Stream(
            $"""
            select lead_id, kind, at, detail, direction, campaign_kind from lead_event
            where lead_id between {first} and {last} and lead_id = any({ids}) order by lead_id, at
            """,
            row => (Lead: row.GetGuid(0), Event: EventOf(row)),
            cancel
        );
        await foreach (var (lead, happened) in events)
            byId[lead].Add(happened);
    }

    private LeadEvent EventOf(DbDataReader row) =>
        new(
            Word(row.GetString(1)),
            row.GetDateTime(2).ToInstant(),
            Word(row.GetString(3)),
            row.GetString(4) == LeadEvent.Out ? LeadEvent.Out : LeadEvent.In,
            Word(row.GetString(5))
        );

    private string Word(string word)
    {
        if (_words.Count > 20_000)
            _words.Clear();
        return _words.TryGetValue(word, out var known) ? known : _words[word] = word;
    }
}
