using Dapper;
using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using Npgsql;

namespace DapperLantern.App.Leads;

/// <summary>Reading and writing the facts of one lead.</summary>
public static class LeadStore
{
    /// <summary>The lead's values, or null when there is no such lead.</summary>
    public static async Task<RecordValues?> Load(NpgsqlConnection connection, Guid lead, FieldCatalogue catalogue)
    {
        await using var command = new NpgsqlCommand($"select {LeadRecord.Columns} from lead l where l.id = @id", connection);
        command.Parameters.AddWithValue("id", lead);
        await using var row = await command.ExecuteReaderAsync();
        return await row.ReadAsync() ? LeadRecord.Read(row, catalogue) : null;
    }

    /// <summary>The lead's events, oldest first.</summary>
    public static async Task<List<Core.Scoring.LeadEvent>> Events(NpgsqlConnection connection, Guid lead) =>
        (await EventsOf(connection, [lead])).TryGetValue(lead, out var events) ? events : [];

    /// <summary>The events of several leads, oldest first.</summary>
    public static async Task<Dictionary<Guid, List<Core.Scoring.LeadEvent>>> EventsOf(NpgsqlConnection connection, Guid[] leads)
    {
        var rows = await connection.QueryAsync<(Guid Lead, string Kind, DateTime At, string Detail)>(
            "select lead_id, kind, at, detail from lead_event where lead_id = any(@leads) order by at",
            new { leads }
        );
        return rows.GroupBy(r => r.Lead).ToDictionary(g => g.Key, g => g.Select(r => new Core.Scoring.LeadEvent(r.Kind, r.At.ToInstant(), r.Detail)).ToList());
    }

    /// <summary>Writes facts; an unknown value empties its field. Remembers where each is from.</summary>
    public static async Task Write(NpgsqlConnection connection, Guid lead, IReadOnlyList<(FieldDefinition Field, FieldValue Value)> facts, string from)
    {
        if (facts.Count == 0)
            return;
        await using var command = new NpgsqlCommand { Connection = connection };
        var sets = new List<string> { "provenance = provenance || @from::jsonb", "version = version + 1" };
        command.Parameters.AddWithValue("id", lead);
        command.Parameters.AddWithValue("from", Json.Write(facts.ToDictionary(f => f.Field.Key, _ => from)));
        foreach (var (field, value) in facts.Where(f => f.Field.Origin == FieldOrigin.Fact))
        {
            sets.Add($"{field.Key} = @{field.Key}");
            command.Parameters.AddWithValue(field.Key, field.IsNumeric ? (value.IsKnown ? value.Number : DBNull.Value) : (object?)value.Text ?? DBNull.Value);
            if (field.Key == "company")
                sets.Add("company_key = @company_key");
        }
        if (facts.FirstOrDefault(f => f.Field.Key == "company") is { Field: not null } company)
            command.Parameters.AddWithValue("company_key", company.Value.Text is { } name ? Folding.Company(name) : DBNull.Value);
        AddCustom(command, sets, facts);
        command.CommandText = $"update lead set {string.Join(", ", sets)} where id = @id";
        await command.ExecuteNonQueryAsync();
    }

    /// <summary>Empties fields that still hold the given values; what was changed since stays.</summary>
    public static async Task Empty(NpgsqlConnection connection, Guid lead, IReadOnlyList<string> fields, RecordValues values)
    {
        var current = await Load(connection, lead, values.Catalogue);
        if (current is null)
            return;
        var still = fields.Where(f => values.Catalogue.Find(f) is not null && current[f] == values[f]).Select(f => (values.Catalogue[f], FieldValue.Unknown)).ToList();
        await Write(connection, lead, still, "");
        await connection.ExecuteAsync("update lead set provenance = provenance - @keys where id = @lead", new { lead, keys = still.Select(s => s.Item1.Key).ToArray() });
    }

    private static void AddCustom(NpgsqlCommand command, List<string> sets, IReadOnlyList<(FieldDefinition Field, FieldValue Value)> facts)
    {
        var custom = facts.Where(f => f.Field.Origin == FieldOrigin.Custom).ToList();
        if (custom.Count == 0)
            return;
        sets.Add("custom = (custom - @emptied) || @custom::jsonb");
        command.Parameters.AddWithValue("emptied", custom.Where(c => !c.Value.IsKnown).Select(c => c.Field.Key).ToArray());
        command.Parameters.AddWithValue("custom", Json.Facts(custom.Where(c => c.Value.IsKnown)));
    }
}
