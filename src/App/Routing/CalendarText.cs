using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;

namespace DapperLantern.App.Routing;

/// <summary>One event of a calendar file as its property lines, unfolded, in the form of RFC 5545.</summary>
/// <param name="Line">Where it begins; the first line of the file is 1.</param>
/// <param name="Closed">False where its end is missing.</param>
internal sealed record CalendarEventText(int Line, bool Closed, IReadOnlyList<string> Lines);

/// <summary>
/// Takes calendar files apart into events before they are read, so that one event that cannot be read does not cost the others; a file may hold several calendars.
/// vCalendar 1.0 is rewritten as RFC 5545: whole days from midnight to midnight, and its rules of repetition.
/// </summary>
internal static partial class CalendarText
{
    // What days depend on. Other lines are left out, for an error in them costs nothing.
    private static readonly HashSet<string> Kept = ["UID", "DTSTART", "DTEND", "DURATION", "SUMMARY", "RRULE", "RDATE", "EXDATE", "RECURRENCE-ID"];

    public static bool IsCalendar(string text) => text.Contains("BEGIN:VCALENDAR", StringComparison.OrdinalIgnoreCase);

    /// <summary>A file of one calendar that holds the events.</summary>
    public static string Whole(IReadOnlyList<CalendarEventText> events)
    {
        var text = new StringBuilder("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Dapper Lantern//Holidays//EN\r\n");
        foreach (var one in events)
            text.Append("BEGIN:VEVENT\r\n").AppendJoin("\r\n", one.Lines).Append("\r\nEND:VEVENT\r\n");
        return text.Append("END:VCALENDAR\r\n").ToString();
    }

    /// <summary>Every event, called-off ones excepted.</summary>
    public static IEnumerable<CalendarEventText> Events(string text)
    {
        var (old, began, within, calledOff) = (false, 0, 0, false);
        List<Property>? lines = null;
        CalendarEventText Made(bool closed) => new(began, closed, [.. Rewritten(lines!, old).Select(p => p.Written)]);
        foreach (var (number, line) in Unfolded(text))
        {
            if (Property.Parse(line) is not { } property)
                continue;
            var opens = property is { Name: "BEGIN" };
            if (opens && property.Is("VEVENT"))
            {
                if (lines is not null)
                    yield return Made(closed: false);
                (lines, began, within, calledOff) = ([], number, 0, false);
            }
            else if (opens && property.Is("VCALENDAR"))
                old = false;
            else if (lines is null)
                old = property is { Name: "VERSION" } ? property.Is("1.0") : old;
            else if (property is { Name: "END" } && property.Is("VEVENT"))
            {
                if (!calledOff)
                    yield return Made(closed: true);
                lines = null;
            }
            // Alarms and the like stand within an event and have dates of their own.
            else if (opens || property.Name == "END")
                within += opens ? 1 : -1;
            else if (within == 0 && Kept.Contains(property.Name))
                lines.Add(property);
            else if (within == 0 && property is { Name: "STATUS" })
                calledOff = property.Is("CANCELLED");
        }
        if (lines is not null)
            yield return Made(closed: false);
    }

    // A line that begins with a space goes on the one before; so does the one behind a soft break of quoted-printable.
    private static IEnumerable<(int Number, string Line)> Unfolded(string text)
    {
        var (number, began) = (0, 1);
        StringBuilder? whole = null;
        using var reader = new StringReader(text);
        while (reader.ReadLine() is { } line)
        {
            number++;
            if (whole is not null && line.Length > 0 && line[0] is ' ' or '\t')
                whole!.Append(line.AsSpan(1));
            else if (whole is not null && IsBroken(whole))
                whole.Remove(whole.Length - 1, 1).Append(line);
            else
            {
                if (whole is not null)
                    yield return (began, whole.ToString());
                (whole, began) = (new StringBuilder(line), number);
            }
        }
        if (whole is not null)
            yield return (began, whole.ToString());
    }

    private static bool IsBroken(StringBuilder line) =>
        line.Length > 0 && line[^1] == '=' && line.ToString().Split(':', 2)[0].Contains("QUOTED-PRINTABLE", StringComparison.OrdinalIgnoreCase);

    private static IEnumerable<Property> Rewritten(List<Property> lines, bool old)
    {
        var wholeDays = old && lines.Where(p => p.Name is "DTSTART" or "DTEND").All(p => Midnight().IsMatch(p.Value)) && lines.Any(p => p is { Name: "DTSTART" });
        foreach (var line in lines)
            switch (line.Name)
            {
                case "SUMMARY":
                    yield return new Property("SUMMARY", "", line.Decoded);
                    break;
                case "DTSTART" or "DTEND" when wholeDays && line.Value.Length > 8:
                    yield return new Property(line.Name, ";VALUE=DATE", Day(line.Value, isEnd: line.Name == "DTEND"));
                    break;
                case "DTSTART" or "DTEND" when line.Value.Length == 8:
                    yield return new Property(line.Name, ";VALUE=DATE", line.Value);
                    break;
                case "RRULE" when old:
                    yield return new Property("RRULE", "", Rule(line.Value));
                    break;
                default:
                    yield return line;
                    break;
            }
    }

    // The end stands for the first moment that is no part of the event, also where it is written as the last second of a day.
    private static string Day(string value, bool isEnd) =>
        isEnd
        && value[9..15] != "000000"
        && DateOnly.TryParseExact(value[..8], "yyyyMMdd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
        && day < DateOnly.MaxValue
            ? day.AddDays(1).ToString("yyyyMMdd", CultureInfo.InvariantCulture)
            : value[..8];

    // "YM1 12 #0" is yearly, in December, for ever; "D2 #5" every second day, five times; "W1 20271231T000000" weekly until then (vCalendar 1.0, section 2.1.7).
    private static string Rule(string old)
    {
        if (OldRule().Match(old.Trim()) is not { Success: true } match)
            return old;
        var frequency = match.Groups["kind"].Value switch
        {
            "D" => "DAILY",
            "W" => "WEEKLY",
            "MP" or "MD" => "MONTHLY",
            _ => "YEARLY",
        };
        var end =
            match.Groups["until"] is { Success: true } until ? $";UNTIL={until.Value[..8]}"
            : match.Groups["times"] is { Success: true, Value: not "0" } times ? $";COUNT={times.Value}"
            : "";
        return $"FREQ={frequency};INTERVAL={match.Groups["every"].Value}{end}";
    }

    [GeneratedRegex(@"^\d{8}(T(000000|235900|235959|240000)Z?)?$")]
    private static partial Regex Midnight();

    [GeneratedRegex(@"^(?<kind>D|W|MP|MD|YM|YD)(?<every>\d{1,3})( (?!\d{8})[^ #]+)*( #(?<times>\d{1,4})| (?<until>\d{8})(T\d{6}Z?)?)?$")]
    private static partial Regex OldRule();

    private sealed record Property(string Name, string Parameters, string Value)
    {
        public string Written => $"{Name}{Parameters}:{Value}";

        public bool Is(string value) => Value.Trim().Equals(value, StringComparison.OrdinalIgnoreCase);

        public static Property? Parse(string line)
        {
            var colon = line.IndexOf(':', StringComparison.Ordinal);
            // A colon within quotes is part of a parameter.
            while (colon > 0 && line.AsSpan(0, colon).Count('"') % 2 == 1)
                colon = line.IndexOf(':', colon + 1);
            if (colon <= 0)
                return null;
            var head = line[..colon];
            var semicolon = head.IndexOf(';', StringComparison.Ordinal);
            return new Property((semicolon < 0 ? head : head[..semicolon]).Trim().ToUpperInvariant(), semicolon < 0 ? "" : head[semicolon..], line[(colon + 1)..].Trim());
        }

        /// <summary>The value without quoted-printable, in the escapes of RFC 5545.</summary>
        public string Decoded
        {
            get
            {
                if (!Parameters.Contains("QUOTED-PRINTABLE", StringComparison.OrdinalIgnoreCase))
                    return Value;
                var bytes = Encoding.Latin1.GetBytes(Value);
                var decoder = new MimeKit.Encodings.QuotedPrintableDecoder();
                var output = new byte[decoder.EstimateOutputLength(bytes.Length)];
                var length = decoder.Decode(bytes, 0, bytes.Length, output);
                var text = Encoding.UTF8.GetString(output, 0, length);
                return text.Replace("\\", "\\\\", StringComparison.Ordinal)
                    .Replace("\r\n", "\\n", StringComparison.Ordinal)
                    .Replace("\n", "\\n", StringComparison.Ordinal)
                    .Replace(",", "\\,", StringComparison.Ordinal)
                    .Replace(";", "\\;", StringComparison.Ordinal);
            }
        }
    }
}
