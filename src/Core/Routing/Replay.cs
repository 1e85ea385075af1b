using System.Collections.Immutable;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Routing;

/// <summary>A lead that came in before, as it is played again.</summary>
/// <param name="Owner">Who got it then; null when it waited.</param>
public sealed record ReplayLead(Guid Id, RecordValues Facts, Instant At, IReadOnlyList<ExistingOwner> Standing, Guid? Owner);

/// <summary>What somebody got then, and would get.</summary>
/// <param name="Ready">Leads to hand over among those that the sheet would give.</param>
/// <param name="MeanFit">Of what the sheet would give; 0 for nothing.</param>
public sealed record ReplayShare(Guid Rep, int Then, int Now, int Ready, double MeanFit, double MeanEngagement);

/// <summary>A lead that would go elsewhere.</summary>
public sealed record ReplayChange(Guid Lead, Guid? Then, Guid? Now, string? Rule);

/// <param name="From">When the first of them came in; null for none.</param>
/// <param name="Hits">By rule, in the order of the sheet.</param>
/// <param name="Guarded">Given to who owned something already.</param>
/// <param name="NoRule">No rule fits.</param>
/// <param name="Held">A rule holds them, or nobody could take them.</param>
/// <param name="Changes">At most <see cref="Replay.MostChanges"/>; <paramref name="Changed"/> counts all.</param>
public sealed record ReplayResult(
    int Leads,
    Instant? From,
    ImmutableArray<int> Hits,
    int Guarded,
    int NoRule,
    int Held,
    int Changed,
    ImmutableArray<ReplayShare> Shares,
    ImmutableArray<ReplayChange> Changes
);

/// <summary>
/// Plays leads that came in before through a sheet, in the order in which they came. Everybody is taken to be there and to have room, since who was away then is
/// not what a sheet is to blame for; rotations begin with nobody owed.
/// </summary>
public sealed class Replay
{
    public const int MostChanges = 200;

    private readonly Router _router;
    private readonly Dictionary<string, Team> _teams;
    private readonly RoutingState _state;
    private readonly Dictionary<Guid, Share> _shares = [];
    private readonly Dictionary<string, int> _places;
    private readonly int[] _hits;
    private readonly List<ReplayChange> _changes = [];
    private int _leads;
    private Instant? _from;
    private int _guarded;
    private int _noRule;
    private int _held;
    private int _changed;

    public Replay(Router router, RoutingState now)
    {
        _router = router;
        _teams = now.Teams.ToDictionary(t => t.Key, t => t.Value with { OnlyInHours = false, Turns = [.. t.Value.Turns.Select(p => p with { Credit = 0 })] });
        var reps = now.Reps.ToDictionary(r => r.Key, r => r.Value with { Away = false, Open = 0, Capacity = int.MaxValue, CapacityToday = null, Working = true });
        _state = new RoutingState(reps, _teams);
        _hits = new int[router.Sheet.Rules.Length];
        _places = router.Sheet.Rules.Select((r, i) => (r.Key, i)).GroupBy(r => r.Key).ToDictionary(g => g.Key, g => g.First().i);
    }

    /// <summary>Plays the next lead; gives what was decided.</summary>
    public RoutingDecision Play(ReplayLead lead)
    {
        var decision = _router.Decide(new RoutingAsk(lead.Facts, lead.At) { Standing = lead.Standing }, _state);
        if (decision.Team is { } team)
            _teams[team.Key] = team;
        Count(lead, decision);
        return decision;
    }

    private void Count(ReplayLead lead, RoutingDecision decision)
    {
        _leads++;
        _from ??= lead.At;
        if (decision.Rule is { } rule)
            _hits[_places[rule]]++;
        else if (decision.Owner is null)
            _noRule++;
        else
            _guarded++;
        if (decision.Rule is not null && decision.Owner is null)
            _held++;
        if (lead.Owner is { } then)
            ShareOf(then).Then++;
        if (decision.Owner is { } now)
            ShareOf(now).Take(lead.Facts);
        if (decision.Owner == lead.Owner)
            return;
        _changed++;
        if (_changes.Count < MostChanges)
            _changes.Add(new ReplayChange(lead.Id, lead.Owner, decision.Owner, decision.Rule));
    }

    private Share ShareOf(Guid rep)
    {
        if (!_shares.TryGetValue(rep, out var share))
            _shares[rep] = share = new Share();
        return share;
    }

    public ReplayResult Result() =>
        new(
            _leads,
            _from,
            [.. _hits],
            _guarded,
            _noRule,
            _held,
            _changed,
            [.. _shares.Select(s => new ReplayShare(s.Key, s.Value.Then, s.Value.Now, s.Value.Ready, Mean(s.Value.Fit, s.Value.Now), Mean(s.Value.Engagement, s.Value.Now)))],
            [.. _changes]
        );

    private static double Mean(double sum, int count) => count == 0 ? 0 : sum / count;

    private sealed class Share
    {
        public int Then;
        public int Now;
        public int Ready;
        public double Fit;
        public double Engagement;

        public void Take(RecordValues lead)
        {
            Now++;
            Fit += (double)lead["fit"].Number;
            Engagement += (double)lead["engagement"].Number;
            if (lead.Text("next_move") == Scoring.NextMove.HandOver)
                Ready++;
        }
    }
}
