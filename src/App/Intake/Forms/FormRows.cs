using System.Collections.Concurrent;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Intake.Forms;
using Npgsql;

namespace DapperLantern.App.Intake.Forms;

/// <summary>A form. What visitors see is its live edition, of the kind <see cref="EditionKind"/>; what is being built is its draft.</summary>
public sealed class FormRow
{
    /// <summary>Its public address: /f/KEY.</summary>
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";

    /// <summary>Key of the source its posts come from.</summary>
    public string Source { get; set; } = "";
    public bool Paused { get; set; }

    /// <summary>JSON: <see cref="FormSheet"/>.</summary>
    public string Draft { get; set; } = "{}";
    public DateTime CreatedAt { get; set; }

    /// <summary>One more with every change of the draft.</summary>
    public int Version { get; set; } = 1;

    /// <summary>The kind its editions have.</summary>
    public static string EditionKind(string form) => $"form:{form}";
}

/// <summary>A field filled from earlier posts that had it unasked, with what was there before, so that it can be undone.</summary>
public sealed class BackfillRow
{
    public Guid Id { get; set; }
    public string FormKey { get; set; } = "";
    public string Field { get; set; } = "";
    public DateTime At { get; set; }
    public Guid PersonId { get; set; }
    public int Leads { get; set; }

    /// <summary>JSON list of lead, value before and after.</summary>
    public string Changes { get; set; } = "[]";
    public DateTime? UndoneAt { get; set; }
}

/// <summary>A form with its live edition, as the public pages need it.</summary>
public sealed record LiveForm(string Key, string Name, bool Paused, int Edition, FormSheet Sheet, SourceRow Source)
{
    // What was published stays as it is.
    private static readonly ConcurrentDictionary<Guid, FormSheet> Published = [];

    private sealed record Found(string Name, bool Paused, int Number, Guid Id);

    /// <summary>Null when there is no such form, or it was never published.</summary>
    public static async Task<LiveForm?> Find(NpgsqlConnection connection, string key)
    {
        var rows = await connection.QueryAsync<Found, SourceRow, (Found Form, SourceRow Source)>(
            """
            select f.name, f.paused, e.number, e.id, s.* from form f join edition e on e.kind = @kind and e.state = 'live' join source s on s.key = f.source where f.key = @key
            """,
            (form, source) => (form, source),
            new { key, kind = FormRow.EditionKind(key) },
            splitOn: "key"
        );
        if (rows.SingleOrDefault() is not { Form: { } form, Source: var source })
            return null;
        if (!Published.TryGetValue(form.Id, out var sheet))
            Published[form.Id] = sheet = Json.Read<FormSheet>(await connection.QuerySingleAsync<string>("select body::text from edition where id = @Id", new { form.Id }));
        return new LiveForm(key, form.Name, form.Paused, form.Number, sheet, source);
    }
}
