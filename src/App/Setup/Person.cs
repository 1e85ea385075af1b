using System.Collections.Frozen;
using System.Linq.Expressions;
using DapperLantern.App.Data;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.Setup;

/// <summary>Somebody who signs in.</summary>
public sealed class Person : IdentityUser<Guid>
{
    public string DisplayName { get; set; } = "";

    /// <summary>Keys of their roles; one at least.</summary>
    public string[] Roles { get; set; } = [ShippedRoles.Rep];

    /// <summary>Zone of the tz database, for instance <c>Europe/Oslo</c>.</summary>
    public string TimeZone { get; set; } = "Europe/London";
    public TimeOnly WorksFrom { get; set; } = new(9, 0);
    public TimeOnly WorksTo { get; set; } = new(17, 0);

    /// <summary>The working days, as bits; see <see cref="WeekDays"/>.</summary>
    public int WorksDays { get; set; } = WeekDays.MondayToFriday;

    /// <summary>Key of the list of holidays the person keeps; null for none.</summary>
    public string? Holidays { get; set; }

    /// <summary>Most open leads the person takes.</summary>
    public int Capacity { get; set; } = 60;

    /// <summary>Most leads the person is given on one of their days; null for no such limit.</summary>
    public int? CapacityToday { get; set; }

    /// <summary>Keys of languages and skills, and the countries and regions (ISO 3166) the person serves.</summary>
    public string[] Languages { get; set; } = [];
    public string[] Skills { get; set; } = [];
    public string[] Serves { get; set; } = [];

    /// <summary>The person they report to; null for nobody.</summary>
    public Guid? ManagerId { get; set; }

    /// <summary>The mark the person writes before decimals: either (asks where it matters), point or comma.</summary>
    public string Numbers { get; set; } = "Either";

    /// <summary>The order in which the person reads and writes a date.</summary>
    public DateForm Dates { get; set; } = DateForm.DayFirst;

    /// <summary>Stands under the messages they send; empty for none.</summary>
    public string Signature { get; set; } = "";

    /// <summary>False for somebody who works here no more; they cannot sign in, and get no leads.</summary>
    public bool Here { get; set; } = true;

    /// <summary>Row version of what an administrator writes of them.</summary>
    public int Version { get; set; } = 1;

    /// <summary>SHA-256 of the private address of the person's calendar; null where there is none.</summary>
    public byte[]? CalendarHash { get; set; }

    /// <summary>The hours with some holidays; <see cref="WorkspaceConfiguration.Hours"/> has everybody's.</summary>
    public WorkingHours Hours(FrozenSet<LocalDate> holidays) =>
        new(Zone, new LocalTime(WorksFrom.Hour, WorksFrom.Minute), new LocalTime(WorksTo.Hour, WorksTo.Minute)) { Days = WorksDays, Holidays = holidays };

    public DateTimeZone Zone => DateTimeZoneProviders.Tzdb.GetZoneOrNull(TimeZone) ?? DateTimeZone.Utc;

    /// <summary>The person who signs in by this name, or by this email address.</summary>
    public static IQueryable<Person> Named(LanternDb db, string name)
    {
        var normalized = name.Trim().ToUpperInvariant();
        return db.Users.Where(p => p.NormalizedUserName == normalized || p.NormalizedEmail == normalized).OrderByDescending(p => p.NormalizedUserName == normalized).Take(1);
    }

    /// <summary>Is this one of us, who works here now?</summary>
    public static Task<bool> IsHere(LanternDb db, Guid id) => db.Users.AnyAsync(p => p.Id == id && p.Here);

    /// <summary>Names of everybody, those who left among them.</summary>
    public static Task<Dictionary<Guid, string>> Names(LanternDb db) => db.Users.Select(p => new { p.Id, p.DisplayName }).ToDictionaryAsync(p => p.Id, p => p.DisplayName);

    /// <summary>Holds of those who have one of the roles.</summary>
    /// <param name="roles">Keys of roles.</param>
    public static Expression<Func<Person, bool>> HasAny(string[] roles) => p => p.Roles.Any(r => roles.Contains(r));

    /// <summary>The name somebody of us goes by.</summary>
    public static Task<string> NameOf(LanternDb db, Guid id) => db.Users.Where(p => p.Id == id).Select(p => p.DisplayName).SingleAsync();

    /// <summary>Two letters for the round mark.</summary>
    public static string Initials(string name) =>
        string.Concat(name.Split(' ', StringSplitOptions.RemoveEmptyEntries).Where((_, i) => i < 2).Select(w => char.ToUpperInvariant(w[0])));
}
