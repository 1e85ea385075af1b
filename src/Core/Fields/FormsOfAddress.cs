using System.Text.RegularExpressions;

namespace DapperLantern.Core.Fields;

/// <summary>Forms of address and academic titles, in five languages: "Mr", "Frau", "Dr.".</summary>
public static partial class FormsOfAddress
{
    // These stand in front of names and are no names.
    private const string InFront =
        "mr|mrs|ms|miss|mx|sir|herr|frau|fräulein|fru|hr|fr|m|mme|mlle|monsieur|madame|mademoiselle|sr|sra|srta|señor|señora|señorita|sig|sigra|signor|signora|dhr|mevr|dr|dra|drs|ing|mag|prof|dipl";

    // In front of a name they may be part of it; in a column of their own they are not.
    private const string Further = "dame|lady|lord|rev|hon|mm|me|don|doña|mw|ir|univ|pd|phd|ph\\.d|msc|m\\.sc|bsc|b\\.sc|b\\.a|m\\.a|kfm|h\\.c|med|jur|rer|nat|phil|oec";

    /// <summary>True for a text of nothing but forms of address: "Herr Prof. Dr.".</summary>
    public static bool IsOne(string text) => Only().IsMatch(text);

    /// <summary>The name without the forms of address in front of it; a name of one word stays.</summary>
    public static string TakeOff(string name) => Leading().Replace(name, "");

    [GeneratedRegex($@"^(?:(?:{InFront}|{Further})[.,\s/-]*)+$", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Only();

    [GeneratedRegex($@"^(?:(?:{InFront})\.?(?:-?ing\.)?\s+)+(?=\S+\s*\S)", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Leading();
}
