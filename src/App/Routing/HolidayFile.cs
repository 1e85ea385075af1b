using Dapper;
using Ical.Net;
using Ical.Net.DataTypes;
using Npgsql;

namespace DapperLantern.App.Routing;

/// <summary>Holidays from an iCalendar file (RFC 5545): every event that lasts whole days, repeated ones over the coming years.</summary>
internal static class HolidayFile
{
    private const int MostDays = 2000;
    private const int MostEvents = 5000;
    private const int YearsAhead = 5;

    /// <returns>The days by date, or a sentence that says what is wrong.</returns>
    public static (IReadOnlyDictionary<DateOnly, string> Days, string? Trouble) Read(string text, DateTime now)
    {
        var none = new Dictionary<DateOnly, string>();
        Calendar? calendar;
        try
        {
            calendar = Calendar.Load(text);
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            return (none, "This is no iCalendar file. Nothing was changed.");
        }
        if (calendar is null)
            return (none, "This is no iCalendar file. Nothing was changed.");
        var days = new Dictionary<DateOnly, string>();
        var from = new CalDateTime(DateOnly.FromDateTime(now).AddYears(-2));
        var until = DateOnly.FromDateTime(now).AddYears(YearsAhead);
        if (calendar.Events.Count > MostEvents)
            return (none, $"There are more than {MostEvents} events in this calendar. Nothing was changed.");
        // A holiday comes again by days at the shortest; a rule by seconds would be worked through one by one.
        if (calendar.Events.Any(e => e.RecurrenceRule is { } r && (r.Frequency is FrequencyType.Secondly or FrequencyType.Minutely or FrequencyType.Hourly || r.Interval < 1)))
            return (none, "A holiday in this calendar comes again by the hour or faster. Nothing was changed.");
        foreach (var holiday in calendar.Events.Where(e => e.IsAllDay))
        foreach (var occurrence in holiday.GetOccurrences(from).TakeWhile(o => o.Period.StartTime.Date <= until).Take(MostDays + 1))
        {
            var first = occurrence.Period.StartTime.Date;
            var last = occurrence.Period.EffectiveEndTime is { } end && end.Date > first ? end.Date.AddDays(-1) : first;
            for (var day = first; day <= last && days.Count <= MostDays; day = day.AddDays(1))
                days.TryAdd(day, holiday.Summary ?? "");
        }
        return days.Count == 0 ? (none, "No whole days stand in this calendar, so there are no holidays in it. Nothing was changed.")
            : days.Count > MostDays ? (none, $"There are more than {MostDays} days in this calendar. Nothing was changed.")
            : (days, null);
    }

    /// <summary>Keeps a list of holidays in place of the one that had its key.</summary>
    public static Task<int> Keep(NpgsqlConnection connection, string key, string name, IReadOnlyDictionary<DateOnly, string> days) =>
        connection.ExecuteAsync(
            """
            insert into holiday_calendar (key, name) values (@key, @name) on conflict (key) do update set name = excluded.name;
            delete from holiday where calendar_key = @key;
            insert into holiday (calendar_key, day, name) select @key, * from unnest(@days, @names);
            """,
            new
            {
                key,
                name,
                days = days.Keys.ToArray(),
                names = days.Values.Select(v => v.Length > 200 ? v[..200] : v).ToArray(),
            }
        );
}
