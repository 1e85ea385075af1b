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
        ["bar-range"] = "Bars are 0 to 100; these are {0}.",
        ["slack-range"] = "The slack under a bar is 0 to 30 points; this is {0}.",
        ["knee-range"] = "Engagement saturates from a score of 0 to 100; this is {0}.",
        ["silence-range"] = "Silence is 1 to 3,650 days, and -100 to 100 points.",
        ["names-unfit"] = "The four quarters need four different names of up to 30 letters.",
        ["model-empty"] = "This model asks nothing yet, so every score is 0.",
        ["too-many-lines"] = "There are at most {0} of these.",
        ["too-many-half-lives"] = "A model has at most 12 different half-lives; this one has {0}.",
        ["label-unfit"] = "This needs a name of up to 60 letters, and a signal its kind.",
        ["key-twice"] = "The key \u201c{0}\u201d is missing or stands twice.",
        ["group-missing"] = "There is no group \u201c{0}\u201d.",
        ["group-bounds"] = "A group gives -100 to 0 at least and 0 to 100 at most; this is {0}.",
        ["group-empty"] = "No criterion belongs to this group.",
        ["lines-missing"] = "This criterion has no lines, so it counts nothing.",
        ["points-range"] = "Points are -100 to 100; this is {0}.",
        ["points-none"] = "This gives no points.",
        ["words-unfit"] = "Say in up to 120 letters what people shall read.",
        ["field-circular"] = "A score cannot ask for \u201c{0}\u201d, which follows from it.",
        ["condition-always"] = "This holds of everyone.",
        ["value-gone"] = "The value \u201c{0}\u201d is no longer in the list, so nobody has it.",
        ["range-reversed"] = "The range {0} is empty: its end is before its beginning.",
        ["line-covered"] = "This line never counts: whatever it holds of is taken by \u201c{0}\u201d above it.",
        ["lines-contradict"] = "The same is asked above with other points (\u201c{0}\u201d); that line counts, this one never does.",
        ["value-twice"] = "\u201c{0}\u201d stands in a line above as well, and counts there.",
        ["ranges-overlap"] = "This overlaps \u201c{0}\u201d above it; where both hold, that one counts.",
        ["half-life-range"] = "A half-life is over 0 and at most 3,650 days; this is {0}.",
        ["window-range"] = "The days a cap holds over are over 0 and at most 3,650; this is {0}.",
        ["cap-range"] = "A cap is over 0 and at most 1,000 points; this is {0}.",
        ["cap-under-points"] = "One event alone goes beyond the cap of {0}, so it never gives all its points.",
        ["direction-unknown"] = "\u201c{0}\u201d is no direction: in, out, or nothing for either.",
        ["signal-covered"] = "This signal never counts: whatever it answers to is taken by \u201c{0}\u201d above it.",
        ["file-too-large"] = "The file is longer than {0} letters.",
        ["file-unreadable"] = "This is no JSON file: it cannot be read at {0}. Nothing was changed.",
        ["file-no-model"] = "This file holds no scoring model; one has \u201cbars\u201d, \u201cfit\u201d and \u201cengagement\u201d. Nothing was changed.",
        ["part-unreadable"] = "This part could not be read and was left out: {0}",
        ["part-unknown"] = "The file has a part \u201c{0}\u201d that a scoring model does not have; it was left out.",
        ["too-few-outcomes"] = "Points are not suggested from so few outcomes ({0}): it takes 50, at least 10 of them won and 10 not.",
        ["line-rare"] = "Only {0} outcomes speak of this; that says little.",
        ["line-never"] = "None of {0} was won; that is too sharp to be true of leads to come, unless it is how you decide.",
        ["line-always"] = "Nearly all of {0} were won: likely it is the outcome under another name.",
        ["field-outcome"] = "\u201c{0}\u201d follows from what became of a lead, so it cannot foretell it.",
        ["field-leaks"] = "Often filled in only after it was decided ({0}), so it looks better than it is.",
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
