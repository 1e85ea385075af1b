using Microsoft.AspNetCore.Identity;
using NodaTime;

namespace DapperLantern.App.Setup;

/// <summary>Somebody who signs in.</summary>
public sealed class Person : IdentityUser<Guid>
{
    public string DisplayName { get; set; } = "";
    public Role Role { get; set; }

    /// <summary>Zone of the tz database, for instance <c>Europe/Oslo</c>.</summary>
    public string TimeZone { get; set; } = "Europe/London";
    public TimeOnly WorksFrom { get; set; } = new(9, 0);
    public TimeOnly WorksTo { get; set; } = new(17, 0);
    public DateTime? AwayUntil { get; set; }

    /// <summary>Most open leads the person takes.</summary>
    public int Capacity { get; set; } = 60;

    /// <summary>SHA-256 of the private address of the person's calendar; null where there is none.</summary>
    public byte[]? CalendarHash { get; set; }

    public Core.Routing.WorkingHours Hours() =>
        new(DateTimeZoneProviders.Tzdb.GetZoneOrNull(TimeZone) ?? DateTimeZone.Utc, new LocalTime(WorksFrom.Hour, WorksFrom.Minute), new LocalTime(WorksTo.Hour, WorksTo.Minute));

    /// <summary>Two letters for the round mark.</summary>
    public static string Initials(string name) =>
        string.Concat(name.Split(' ', StringSplitOptions.RemoveEmptyEntries).Where((_, i) => i < 2).Select(w => char.ToUpperInvariant(w[0])));
}
