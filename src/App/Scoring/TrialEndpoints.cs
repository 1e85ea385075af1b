using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Scoring;

/// <summary>So many leads would go from one next move to another.</summary>
public sealed record MoveChange(string From, string To, int Leads);

/// <param name="Now">Open leads of the team to hand over now.</param>
/// <param name="Then">The same by the model tried; those without an owner by the live rule sheet.</param>
/// <param name="Open">All open leads of its people.</param>
/// <param name="Capacity">Most they should have.</param>
public sealed record TeamChange(string Key, string Name, int Now, int Then, int Open, int Capacity);

/// <summary>Leads of one pair of scores.</summary>
public sealed record ScorePoint(int Fit, int Engagement, int Leads);

/// <summary>What a model would change.</summary>
/// <param name="Done">Leads looked at of <paramref name="Leads"/>; while it is less, nothing else is told yet.</param>
/// <param name="Map">By the model tried, a point for each pair of scores that somebody has.</param>
public sealed record TrialView(
    int Leads,
    int Done,
    IReadOnlyList<ScorePoint> Map,
    IReadOnlyList<QuarterCount> Quarters,
    IReadOnlyList<QuarterCount> QuartersNow,
    IReadOnlyList<MoveChange> Changes,
    IReadOnlyList<TeamChange> Teams,
    IReadOnlyList<ModelFinding> Findings
);

/// <summary>A lead that would have another next move.</summary>
public sealed record Mover(Guid Id, int Number, string Name, string? Company, int Fit, int Engagement, int FitNow, int EngagementNow);

public sealed record MoversOrder(ScoringModel Model, [Text(100)] string From, [Text(100)] string To);

/// <summary>Trying a model on the leads there are. Nothing is written.</summary>
public static class TrialEndpoints
{
    private const int MostMovers = 100;

    public static void MapTrials(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/scoring/trial").Requires(Act.SetUp).WithTags("Scoring");
        group.MapPost("", Try).WithSummary("Who would move by a model, to where; ask again while it is not done");
        group.MapPost("/movers", Movers).WithSummary("The leads that would go from one next move to another, at most 100");
    }

    private static async Task<Ok<TrialView>> Try(ScoringModel body, ModelTrials trials, Workspace workspace, LanternDb db)
    {
        var findings = ModelCheck.Check(body, workspace.Catalogue);
        if (findings.Any(f => f.Blocks))
            return TypedResults.Ok(new TrialView(0, 0, [], [], [], [], [], findings));
        var trial = await trials.Of(body);
        if (!trial.IsDone)
            return TypedResults.Ok(new TrialView(Math.Max(1, trial.All), trial.Done, [], [], [], [], [], findings));
        return TypedResults.Ok(await View(trial, body, findings, db));
    }

    private static async Task<TrialView> View(ModelTrial trial, ScoringModel model, IReadOnlyList<ModelFinding> findings, LanternDb db)
    {
        var cells = new int[101 * 101];
        var changes = new Dictionary<(string From, string To), int>();
        var (now, then) = (new int[trial.Teams.Count], new int[trial.Teams.Count]);
        foreach (var lead in trial.Leads)
        {
            cells[lead.Fit * 101 + lead.Engagement]++;
            var move = MoveOf(lead, model.Bars);
            changes[(lead.Move, move)] = changes.GetValueOrDefault((lead.Move, move)) + 1;
            if (lead.Team < 0)
                continue;
            now[lead.Team] += lead.Move == NextMove.HandOver ? 1 : 0;
            then[lead.Team] += move == NextMove.HandOver ? 1 : 0;
        }
        var load = await Load(db);
        return new TrialView(
            trial.Leads.Count,
            trial.Leads.Count,
            [.. cells.Select((n, i) => new ScorePoint(i / 101, i % 101, n)).Where(p => p.Leads > 0)],
            Quarters(model.Names, changes, c => c.To),
            Quarters(model.Names, changes, c => c.From),
            [.. changes.Where(c => c.Key.From != c.Key.To).OrderByDescending(c => c.Value).Select(c => new MoveChange(c.Key.From, c.Key.To, c.Value))],
            [.. trial.Teams.Select((t, i) => new TeamChange(t.Key, t.Name, now[i], then[i], load.GetValueOrDefault(t.Key).Open, load.GetValueOrDefault(t.Key).Capacity))],
            findings
        );
    }

    // What was cleared stays cleared within the slack of the new bars, as when it goes live.
    private static string MoveOf(in TriedLead lead, Bars bars) => Cleared.Of(lead.Move).Next(lead.Fit, lead.Engagement, bars).Move;

    private static List<QuarterCount> Quarters(MoveNames names, Dictionary<(string From, string To), int> changes, Func<(string From, string To), string> of) =>
        [.. NextMove.Named(names).Select(m => new QuarterCount(m.Key, m.Label, changes.Where(c => of(c.Key) == m.Key).Sum(c => c.Value)))];

    private static async Task<Dictionary<string, (int Open, int Capacity)>> Load(LanternDb db) =>
        (
            await db.Rows<TeamLoad>(
                $"""
                select t.team_key as team, sum(coalesce(r.open, 0))::int as open, sum(p.capacity)::int as capacity
                from turn t join person p on p.id = t.person_id left join rep_load r on r.person_id = p.id group by 1
                """
            )
        ).ToDictionary(t => t.Team, t => (t.Open, t.Capacity));

    private static async Task<Results<Ok<List<Mover>>, ProblemHttpResult>> Movers(MoversOrder body, ModelTrials trials, Workspace workspace, LanternDb db)
    {
        if (ModelCheck.Blocking(body.Model, workspace.Catalogue) is { } blocks)
            return ApiProblems.Of("model-unfit", "model", blocks.Problem);
        var trial = await trials.Of(body.Model);
        if (!trial.IsDone)
            return ApiProblems.Of("trial-running");
        var found = trial
            .Leads.Where(l => l.Move == body.From && MoveOf(l, body.Model.Bars) == body.To)
            .OrderByDescending(l => l.Fit + l.Engagement)
            .ThenBy(l => l.Id)
            .Take(MostMovers)
            .ToList();
        var ids = found.Select(f => f.Id).ToArray();
        var names = (
            await db.Rows<NamedLead>(
                $"select id, number, coalesce(nullif(trim(concat_ws(' ', first_name, last_name)), ''), company, email, phone, 'No name') as name, company from lead where id = any({ids})"
            )
        ).ToDictionary(n => n.Id);
        return TypedResults.Ok(
            found
                .Where(f => names.ContainsKey(f.Id))
                .Select(f => new Mover(f.Id, names[f.Id].Number, names[f.Id].Name, names[f.Id].Company, f.Fit, f.Engagement, f.FitNow, f.EngagementNow))
                .ToList()
        );
    }

    private sealed record TeamLoad(string Team, int Open, int Capacity);

    private sealed record NamedLead(Guid Id, int Number, string Name, string? Company);
}
