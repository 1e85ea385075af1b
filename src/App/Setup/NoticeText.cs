using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;

namespace DapperLantern.App.Setup;

/// <summary>Moments within the text of a message to one of us: kept as <c>{at:2026-11-29T10:00:00Z}</c>, shown in the reader's own time zone.</summary>
public static partial class NoticeText
{
    public static string At(DateTime? moment) => moment is { } at ? $"{{at:{at.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture)}}}" : "the promised time";

    /// <summary>SQL of the same, for an expression that is a timestamp with time zone.</summary>
    public static string AtSql(string expression) => $$"""'{at:' || to_char({{expression}} at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') || '}'""";

    /// <param name="zone">Name in the tz database; UTC where it is unknown.</param>
    public static string For(string text, string zone)
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
