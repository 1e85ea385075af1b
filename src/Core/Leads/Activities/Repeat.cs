using System.Globalization;
using NodaTime;

namespace DapperLantern.Core.Leads.Activities;

/// <summary>How a task comes again: every so many days, weeks or months, at the same time of day where its owner lives.</summary>
public sealed record Repeat
{
    private const int MostEvery = 60;

    private Repeat(int every, char unit) => (Every, Unit) = (every, unit);

    public int Every { get; }

    /// <summary>d, w or m.</summary>
    public char Unit { get; }

    /// <summary>Reads "1w", "2m", "10d".</summary>
    /// <returns>Null for what is none of these, or comes less often than every 60 of them.</returns>
    public static Repeat? Read(string? text) =>
        text is { Length: >= 2 and <= 3 }
        && text[^1] is 'd' or 'w' or 'm'
        && int.TryParse(text.AsSpan(0, text.Length - 1), NumberStyles.None, CultureInfo.InvariantCulture, out var every)
        && every is >= 1 and <= MostEvery
            ? new Repeat(every, text[^1])
            : null;

    public override string ToString() => $"{Every}{Unit}";

    /// <summary>
    /// The next time it is due that lies after <paramref name="now"/>: what was missed is not done several times. The day of the month is kept where the month has it, else its last;
    /// a time of day that a change of clocks leaves out is moved past the gap.
    /// </summary>
    public Instant Next(Instant due, Instant now, DateTimeZone zone)
    {
        var first = due.InZone(zone).LocalDateTime;
        for (var times = 1; ; times++)
        {
            var next = first.Plus(PeriodOf(times)).InZoneLeniently(zone).ToInstant();
            if (next > now && next > due)
                return next;
        }
    }

    private Period PeriodOf(int times) =>
        Unit switch
        {
            'd' => Period.FromDays(Every * times),
            'w' => Period.FromWeeks(Every * times),
            _ => Period.FromMonths(Every * times),
        };
}
