using System.Collections.Frozen;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Matching;

/// <summary>First names that people go by instead of one another, in English, German, French, Spanish, Portuguese and the Nordic languages. A table of our own.</summary>
public static class Nicknames
{
    private static readonly FrozenDictionary<string, int[]> Groups = EmbeddedTable
        .Lines("nicknames.tsv")
        .SelectMany((line, i) => line.Split('\t').Select(name => (Name: NameForm.Of(Folding.Plain(name)), Group: i)))
        .GroupBy(n => n.Name)
        .ToFrozenDictionary(g => g.Key, g => g.Select(n => n.Group).Distinct().ToArray());

    /// <summary>True for different names of one group; names are given in <see cref="NameForm"/>.</summary>
    public static bool Related(string a, string b) => Groups.TryGetValue(a, out var ofA) && Groups.TryGetValue(b, out var ofB) && ofA.AsSpan().IndexOfAny(ofB) >= 0;

    private static readonly string[][] Members =
    [
        .. Groups
            .SelectMany(g => g.Value.Select(of => (of, g.Key)))
            .GroupBy(g => g.of)
            .OrderBy(g => g.Key)
            .Select(g => g.Select(x => x.Key).Order(StringComparer.Ordinal).ToArray()),
    ];

    private static readonly FrozenDictionary<int, int> Places = Groups
        .SelectMany(g => g.Value)
        .Distinct()
        .Order()
        .Select((of, i) => (of, i))
        .ToFrozenDictionary(x => x.of, x => x.i);

    /// <summary>True where somebody of this name may be called by one that begins with the letter: "r" of "bob", who is a Robert.</summary>
    public static bool Begins(string name, char letter)
    {
        if (!Groups.TryGetValue(name, out var groups))
            return false;
        foreach (var group in groups)
        foreach (var other in Members[Places[group]])
            if (other[0] == letter)
                return true;
        return false;
    }

    /// <summary>True where one name is but a slip away from what the other is also called: "jaems" and "jim".</summary>
    public static bool NearlyRelated(string a, string b) => Nearly(a, b) || Nearly(b, a);

    // Of short names too many are a slip apart.
    private const int ShortestSlip = 5;

    private static bool Nearly(string known, string slipped)
    {
        if (slipped.Length < ShortestSlip || !Groups.TryGetValue(known, out var groups))
            return false;
        foreach (var group in groups)
        foreach (var name in Members[Places[group]])
            if (name.Length >= ShortestSlip && name != known && TypingDistance.Within(name, slipped, 1) <= 1)
                return true;
        return false;
    }
}
