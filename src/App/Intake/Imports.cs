using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>Makes imports of lists: how they are read and matched, and the file kept as it came.</summary>
public sealed class Imports(Workspace workspace)
{
    private const int RowsLookedAt = 200;

    /// <summary>A list as it came, with how it is read and matched; not kept yet, not sifted. Or why it is no list.</summary>
    public async Task<(Import? Import, Problem? Trouble)> Open(LanternDb db, string fileName, Stream content, Guid person, DateTime at, string? source = null)
    {
        var (reading, trouble) = ListFile.Detect(content, workspace.Catalogue);
        if (reading is null)
            return (null, trouble);
        var import = new Import
        {
            Id = Guid.CreateVersion7(),
            FileName = fileName,
            Size = content.Length,
            CreatedAt = at,
            PersonId = person,
            // It outlives whom is erased from the file; without the key nobody tries out which number stood there.
            ContentHash = workspace.Hashes.Keyed(ListFile.Hash(content)),
            Constants = Json.Write(new ImportConstants()),
            Policies = Json.Write(new ImportPolicies()),
        };
        await Match(db, import, content, reading);
        import.Source = source ?? import.Source ?? await SuggestSource(db, fileName);
        return (import, null);
    }

    /// <summary>Matches the columns of a list read in this way; as the last list with the same headings was, where there is one.</summary>
    public async Task Match(LanternDb db, Import import, Stream content, ListReading reading)
    {
        var (headings, rows) = ListFile.Open(content, reading);
        var columns = ColumnMatcher.Match(workspace.Catalogue, headings, [.. rows.Take(RowsLookedAt).Select(r => r.Cells)]);
        // A card has room for everything; only what is used is shown.
        if (reading.Format == ListFormat.VCard)
            columns = [.. columns.Select(c => c.Samples.Length > 0 ? c : c with { Target = null, Why = "empty in these cards" })];
        import.Reading = Json.Write(reading);
        import.HeadingsHash = SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\u001f', headings)));
        var plan = import.Plan == "{}" ? new SiftPlan(columns) : Json.Read<SiftPlan>(import.Plan) with { Columns = columns };
        if (await LastTime(db, import) is var (last, lastPlan, lastSource) && lastPlan.Columns.Length == columns.Length)
        {
            plan = plan with { Columns = AsLastTime(columns, lastPlan, last), Country = plan.Country ?? lastPlan.Country };
            import.Source ??= lastSource;
        }
        import.Plan = Json.Write(plan);
    }

    /// <summary>Keeps a new import with its file, and marks it to be sifted.</summary>
    public static async Task Save(LanternDb db, Import import, Stream content, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        db.Set<Import>().Add(import);
        await db.SaveChangesAsync(cancel);
        await ImportContent.Save(db, import.Id, content, cancel);
        await transaction.CommitAsync(cancel);
    }

    /// <summary>An import held to be changed, until the transaction ends; null when there is none. Who comes second waits here and then sees what the first has done.</summary>
    public static Task<Import?> Lock(LanternDb db, Guid id) => db.Set<Import>().FromSql($"select * from import where id = {id} for update").SingleOrDefaultAsync();

    private static async Task<(string File, SiftPlan Plan, string? Source)?> LastTime(LanternDb db, Import import)
    {
        var found = await db.Set<Import>()
            .Where(i => i.HeadingsHash == import.HeadingsHash && i.Id != import.Id && i.TakenAt != null)
            .OrderByDescending(i => i.TakenAt)
            .Select(i => new
            {
                i.FileName,
                i.Plan,
                i.Source,
            })
            .FirstOrDefaultAsync();
        return found is { } f ? (f.FileName, Json.Read<SiftPlan>(f.Plan), f.Source) : null;
    }

    private ImmutableArray<ColumnMatch> AsLastTime(ImmutableArray<ColumnMatch> columns, SiftPlan last, string file) =>
        [
            .. columns.Zip(
                last.Columns,
                (now, then) =>
                    then.Target == now.Target || (then.Target is not null && Composites.Find(then.Target) is null && workspace.Catalogue.Find(then.Target) is null)
                        ? now
                        : now with
                        {
                            Target = then.Target,
                            Confidence = 100,
                            Why = $"as for {file}",
                        }
            ),
        ];

    // The one list source whose name shares most words with the file's name; none when no word is shared, or two share as many.
    private static async Task<string?> SuggestSource(LanternDb db, string fileName)
    {
        var words = Folding.Heading(Path.GetFileNameWithoutExtension(fileName)).Split(' ');
        var sources = await db.Set<SourceRow>().AsNoTracking().Where(x => x.Channel == "list" && !x.Retired).OrderBy(x => x.Name).ToListAsync();
        var shared = sources
            .Select(s => (s.Key, Count: Folding.Heading(s.Name).Split(' ').Where(w => w.Length > 3 && w is not "list" and not "leads").Intersect(words).Count()))
            .Where(s => s.Count > 0)
            .OrderByDescending(s => s.Count)
            .ToList();
        return shared.Count > 0 && (shared.Count == 1 || shared[0].Count > shared[1].Count) ? shared[0].Key : null;
    }
}
