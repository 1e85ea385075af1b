using System.Collections.Frozen;
using System.Text.RegularExpressions;
using NodaTime;
using NodaTime.Text;

namespace DapperLantern.Core.Fields;

/// <summary>Dates as people write them: ISO 8601, day or month first, month names in five languages, with or without a time of day. A time is taken as UTC unless an offset stands with it.</summary>
public static partial class DateReader
{
    private static readonly FrozenDictionary<string, int> Months = MakeMonths();

    /// <summary>The moment, or null when the text is no date.</summary>
    public static Instant? Read(string text, DateOrder order)
    {
        var match = Iso().Match(text);
        if (match.Success)
            return Make(match, Part(match, "y"), Part(match, "m"), Part(match, "d"));
        match = Numbers().Match(text);
        if (match.Success)
        {
            var (first, second) = (Part(match, "a"), Part(match, "b"));
            if (order == DateOrder.Either)
            {
                var (own, needed) = OrderOf(text);
                if (own is null && needed)
                    return null;
                order = own ?? DateOrder.DayFirst;
            }
            return order == DateOrder.DayFirst ? Make(match, Year(match), second, first) : Make(match, Year(match), first, second);
        }
        match = Named().Match(text);
        return match.Success && Months.TryGetValue(Folding.Heading(match.Groups["name"].Value), out var month) ? Make(match, Year(match), month, Part(match, "d")) : null;
    }

    /// <summary>
    /// The order a written date shows without doubt: a part over 12 is the day; dots stand only between day and month. Null when it does not
    /// tell; and whether it has to be known to read the date: for 03/04/2026, but not for 04/04/2026 or 2026-04-03.
    /// </summary>
    public static (DateOrder? Order, bool Needed) OrderOf(string text)
    {
        // A date with day or month first has its first mark after one or two digits.
        if (text.AsSpan().IndexOfAny('-', '/', '.') is not (1 or 2))
            return (null, false);
        var match = Numbers().Match(text);
        if (!match.Success)
            return (null, false);
        var (first, second) = (Part(match, "a"), Part(match, "b"));
        DateOrder? order =
            first > 12 || match.Groups["by"].ValueSpan is "." ? DateOrder.DayFirst
            : second > 12 ? DateOrder.MonthFirst
            : null;
        return (order, first != second);
    }

    private static Instant? Make(Match match, int year, int month, int day)
    {
        var (hour, minute, second) = (Part(match, "h"), Part(match, "min"), Part(match, "s"));
        if (match.Groups["half"].Value is { Length: > 0 } half)
            hour = hour % 12 + (half.StartsWith("p", StringComparison.OrdinalIgnoreCase) ? 12 : 0);
        if (year is < 1900 or > 2200 || month is < 1 or > 12 || day < 1 || day > CalendarSystem.Iso.GetDaysInMonth(year, month) || hour > 23 || minute > 59 || second > 59)
            return null;
        var at = new LocalDateTime(year, month, day, hour, minute, second);
        if (match.Groups["off"].Value is not { Length: > 0 } written)
            return at.InUtc().ToInstant();
        var offset = Offsets.Parse(written.Length == 5 ? written.Insert(3, ":") : written);
        return offset.Success ? at.WithOffset(offset.Value).ToInstant() : null;
    }

    // +01, +01:00 and +0100, up to 18 hours.
    private static readonly OffsetPattern Offsets = OffsetPattern.GeneralInvariant;

    private static int Part(Match match, string name) => match.Groups[name] is { Success: true, Length: > 0 } group ? int.Parse(group.ValueSpan, null) : 0;

    // Two digits: 69 and later are of the last century (POSIX strptime).
    private static int Year(Match match) => (Part(match, "y"), match.Groups["y"].Length) is (var y, 2) ? y + (y < 69 ? 2000 : 1900) : Part(match, "y");

    private static FrozenDictionary<string, int> MakeMonths()
    {
        string[] languages =
        [
            "january february march april may june july august september october november december",
            "januar februar marz april mai juni juli august september oktober november dezember",
            "janvier fevrier mars avril mai juin juillet aout septembre octobre novembre decembre",
            "enero febrero marzo abril mayo junio julio agosto septiembre octubre noviembre diciembre",
            "januar februar mars april mai juni juli august september oktober november desember",
        ];
        var months = new Dictionary<string, int>();
        foreach (var names in languages.Select(l => l.Split(' ')))
            for (var i = 0; i < 12; i++)
            {
                months.TryAdd(names[i], i + 1);
                if (names[i].Length > 3)
                    months.TryAdd(names[i][..3], i + 1);
                if (names[i].Length > 4)
                    months.TryAdd(names[i][..4], i + 1);
            }
        // "jui" is June as well as July, so it is neither.
        months.Remove("jui");
        return months.ToFrozenDictionary();
    }

    private const string Time =
        @"(?:(?:[T,\s]\s*|\s+(?:at|um|kl\.?)\s+)(?<h>\d{1,2})[:.](?<min>\d{2})(?:[:.](?<s>\d{2})(?:[.,]\d+)?)?\s*(?<half>[aApP]\.?[mM]\.?)?(?:\s*(?:Z|UTC|Uhr|(?<off>[+-]\d{2}(?::?\d{2})?)))?)?$";

    [GeneratedRegex(@"^(?<y>\d{4})[-/.](?<m>\d{1,2})[-/.](?<d>\d{1,2})" + Time)]
    private static partial Regex Iso();

    [GeneratedRegex(@"^(?<a>\d{1,2})(?<by>[-/.])\s?(?<b>\d{1,2})\k<by>\s?(?<y>\d{4}|\d{2})" + Time)]
    private static partial Regex Numbers();

    [GeneratedRegex(
        @"^(?:\p{L}+,?\s+)?(?:(?<d>\d{1,2})(?:\.|st|nd|rd|th)?[-\s]?(?:de\s)?(?<name>\p{L}{3,})\.?|(?<name>\p{L}{3,})\.?\s(?<d>\d{1,2})(?:st|nd|rd|th)?),?[-\s](?:de\s)?(?<y>\d{4}|\d{2})"
            + Time
    )]
    private static partial Regex Named();
}
