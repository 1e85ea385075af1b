using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Intake.Forms;

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
    /// <summary>Null when there is no such form, or it was never published.</summary>
    public static async Task<LiveForm?> Find(Npgsql.NpgsqlConnection connection, string key)
    {
        var row = await Dapper.SqlMapper.QuerySingleOrDefaultAsync<(string Name, bool Paused, int Number, string Body, string Source)?>(
            connection,
            "select f.name, f.paused, e.number, e.body::text, f.source from form f join edition e on e.kind = @kind and e.state = 'live' where f.key = @key",
            new { key, kind = FormRow.EditionKind(key) }
        );
        if (row is not { } found)
            return null;
        var source = await Dapper.SqlMapper.QuerySingleAsync<SourceRow>(connection, "select * from source where key = @Source", new { found.Source });
        return new LiveForm(key, found.Name, found.Paused, found.Number, Json.Read<FormSheet>(found.Body), source);
    }
}
