using NodaTime;

namespace DapperLantern.App.Data;

/// <summary>Between the database's and the wire's moments (UTC <see cref="DateTime"/>) and Core's.</summary>
public static class Moments
{
    public static Instant ToInstant(this DateTime utc) => Instant.FromDateTimeUtc(DateTime.SpecifyKind(utc, DateTimeKind.Utc));

    public static DateTime ToUtc(this Instant moment) => moment.ToDateTimeUtc();

    /// <summary>Now, to the microsecond that PostgreSQL keeps.</summary>
    public static DateTime UtcNow(this TimeProvider clock)
    {
        var now = clock.GetUtcNow().UtcDateTime;
        return now.AddTicks(-(now.Ticks % 10));
    }
}
