using NodaTime;

namespace DapperLantern.Core.Routing;

/// <summary>When a rep works: Monday to Friday between two local times in one zone. Daylight saving is the zone's.</summary>
/// <param name="From">Start of the day, before <paramref name="To"/>.</param>
public sealed record WorkingHours(DateTimeZone Zone, LocalTime From, LocalTime To)
{
    /// <summary>The moment at which <paramref name="work"/> of working time has passed since <paramref name="start"/>.</summary>
    public Instant After(Instant start, Duration work)
    {
        var date = start.InZone(Zone).Date;
        for (var left = work; ; date = date.PlusDays(1))
        {
            if (!IsWorkday(date))
                continue;
            var (opens, closes) = Day(date);
            var from = Instant.Max(opens, start);
            var today = closes - from;
            if (today <= Duration.Zero)
                continue;
            if (left <= today)
                return from + left;
            left -= today;
        }
    }

    /// <summary>Working time between two moments; negative when <paramref name="to"/> is the earlier one.</summary>
    public Duration Between(Instant from, Instant to)
    {
        if (to < from)
            return -Between(to, from);
        var sum = Duration.Zero;
        for (var date = from.InZone(Zone).Date; date <= to.InZone(Zone).Date; date = date.PlusDays(1))
        {
            if (!IsWorkday(date))
                continue;
            var (opens, closes) = Day(date);
            var part = Instant.Min(closes, to) - Instant.Max(opens, from);
            if (part > Duration.Zero)
                sum += part;
        }
        return sum;
    }

    private (Instant Opens, Instant Closes) Day(LocalDate date) => (At(date, From), At(date, To));

    private Instant At(LocalDate date, LocalTime time) => (date + time).InZoneLeniently(Zone).ToInstant();

    private static bool IsWorkday(LocalDate date) => date.DayOfWeek is not (IsoDayOfWeek.Saturday or IsoDayOfWeek.Sunday);
}
