using System.Collections.Immutable;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.App.Leads;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>Work under way on an import.</summary>
/// <param name="ToDo">Rows in all; 0 while not known.</param>
/// <param name="RowsASecond">Since the work began.</param>
/// <param name="SecondsLeft">At that rate; null while not known.</param>
public sealed record WorkView(int Done, int ToDo, int RowsASecond, int? SecondsLeft);

/// <param name="Work">Null while nothing is under way.</param>
/// <param name="Trouble">What stopped the work, in a sentence; it waits for "try again".</param>
/// <param name="Waiting">Rows mended since the last taking in, which wait to be taken in.</param>
public sealed record ImportView(
    Guid Id,
    string FileName,
    string Source,
    string SourceName,
    string State,
    DateTime CreatedAt,
    DateTime? TakenAt,
    string By,
    SiftCounts Counts,
    WorkView? Work,
    string? Trouble,
    int Waiting,
    int Left
);

/// <summary>A field, or fields, a column can go to.</summary>
/// <param name="Type">Of the field; empty for a column that is taken apart.</param>
/// <param name="Gathers">True when several columns may go to it.</param>
public sealed record TargetView(string Key, string Label, string Type, bool Gathers);

/// <summary>A source, and what coming in through it counts as: "Attended, 25 points"; empty for nothing.</summary>
public sealed record SourceChoice(string Key, string Label, string CountsAs);

/// <summary>What an import's constants may be chosen from.</summary>
public sealed record ImportChoices(
    IReadOnlyList<SourceChoice> Sources,
    IReadOnlyList<ChoiceView> Campaigns,
    IReadOnlyList<ChoiceView> Responses,
    IReadOnlyList<ChoiceView> Owners,
    IReadOnlyList<ChoiceView> Teams,
    IReadOnlyList<ChoiceView> Tags,
    IReadOnlyList<ChoiceView> Purposes,
    IReadOnlyList<string> Encodings,
    IReadOnlyList<ChoiceView> Countries
);

/// <summary>An opened import: how it was read, how its columns were matched, what holds for all its rows, how they divide.</summary>
public sealed record SieveView(
    ImportView Import,
    ListReading Reading,
    ImmutableArray<ColumnMatch> Matching,
    string? Country,
    bool AsideUnread,
    ImportConstants Constants,
    ImportPolicies Policies,
    IReadOnlyList<TargetView> Targets,
    ImportChoices Choices,
    string? SameFileAs
);

/// <summary>Imports as screens show them.</summary>
public static class ImportQueries
{
    private static IQueryable<Listed> Select(LanternDb db, IQueryable<Import> imports) =>
        from d in imports.AsNoTracking()
        join s in db.Set<SourceRow>() on d.Source equals s.Key into sources
        from s in sources.DefaultIfEmpty()
        join p in db.Users on d.PersonId equals p.Id
        orderby d.CreatedAt descending
        select new Listed
        {
            Import = d,
            SourceName = s.Name ?? "",
            By = p.DisplayName,
            Left = d.State == Import.TakenBack ? db.Set<Arrival>().Count(a => a.ImportId == d.Id && a.LeftBecause != null) : 0,
        };

    public static async Task<List<ImportView>> List(LanternDb db, DateTime now) => [.. (await Select(db, db.Set<Import>()).Take(50).ToListAsync()).Select(d => d.View(now))];

    /// <summary>One import; null when there is none.</summary>
    public static async Task<ImportView?> One(LanternDb db, Guid id, DateTime now) => (await Select(db, db.Set<Import>().Where(d => d.Id == id)).SingleOrDefaultAsync())?.View(now);

    /// <summary>An opened import; null when there is none.</summary>
    public static async Task<SieveView?> Open(LanternDb db, Guid id, Workspace workspace, DateTime now)
    {
        if (await Select(db, db.Set<Import>().Where(d => d.Id == id)).SingleOrDefaultAsync() is not { } listed)
            return null;
        var import = listed.Import;
        var same = await db.Row<string>(
            $"""
            select file_name || ', ' || to_char(taken_at, 'FMDD Mon YYYY') as "Value" from import
            where content_hash = {import.ContentHash} and id <> {import.Id} and state in ('taken', 'taking') order by taken_at desc limit 1
            """
        );
        var plan = Json.Read<SiftPlan>(import.Plan);
        return new SieveView(
            listed.View(now),
            Json.Read<ListReading>(import.Reading),
            plan.Columns,
            plan.Country,
            plan.AsideUnread,
            Json.Read<ImportConstants>(import.Constants),
            Json.Read<ImportPolicies>(import.Policies),
            [.. Targets(workspace.Catalogue)],
            await Choices(db, workspace, import.Source),
            same
        );
    }

    private static IEnumerable<TargetView> Targets(FieldCatalogue catalogue) =>
        Composites
            .All.Select(c => new TargetView(c.Key, c.Label, "", false))
            .Concat(catalogue.Columns.Select(f => new TargetView(f.Key, f.Label, f.Type.ToString().ToLowerInvariant(), ColumnMatcher.MayGather(f))));

    private static async Task<ImportChoices> Choices(LanternDb db, Workspace workspace, string? source)
    {
        var teams = await db.Set<TeamRow>().OrderBy(x => x.Name).Select(x => new ChoiceView(x.Key, x.Name)).ToListAsync();
        var tags = await db.Set<TagRow>().Where(x => !x.Retired).OrderBy(x => x.Name).Select(x => new ChoiceView(x.Key, x.Name)).ToListAsync();
        var owners = await db.Set<Person>()
            .Where(p => db.Set<TurnRow>().Any(t => t.PersonId == p.Id))
            .OrderBy(p => p.DisplayName)
            .Select(p => new ChoiceView(p.Id.ToString(), p.DisplayName))
            .ToListAsync();
        return new ImportChoices(
            await Sources(db, workspace, source),
            Of(workspace.Catalogue["campaign"].Choices),
            Of(CampaignResponse.Choices),
            owners,
            teams,
            tags,
            Of(workspace.ConsentPurposes),
            TextEncoding.Known,
            [.. Countries.All.Select(c => new ChoiceView(c.Code, c.Name)).OrderBy(c => c.Label, StringComparer.Ordinal)]
        );
    }

    private static async Task<List<SourceChoice>> Sources(LanternDb db, Workspace workspace, string? stored)
    {
        var kinds = await db.Set<SourceRow>().Select(x => new { x.Key, x.EventKind }).ToDictionaryAsync(s => s.Key, s => s.EventKind);
        var model = (await workspace.Model(db)).Model;
        return [.. workspace.Catalogue["source"].Offered(stored).Select(c => new SourceChoice(c.Key, c.Label, CountsAs(kinds.GetValueOrDefault(c.Key, ""), workspace, model)))];
    }

    private static string CountsAs(string kind, Workspace workspace, ScoringModel model)
    {
        if (kind.Length == 0)
            return "";
        var label = workspace.Catalogue.Related.First(f => f.Key == "event").Choices.FirstOrDefault(c => c.Key == kind)?.Label ?? kind;
        var signal = model.Engagement.FirstOrDefault(s => s.Kind == kind);
        return signal is null && label == kind ? "counts nothing"
            : signal is null ? label
            : $"{label}, {signal.Points:0.##} points of engagement";
    }

    private static List<ChoiceView> Of(ImmutableArray<Choice> choices) => [.. choices.Select(c => new ChoiceView(c.Key, c.Label))];

    private sealed class Listed
    {
        public required Import Import { get; init; }
        public string SourceName { get; init; } = "";
        public string By { get; init; } = "";
        public int Left { get; init; }

        public ImportView View(DateTime now) =>
            new(
                Import.Id,
                Import.FileName,
                Import.Source ?? "",
                SourceName,
                Import.State,
                Import.CreatedAt,
                Import.TakenAt,
                By,
                Import.Counts,
                Work(now),
                Import.Trouble,
                Import.Waiting,
                Left
            );

        private WorkView? Work(DateTime now)
        {
            if (!Import.AtWork)
                return null;
            var seconds = (now - DateTime.SpecifyKind(Import.StartedAt ?? now, DateTimeKind.Utc)).TotalSeconds;
            var rate = seconds > 0.2 ? Import.Done / seconds : 0;
            return new WorkView(Import.Done, Import.ToDo, (int)rate, rate > 0 && Import.ToDo > Import.Done ? (int)Math.Ceiling((Import.ToDo - Import.Done) / rate) : null);
        }
    }
}
