using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.Core.Routing.Checking;

/// <summary>
/// The values of a field that can differ to a set of tests: every value a test names, one between each two, one beyond them, and none at all. Whoever meets some of
/// the tests meets them at one of these.
/// </summary>
internal static class AxisPoints
{
    /// <summary>The moment that tests of days are asked at; only the distance from it counts.</summary>
    public static readonly Instant Asked = Instant.FromUtc(2026, 1, 1, 12, 0);

    // The program itself says these of every lead that is routed.
    private static readonly HashSet<string> Always = ["state", "source", "fit", "engagement", "next_move", "created_at", "last_touch_at"];

    /// <summary>True of a field whose tests ask what a text contains, so that its values cannot be listed.</summary>
    public static bool AreWords(FieldDefinition field, IEnumerable<Test> tests) => !IsClosed(field) && tests.Any(t => t.Operator == TestOperator.Contains);

    private static bool IsClosed(FieldDefinition field) => field.Choices.Length > 0 || field.Type is FieldType.Country or FieldType.Region;

    /// <summary>The likeliest first; not known comes last.</summary>
    public static IEnumerable<FieldValue> Of(FieldDefinition field, IReadOnlyCollection<Test> tests, Bars? bars)
    {
        var known =
            field.IsNumeric ? Numbers(field, tests, bars)
            : field.Type == FieldType.Date ? Dates(tests)
            : field.Type == FieldType.Country ? Countries.All.Select(c => FieldValue.Of(c.Code))
            : field.Choices.Length > 0 ? field.Choices.Select(c => FieldValue.Of(c.Key))
            : Texts(tests);
        return Always.Contains(field.Key) ? known : known.Append(FieldValue.Unknown);
    }

    /// <summary>The texts that tests name as a whole.</summary>
    public static IEnumerable<string> Named(IEnumerable<Test> tests) => tests.Where(t => t.Operator == TestOperator.In).SelectMany(t => t.Values).Distinct();

    private static IEnumerable<FieldValue> Numbers(FieldDefinition field, IReadOnlyCollection<Test> tests, Bars? bars)
    {
        var breaks = tests.SelectMany(t => t.Values).Select(v => FieldValue.Parse(FieldType.Number, v).Number).ToHashSet();
        if (bars is not null && field.Key is "fit" or "engagement")
            breaks.UnionWith([field.Key == "fit" ? bars!.Fit : bars!.Engagement, Math.Max(0, (field.Key == "fit" ? bars.Fit : bars.Engagement) - bars.Slack)]);
        var whole = field.Counts || BuiltInFields.WholeNumbers.Contains(field.Key);
        var (least, most) =
            field.Key is "fit" or "engagement" ? (0m, 100m)
            : field.Counts || field.Key == "silent_days" ? (0m, decimal.MaxValue)
            : (decimal.MinValue, decimal.MaxValue);
        return Around([.. breaks.Order()], whole).Where(n => n >= least && n <= most && (!whole || decimal.IsInteger(n))).Distinct().Select(n => FieldValue.Of(n));
    }

    private static IEnumerable<decimal> Around(decimal[] breaks, bool whole)
    {
        if (breaks.Length == 0)
            yield return 1;
        for (var i = 0; i < breaks.Length; i++)
        {
            yield return breaks[i];
            yield return whole ? Math.Floor(breaks[i]) + 1
            : i + 1 < breaks.Length ? (breaks[i] + breaks[i + 1]) / 2
            : breaks[i] + 1;
            if (whole)
                yield return Math.Ceiling(breaks[i]) - 1;
        }
        if (breaks.Length > 0 && !whole)
            yield return breaks[0] - 1;
    }

    // Moments that tests name, or that lie days before the moment of asking, with those just before and after.
    private static IEnumerable<FieldValue> Dates(IReadOnlyCollection<Test> tests)
    {
        var step = Duration.FromSeconds(1);
        var named = tests.Where(t => t.Operator is TestOperator.Since or TestOperator.Before).Select(t => FieldValue.Parse(FieldType.Date, t.Values[0]).Moment);
        var ago = tests.Where(t => ConditionCheck.IsDays(t.Operator)).Select(t => Asked - Duration.FromDays((double)FieldValue.Parse(FieldType.Number, t.Values[0]).Number));
        return named.Concat(ago).Append(Asked).SelectMany(m => new[] { m, m - step, m + step }).Distinct().Order().Select(m => FieldValue.Of(m));
    }

    /// <summary>Texts asked by how they begin: those named, and one in each span between where tests begin and end.</summary>
    private static IEnumerable<FieldValue> Texts(IReadOnlyCollection<Test> tests)
    {
        var named = Named(tests).ToHashSet();
        var spans = new SortedSet<TextEdge>();
        foreach (var test in tests.Where(t => t.Operator is TestOperator.StartsWith or TestOperator.BeginsBetween))
        {
            var values = test.Values.Select(v => v.ToLowerInvariant()).ToList();
            foreach (var (from, to) in test.Operator == TestOperator.BeginsBetween ? [(values[0], values[1])] : values.Select(v => (v, v)))
                (_, _) = (spans.Add(new TextEdge(from, false)), spans.Add(new TextEdge(to, true)));
        }
        var edges = spans.Prepend(new TextEdge("", false)).ToList();
        var found = edges.Select((edge, i) => edge.Within(i + 1 < edges.Count ? edges[i + 1] : null, named)).OfType<string>();
        return named.Concat(found).Select(t => FieldValue.Of(t));
    }
}

/// <summary>Where, in the order of letters, the texts that begin with something start, or where they have all gone by.</summary>
internal readonly record struct TextEdge(string Text, bool Behind) : IComparable<TextEdge>
{
    public int CompareTo(TextEdge other)
    {
        if (Text == other.Text)
            return Behind.CompareTo(other.Behind);
        // All that begins with a text comes before the place behind it.
        if (Behind && other.Text.StartsWith(Text, StringComparison.Ordinal))
            return 1;
        if (other.Behind && Text.StartsWith(other.Text, StringComparison.Ordinal))
            return -1;
        return string.CompareOrdinal(Text, other.Text);
    }

    /// <summary>A clean text from here to before another edge that is none of those named; null where there is none.</summary>
    public string? Within(TextEdge? until, HashSet<string> named)
    {
        foreach (var text in Tries())
            if (text.Length > 0 && text[^1] != ' ' && !named.Contains(text) && (until is not { } end || IsBefore(text, end)))
                return text;
        return null;
    }

    private static bool IsBefore(string text, TextEdge end) => string.CompareOrdinal(text, end.Text) < 0 || (end.Behind && text.StartsWith(end.Text, StringComparison.Ordinal));

    // The text itself, then what follows it by the least letters. Behind a text the first one is that with its last letter one on, or a letter before it.
    private IEnumerable<string> Tries()
    {
        if (!Behind)
        {
            foreach (var after in new[] { Text, Text + "0", Text + "1", Text + "a", Text + "!", Text + "!!", Text + "!!!", Text + " !", Text + " !!" })
                yield return after;
            yield break;
        }
        for (var at = Text.Length - 1; at >= 0; at--)
            if (Next(Text[at]) is { } next)
                foreach (var after in new[] { Text[..at] + next, Text[..at] + next + "!", Text[..at] + next + "!!" })
                    yield return after;
    }

    private static char? Next(char letter)
    {
        for (var next = letter + 1; next < 0xD800; next++)
            if (char.ToLowerInvariant((char)next) == (char)next && !char.IsWhiteSpace((char)next) && !char.IsControl((char)next))
                return (char)next;
        return null;
    }
}
