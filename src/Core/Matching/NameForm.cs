using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Matching;

/// <summary>Forms of names in which their usual spellings fall together: "Müller", "Mueller" and "Muller"; "Åse" and "Aase"; letters of Greek and Cyrillic as Latin ones.</summary>
public static class NameForm
{
    private const string Cyrillic = "абвгдеёжзийклмнопрстуфхцчшщъыьэюяіїєґ";
    private static readonly string[] FromCyrillic = "a b v g d e e zh z i i k l m n o p r s t u f kh ts ch sh shch  y  e iu ia i i ie g".Split(' ');
    private const string Greek = "αβγδεζηθικλμνξοπρσςτυφχψωάέήίόύώϊϋ";
    private static readonly string[] FromGreek = "a v g d e z i th i k l m n x o p r s s t y f ch ps o a e i i o y o i y".Split(' ');

    private static readonly Dictionary<string, string> StreetWords = new()
    {
        ["st"] = "street",
        ["str"] = "strasse",
        ["rd"] = "road",
        ["ave"] = "avenue",
        ["av"] = "avenue",
        ["dr"] = "drive",
        ["ln"] = "lane",
        ["ct"] = "court",
        ["pl"] = "place",
        ["sq"] = "square",
        ["blvd"] = "boulevard",
        ["hwy"] = "highway",
        ["pkwy"] = "parkway",
        ["cres"] = "crescent",
        ["cct"] = "circuit",
        ["tce"] = "terrace",
        ["cl"] = "close",
        ["gt"] = "gate",
        ["v"] = "vei",
        ["vn"] = "veien",
        ["c"] = "calle",
        ["avda"] = "avenida",
        ["pza"] = "plaza",
    };

    /// <summary>Of a folded name (<see cref="Folding.Plain"/>): double letters and the two-letter spellings of accented vowels become one letter.</summary>
    public static string Of(string folded)
    {
        if (folded.Length == 0)
            return "";
        Span<char> form = stackalloc char[128];
        var length = 0;
        foreach (var letter in folded)
        {
            var latin = letter < 0x250 ? null : Latin(letter);
            if (latin is null)
                Put(form, ref length, letter);
            else
                foreach (var part in latin)
                    Put(form, ref length, part);
        }
        return form[..length].ToString();
    }

    // "ae", "oe", "ue" and "aa" are how accented vowels are written without accents; a doubled letter is often written once.
    private static void Put(Span<char> form, ref int length, char letter)
    {
        if (length == form.Length)
            return;
        var before = length > 0 ? form[length - 1] : '\0';
        if (letter == before && char.IsLetter(letter))
            return;
        if (letter == 'e' && before is 'a' or 'o' && letter == 'e')
            return;
        if (letter == 'e' && before == 'u' && (length < 2 || form[length - 2] != 'q'))
            return;
        form[length++] = letter;
    }

    private static string? Latin(char letter) =>
        Cyrillic.IndexOf(letter, StringComparison.Ordinal) is var c and >= 0 ? FromCyrillic[c]
        : Greek.IndexOf(letter, StringComparison.Ordinal) is var g and >= 0 ? FromGreek[g]
        : null;

    /// <summary>A street with its usual short words written out: "Harbour Rd. 4" and "Harbour Road 4" are one.</summary>
    public static string Street(string? written)
    {
        var folded = Folding.Plain(written);
        if (folded.Length == 0)
            return "";
        var words = folded.Split(' ');
        for (var i = 0; i < words.Length; i++)
            words[i] =
                i > 0 && StreetWords.TryGetValue(words[i], out var whole) ? whole
                : words[i].Length > 4 && words[i].EndsWith("str", StringComparison.Ordinal) ? words[i] + "asse"
                : words[i];
        return Of(string.Join(' ', words));
    }
}
