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
}
