using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake.Forms;

/// <summary>A consent given with a post: in which words, and whether it still has to be confirmed.</summary>
public sealed record ConsentSaid(string Purpose, string Wording, bool ToConfirm);

/// <summary>What was read from a post.</summary>
/// <param name="Problems">What the visitor has to put right, by field key, <c>consent.PURPOSE</c>, or empty for the whole.</param>
/// <param name="Labels">What came along unseen, by name.</param>
public sealed record FormReading(RecordValues Facts, ImmutableArray<Problem> Problems, ImmutableArray<ConsentSaid> Consents, ImmutableDictionary<string, string> Labels);

/// <summary>
/// Reads a post against an edition of its form. Fields are posted under their catalogue keys, consents as <c>consent.PURPOSE</c>, hidden
/// labels under their own names. Whatever else was posted is not read, but stays in the raw post.
/// </summary>
public static class FormReader
{
    public const int LongestLabel = 500;
    private const int LongestText = 5000;

    /// <summary>Labels every form takes, whether it names them or not.</summary>
    public static ImmutableArray<string> StandingLabels { get; } = ["page", "referrer", "utm_source", "utm_medium", "utm_campaign", "utm_term", "utm_content", "campaign"];

    /// <summary>The name a consent is posted under.</summary>
    public static string ConsentName(string purpose) => $"consent.{purpose}";

    public static FormReading Read(FormSheet form, IReadOnlyDictionary<string, string> posted, FieldCatalogue catalogue, string language)
    {
        var facts = new RecordValues(catalogue);
        var problems = ImmutableArray.CreateBuilder<Problem>();
        var country = posted.GetValueOrDefault("country") is { } c ? Countries.Find(c) : null;
        // The page is in the visitor's language, and so is its decimal mark.
        var mark = language == "en" ? DecimalMark.Point : DecimalMark.Comma;
        foreach (var field in form.Fields)
            ReadField(field, catalogue.Find(field.Key), posted.GetValueOrDefault(field.Key, ""), country, mark, facts, problems);
        // The sentence about a name or a way to reach them would only repeat what stands next to a field.
        if (problems.Count == 0 && RowReader.WhyUnfit(facts) is { } unfit)
            problems.Add(unfit);
        var words = form.In(language);
        var consents = ImmutableArray.CreateBuilder<ConsentSaid>();
        foreach (var consent in form.Consents)
            if (Agreed(posted.GetValueOrDefault(ConsentName(consent.Purpose))))
                consents.Add(new ConsentSaid(consent.Purpose, words.Consents.GetValueOrDefault(consent.Purpose, ""), consent.Confirmed));
            else if (consent.Required)
                problems.Add(new Problem("consent-needed", ConsentName(consent.Purpose)));
        return new FormReading(facts, problems.ToImmutable(), consents.ToImmutable(), Labels(form, posted));
    }

    /// <summary>The campaign a post's labels name, by key or by name; null when they name none of ours.</summary>
    public static string? CampaignOf(IReadOnlyDictionary<string, string> labels, FieldCatalogue catalogue) =>
        new[] { "campaign", "utm_campaign" }.Select(l => labels.GetValueOrDefault(l)).OfType<string>().Select(catalogue["campaign"].ChoiceOf).FirstOrDefault(c => c is not null);

    private static void ReadField(
        FormField asked,
        FieldDefinition? field,
        string written,
        string? country,
        DecimalMark mark,
        RecordValues facts,
        ImmutableArray<Problem>.Builder problems
    )
    {
        if (field is null)
            return;
        if (written.Length > LongestText)
        {
            problems.Add(new Problem("answer-too-long", field.Key));
            return;
        }
        var read = FieldReader.Read(field, field.Type == FieldType.Text ? Shortened(written) : written, country, mark);
        var (value, problem) = read;
        facts[field.Key] = value;
        Beside.FillBlank(facts, field, read);
        if (problem is not null)
            problems.Add(problem);
        else if (asked.Required && !value.IsKnown)
            problems.Add(new Problem("answer-needed", field.Key));
    }

    // A fact holds 500 letters; the whole of a long answer stays in the post and in the story.
    private static string Shortened(string written) =>
        FieldReader.Clean(written) is { Length: > FieldReader.LongestText } clean ? clean[..(FieldReader.LongestText - 1)] + "\u2026" : written;

    private static bool Agreed(string? posted) => posted is not null && posted.Trim().ToLowerInvariant() is "yes" or "on" or "true" or "1";

    private static ImmutableDictionary<string, string> Labels(FormSheet form, IReadOnlyDictionary<string, string> posted) =>
        form
            .Labels.Concat(StandingLabels)
            .Distinct()
            .Where(l => posted.GetValueOrDefault(l, "").Trim().Length > 0)
            .ToImmutableDictionary(l => l, l => FieldReader.Clean(posted[l]) is { Length: > LongestLabel } text ? text[..LongestLabel] : FieldReader.Clean(posted[l]));
}
