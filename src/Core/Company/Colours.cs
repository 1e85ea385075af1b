using System.Globalization;
using System.Text.RegularExpressions;

namespace DapperLantern.Core.Company;

/// <summary>Colours of a company, and whether people can read what is written in them.</summary>
public static partial class Colours
{
    /// <summary>Least contrast between text and its ground (WCAG 2.2, 1.4.3).</summary>
    public const double Readable = 4.5;

    // Of the public pages: the paper that links stand on, the letters on a button.
    private const string Paper = "#fffdf8";
    private const string Letters = "#ffffff";

    /// <summary>True of # and six hexadecimal digits.</summary>
    public static bool IsColour(string written) => Written().IsMatch(written);

    /// <summary>The least contrast that a colour has where public pages use it: as links on paper, and as a button under white letters. From 1 to 21.</summary>
    /// <param name="colour">See <see cref="IsColour"/>.</param>
    public static double OnPages(string colour) => Math.Min(Contrast(colour, Paper), Contrast(colour, Letters));

    /// <summary>Contrast ratio of two colours, from 1 to 21, in either order (WCAG 2.2).</summary>
    public static double Contrast(string one, string other)
    {
        var (a, b) = (Luminance(one), Luminance(other));
        return (Math.Max(a, b) + 0.05) / (Math.Min(a, b) + 0.05);
    }

    // Relative luminance, from 0 (black) to 1 (white), as WCAG 2.2 defines it.
    private static double Luminance(string colour)
    {
        double Part(int at) => int.Parse(colour.AsSpan(at, 2), NumberStyles.HexNumber, CultureInfo.InvariantCulture) / 255.0;
        static double Linear(double part) => part <= 0.04045 ? part / 12.92 : Math.Pow((part + 0.055) / 1.055, 2.4);
        return 0.2126 * Linear(Part(1)) + 0.7152 * Linear(Part(3)) + 0.0722 * Linear(Part(5));
    }

    [GeneratedRegex("^#[0-9a-fA-F]{6}$")]
    private static partial Regex Written();
}
