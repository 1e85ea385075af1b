using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;

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
        List<ContentLine>? lines = null;
        CalendarEventText Made(bool closed) => new(began, closed, [.. Rewritten(lines!, old).Select(p => $"{p.Name}{p.Parameters}:{p.Value}")]);
        foreach (var (number, line) in Unfolded(text))
        {
            if (ContentLine.Parse(line) is not { } property)
                continue;
            var opens = property is { Name: "BEGIN" };
            if (opens && Is(property, "VEVENT"))
            {
                if (lines is not null)
                    yield return Made(closed: false);
                (lines, began, within, calledOff) = ([], number, 0, false);
            }
            else if (opens && Is(property, "VCALENDAR"))
                old = false;
            else if (lines is null)
                old = property is { Name: "VERSION" } ? Is(property, "1.0") : old;
            else if (property is { Name: "END" } && Is(property, "VEVENT"))
            {
                if (!calledOff)
                    yield return Made(closed: true);
                lines = null;
            }
            // Alarms and the like stand within an event and have dates of their own.
            else if (opens || property.Name == "END")
                within += opens ? 1 : -1;
            else if (within == 0 && Kept.Contains(property.Name))
                lines.Add(property with { Value = property.Value.Trim() });
            else if (within == 0 && property is { Name: "STATUS" })
                calledOff = Is(property, "CANCELLED");
        }
        if (lines is not null)
            yield return Made(closed: false);
    }

    private static IEnumerable<(int Number, string Line)> Unfolded(string text)
    {
        var (number, began, unfolding) = (0, 1, new ContentLine.Unfolding());
        using var reader = new StringReader(text);
        while (reader.ReadLine() is { } line)
        {
            number++;
            if (unfolding.Add(line) is not { } ended)
                continue;
            yield return (began, ended);
            began = number;
        }
        if (unfolding.End() is { } last)
            yield return (began, last);
    }

    private static IEnumerable<ContentLine> Rewritten(List<ContentLine> lines, bool old)
    {
        var wholeDays = old && lines.Where(p => p.Name is "DTSTART" or "DTEND").All(p => Midnight().IsMatch(p.Value)) && lines.Any(p => p is { Name: "DTSTART" });
        foreach (var line in lines)
            switch (line.Name)
            {
                case "SUMMARY":
                    yield return new ContentLine("SUMMARY", "", line.IsQuotedPrintable ? Escaped(line.Decoded()) : line.Value);
                    break;
                case "DTSTART" or "DTEND" when wholeDays && line.Value.Length > 8:
                    yield return new ContentLine(line.Name, ";VALUE=DATE", Day(line.Value, isEnd: line.Name == "DTEND"));
                    break;
                case "DTSTART" or "DTEND" when line.Value.Length == 8:
                    yield return new ContentLine(line.Name, ";VALUE=DATE", line.Value);
                    break;
                case "RRULE" when old:
                    yield return new ContentLine("RRULE", "", Rule(line.Value));
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

    private static bool Is(ContentLine line, string value) => line.Value.Trim().Equals(value, StringComparison.OrdinalIgnoreCase);

    // What quoted-printable held, in the escapes of RFC 5545.
    private static string Escaped(string text) =>
        text.Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace("\r\n", "\\n", StringComparison.Ordinal)
            .Replace("\n", "\\n", StringComparison.Ordinal)
            .Replace(",", "\\,", StringComparison.Ordinal)
            .Replace(";", "\\;", StringComparison.Ordinal);
}
