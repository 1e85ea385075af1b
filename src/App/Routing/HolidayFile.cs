using DapperLantern.App.Data;
using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;

namespace DapperLantern.App.Routing;

/// <summary>Holidays from an iCalendar file (RFC 5545), or one of its forerunner vCalendar 1.0: every event that lasts whole days, repeated ones over the coming years.</summary>
internal static class HolidayFile
{
    private const int MostDays = 2000;
    private const int MostEvents = 5000;
    private const int YearsAhead = 5;

    /// <summary>The days of a file, and the events left out because they could not be read, each with its line and the reason.</summary>
    /// <param name="Trouble">Null where there are days.</param>
    public sealed record Holidays(IReadOnlyDictionary<DateOnly, string> Days, IReadOnlyList<string> LeftOut, Problem? Problem);

    /// <summary>Reads every calendar of the file. An event that cannot be read costs that event.</summary>
    public static Holidays Read(string text, DateTime now)
    {
        var (leftOut, good) = (new List<string>(), new List<CalendarEventText>());
        Holidays None(Problem problem) => new(new Dictionary<DateOnly, string>(), leftOut, problem);

        var events = CalendarText.Events(text).Take(MostEvents + 1).ToList();
        if (events.Count > MostEvents)
            return None(Problem.Of("calendar-events", "", MostEvents));
        if (events.Count == 0 && !CalendarText.IsCalendar(text))
            return None(new Problem("calendar-other"));
        var from = new CalDateTime(DateOnly.FromDateTime(now).AddYears(-2));
        foreach (var one in events)
        {
            if (WhyNot(one, from) is { } why)
                leftOut.Add($"Line {one.Line}: {why}");
            else
                good.Add(one);
        }
        // All of them in one calendar, so that an occurrence that was moved is found with its event.
        var calendar = Calendar.Load(CalendarText.Whole(good))!;
        // A holiday comes again by days at the shortest; a rule by seconds would be worked through one by one.
        if (calendar.Events.Any(IsTooOften))
            return None(new Problem("calendar-often"));
        var days = DaysOf(calendar, from, DateOnly.FromDateTime(now).AddYears(YearsAhead));
        return days.Count == 0 ? None(Problem.Of("calendar-empty", "", leftOut.Count > 0 ? $" {leftOut[0]}" : ""))
            : days.Count > MostDays ? None(Problem.Of("calendar-days", "", MostDays))
            : new Holidays(days, leftOut, null);
    }

    private static bool IsTooOften(CalendarEvent e) =>
        e.RecurrenceRule is { } rule && (rule.Frequency is FrequencyType.Secondly or FrequencyType.Minutely or FrequencyType.Hourly || rule.Interval < 1);

    private static string? WhyNot(CalendarEventText one, CalDateTime from)
    {
        if (!one.Closed)
            return "the event has no end.";
        try
        {
            if (Calendar.Load(CalendarText.Whole([one]))?.Events is not [{ Start: not null } read])
                return "the event has no date that can be read.";
            if (!IsTooOften(read))
                _ = read.GetOccurrences(from).Take(1).Count();
            return null;
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            return "the event cannot be read.";
        }
    }

    private static Dictionary<DateOnly, string> DaysOf(Calendar calendar, CalDateTime from, DateOnly until)
    {
        var days = new Dictionary<DateOnly, string>();
        foreach (var holiday in calendar.Events.Where(e => e.IsAllDay))
        foreach (var occurrence in holiday.GetOccurrences(from).TakeWhile(o => o.Period.StartTime.Date <= until).Take(MostDays + 1))
        {
            var first = occurrence.Period.StartTime.Date;
            var last = occurrence.Period.EffectiveEndTime is { } end && end.Date > first ? end.Date.AddDays(-1) : first;
            for (var day = first; day <= last && days.Count <= MostDays; day = day.AddDays(1))
                days.TryAdd(day, holiday.Summary ?? "");
        }
        return days;
    }

    /// <summary>Keeps a list of holidays in place of the one that had its key.</summary>
    public static Task<int> Save(LanternDb db, string key, string name, IReadOnlyDictionary<DateOnly, string> days) =>
        db.Run(
            $"""
            insert into holiday_calendar (key, name) values ({key}, {name}) on conflict (key) do update set name = excluded.name;
            delete from holiday where calendar_key = {key};
            insert into holiday (calendar_key, day, name) select {key}, * from unnest({days.Keys.ToArray()}, {(days.Values.Select(v => v.Length > 200 ? v[..200] : v).ToArray())});
            """
        );
}
