using System.Collections.Frozen;
using NodaTime;

namespace DapperLantern.Core.Routing;

/// <summary>When a rep works: on some days of the week, between two local times in one zone, but not on holidays. Daylight saving is the zone's.</summary>
/// <param name="From">Start of the day, before <paramref name="To"/>.</param>
public sealed record WorkingHours(DateTimeZone Zone, LocalTime From, LocalTime To)
{
    /// <summary>The working days, of <see cref="WeekDays"/>.</summary>
    public int Days { get; init; } = WeekDays.MondayToFriday;

    /// <summary>Days off, in the zone's calendar.</summary>
    public FrozenSet<LocalDate> Holidays { get; init; } = [];

    /// <summary>False when no time is ever worked; a clock in such hours would never run out.</summary>
    public bool HasHours => To > From && (Days & WeekDays.All) != 0;

    /// <summary>True at a moment of work; the end of the day is none.</summary>
    public bool At(Instant moment)
    {
        var local = moment.InZone(Zone);
        return local.TimeOfDay >= From && local.TimeOfDay < To && IsWorkday(local.Date);
    }

    /// <summary>The moment at which <paramref name="work"/> of working time has passed since <paramref name="start"/>. Where there are no hours, all time counts.</summary>
    public Instant After(Instant start, Duration work)
    {
        if (!HasHours)
            return start + work;
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
        if (!HasHours)
            return to - from;
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

    // From a day up to, and without, another one: whole weeks at once, the rest day by day, then without the holidays.
    private int Workdays(LocalDate from, LocalDate until)
    {
        var days = Period.DaysBetween(from, until);
        if (days <= 0)
            return 0;
        var count = days / 7 * int.PopCount(Days & WeekDays.All);
        for (var date = from.PlusDays(days / 7 * 7); date < until; date = date.PlusDays(1))
            if (WeekDays.Has(Days, date.DayOfWeek))
                count++;
        foreach (var holiday in Holidays)
            if (holiday >= from && holiday < until && WeekDays.Has(Days, holiday.DayOfWeek))
                count--;
        return count;
    }

    private (Instant Opens, Instant Closes) Day(LocalDate date) => (MomentOf(date, From), MomentOf(date, To));

    private Instant MomentOf(LocalDate date, LocalTime time) => (date + time).InZoneLeniently(Zone).ToInstant();

    private bool IsWorkday(LocalDate date) => WeekDays.Has(Days, date.DayOfWeek) && !Holidays.Contains(date);
}

/// <summary>Days of the week as bits: Monday is 1, Sunday 64.</summary>
public static class WeekDays
{
    public const int MondayToFriday = 0b001_1111;
    public const int All = 0b111_1111;

    public static bool Has(int days, IsoDayOfWeek day) => (days & (1 << ((int)day - 1))) != 0;
}
