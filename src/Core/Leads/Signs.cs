using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.Core.Leads;

/// <summary>When a lead was last heard of, and how long it had been silent before that: who comes back to life is worth more than a fresh name.</summary>
/// <param name="Last">Null when there never was a sign.</param>
/// <param name="SilentDays">Whole days of 24 hours between the last sign and the one before it; null when there is none before. Signs within a day of the last are one with it.</param>
public readonly record struct Signs(Instant? Last, int? SilentDays)
{
    private static readonly Duration OneSign = Duration.FromDays(1);

    /// <param name="events">In any order.</param>
    public static Signs Of(IReadOnlyList<LeadEvent> events)
    {
        if (events.Count == 0)
            return default;
        var last = events[0].At;
        foreach (var sign in events)
            last = Instant.Max(last, sign.At);
        Instant? before = null;
        foreach (var sign in events)
            if (sign.At < last - OneSign && (before is null || sign.At > before))
                before = sign.At;
        return new Signs(last, before is { } earlier ? (int)(last - earlier).TotalDays : null);
    }
}
