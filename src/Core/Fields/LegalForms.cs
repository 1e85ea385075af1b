using System.Collections.Immutable;
using System.Text.RegularExpressions;

namespace DapperLantern.Core.Fields;

/// <summary>Legal forms of companies: "GmbH", "Ltd", "AS". One table for taking them off, for telling companies from persons, and for finding them in a line.</summary>
public static class LegalForms
{
    private enum Tells
    {
        /// <summary>Wherever it stands at the end: no person's name ends so.</summary>
        Always,

        /// <summary>In capitals beside small letters only: "Per As" is a person, "Sjøglimt AS" is none.</summary>
        InCapitals,

        /// <summary>Never; it is only taken off for comparison.</summary>
        Never,

        /// <summary>In a line only. Keys of companies that are kept hold it.</summary>
        InLines,
    }

    private static readonly ImmutableArray<(string Written, Tells Tells)> Table =
    [
        .. Each("GmbH & Co. KG,GmbH und Co. KG,GmbH,Ltd,Limited,plc,LLC,LLP,Inc,Incorporated,Corp,Corporation,SARL,Lda,Oy,ApS,ASA", Tells.Always),
        .. Each("AS,AB,AG,KG,SA,SL,BV,S.A.,S.L.,A/S,Co.", Tells.InCapitals),
        .. Each("Company,LP,eK,eV", Tells.Never),
        .. Each("e.K.,e.V.,SAS", Tells.InLines),
    ];

    // For ends of folded text, the space before each; the longest first.
    private static readonly string[] Folded =
    [
        .. Table.Where(f => f.Tells != Tells.InLines).Select(f => ' ' + Folding.Heading(f.Written)).Distinct().OrderByDescending(f => f.Length),
    ];

    private static readonly string[] Sure = [.. Table.Where(f => f.Tells == Tells.Always).Select(f => ' ' + Folding.Heading(f.Written)).Distinct()];
    private static readonly string[] Capitals = [.. Table.Where(f => f.Tells == Tells.InCapitals).Select(f => ' ' + f.Written)];

    // As words of a line, as they are written; their dots may be missing.
    private static readonly Regex Word = new(
        $@"(?<![\p{{L}}\d])(?:{string.Join('|', Table.Where(f => f.Written != "Company").Select(f => Regex.Escape(f.Written).Replace(@"\.", @"\.?", StringComparison.Ordinal)))})(?![\p{{L}}\d])",
        RegexOptions.Compiled | RegexOptions.CultureInvariant
    );

    /// <summary>True for a name that ends with a legal form no person's name ends with.</summary>
    public static bool IsCompany(string name)
    {
        var plain = Folding.Heading(name);
        return Sure.Any(form => plain.Length > form.Length && plain.EndsWith(form, StringComparison.Ordinal))
            || (name.Any(char.IsLower) && Capitals.Any(form => name.EndsWith(form, StringComparison.Ordinal)));
    }

    /// <summary>True for a line with a legal form among its words: "Reef Ltd, Harbour 3".</summary>
    public static bool StandsIn(string line) => Word.IsMatch(line);

    /// <summary>A folded name without the legal forms at its end; never empty when it has letters.</summary>
    public static string TakeOff(string plain)
    {
        var rest = plain.AsSpan();
        for (var again = true; again; )
        {
            again = false;
            foreach (var form in Folded)
                if (rest.Length > form.Length && rest.EndsWith(form, StringComparison.Ordinal))
                {
                    rest = rest[..^form.Length];
                    again = true;
                }
        }
        return rest.Length == plain.Length ? plain : rest.ToString();
    }

    private static IEnumerable<(string, Tells)> Each(string forms, Tells tells) => forms.Split(',').Select(f => (f, tells));
}
