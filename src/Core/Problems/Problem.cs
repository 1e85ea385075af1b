using System.Globalization;
using System.Text.Json.Serialization;

namespace DapperLantern.Core.Problems;

/// <summary>Which sort of refusal a problem is. HTTP answers each with a status of its own.</summary>
public enum ProblemKind
{
    /// <summary>A value or a request cannot be taken as it is.</summary>
    Invalid,

    /// <summary>The state of the record does not allow it now.</summary>
    Conflict,

    /// <summary>It is not there, or not for the person that asks.</summary>
    NotFound,

    /// <summary>The person may not do it.</summary>
    Forbidden,

    /// <summary>Nobody is signed in.</summary>
    Unsigned,

    /// <summary>Somebody else changed the record meanwhile.</summary>
    Stale,

    /// <summary>The request itself cannot be read.</summary>
    Unreadable,

    /// <summary>The request is larger than is taken.</summary>
    TooLarge,

    /// <summary>Too many within the time.</summary>
    TooMany,

    /// <summary>An error of ours.</summary>
    Broken,

    /// <summary>Something the server needs does not answer in time.</summary>
    Away,
}

/// <summary>An expected refusal: a code, the place, and the parameters of its sentence. The sentence is in <see cref="ProblemWords"/>.</summary>
/// <param name="Code">Stable, for programs: for instance <c>email-unreadable</c>.</param>
/// <param name="Path">The field key or the name in the request; empty when it concerns the whole.</param>
/// <param name="Found">The value as it came, whole; the sentence shows at most 80 letters of it.</param>
public sealed record Problem(string Code, string Path = "", string Found = "")
{
    private const int LongestShown = 80;

    /// <summary>The parameters of the sentence as they are shown; null when <see cref="Found"/> is the only one.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<string>? Parameters { get; init; }

    public string Words => ProblemWords.For(this);

    [JsonIgnore]
    public ProblemKind Kind => ProblemWords.KindOf(Code);

    /// <param name="parameters">
    /// Texts (at most 80 letters of them are shown), numbers, lists of texts, problems (their sentence), and texts as <see cref="Whole"/>.
    /// </param>
    public static Problem Of(string code, string path = "", params ReadOnlySpan<object?> parameters)
    {
        if (parameters is [] or [string])
            return new Problem(code, path, parameters is [string only] ? only : "");
        var texts = new string[parameters.Length];
        for (var i = 0; i < texts.Length; i++)
            texts[i] = Text(parameters[i]);
        return new Problem(code, path, texts[0]) { Parameters = texts };
    }

    /// <param name="kind">The name of the kind of record, within a sentence.</param>
    public static Problem NotFound(string kind) => new("not-found", "", kind);

    internal string[] Shown => Parameters is null ? [Shorten(Found)] : [.. Parameters];

    private static string Shorten(string text) => text.Length <= LongestShown ? text : text[..(LongestShown - 1)] + "\u2026";

    private static string Text(object? parameter) =>
        parameter switch
        {
            null => "",
            Whole whole => whole.Text,
            Problem problem => problem.Words,
            string text => Shorten(text),
            IEnumerable<string> list => string.Join(", ", list),
            int or long => string.Create(CultureInfo.InvariantCulture, $"{parameter:N0}"),
            _ => Convert.ToString(parameter, CultureInfo.InvariantCulture) ?? "",
        };
}

/// <summary>A text that is shown whole in the sentence of a problem: one of ours, of bounded length.</summary>
public sealed record Whole(string Text);
