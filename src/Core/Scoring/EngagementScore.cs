using System.Collections.Immutable;
using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>Engagement with its reasons.</summary>
/// <param name="Score">0 to 100 at the asked moment, the sum of <see cref="Contributions"/>.</param>
/// <param name="Contributions">Heaviest first; whole points by largest remainder, so that they add up to the digit.</param>
/// <param name="Decay">What the score follows from at later moments.</param>
public sealed record EngagementResult(int Score, ImmutableArray<Contribution> Contributions, EngagementDecay Decay);

/// <summary>
/// The engagement part of a model, compiled; safe to share between threads. Each event gives its signal's points, less where newer ones have used up the
/// signal's cap in its window, and what it gave halves with the signal's half-life, age in exact days. Silence counts once the last sign of the lead is old enough. The sum
/// saturates (<see cref="Saturation"/>). Events of kinds the model does not name and events after the moment weigh nothing. The order of the events does not matter.
/// </summary>
public sealed class EngagementScore
{
    private readonly ScoringModel _model;
    private readonly EngagementSignal[] _signals;
    private readonly SignalMatch _match;

    // Signals of one half-life share a decay term.
    private readonly double[] _halfLives;
    private readonly int[] _term;

    public EngagementScore(ScoringModel model)
    {
        _model = model;
        _signals = [.. model.Engagement];
        _match = new SignalMatch(model);
        _halfLives = [.. model.Engagement.Select(s => s.HalfLifeDays).Distinct()];
        _term = [.. _signals.Select(s => Array.IndexOf(_halfLives, s.HalfLifeDays))];
    }

    /// <summary>What is left at a moment of all that happened up to it.</summary>
    public EngagementDecay At(IReadOnlyList<LeadEvent> events, Instant now)
    {
        var work = ScratchBuffer.OfThread;
        Give(events, now, work);
        return Collected(work, events, now);
    }

    /// <summary>The score alone, without the decay and without allocating: what <see cref="At"/> gives at the same moment.</summary>
    public int Score(IReadOnlyList<LeadEvent> events, Instant now)
    {
        var work = ScratchBuffer.OfThread;
        Give(events, now, work);
        var day = EngagementDecay.DayOf(now);
        Span<double> terms = stackalloc double[_halfLives.Length];
        foreach (var grant in work.Grants)
            terms[_term[grant.Signal]] += Weight(grant, day);
        var sum = SilentAt(work) is var silent && day >= silent ? _model.Silence!.Points : 0;
        for (var i = terms.Length - 1; i >= 0; i--)
            sum = terms[i] + sum;
        return Saturation.Whole(Saturation.Of(sum, _model.SaturatesFrom));
    }

    /// <summary>The score with its reasons at a moment.</summary>
    public EngagementResult Explain(IReadOnlyList<LeadEvent> events, Instant now)
    {
        var work = ScratchBuffer.OfThread;
        Give(events, now, work);
        var decay = Collected(work, events, now);
        var day = EngagementDecay.DayOf(now);
        var weights = new List<(Contribution Words, double Weight)>();
        foreach (var grant in work.Grants)
            weights.Add((Reason(events[grant.Event], grant, now), Weight(grant, day)));
        if (day >= decay.SilentAt)
            weights.Add((new Contribution("silence", $"Silent for {(int)(day - work.LastSign)} days", 0), decay.SilencePoints));

        var sum = decay.Sum(day);
        var exact = Saturation.Of(sum, decay.Knee);
        if (sum < 0)
            weights.Add((new Contribution("limit", "Engagement does not go below 0", 0), -sum));
        else if (exact < sum)
            weights.Add((new Contribution("limit", $"Over {_model.SaturatesFrom:0} together, more counts for less", 0), exact - sum));
        var score = Saturation.Whole(exact);
        return new EngagementResult(score, WholePoints.Share(weights, score), decay);
    }

    /// <summary>What each event gave when it happened, by its place in the list; those that gave nothing are left out.</summary>
    public ImmutableArray<(int Event, double Points)> Given(IReadOnlyList<LeadEvent> events, Instant now)
    {
        var work = ScratchBuffer.OfThread;
        Give(events, now, work);
        return [.. work.Grants.Select(g => (g.Event, g.Points))];
    }

    /// <summary>The signals of which one more event now would lift the score to a bar, the smallest first; empty when it is there already or none does.</summary>
    public ImmutableArray<EngagementSignal> WouldReach(IReadOnlyList<LeadEvent> events, Instant now, int bar) =>
        Score(events, now) >= bar
            ? []
            : [.. _signals.Where(s => s.Points > 0 && Score([.. events, Example(s, now)], now) >= bar).OrderBy(s => s.Points).ThenBy(s => s.Label, StringComparer.Ordinal)];

    private static LeadEvent Example(EngagementSignal signal, Instant now) =>
        new(signal.Kind, now, signal.Pattern.Replace("*", "", StringComparison.Ordinal), signal.Direction.Length == 0 ? LeadEvent.In : signal.Direction, signal.CampaignKind);

    /// <summary>What is left of each signal at a moment, in fresh events: 1 for one that happened just now. Signals of which nothing is are left out.</summary>
    public List<(int Signal, double Fresh)> Left(IReadOnlyList<LeadEvent> events, Instant now)
    {
        var work = ScratchBuffer.OfThread;
        Give(events, now, work);
        var day = EngagementDecay.DayOf(now);
        return
        [
            .. work
                .Grants.GroupBy(g => g.Signal)
                .Where(g => _signals[g.Key].Points != 0)
                .OrderBy(g => g.Key)
                .Select(g => (g.Key, g.Sum(x => Weight(x, day)) / _signals[g.Key].Points)),
        ];
    }

    private EngagementDecay Collected(ScratchBuffer work, IReadOnlyList<LeadEvent> events, Instant now)
    {
        if (work.Grants.Count == 0 && (events.Count == 0 || _model.Silence is not { Points: > 0 }))
            return EngagementDecay.None;
        var day = EngagementDecay.DayOf(now);
        Span<double> sums = stackalloc double[_halfLives.Length];
        Span<bool> used = stackalloc bool[_halfLives.Length];
        foreach (var grant in work.Grants)
            (sums[_term[grant.Signal]], used[_term[grant.Signal]]) = (sums[_term[grant.Signal]] + Weight(grant, day), true);
        var terms = ImmutableArray.CreateBuilder<DecayTerm>();
        for (var i = 0; i < sums.Length; i++)
            if (used[i])
                terms.Add(new DecayTerm(sums[i], _halfLives[i]));
        return new EngagementDecay(_model.SaturatesFrom, _model.Silence?.Points ?? 0, day, SilentAt(work), terms.ToImmutable());
    }

    private double SilentAt(ScratchBuffer work) => _model.Silence is { } silence && double.IsFinite(work.LastSign) ? work.LastSign + silence.Days : double.PositiveInfinity;

    private double Weight(in Grant grant, double day) => new DecayTerm(grant.Points, _signals[grant.Signal].HalfLifeDays).After(day - grant.Day);

    // What each event gives at its moment.
    private void Give(IReadOnlyList<LeadEvent> events, Instant now, ScratchBuffer work)
    {
        var span = ScratchBuffer.SpanOf(events);
        work.Begin(span, now);
        foreach (var (at, day) in work.Ordered)
        {
            ref readonly var e = ref span[at];
            var signal = _match.Of(e);
            if (double.IsNegativeInfinity(work.LastSign) && e.IsSign)
                work.LastSign = day;
            if (signal >= 0 && work.Given(_signals[signal], signal, day) is var points && points != 0)
                work.Add(new Grant(at, signal, day, points));
        }
    }

    private Contribution Reason(in LeadEvent e, in Grant grant, Instant now)
    {
        var signal = _signals[grant.Signal];
        var decay = $"{signal.Points:0.#} at first, halves every {signal.HalfLifeDays:0.#} days";
        if (grant.Points != signal.Points)
            decay =
                $"{grant.Points:0.#} of {signal.Points:0.#} at first, since at most {signal.Cap:0.#} count in {signal.WindowDays:0.#} days; halves every {signal.HalfLifeDays:0.#} days";
        return new Contribution(signal.Kind, $"{signal.Label}, {Age(now - e.At)}", 0, e.Detail.Length == 0 ? decay : $"{e.Detail}; {decay}");
    }

    private static string Age(Duration age) =>
        age.TotalDays switch
        {
            < 1 => "today",
            < 2 => "yesterday",
            _ => $"{(int)age.TotalDays} days ago",
        };
}

/// <summary>Rounds weights to whole points that add up to a whole sum: those cut off most are rounded up (largest remainder, Hamilton 1792).</summary>
internal static class WholePoints
{
    public static ImmutableArray<Contribution> Share(List<(Contribution Words, double Weight)> weights, int sum)
    {
        var floors = weights.Select(w => (int)Math.Floor(w.Weight)).ToArray();
        var missing = sum - floors.Sum();
        var byRemainder = Enumerable.Range(0, weights.Count).OrderByDescending(i => weights[i].Weight - floors[i]).ThenBy(i => i).ToArray();
        for (var i = 0; i < missing; i++)
            floors[byRemainder[i]]++;
        return
        [
            .. weights
                .Select((w, i) => w.Words with { Points = floors[i] })
                .Where(c => c.Points != 0)
                .OrderByDescending(c => Math.Abs(c.Points))
                .ThenBy(c => c.Key, StringComparer.Ordinal),
        ];
    }
}
