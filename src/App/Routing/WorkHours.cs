using System.Collections.Frozen;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.Routing;

/// <summary>When people work, holidays included.</summary>
public static class WorkHours
{
    /// <summary>Of everybody, by person.</summary>
    public static async Task<FrozenDictionary<Guid, WorkingHours>> All(LanternDb db)
    {
        var people = await db.Set<Person>().AsNoTracking().ToListAsync();
        var holidays = (await db.Set<HolidayRow>().AsNoTracking().ToListAsync())
            .GroupBy(h => h.CalendarKey)
            .ToDictionary(g => g.Key, g => g.Select(h => LocalDate.FromDateOnly(h.Day)).ToFrozenSet());
        return people.ToFrozenDictionary(p => p.Id, p => p.Hours(p.Holidays is { } key ? holidays.GetValueOrDefault(key, []) : []));
    }
}
