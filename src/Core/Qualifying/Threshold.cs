using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Qualifying;

/// <summary>
/// When a lead may be called qualified: a condition over the catalogue, which has the answers of qualifying beside the facts and the
/// scores. What it lacks is read from the condition itself, so that the reasons given are the threshold and nothing else.
/// </summary>
public sealed class Threshold(Condition condition, FieldCatalogue catalogue)
{
    private readonly Func<RecordValues, Instant, IEnumerable<string>> _missing = Compile(condition, catalogue);

    /// <summary>As shipped: the need is confirmed, and of budget, authority and timing at least two are known.</summary>
    public static Condition Usual { get; } =
        new AllOf([
            Condition.Where(FindingFields.KeyOf("need"), TestOperator.In, "confirmed"),
            Either("budget", "authority"),
            Either("budget", "timing"),
            Either("authority", "timing"),
        ]);

    private static AnyOf Either(string a, string b) =>
        new([Condition.Where(FindingFields.KeyOf(a), TestOperator.Known), Condition.Where(FindingFields.KeyOf(b), TestOperator.Known)]);

    public Condition Condition { get; } = condition;

    /// <summary>What still stands between the lead and "qualified", a sentence each; empty exactly when the condition holds.</summary>
    public IReadOnlyList<string> Missing(RecordValues lead, Instant now) => [.. _missing(lead, now).Distinct()];

    private static Func<RecordValues, Instant, IEnumerable<string>> Compile(Condition condition, FieldCatalogue catalogue)
    {
        if (condition is AllOf all)
        {
            var parts = all.Parts.Select(p => Compile(p, catalogue)).ToArray();
            return (lead, now) => parts.SelectMany(p => p(lead, now));
        }
        var holds = ConditionPredicate.Compile(condition, catalogue);
        Func<RecordValues, string> words = condition switch
        {
            Test test => lead => OfTest(test, catalogue, lead),
            AnyOf { Parts: [Test { Operator: TestOperator.Known }, ..] any } when any.All(p => p is Test { Operator: TestOperator.Known }) => _ =>
                Sentence($"{string.Join(" or ", any.Select(p => LabelOf(((Test)p).Field, catalogue)))} must be known"),
            AnyOf { Parts.Length: 0 } => _ => "Nothing meets the threshold of this pipeline.",
            _ => _ => Sentence($"wanted: {ConditionWords.Sentence(condition, catalogue)}"),
        };
        return (lead, now) => holds(lead, now) ? [] : [words(lead)];
    }

    private static string OfTest(Test test, FieldCatalogue catalogue, RecordValues lead)
    {
        var field = catalogue.Asked(test.Field)!;
        var label = ConditionWords.LabelOf(field);
        var wants = ConditionWords.Sentence(test, catalogue)[(label.Length + 1)..];
        if (field.Origin == FieldOrigin.Finding)
            wants = wants.ToLowerInvariant();
        var must = wants.StartsWith("is ", StringComparison.Ordinal) ? $"must be {wants[3..]}" : $"is wanted as one that {wants}";
        if (test.Operator == TestOperator.Known)
            return Sentence($"{label} {must}");
        var held = lead[field.Ordinal] is { IsKnown: true } value ? field.Show(value.ToString()).ToLowerInvariant() : "not known";
        return Sentence($"{label} is {held}; it {must}");
    }

    private static string LabelOf(string field, FieldCatalogue catalogue) => ConditionWords.LabelOf(catalogue.Asked(field)!);

    private static string Sentence(string words) => $"{char.ToUpperInvariant(words[0])}{words[1..]}.";
}
