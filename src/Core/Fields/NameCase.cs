using System.Collections.Frozen;

namespace DapperLantern.Core.Fields;

/// <summary>The case of names. Mixed case is taken as meant; all capitals or all small is put right.</summary>
public static class NameCase
{
    private static readonly FrozenSet<string> Particles = new[]
    {
        "von",
        "van",
        "de",
        "der",
        "den",
        "del",
        "da",
        "dos",
        "di",
        "la",
        "le",
        "av",
        "af",
        "zu",
        "y",
        "i",
    }.ToFrozenSet();

    /// <summary>"MARÍA DEL MAR" gives "María del Mar"; "o'neill-smith" gives "O'Neill-Smith"; "McBride" stays.</summary>
    public static string Of(string name)
    {
        var (letters, upper, lower) = (0, 0, 0);
        foreach (var letter in name)
        {
            letters += char.IsLetter(letter) ? 1 : 0;
            upper += char.IsUpper(letter) ? 1 : 0;
            lower += char.IsLower(letter) ? 1 : 0;
        }
        if (letters < 2 || (upper != letters && lower != letters))
            return name;
        var words = name.ToLowerInvariant().Split(' ');
        return string.Join(' ', words.Select((w, i) => Particles.Contains(w) && (i > 0 || words.Length > 1) ? w : Capitals(w)));
    }

    private static string Capitals(string word)
    {
        var letters = word.ToCharArray();
        for (var i = 0; i < letters.Length; i++)
            if (i == 0 || letters[i - 1] is '-' or '\'' or '\u2019' or '.')
                letters[i] = char.ToUpperInvariant(letters[i]);
        return new string(letters);
    }
}
