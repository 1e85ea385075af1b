using DapperLantern.App.Data;
using DapperLantern.App.Matching;
using DapperLantern.App.Rights;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;
using Microsoft.EntityFrameworkCore;
using NpgsqlTypes;

namespace DapperLantern.App.Leads;

/// <summary>Where a fact is from and when it was said; a fact without one came with the lead.</summary>
public sealed record Provenance(string From, DateTime At);

/// <summary>The scores as they are kept with a lead, by an edition of the model.</summary>
public sealed record StoredScores(Core.Scoring.LeadScoreState Standing, Guid Edition, Core.Leads.Signs Signs, DateTime At);

/// <summary>A lead read to be changed.</summary>
public sealed class KnownLead(Guid id, RecordValues facts, Dictionary<string, Provenance> provenance, DateTime createdAt)
{
    public Guid Id { get; } = id;
    public RecordValues Facts { get; } = facts;
    public Dictionary<string, Provenance> Provenance { get; } = provenance;
    public DateTime CreatedAt { get; } = createdAt;

    /// <summary>True once a fact was changed, which makes a new row version.</summary>
    public bool Changed { get; set; }
    public StoredScores? Scores { get; set; }
}

/// <summary>Reading and writing the facts of leads.</summary>
public static class LeadStore
{
    /// <summary>The lead's values, or null when there is no such lead.</summary>
    /// <param name="now">The moment its engagement and next move are of; null for as they were kept.</param>
    /// <param name="scope">What the reader sees; null for an act that has checked the lead.</param>
    public static async Task<RecordValues?> Load(LanternDb db, Guid lead, FieldCatalogue catalogue, DateTime? now = null, RecordScope? scope = null)
    {
        var sees = (scope ?? RecordScope.Everything).Sees("lead", "l");
        var found = await db.Read($"select {LeadRecord.Columns:sql} from lead l where l.id = {lead} and {sees:sql}", row => LeadRecord.Read(row, catalogue, now));
        return found.SingleOrDefault();
    }

    /// <summary>Several leads, locked to be changed; those that are gone are left out.</summary>
    public static async Task<Dictionary<Guid, KnownLead>> LoadMany(LanternDb db, Guid[] leads, FieldCatalogue catalogue, DateTime? now = null, bool hold = true)
    {
        var found = await db.Read(
            $"select {LeadRecord.Columns:sql}, l.id, l.provenance::text as provenance from lead l {RecordScope.Unscoped("read to be changed, by an act that checks them"):sql} where l.id = any({leads}) {(hold ? "order by l.id for update" : ""):sql}",
            row => new KnownLead(
                (Guid)row["id"],
                LeadRecord.Read(row, catalogue, now),
                Json.Read<Dictionary<string, Provenance>>((string)row["provenance"]),
                (DateTime)row["created_at"]
            )
        );
        return found.ToDictionary(l => l.Id);
    }

    /// <summary>The type of a built-in fact's column.</summary>
    public static NpgsqlDbType ColumnType(FieldDefinition field) =>
        field.IsNumeric ? NpgsqlDbType.Numeric
        : field.Type == FieldType.Date ? NpgsqlDbType.TimestampTz
        : NpgsqlDbType.Text;

    /// <summary>A value as its column holds it; null when unknown.</summary>
    public static object? ColumnValue(FieldValue value) =>
        value.Kind switch
        {
            ValueKind.Number => value.Number,
            ValueKind.Moment => value.Moment.ToUtc(),
            _ => value.Text,
        };

    /// <summary>The lead's events, oldest first.</summary>
    public static async Task<List<Core.Scoring.LeadEvent>> Events(LanternDb db, Guid lead) => (await EventsOf(db, [lead])).TryGetValue(lead, out var events) ? events : [];

    /// <summary>The events of several leads, oldest first.</summary>
    public static async Task<Dictionary<Guid, List<Core.Scoring.LeadEvent>>> EventsOf(LanternDb db, Guid[] leads)
    {
        var rows = await db.Set<LeadEventRow>()
            .Where(x => leads.Contains(x.LeadId))
            .OrderBy(x => x.At)
            .Select(x => new
            {
                Lead = x.LeadId,
                x.Kind,
                x.At,
                x.Detail,
                x.Direction,
                Campaign = x.CampaignKind,
            })
            .ToListAsync();
        return rows.GroupBy(r => r.Lead)
            .ToDictionary(g => g.Key, g => g.Select(r => new Core.Scoring.LeadEvent(r.Kind, r.At.ToInstant(), r.Detail, r.Direction, r.Campaign)).ToList());
    }

    /// <summary>Writes facts; an unknown value empties its field. Remembers where each is from, and since when.</summary>
    public static async Task Write(LanternDb db, Guid lead, IReadOnlyList<(FieldDefinition Field, FieldValue Value)> facts, string from, DateTime at, FieldCatalogue catalogue)
    {
        if (facts.Count == 0)
            return;
        var known = Json.Write(facts.ToDictionary(f => f.Field.Key, _ => new Provenance(from, at)));
        List<SqlText> sets = [$"provenance = provenance || {known}::jsonb", $"version = version + 1"];
        foreach (var (field, value) in facts.Where(f => f.Field.Origin == FieldOrigin.Fact))
        {
            sets.Add($"{field.Key:sql} = {SqlText.Value(ColumnValue(value), ColumnType(field)):sql}");
            if (field.Key == "company")
                sets.Add($"company_key = {(value.Text is { } name ? Folding.Company(name) : null)}");
        }
        AddCustom(sets, facts);
        await db.Run($"update lead set {SqlText.List(sets):sql} where id = {lead}");
        // Whom the lead is matched with may be somebody else now; a taking in under way looks again.
        if (facts.Any(f => Identity.Fields.Contains(f.Field.Key)))
        {
            await MatchKeys.Write(db, [(lead, Identity.Of((await Load(db, lead, catalogue))!))]);
            await DuplicateDetectionWorker.Ask(db, "lead", [lead]);
            await PeopleChange.Tell(db);
        }
    }

    private static void AddCustom(List<SqlText> sets, IReadOnlyList<(FieldDefinition Field, FieldValue Value)> facts)
    {
        var custom = facts.Where(f => f.Field.Origin == FieldOrigin.Custom).ToList();
        if (custom.Count == 0)
            return;
        var (emptied, kept) = (custom.Where(c => !c.Value.IsKnown).Select(c => c.Field.Key).ToArray(), Json.Facts(custom.Where(c => c.Value.IsKnown)));
        sets.Add($"custom = (custom - {emptied}) || {kept}::jsonb");
    }
}
