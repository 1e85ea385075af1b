using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Search;

/// <summary>
/// How well something fits what is searched for: each word counts where it fits best, whole words over beginnings, beginnings over words with a slip; what is named first in a
/// record counts more than what follows.
/// </summary>
public static class SearchRank
{
    private const double Beginning = 0.75;
    private const double Slip = 0.45;
    private const double EachFieldLess = 0.85;

    /// <param name="fields">The texts that were searched, the telling ones first.</param>
    /// <returns>0 to 1; 1 where every word is a whole word of the first text.</returns>
    public static double Of(SearchAsk ask, params ReadOnlySpan<string?> fields)
    {
        if (ask.Words.Length == 0)
            return 0;
        var sum = 0.0;
        var words = new string[fields.Length][];
        for (var i = 0; i < fields.Length; i++)
            words[i] = Folding.Plain(fields[i]).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        foreach (var asked in ask.Words)
            sum += Best(asked, words);
        return sum / ask.Words.Length;
    }

    private static double Best(string asked, string[][] fields)
    {
        var (best, weight) = (0.0, 1.0);
        foreach (var field in fields)
        {
            foreach (var word in field)
                best = Math.Max(best, weight * Fit(asked, word));
            weight *= EachFieldLess;
        }
        return best;
    }

    private static double Fit(string asked, string word) =>
        asked == word ? 1
        : word.StartsWith(asked, StringComparison.Ordinal) ? Beginning
        : TypingDistance.Within(asked, word, MostSlips(asked)) <= MostSlips(asked) ? Slip
        : 0;

    /// <summary>So many slips may lie between a word as typed and as meant.</summary>
    public static int MostSlips(string word) =>
        word.Length switch
        {
            < 4 => 0,
            < 8 => 1,
            _ => 2,
        };

    /// <summary>Words of the vocabulary that may be meant, the likeliest first: fewest slips, then the commonest.</summary>
    /// <param name="near">Words that look alike, with how often they stand somewhere.</param>
    public static ImmutableArray<string> Meant(string typed, IEnumerable<(string Word, int Count)> near, int most) =>
        [
            .. near.Select(n => (n.Word, n.Count, Slips: TypingDistance.Within(typed, n.Word, MostSlips(typed))))
                .Where(n => n.Slips > 0 && n.Slips <= MostSlips(typed))
                .OrderBy(n => n.Slips)
                .ThenByDescending(n => n.Count)
                .ThenBy(n => n.Word, StringComparer.Ordinal)
                .Take(most)
                .Select(n => n.Word),
        ];
}
