using System.Globalization;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;
using NodaTime.Text;

namespace DapperLantern.Core.Leads;

/// <summary>How values come together in groups.</summary>
public enum Grain
{
    /// <summary>Each value by itself.</summary>
    Value,
    Day,

    /// <summary>From Monday on (ISO 8601).</summary>
    Week,
    Month,
    Year,

    /// <summary>Scores by 20, other numbers by powers of ten.</summary>
    Band,
}

/// <summary>
/// What a list is grouped by, written <c>source</c> or <c>created_at:week</c>. Groups have keys: the value; the first day of a day, week, month or year as
/// 2026-11-01; the lower bound of a band; and none for what is not known.
/// </summary>
public sealed record Grouping(FieldDefinition Field, Grain Grain)
{
    private const int ScoreBand = 20;
    private const int HighestScore = 100;

    /// <summary>Numbers that end at 100 are put together by 20; others by powers of ten.</summary>
    public bool ByScore => Field.Key is "fit" or "engagement";

    /// <summary>Reads a grouping. Dates go by month and numbers by band unless more is said. A problem when it is no field one can group by.</summary>
    public static (Grouping?, Problem?) Read(string text, FieldCatalogue catalogue)
    {
        var parts = text.Split(':');
        if (catalogue.Asked(parts[0]) is not { Many: false, Origin: not FieldOrigin.Arrival } field || parts.Length > 2)
            return (null, new Problem("group-unknown", "group", parts[0]));
        var usual =
            field.Type == FieldType.Date ? Grain.Month
            : field.IsNumeric ? Grain.Band
            : Grain.Value;
        if (parts.Length == 1)
            return (new Grouping(field, usual), null);
        return Enum.TryParse<Grain>(parts[1], true, out var grain) && Enum.IsDefined(grain) && Fits(grain, usual)
            ? (new Grouping(field, grain), null)
            : (null, new Problem("group-unknown", "group", text));
    }

    private static bool Fits(Grain grain, Grain usual) => usual == Grain.Month ? grain is Grain.Day or Grain.Week or Grain.Month or Grain.Year : grain == usual;

    /// <summary>The condition that holds of just the members of a group.</summary>
    /// <param name="key">Null for what is not known.</param>
    /// <param name="zone">In which days begin.</param>
    public Condition Of(string? key, DateTimeZone zone)
    {
        if (key is null)
            return new Not(Condition.Where(Field.Key, TestOperator.Known));
        if (Grain == Grain.Value)
            return Condition.Where(Field.Key, TestOperator.In, key);
        if (Grain == Grain.Band)
            return OfBand(decimal.Parse(key, CultureInfo.InvariantCulture));
        var first = LocalDatePattern.Iso.Parse(key).Value;
        return new AllOf([At(TestOperator.Since, first), At(TestOperator.Before, Next(first))]);
        Condition At(TestOperator test, LocalDate day) => Condition.Where(Field.Key, test, InstantPattern.ExtendedIso.Format(day.AtStartOfDayInZone(zone).ToInstant()));
    }

    private Condition OfBand(decimal lower)
    {
        var from = ByScore || lower > 0 ? Condition.Where(Field.Key, TestOperator.AtLeast, Text(lower)) : Condition.Where(Field.Key, TestOperator.Known);
        return EndOf(lower) is { } end ? new AllOf([from, new Not(Condition.Where(Field.Key, TestOperator.AtLeast, Text(end)))]) : from;
    }

    // The highest band of a score has its end in it.
    private decimal? EndOf(decimal lower) =>
        ByScore
            ? lower + ScoreBand < HighestScore
                ? lower + ScoreBand
                : null
            : lower == 0
                ? 1
                : lower * 10;

    /// <summary>A group's name for people.</summary>
    public string LabelOf(string? key)
    {
        if (key is null)
            return Field.Key == "owner" ? "no owner" : "not known";
        if (Grain == Grain.Value)
            return Field.Show(key);
        if (Grain == Grain.Band)
            return BandLabel(decimal.Parse(key, CultureInfo.InvariantCulture));
        var first = LocalDatePattern.Iso.Parse(key).Value;
        return Grain switch
        {
            Grain.Year => $"{first.Year}",
            Grain.Month => Format(first, "MMM uuuu"),
            Grain.Week => $"week of {Format(first, "d MMM uuuu")}",
            _ => Format(first, "d MMM uuuu"),
        };
    }

    private string BandLabel(decimal lower) =>
        ByScore ? $"{Text(lower)} to {Text(EndOf(lower) - 1 ?? HighestScore)}"
        : lower == 0 ? "under 1"
        : $"{Text(lower)} to under {Text(lower * 10)}";

    private LocalDate Next(LocalDate first) =>
        Grain switch
        {
            Grain.Day => first.PlusDays(1),
            Grain.Week => first.PlusWeeks(1),
            Grain.Month => first.PlusMonths(1),
            _ => first.PlusYears(1),
        };

    private static string Format(LocalDate day, string pattern) => LocalDatePattern.CreateWithInvariantCulture(pattern).Format(day);

    private static string Text(decimal number) => number.ToString("0", CultureInfo.InvariantCulture);
}
