using System.Runtime.InteropServices;
using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>What an event gave.</summary>
/// <param name="Event">Its place in the list it came with.</param>
/// <param name="Signal">The signal's place in the model.</param>
/// <param name="Points">After cap and window.</param>
internal readonly record struct Grant(int Event, int Signal, double Day, double Points);

/// <summary>Room to work in, one for a thread and used again for each lead.</summary>
internal sealed class ScratchBuffer
{
    [ThreadStatic]
    private static ScratchBuffer? t_work;

    private readonly List<(int Event, double Day)> _ordered = [];
    private readonly List<Grant> _grants = [];

    public static ScratchBuffer OfThread => t_work ??= new ScratchBuffer();

    /// <summary>The events up to the moment, newest first.</summary>
    public List<(int Event, double Day)> Ordered => _ordered;

    public List<Grant> Grants => _grants;

    /// <summary>The day of the last sign of the lead; negative infinity when there was none.</summary>
    public double LastSign { get; set; }

    /// <summary>The events as they lie in memory; copied together where they do not.</summary>
    public static ReadOnlySpan<LeadEvent> SpanOf(IReadOnlyList<LeadEvent> events) =>
        events switch
        {
            LeadEvent[] array => array,
            List<LeadEvent> list => CollectionsMarshal.AsSpan(list),
            _ => events.ToArray(),
        };

    public void Begin(ReadOnlySpan<LeadEvent> events, Instant now)
    {
        _ordered.Clear();
        _grants.Clear();
        LastSign = double.NegativeInfinity;
        var (last, sorted) = (double.PositiveInfinity, true);
        for (var i = events.Length - 1; i >= 0; i--)
        {
            ref readonly var e = ref events[i];
            if (e.At > now)
                continue;
            var day = EngagementDecay.DayOf(e.At);
            sorted &= day <= last;
            _ordered.Add((i, last = day));
        }
        if (!sorted)
            _ordered.Sort(static (a, b) => a.Day != b.Day ? b.Day.CompareTo(a.Day) : b.Event.CompareTo(a.Event));
    }

    public void Add(in Grant grant) => _grants.Add(grant);

    /// <summary>
    /// What an event of a signal gives on a day, after those that came later. The newest take first: who takes last has the least left of it,
    /// so the sum is the most that the cap allows, and one event more never makes it less.
    /// </summary>
    public double Given(EngagementSignal signal, int at, double day)
    {
        var used = 0.0;
        for (var i = _grants.Count - 1; i >= 0 && (signal.Once || _grants[i].Day - day < signal.WindowDays); i--)
            if (_grants[i].Signal == at)
            {
                if (signal.Once)
                {
                    // Only the first of all counts, and this one is earlier.
                    _grants.RemoveAt(i);
                    break;
                }
                used += _grants[i].Points;
            }
        // Within the cap whichever sign the points have.
        return signal.Points >= 0 ? Math.Max(0, Math.Min(signal.Points, signal.Cap - used)) : Math.Min(0, Math.Max(signal.Points, -signal.Cap - used));
    }
}
