using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;

namespace DapperLantern.Core.Events;

/// <summary>Moments within the text of a message to one of us: kept as <c>{at:2026-11-29T10:00:00Z}</c>, shown in the reader's own time zone.</summary>
public static partial class MomentText
{
    public static string Of(DateTimeOffset moment) => $"{{at:{moment.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture)}}}";

    /// <summary>The text with its moments as people read them.</summary>
    /// <param name="zone">Name in the tz database; UTC where it is unknown.</param>
    public static string Shown(string text, string zone)
    {
        var where = DateTimeZoneProviders.Tzdb.GetZoneOrNull(zone) ?? DateTimeZone.Utc;
        return Moment()
            .Replace(
                text,
                m =>
                    $"{Instant.FromDateTimeUtc(DateTime.Parse(m.Groups[1].Value, CultureInfo.InvariantCulture, DateTimeStyles.AdjustToUniversal)).InZone(where).ToString("ddd d MMM yyyy, HH:mm", CultureInfo.InvariantCulture)} ({where.Id})"
            );
    }

    [GeneratedRegex(@"\{at:(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ)\}")]
    private static partial Regex Moment();
}
