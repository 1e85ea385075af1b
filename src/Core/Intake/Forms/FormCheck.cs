using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake.Forms;

/// <summary>What is wrong with a form before it is published. A path names the part: fields.email, consents.news, text.title.</summary>
public static class FormCheck
{
    public const int MostFields = 40;
    private const int MostLetters = 2000;
    private static readonly string[] Names = ["first_name", "last_name", "company"];
    private static readonly string[] Ways = ["email", "phone", "mobile"];

    /// <summary>All problems, in the order of the form; none for a form that can be published.</summary>
    public static IEnumerable<Problem> Problems(FormSheet form, FieldCatalogue catalogue, IReadOnlyCollection<string> purposes) =>
        Structure(form).Concat(Fields(form, catalogue)).Concat(Consents(form, purposes)).Concat(Words(form));

    private static IEnumerable<Problem> Structure(FormSheet form)
    {
        if (!FormWords.Languages.Contains(form.Language))
            yield return new Problem("language-unknown", "language", form.Language);
        foreach (var language in (form.Translations?.Keys ?? []).Where(l => !FormWords.Languages.Contains(l)))
            yield return new Problem("language-unknown", $"translations.{language}", language);
        if (form.MinimumSeconds is < 0 or > 120)
            yield return new Problem("seconds-range", "minimumSeconds", $"{form.MinimumSeconds}");
        if (
            form.ThanksAddress is { } address
            && !(Uri.TryCreate(address, UriKind.Absolute, out var uri) && uri.Scheme is "https" or "http" && !address.Any(c => char.IsControl(c) || char.IsWhiteSpace(c)))
        )
            yield return new Problem("address-unreadable", "thanksAddress", address);
        foreach (var label in form.Labels.Where(l => l.Length is 0 or > 60 || l.Any(c => !char.IsAsciiLetterOrDigit(c) && c is not ('_' or '-'))))
            yield return new Problem("label-unreadable", $"labels.{label}", label);
    }

    private static IEnumerable<Problem> Fields(FormSheet form, FieldCatalogue catalogue)
    {
        if (form.Fields.Count > MostFields)
            yield return new Problem("too-many-fields", "fields", $"{form.Fields.Count}");
        foreach (var field in form.Fields.Where(f => catalogue.Find(f.Key) is null or { Origin: FieldOrigin.System or FieldOrigin.Finding or FieldOrigin.Arrival }))
            yield return new Problem("field-unknown", $"fields.{field.Key}", field.Key);
        foreach (var twice in form.Fields.GroupBy(f => f.Key).Where(g => g.Count() > 1))
            yield return new Problem("field-twice", $"fields.{twice.Key}", twice.Key);
        if (!form.Fields.Any(f => f.Required && Names.Contains(f.Key)))
            yield return new Problem("form-no-name", "fields");
        if (!form.Fields.Any(f => f.Required && Ways.Contains(f.Key)))
            yield return new Problem("form-no-way-to-reach", "fields");
    }

    private static IEnumerable<Problem> Consents(FormSheet form, IReadOnlyCollection<string> purposes)
    {
        foreach (var consent in form.Consents)
        {
            var path = $"consents.{consent.Purpose}";
            if (!purposes.Contains(consent.Purpose))
                yield return new Problem("purpose-unknown", path, consent.Purpose);
            if (form.Text.Consents.GetValueOrDefault(consent.Purpose, "").Trim().Length == 0)
                yield return new Problem("consent-without-words", path);
            if (consent.Confirmed && !form.Fields.Any(f => f.Key == "email"))
                yield return new Problem("confirmation-needs-mail", path);
        }
        foreach (var twice in form.Consents.GroupBy(c => c.Purpose).Where(g => g.Count() > 1))
            yield return new Problem("consent-twice", $"consents.{twice.Key}", twice.Key);
    }

    private static IEnumerable<Problem> Words(FormSheet form)
    {
        if (form.Text.Title.Trim().Length == 0)
            yield return new Problem("title-missing", "text.title");
        if (form.Text.Thanks.Trim().Length == 0 && form.ThanksAddress is null)
            yield return new Problem("thanks-missing", "text.thanks");
        foreach (var (language, text) in (form.Translations ?? new Dictionary<string, FormText>()).Prepend(new(form.Language, form.Text)))
        {
            var all = new[] { text.Title, text.Intro, text.Send, text.Thanks }.Concat(text.Fields.Values).Concat(text.Hints.Values).Concat(text.Consents.Values);
            if (all.Any(t => t.Length > MostLetters))
                yield return new Problem("words-too-long", $"text.{language}", $"{MostLetters}");
        }
    }
}
