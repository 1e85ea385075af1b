using System.Collections.Immutable;
using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>Something a lead did: what kind, when, and the words that identify it.</summary>
public readonly record struct LeadEvent(string Kind, Instant At, string Detail = "");

/// <summary>Engagement with its reasons.</summary>
/// <param name="Score">0 to 100 at the asked moment, the sum of <see cref="Contributions"/>.</param>
/// <param name="Contributions">Heaviest first; whole points by largest remainder, so that they add up to the digit.</param>
public sealed record EngagementResult(int Score, ImmutableArray<Contribution> Contributions);

/// <summary>
/// Engagement: each event weighs its signal's points times 2^(-age / half-life), age in exact days; events of a kind together weigh
/// at most the signal's cap; the whole stays within 0 to 100. Events of unknown kinds and events after the moment weigh nothing.
/// </summary>
public static class EngagementScore
{
    public static EngagementResult Explain(ScoringModel model, IReadOnlyList<LeadEvent> events, Instant now)
    {
        var weights = new List<(Contribution Words, double Weight)>();
        foreach (var signal in model.Engagement)
            AddSignal(weights, signal, events, now);
        AddSilence(weights, model.Silence, events, now);

        var exact = weights.Sum(w => w.Weight);
        var score = (int)Math.Round(Math.Clamp(exact, 0, 100), MidpointRounding.AwayFromZero);
        AddLimit(weights, exact);
        return new EngagementResult(score, Whole(weights, score));
    }

    /// <summary>The first day on which the score has fallen under the bar if nothing more happens; null when it is under now or stays over for 400 days.</summary>
    public static Instant? DropsUnder(ScoringModel model, IReadOnlyList<LeadEvent> events, Instant now)
    {
        if (Explain(model, events, now).Score < model.Bars.Engagement)
            return null;
        for (var day = 1; day <= 400; day++)
            if (Explain(model, events, now + Duration.FromDays(day)).Score < model.Bars.Engagement)
                return now + Duration.FromDays(day);
        return null;
    }

    /// <summary>What one event still weighs.</summary>
    public static double Weight(EngagementSignal signal, Instant at, Instant now) => signal.Points * Math.Pow(2, -(now - at).TotalDays / signal.HalfLifeDays);

    private static void AddSignal(List<(Contribution, double)> weights, EngagementSignal signal, IReadOnlyList<LeadEvent> events, Instant now)
    {
        var sum = 0.0;
        foreach (var e in events)
        {
            if (e.Kind != signal.Kind || e.At > now)
                continue;
            var weight = Weight(signal, e.At, now);
            sum += weight;
            weights.Add((new Contribution(signal.Kind, $"{signal.Label}, {Age(now - e.At)}", 0, Detail(signal, e)), weight));
        }
        if (sum > signal.Cap)
            weights.Add((new Contribution("limit", $"{signal.Label}: together at most {signal.Cap:0}", 0), signal.Cap - sum));
    }

    private static void AddSilence(List<(Contribution, double)> weights, Silence? silence, IReadOnlyList<LeadEvent> events, Instant now)
    {
        var past = events.Where(e => e.At <= now).Select(e => e.At).ToList();
        if (silence is null || past.Count == 0)
            return;
        var quiet = now - past.Max();
        if (quiet.TotalDays >= silence.Days)
            weights.Add((new Contribution("silence", $"Silent for {(int)quiet.TotalDays} days", 0), silence.Points));
    }

    private static void AddLimit(List<(Contribution, double)> weights, double exact)
    {
        if (exact < 0)
            weights.Add((new Contribution("limit", "Engagement does not go below 0", 0), -exact));
        else if (exact > 100)
            weights.Add((new Contribution("limit", "Engagement does not go over 100", 0), 100 - exact));
    }

    private static ImmutableArray<Contribution> Whole(List<(Contribution Words, double Weight)> weights, int score)
    {
        var floors = weights.Select(w => (int)Math.Floor(w.Weight)).ToArray();
        var missing = score - floors.Sum();
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

    private static string Detail(EngagementSignal signal, LeadEvent e)
    {
        var decay = $"{signal.Points:0} at first, halves every {signal.HalfLifeDays:0} days";
        return e.Detail.Length == 0 ? decay : $"{e.Detail}; {decay}";
    }

    private static string Age(Duration age) =>
        age.TotalDays switch
        {
            < 1 => "today",
            < 2 => "yesterday",
            _ => $"{(int)age.TotalDays} days ago",
        };
}
