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
        Instant? found = null;
        foreach (var e in events)
            if (e.IsSign && (found is null || e.At > found))
                found = e.At;
        if (found is not { } last)
            return default;
        Instant? before = null;
        foreach (var e in events)
            if (e.IsSign && e.At < last - OneSign && (before is null || e.At > before))
                before = e.At;
        return new Signs(last, before is { } earlier ? (int)(last - earlier).TotalDays : null);
    }
}
