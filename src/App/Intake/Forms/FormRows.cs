using System.Collections.Concurrent;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Intake.Forms;
using Microsoft.EntityFrameworkCore;

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

    /// <summary>Null when there is no such form, or it was never published.</summary>
    public static async Task<LiveForm?> Find(LanternDb db, string key)
    {
        var kind = FormRow.EditionKind(key);
        var form = await (
            from f in db.Set<FormRow>()
            join s in db.Set<SourceRow>() on f.Source equals s.Key
            from e in db.Set<Edition>()
            where f.Key == key && e.Kind == kind && e.State == "live"
            select new
            {
                f.Name,
                f.Paused,
                e.Number,
                e.Id,
                Source = s,
            }
        )
            .AsNoTracking()
            .SingleOrDefaultAsync();
        if (form is null)
            return null;
        if (!Published.TryGetValue(form.Id, out var sheet))
            Published[form.Id] = sheet = Json.Read<FormSheet>(await db.Set<Edition>().Where(e => e.Id == form.Id).Select(e => e.Body).SingleAsync());
        return new LiveForm(key, form.Name, form.Paused, form.Number, sheet, form.Source);
    }
}
