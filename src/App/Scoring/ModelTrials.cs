using DapperLantern.App.Data;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Scoring;

/// <summary>An open lead by a model that is tried, beside how it stands now.</summary>
/// <param name="Team">Place of the team that has it, or would get it by the live rule sheet, among <see cref="ModelTrial.Teams"/>; -1 for none.</param>
public readonly record struct TriedLead(Guid Id, byte Fit, byte Engagement, byte FitNow, byte EngagementNow, sbyte Team, string Move);

/// <summary>
/// A model tried on all open leads. Its scores do not depend on the bars, so that these can be moved about without scoring anybody again.
/// </summary>
public sealed class ModelTrial
{
    internal ModelTrial(string key, IReadOnlyList<TeamRow> teams) => (Key, Teams) = (key, teams);

    internal string Key { get; }
    public IReadOnlyList<TeamRow> Teams { get; }
    public List<TriedLead> Leads { get; } = [];

    /// <summary>So many there are; 0 until they are counted.</summary>
    public int All { get; internal set; }
    public int Done { get; internal set; }
    public DateTime At { get; internal set; }
    internal Task Work { get; set; } = Task.CompletedTask;
    public bool IsDone => Work.IsCompletedSuccessfully;
    public bool Failed => Work.IsFaulted;
}

/// <summary>Tries models in the background. Nothing is written, and what is remembered is only a saving: each process keeps the last few for a while.</summary>
public sealed class ModelTrials(LanternDbFactory databases, WorkspaceConfiguration configuration, Patience patience, TimeProvider clock)
{
    private const int Most = 3;
    private static readonly TimeSpan Moment = TimeSpan.FromMilliseconds(600);
    private static readonly TimeSpan Good = TimeSpan.FromMinutes(2);
    private readonly Lock _lock = new();
    private readonly List<ModelTrial> _trials = [];

    /// <summary>The trial of a model, under way or done. Waits a moment, within which a small base is done.</summary>
    public async Task<ModelTrial> Of(ScoringModel model)
    {
        var trial = await Begun(model);
        await Task.WhenAny(trial.Work, Task.Delay(patience.For(Moment)));
        return trial;
    }

    private async Task<ModelTrial> Begun(ScoringModel model)
    {
        var key = KeyOf(model);
        lock (_lock)
        {
            _trials.RemoveAll(t => t.Failed || (t.IsDone && t.At < clock.UtcNow() - Good));
            if (_trials.FirstOrDefault(t => t.Key == key) is { } known)
                return known;
        }
        await using var db = await databases.Open();
        var desk = await RoutingContext.Open(db, clock.UtcNow(), hold: false);
        lock (_lock)
        {
            if (_trials.FirstOrDefault(t => t.Key == key) is { } known)
                return known;
            var trial = new ModelTrial(key, [.. desk.Teams.Select(t => new TeamRow { Key = t.Key, Name = t.Name })]) { At = clock.UtcNow() };
            trial.Work = Task.Run(() => Run(trial, model, desk));
            _trials.Add(trial);
            while (_trials.Count > Most && _trials.FindIndex(t => t.Work.IsCompleted) is >= 0 and var oldest)
                _trials.RemoveAt(oldest);
            return trial;
        }
    }

    // A field or value that changes makes another catalogue.
    private string KeyOf(ScoringModel model) => Json.Write(model with { Bars = new Bars(0, 0), Names = MoveNames.Usual }) + configuration.Current.Catalogue.GetHashCode();

    private async Task Run(ModelTrial trial, ScoringModel model, RoutingContext desk)
    {
        await using var db = await databases.Open();
        var workspace = configuration.Current;
        trial.All = await db.One<int>($"""select count(*)::int as "Value" from lead l where {ScoringStream.Open:sql}""");
        var (fit, engagement) = (new FitScore(model, workspace.Catalogue), new EngagementScore(model));
        var rules = await workspace.Rules(db);
        var teamOf = TeamsOfPeople(trial, desk);
        var asked = rules.Asked.Concat(["company", "website", "email", "last_name", "street", "postal_code"]);
        var stream = new ScoringStream(workspace.Catalogue, [model], $"{ScoringStream.Open:sql}", asked);
        for (var after = Guid.Empty; await stream.Next(db, after, trial.At) is { Count: > 0 } leads; after = leads[^1].Id)
        {
            await desk.Standing.Find(db, [.. leads.Where(l => l.Owner is null).Select(l => ExistingOwnerKeys.Of(l.Facts))]);
            foreach (var lead in leads)
                trial.Leads.Add(
                    new TriedLead(
                        lead.Id,
                        (byte)fit.Measure(lead.Facts, trial.At.ToInstant()).Score,
                        (byte)engagement.Score(lead.Events, trial.At.ToInstant()),
                        (byte)lead.Fit,
                        (byte)lead.Engagement,
                        Team(lead, rules, desk, teamOf, trial),
                        lead.Facts.Text("next_move")!
                    )
                );
            trial.Done = trial.Leads.Count;
        }
    }

    private static Dictionary<Guid, sbyte> TeamsOfPeople(ModelTrial trial, RoutingContext desk)
    {
        var found = new Dictionary<Guid, sbyte>();
        for (var i = 0; i < trial.Teams.Count; i++)
            foreach (var turn in desk.State.Teams[trial.Teams[i].Key].Turns)
                found.TryAdd(turn.Rep, (sbyte)i);
        return found;
    }

    private static sbyte Team(ScoringLead lead, LiveRules rules, RoutingContext desk, Dictionary<Guid, sbyte> teamOf, ModelTrial trial)
    {
        if (lead.Owner is { } owner)
            return teamOf.GetValueOrDefault(owner, (sbyte)-1);
        var ask = new RoutingAsk(lead.Facts, trial.At.ToInstant()) { Standing = desk.Standing.For(ExistingOwnerKeys.Of(lead.Facts)) };
        var decision = rules.Router.Decide(ask, desk.State);
        return decision.Owner is { } would ? teamOf.GetValueOrDefault(would, (sbyte)-1) : (sbyte)-1;
    }
}
