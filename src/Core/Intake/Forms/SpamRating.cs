using System.Collections.Immutable;
using System.Text.RegularExpressions;

namespace DapperLantern.Core.Intake.Forms;

/// <summary>What is known of a post beside its answers.</summary>
/// <param name="Answers">Answer by field key.</param>
/// <param name="TrapFilled">True when the field that people do not see was filled.</param>
/// <param name="Seconds">From opening the page to posting; null when the page was not ours.</param>
/// <param name="SameBefore">Posts of the last hour with the same long answer, by whomever.</param>
public sealed record PostTraits(IReadOnlyDictionary<string, string> Answers, bool TrapFilled, double? Seconds, int MinimumSeconds, int SameBefore);

/// <summary>One rule that spoke, with its points.</summary>
public sealed record SpamReason(string Words, int Points);

/// <summary>How much a post looks like spam: the sum of its reasons. From <see cref="WaitsFrom"/> it waits for a person; nothing is thrown away.</summary>
public sealed record SpamRating(ImmutableArray<SpamReason> Reasons)
{
    public const int WaitsFrom = 60;

    public int Points => Reasons.Sum(r => r.Points);
    public bool Waits => Points >= WaitsFrom;
}

/// <summary>The rules, each a line: what it says, its points, when it speaks. Plain, so that a person can check them.</summary>
public static partial class SpamRules
{
    /// <summary>From this many letters an answer counts as long: the same one twice is no coincidence.</summary>
    public const int LongFrom = 40;

    private const int ManyLinks = 3;
    private static readonly string[] NameKeys = ["first_name", "last_name", "job_title", "city"];

    private static readonly (string Words, int Points, Func<PostTraits, bool> Speaks)[] Rules =
    [
        ("The field that people do not see is filled.", 100, p => p.TrapFilled),
        ("Sent faster than a person writes.", 60, p => p.MinimumSeconds > 0 && p.Seconds < p.MinimumSeconds),
        ("Markup of links in an answer.", 80, p => p.Answers.Values.Any(a => Markup().IsMatch(a))),
        ("A web address where a name belongs.", 60, p => NameKeys.Any(k => p.Answers.TryGetValue(k, out var a) && Link().IsMatch(a))),
        ($"{ManyLinks} or more web addresses in one answer.", 40, p => p.Answers.Values.Any(a => Link().Count(a) >= ManyLinks)),
        ("A web address in a long answer.", 15, p => p.Answers.Any(a => a.Key != "website" && a.Value.Length >= LongFrom && Link().IsMatch(a.Value))),
        ("The same long answer came several times within the hour.", 60, p => p.SameBefore >= 3),
        ("The same text in several answers.", 40, p => Answered(p).GroupBy(a => a).Any(g => g.Count() >= 3)),
        ("A name that is a row of letters.", 30, p => NameKeys[..2].Any(k => p.Answers.TryGetValue(k, out var a) && Row().IsMatch(a))),
    ];

    /// <summary>All rules that speak, in their order.</summary>
    public static SpamRating Rate(PostTraits post) => new([.. Rules.Where(r => r.Speaks(post)).Select(r => new SpamReason(r.Words, r.Points))]);

    /// <summary>The long answer by which posts are compared; null when there is none.</summary>
    public static string? LongAnswer(IReadOnlyDictionary<string, string> answers) =>
        answers.OrderBy(a => a.Key, StringComparer.Ordinal).Select(a => Fields.FieldReader.Clean(a.Value)).Where(a => a.Length >= LongFrom).MaxBy(a => a.Length);

    private static IEnumerable<string> Answered(PostTraits post) => post.Answers.Values.Select(a => a.Trim()).Where(a => a.Length > 2);

    [GeneratedRegex(@"\[/?url|<a\s|</a>|\[link", RegexOptions.IgnoreCase)]
    private static partial Regex Markup();

    [GeneratedRegex(@"https?://|\bwww\.", RegexOptions.IgnoreCase)]
    private static partial Regex Link();

    // Ten letters, Latin, with capitals strewn in: "qWrTzPlKdS".
    [GeneratedRegex("^(?=.*[a-z][A-Z][a-z]*[A-Z])[A-Za-z]{10,}$")]
    private static partial Regex Row();
}
