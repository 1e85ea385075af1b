using System.Text;

namespace DapperLantern.Core.Fields;

/// <summary>Forms of a text for comparison only; never stored in place of what was written.</summary>
public static class Folding
{
    private static readonly string[] LegalForms =
    [
        "as",
        "asa",
        "ab",
        "aps",
        "a s",
        "gmbh",
        "ag",
        "kg",
        "gmbh co kg",
        "gmbh und co kg",
        "ltd",
        "limited",
        "plc",
        "llc",
        "inc",
        "incorporated",
        "corp",
        "corporation",
        "co",
        "company",
        "sa",
        "sl",
        "s a",
        "s l",
        "lda",
        "sarl",
        "bv",
        "oy",
        "llp",
        "lp",
        "ek",
        "ev",
    ];

    private const string From = "àáâãäåæçèéêëìíîïðñòóôõöøùúûüýþÿœßāăąćčďđēęěğīłńňőřśşšťůűźżž";
    private static readonly string[] To = "a a a a a a ae c e e e e i i i i d n o o o o o o u u u u y th y oe ss a a a c c d d e e e g i l n n o r s s s t u u z z z".Split(' ');

    /// <summary>Lower case, accents off, everything but letters and digits made one space.</summary>
    public static string Heading(string text)
    {
        var folded = new StringBuilder(text.Length);
        foreach (var letter in text.ToLowerInvariant())
        {
            var at = From.IndexOf(letter);
            if (at >= 0)
                folded.Append(To[at]);
            else if (char.IsLetterOrDigit(letter))
                folded.Append(letter);
            else if (folded.Length > 0 && folded[^1] != ' ')
                folded.Append(' ');
        }
        return folded.ToString().TrimEnd();
    }

    /// <summary>A person's name or any other text, for comparison.</summary>
    public static string Plain(string? text) => text is null ? "" : Heading(text);

    /// <summary>A company's name without its legal form: "Fjordnær Laks AS" and "FJORDNAER LAKS" are one. Never empty when the input has letters.</summary>
    public static string Company(string? name)
    {
        var plain = Plain(name);
        for (var again = true; again; )
        {
            again = false;
            foreach (var form in LegalForms)
                if (plain.Length > form.Length + 1 && plain.EndsWith(' ' + form, StringComparison.Ordinal))
                    (plain, again) = (plain[..^(form.Length + 1)], true);
        }
        return plain;
    }
}
