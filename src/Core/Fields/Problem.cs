namespace DapperLantern.Core.Fields;

/// <summary>Something wrong with what came in: a code, where, and what was found. The wording is in <see cref="ProblemWords"/>.</summary>
/// <param name="Code">Stable, for programs: for instance <c>email-unreadable</c>.</param>
/// <param name="Path">The field key, or empty when it concerns the whole row.</param>
/// <param name="Found">The value as it came.</param>
public sealed record Problem(string Code, string Path, string Found = "")
{
    public string Words => ProblemWords.For(this);
}

/// <summary>The one table of sentences for problems: what was found, what would be valid.</summary>
public static class ProblemWords
{
    private static readonly Dictionary<string, string> Sentences = new()
    {
        ["email-unreadable"] = "\u201c{0}\u201d is not a mail address; it needs the form name@place.",
        ["phone-unreadable"] = "\u201c{0}\u201d is not a telephone number we can dial; write it with its country code, or give the country.",
        ["country-unknown"] = "\u201c{0}\u201d is no country we know; use a name or a two-letter code.",
        ["region-unknown"] = "\u201c{0}\u201d is no region or state of that country.",
        ["domain-unreadable"] = "\u201c{0}\u201d is not a web address.",
        ["number-unreadable"] = "\u201c{0}\u201d is not a number.",
        ["money-unreadable"] = "\u201c{0}\u201d is not an amount of money.",
        ["currency-other"] = "\u201c{0}\u201d is in another currency than this field is kept in; amounts are not converted.",
        ["date-unreadable"] = "\u201c{0}\u201d is not a date we can read; use the form 2026-11-23.",
        ["choice-unknown"] = "\u201c{0}\u201d is not in the list of values.",
        ["cell-error"] = "The sheet shows the error {0} here.",
        ["text-too-long"] = "The text is longer than 500 letters.",
        ["no-name"] = "Neither a person nor a company is named.",
        ["no-way-to-reach"] = "There is no mail address or telephone number that works.",
        ["row-unreadable"] = "This row cannot be read: {0}.",
        ["field-unknown"] = "There is no field \u201c{0}\u201d.",
        ["field-around"] = "\u201c{0}\u201d is not known before a lead is kept; use it in views, not in rules.",
        ["order-unknown"] = "Leads cannot be ordered by \u201c{0}\u201d.",
        ["too-many-keys"] = "An order has at most 4 keys; this one has {0}.",
        ["measure-unknown"] = "\u201c{0}\u201d cannot be added up; count leads, or add up a number.",
        ["group-unknown"] = "Leads cannot be grouped by \u201c{0}\u201d.",
        ["quick-unfit"] = "A view has at most 12 quick conditions, each with a name of up to 60 letters.",
        ["width-range"] = "A column is 40 to 2,000 wide.",
        ["operator-unfit"] = "This field cannot be tested with \u201c{0}\u201d.",
        ["value-missing"] = "The condition needs a value.",
        ["response-unknown"] = "\u201c{0}\u201d is nothing people do about a campaign: opened, clicked, downloaded, registered, attended, visited, answered or declined.",
        ["campaign-unknown"] = "There is no campaign \u201c{0}\u201d.",
        ["language-unknown"] = "\u201c{0}\u201d is no language forms can have: en, de, fr, es or no.",
        ["seconds-range"] = "The least time is 0 to 120 seconds; this is {0}.",
        ["address-unreadable"] = "\u201c{0}\u201d is not a web address; it begins with https://.",
        ["label-unreadable"] = "\u201c{0}\u201d cannot be a label: letters, digits, - and _ only, at most 60.",
        ["too-many-fields"] = "A form has at most 40 fields; this one has {0}.",
        ["field-twice"] = "\u201c{0}\u201d is asked twice.",
        ["form-no-name"] = "Make a name or the company required: without either there is no lead.",
        ["form-no-way-to-reach"] = "Make the mail address or a telephone number required: without one nobody can be answered.",
        ["purpose-unknown"] = "There is no purpose \u201c{0}\u201d.",
        ["consent-without-words"] = "Say in words what people agree to.",
        ["consent-twice"] = "\u201c{0}\u201d is asked for twice.",
        ["confirmation-needs-mail"] = "A consent confirmed by mail needs the mail address among the fields.",
        ["title-missing"] = "Give the form a title.",
        ["thanks-missing"] = "Say thank you, or give an address to go to.",
        ["words-too-long"] = "A text of a form has at most {0} letters.",
        ["answer-needed"] = "This must be answered.",
        ["answer-too-long"] = "The answer is longer than 5,000 letters.",
        ["consent-needed"] = "This consent is needed.",
        ["wake-missing"] = "Say on which coming day it wakes.",
        ["wake-far"] = "A lead is on hold for at most five years.",
        ["reason-missing"] = "Say why; the reasons are counted.",
        ["condition-unreadable"] = "The condition is not readable: {0}.",
    };

    public static string For(Problem problem) => Sentences.TryGetValue(problem.Code, out var sentence) ? string.Format(null, sentence, Shorten(problem.Found)) : problem.Code;

    private static string Shorten(string text) => text.Length <= 80 ? text : text[..79] + "\u2026";
}
