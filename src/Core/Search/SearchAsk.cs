using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Search;

/// <summary>What somebody searches for, read once.</summary>
/// <param name="Words">In comparison form (<see cref="Folding.Heading"/>), each once; at most <see cref="MostWords"/>.</param>
/// <param name="Digits">The digits of a telephone number as dialled from anywhere, without the zeros in front; null where it is none.</param>
/// <param name="IsInternational">True where the digits begin with a country code.</param>
/// <param name="Number">The number of a lead: "1182", "L-1182"; null where it is none.</param>
/// <param name="Email">The whole text where it is an email address, in the form in which they are kept; else null.</param>
public sealed record SearchAsk(ImmutableArray<string> Words, string? Digits, bool IsInternational, int? Number, string? Email)
{
    public const int MostWords = 6;

    /// <summary>A number of fewer digits finds too many.</summary>
    public const int FewestDigits = 4;

    public bool IsEmpty => Words.Length == 0;

    public static SearchAsk Read(string? text)
    {
        var words = Folding.Heading(text ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).Distinct().Take(MostWords).ToImmutableArray();
        var (digits, international) = DigitsOf(text ?? "");
        return new SearchAsk(words, digits, international, NumberOf(words), EmailOf(text ?? ""));
    }

    private static (string? Digits, bool International) DigitsOf(string text)
    {
        if (text.Any(c => char.IsLetter(c) || c == '@'))
            return (null, false);
        var digits = string.Concat(text.Where(char.IsAsciiDigit));
        var international = text.TrimStart().StartsWith('+') || digits.StartsWith("00", StringComparison.Ordinal);
        // "(0)" inside a number that has its country code is not dialled with it.
        if (international && text.Contains("(0)", StringComparison.Ordinal))
            digits = string.Concat(text.Replace("(0)", "", StringComparison.Ordinal).Where(char.IsAsciiDigit));
        digits = digits.TrimStart('0');
        return digits.Length < FewestDigits ? (null, false) : (digits, international);
    }

    private static string? EmailOf(string text) => text.Contains('@', StringComparison.Ordinal) ? FieldReader.Read(Mail, text).Value.Text : null;

    private static readonly FieldDefinition Mail = BuiltInFields.Facts.Single(f => f.Key == "email");

    private static int? NumberOf(ImmutableArray<string> words) =>
        words switch
        {
            [var only] when int.TryParse(only, out var number) => number,
            ["l" or "lead", var second] when int.TryParse(second, out var number) => number,
            _ => null,
        };
}
