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
        var (first, last) = (from.InZone(Zone).Date, to.InZone(Zone).Date);
        var sum = Within(first, from, to);
        if (first == last)
            return sum;
        sum += Within(last, from, to);
        // The days between are whole ones, and as long as the clock says but where the zone changes its clocks.
        var usual = Period.Between(From, To).ToDuration();
        sum += usual * Workdays(first.PlusDays(1), last);
        foreach (
            var changed in Zone.GetZoneIntervals(from, to).Where(z => z.HasEnd && z.End < to).SelectMany(z => new[] { z.IsoLocalEnd.Date, z.End.InZone(Zone).Date }).Distinct()
        )
            if (changed > first && changed < last && IsWorkday(changed))
                sum += Within(changed, from, to) - usual;
        return sum;
    }

    private Duration Within(LocalDate date, Instant from, Instant to)
    {
        if (!IsWorkday(date))
            return Duration.Zero;
        var (opens, closes) = Day(date);
        return Duration.Max(Duration.Zero, Instant.Min(closes, to) - Instant.Max(opens, from));
    }

    // From a day up to, and without, another one.
    private static int Workdays(LocalDate from, LocalDate until)
    {
        var days = Period.DaysBetween(from, until);
        if (days <= 0)
            return 0;
        var count = days / 7 * 5;
        for (var date = from.PlusDays(days / 7 * 7); date < until; date = date.PlusDays(1))
            if (IsWorkday(date))
                count++;
        return count;
    }

    private (Instant Opens, Instant Closes) Day(LocalDate date) => (At(date, From), At(date, To));

    private Instant At(LocalDate date, LocalTime time) => (date + time).InZoneLeniently(Zone).ToInstant();

    private static bool IsWorkday(LocalDate date) => date.DayOfWeek is not (IsoDayOfWeek.Saturday or IsoDayOfWeek.Sunday);
}
