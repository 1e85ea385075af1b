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
    private const string Select = """
        select d.*, coalesce(s.name, '') as source_name, p.display_name as by,
          case when d.state = 'taken_back' then (select count(*)::int from arrival a where a.import_id = d.id and a.left_because is not null) else 0 end as left
        from import d left join source s on s.key = d.source join person p on p.id = d.person_id
        """;

    public static async Task<List<ImportView>> List(LanternDb db, DateTime now) =>
        [.. (await db.Rows<Listed>($"{Select:sql} order by d.created_at desc limit 50")).Select(d => d.View(now))];

    /// <summary>One import; null when there is none.</summary>
    public static async Task<ImportView?> One(LanternDb db, Guid id, DateTime now) => (await db.Row<Listed>($"{Select:sql} where d.id = {id}"))?.View(now);

    /// <summary>An opened import; null when there is none.</summary>
    public static async Task<SieveView?> Open(LanternDb db, Guid id, WorkspaceConfiguration workspace, DateTime now)
    {
        if (await db.Row<Listed>($"{Select:sql} where d.id = {id}") is not { } import)
            return null;
        var same = await db.Row<string>(
            $"""
            select file_name || ', ' || to_char(taken_at, 'FMDD Mon YYYY') as "Value" from import
            where content_hash = {import.ContentHash} and id <> {import.Id} and state in ('taken', 'taking') order by taken_at desc limit 1
            """
        );
        var plan = Json.Read<SiftPlan>(import.Plan);
        return new SieveView(
            import.View(now),
            Json.Read<ListReading>(import.Reading),
            plan.Columns,
            plan.Country,
            plan.AsideUnread,
            Json.Read<ImportConstants>(import.Constants),
            Json.Read<ImportPolicies>(import.Policies),
            [.. Targets(workspace.Catalogue)],
            await Choices(db, workspace),
            same
        );
    }

    private static IEnumerable<TargetView> Targets(FieldCatalogue catalogue) =>
        Composites
            .All.Select(c => new TargetView(c.Key, c.Label, "", false))
            .Concat(catalogue.Columns.Select(f => new TargetView(f.Key, f.Label, f.Type.ToString().ToLowerInvariant(), ColumnMatcher.MayGather(f))));

    private static async Task<ImportChoices> Choices(LanternDb db, WorkspaceConfiguration workspace)
    {
        var teams = await db.Set<TeamRow>().OrderBy(x => x.Name).Select(x => new ChoiceView(x.Key, x.Name)).ToListAsync();
        var tags = await db.Set<TagRow>().Where(x => !x.Retired).OrderBy(x => x.Name).Select(x => new ChoiceView(x.Key, x.Name)).ToListAsync();
        var owners = await db.Set<Person>()
            .Where(p => db.Set<TurnRow>().Any(t => t.PersonId == p.Id))
            .OrderBy(p => p.DisplayName)
            .Select(p => new ChoiceView(p.Id.ToString(), p.DisplayName))
            .ToListAsync();
        return new ImportChoices(
            await Sources(db, workspace),
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

    private static async Task<List<SourceChoice>> Sources(LanternDb db, WorkspaceConfiguration workspace)
    {
        var kinds = (await db.Set<SourceRow>().Select(x => new { x.Key, Kind = x.EventKind }).ToListAsync()).ToDictionary(s => s.Key, s => s.Kind);
        var model = (await workspace.Model(db)).Model;
        return [.. workspace.Catalogue["source"].Choices.Select(c => new SourceChoice(c.Key, c.Label, CountsAs(kinds.GetValueOrDefault(c.Key, ""), workspace, model)))];
    }

    private static string CountsAs(string kind, WorkspaceConfiguration workspace, ScoringModel model)
    {
        if (kind.Length == 0)
            return "";
        var label = workspace.Catalogue.Related.First(f => f.Key == "event").Choices.FirstOrDefault(c => c.Key == kind)?.Label ?? kind;
        var signal = model.Engagement.FirstOrDefault(s => s.Kind == kind);
        return signal is null ? label : $"{label}, {signal.Points:0.##} points of engagement";
    }

    private static List<ChoiceView> Of(ImmutableArray<Choice> choices) => [.. choices.Select(c => new ChoiceView(c.Key, c.Label))];

    private sealed class Listed : Import
    {
        public string SourceName { get; init; } = "";
        public string By { get; init; } = "";
        public int Left { get; init; }

        public ImportView View(DateTime now) => new(Id, FileName, Source, SourceName, State, CreatedAt, TakenAt, By, Counts, Work(now), Trouble, Waiting, Left);

        private WorkView? Work(DateTime now)
        {
            if (!AtWork)
                return null;
            var seconds = (now - DateTime.SpecifyKind(StartedAt ?? now, DateTimeKind.Utc)).TotalSeconds;
            var rate = seconds > 0.2 ? Done / seconds : 0;
            return new WorkView(Done, ToDo, (int)rate, rate > 0 && ToDo > Done ? (int)Math.Ceiling((ToDo - Done) / rate) : null);
        }
    }
}
