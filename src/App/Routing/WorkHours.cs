using System.Collections.Frozen;
using Dapper;
using DapperLantern.App.Setup;
using DapperLantern.Core.Routing;
using NodaTime;
using Npgsql;

namespace DapperLantern.App.Routing;

/// <summary>When people work, holidays included.</summary>
public static class WorkHours
{
    /// <summary>Of everybody, by person.</summary>
    public static async Task<FrozenDictionary<Guid, WorkingHours>> All(NpgsqlConnection connection)
    {
        var people = await connection.QueryAsync<Person>("select id, time_zone, works_from, works_to, works_days, holidays from person");
        var holidays = (await connection.QueryAsync<HolidayRow>("select calendar_key, day from holiday"))
            .GroupBy(h => h.CalendarKey)
            .ToDictionary(g => g.Key, g => g.Select(h => LocalDate.FromDateOnly(h.Day)).ToFrozenSet());
        return people.ToFrozenDictionary(p => p.Id, p => p.Hours(p.Holidays is { } key ? holidays.GetValueOrDefault(key, []) : []));
    }
}
