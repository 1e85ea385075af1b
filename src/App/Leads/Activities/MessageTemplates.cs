using System.Text.RegularExpressions;
using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using Fluid;

namespace DapperLantern.App.Leads.Activities;

/// <summary>A message to be filled with a lead's facts.</summary>
/// <param name="Purpose">Key of the purpose of consent it needs; null for an answer to what they asked.</param>
/// <param name="Subject">With fields as {{ first_name }}, {{ company }}; {{ me }} is whoever writes.</param>
public sealed record MessageTemplate([Text(100)] string Key, [Text(200)] string Label, [Text(100)] string? Purpose, [Text(200)] string Subject, [Text(10_000)] string Text)
{
    /// <summary>As shipped; an workspace may have its own.</summary>
    public static IReadOnlyList<MessageTemplate> Usual { get; } =
    [
        new(
            "thanks",
            "Thank you for asking",
            null,
            "Your question{{ interest | prepend: ' about ' }}",
            "Dear {{ first_name | default: 'Sir or Madam' }} {{ last_name }},\n\nthank you for asking. I look after {{ company | default: 'you' }} here and will call you within a day.\n\nUntil then,\n{{ me }}"
        ),
    ];
}

/// <summary>Fills templates. A field that is not known and has no default is said, not left as a hole.</summary>
public static partial class MessageTemplates
{
    public const string Entry = "message-templates";
    private const string Me = "me";
    private static readonly FluidParser Parser = new();

    // Many times what a letter needs; a loop in a loop in a loop is stopped here.
    private const int MostSteps = 5_000;
    private const int LongestText = 100_000;

    // A template fills in facts; it fetches no other file, and counts nothing up.
    [GeneratedRegex(@"\{%-?\s*(?:include|render|layout|section|renderbody|for|tablerow|capture|increment|decrement|cycle)\b")]
    private static partial Regex Forbidden();

    private static TemplateOptions Limits { get; } =
        new()
        {
            MaxSteps = MostSteps,
            MaxRecursion = 10,
            CultureInfo = System.Globalization.CultureInfo.InvariantCulture,
        };

    public static async Task<IReadOnlyList<MessageTemplate>> All(LanternDb db) => await SetupEntries.Read<List<MessageTemplate>>(db, Entry) ?? MessageTemplate.Usual;

    public static Task Save(LanternDb db, IReadOnlyList<MessageTemplate> templates) => SetupEntries.Save(db, Entry, Json.Write(templates));

    /// <summary>Why a template cannot be used; null when it can.</summary>
    public static Problem? Wrong(MessageTemplate template, FieldCatalogue catalogue)
    {
        foreach (var text in new[] { template.Subject, template.Text })
        {
            if (text.Length > LongestText)
                return Problem.Of("template-long", "", template.Label, LongestText);
            if (Forbidden().Match(text) is { Success: true } forbidden)
                return Problem.Of("template-tag", "", template.Label, forbidden.Value.Trim('{', '%', '-', ' '));
            if (!Parser.TryParse(text, out _, out var error))
                return Problem.Of("template-unreadable", "", template.Label, new Whole(error));
            foreach (var name in NamesIn(text))
                if (name != Me && catalogue.Find(name) is null)
                    return Problem.Of("template-field", "", template.Label, name);
        }
        return null;
    }

    /// <summary>The subject and text for a lead, and the labels of what is missing in them.</summary>
    public static async Task<(string Subject, string Text, IReadOnlyList<string> Missing)> Fill(MessageTemplate template, RecordValues facts, string me)
    {
        var values = new TemplateContext(Limits);
        values.SetValue(Me, me);
        foreach (var (field, value) in facts.Known())
            values.SetValue(field.Key, field.Show(value.ToString()));
        var missing = MissingIn($"{template.Subject} {template.Text}").Where(n => n != Me && facts.Catalogue.Find(n) is { } f && !facts[f.Ordinal].IsKnown);
        return (await Render(template.Subject, values), await Render(template.Text, values), [.. missing.Distinct().Select(n => facts.Catalogue[n].Label)]);
    }

    private static async Task<string> Render(string text, TemplateContext values) =>
        Parser.TryParse(text, out var parsed, out _) ? (await parsed.RenderAsync(values)).Replace(" ,", ",", StringComparison.Ordinal).Trim() : text;

    private static IEnumerable<string> NamesIn(string text) => Field().Matches(text).Select(m => m.Groups["name"].Value);

    private static IEnumerable<string> MissingIn(string text) =>
        Field().Matches(text).Where(m => !m.Groups["rest"].Value.Contains("default:", StringComparison.Ordinal)).Select(m => m.Groups["name"].Value);

    [GeneratedRegex(@"\{\{-?\s*(?<name>\w+)(?<rest>[^}]*)\}\}")]
    private static partial Regex Field();
}
