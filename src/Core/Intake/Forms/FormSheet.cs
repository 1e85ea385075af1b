namespace DapperLantern.Core.Intake.Forms;

/// <summary>A form as an edition publishes it.</summary>
/// <param name="Language">ISO 639-1 code its own words are in; one of <see cref="FormWords.Languages"/>.</param>
/// <param name="Labels">Names of what comes along unseen, such as the campaign or the page; see <see cref="FormReader"/>.</param>
/// <param name="ThanksAddress">Where the visitor goes after posting; null shows <see cref="FormText.Thanks"/>.</param>
/// <param name="MinimumSeconds">Who is faster than this is rated as a machine may be; 0 for no such rule.</param>
/// <param name="AsksSum">True when a small sum must be answered.</param>
public sealed record FormSheet(
    string Language,
    FormText Text,
    IReadOnlyList<FormField> Fields,
    IReadOnlyList<FormConsent> Consents,
    IReadOnlyList<string> Labels,
    string? ThanksAddress = null,
    int MinimumSeconds = 3,
    bool AsksSum = false,
    IReadOnlyDictionary<string, FormText>? Translations = null
)
{
    /// <summary>True when it guards against programs by time or a sum, for which its page carries a seal.</summary>
    public bool IsGuarded => AsksSum || MinimumSeconds > 0;

    /// <summary>The languages it can be read in, its own first.</summary>
    public IEnumerable<string> Languages => (Translations?.Keys ?? []).Prepend(Language).Distinct();

    /// <summary>Its words in a language: what is not translated stays in the form's own.</summary>
    public FormText In(string language)
    {
        if (language == Language || Translations is null || !Translations.TryGetValue(language, out var text) || text is null)
            return Text;
        return new FormText(
            Said(text.Title, Text.Title),
            Said(text.Intro, Text.Intro),
            Said(text.Send, Text.Send),
            Said(text.Thanks, Text.Thanks),
            Over(Text.Fields, text.Fields),
            Over(Text.Hints, text.Hints),
            Over(Text.Consents, text.Consents)
        );
    }

    private static string Said(string text, string otherwise) => text.Trim().Length > 0 ? text : otherwise;

    private static Dictionary<string, string> Over(IReadOnlyDictionary<string, string> own, IReadOnlyDictionary<string, string> other) =>
        own.Keys.Union(other.Keys).ToDictionary(k => k, k => Said(other.GetValueOrDefault(k, ""), own.GetValueOrDefault(k, "")));
}

/// <summary>Everything of a form that is words.</summary>
/// <param name="Send">On the button.</param>
/// <param name="Fields">Question by field key; the catalogue's label where none is given.</param>
/// <param name="Hints">A line under a question, by field key.</param>
/// <param name="Consents">The statement agreed to, by purpose.</param>
public sealed record FormText(
    string Title,
    string Intro,
    string Send,
    string Thanks,
    IReadOnlyDictionary<string, string> Fields,
    IReadOnlyDictionary<string, string> Hints,
    IReadOnlyDictionary<string, string> Consents
);

/// <param name="Key">Key of a fact in the catalogue.</param>
/// <param name="Lines">True for a box of several lines.</param>
public sealed record FormField(string Key, bool Required = false, bool Lines = false);

/// <param name="Purpose">Key of a purpose.</param>
/// <param name="Required">True when the form cannot be sent without it.</param>
/// <param name="Confirmed">True when it holds only once a link sent by mail was followed (double opt-in).</param>
public sealed record FormConsent(string Purpose, bool Required = false, bool Confirmed = false);
