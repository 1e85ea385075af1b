namespace DapperLantern.Core.Matching;

/// <summary>
/// How a name sounds, as a short code: its first sound and the classes of its consonants, vowels left out. In the manner of Russell and Odell (1918) and Postel
/// (1969), with classes that hold in English, German, French, Spanish and the Nordic languages. For finding candidates, never for deciding.
/// </summary>
public static class NameSound
{
    private const int Longest = 5;

    /// <summary>Of a name in <see cref="NameForm"/>; of several words only the first. Empty for a name without letters.</summary>
    public static string Of(ReadOnlySpan<char> name)
    {
        Span<char> code = stackalloc char[Longest];
        var length = 0;
        var last = '\0';
        for (var i = 0; i < name.Length && length < Longest; i++)
        {
            if (name[i] is ' ')
            {
                if (i > 2)
                    break;
                continue;
            }
            var sound = Class(name, i);
            if (sound == '\0' || (sound == 'A' && length > 0))
            {
                // A vowel between keeps two like sounds apart; a mute letter does not.
                if (sound == 'A')
                    last = 'A';
                continue;
            }
            if (sound != last)
                code[length++] = sound;
            last = sound;
        }
        return code[..length].ToString();
    }

    // 'A' for a vowel, '\0' for what is not heard.
    private static char Class(ReadOnlySpan<char> name, int i)
    {
        var next = i + 1 < name.Length ? name[i + 1] : '\0';
        return name[i] switch
        {
            'a' or 'e' or 'i' or 'o' or 'u' or 'y' or 'j' => 'A',
            'p' when next == 'h' => 'F',
            'b' or 'p' => 'P',
            'd' or 't' => 'T',
            'f' or 'v' or 'w' => 'F',
            'c' when next is 'e' or 'i' or 'y' => 'S',
            'c' when next == 'h' => 'S',
            's' or 'z' or 'x' => 'S',
            'c' or 'g' or 'k' or 'q' => 'K',
            'l' => 'L',
            'm' or 'n' => 'N',
            'r' => 'R',
            _ => '\0',
        };
    }
}
