using System.Buffers;
using System.Globalization;
using System.Text.RegularExpressions;

namespace DapperLantern.Core.Fields;

/// <summary>Numbers and amounts of money as people write them, with either decimal mark.</summary>
public static partial class NumberReader
{
    private static readonly (string Sign, string[] Currencies)[] Signs =
    [
        ("€", ["EUR"]),
        ("£", ["GBP"]),
        ("US$", ["USD"]),
        ("R$", ["BRL"]),
        ("$", ["USD", "CAD", "AUD"]),
        ("kr", ["NOK", "SEK", "DKK"]),
        ("Fr.", ["CHF"]),
        ("Kč", ["CZK"]),
        ("zł", ["PLN"]),
    ];

    // Most amounts are bare numbers; they need no looking for a currency.
    private const int MostPlainDigits = 15;
    private static readonly SearchValues<char> BareAmount = SearchValues.Create("0123456789.,' ");

    private static readonly (string Ending, decimal Factor)[] Magnitudes = [("mio", 1_000_000), ("mill", 1_000_000), ("m", 1_000_000), ("k", 1_000), ("t", 1_000)];

    /// <summary>The number, or null when the text is none. Where nothing tells the mark, "1,200" and "1.200" are a thousand and two hundred; see <see cref="Readings"/>.</summary>
    public static decimal? Number(string text, DecimalMark mark)
    {
        if (text.Length is > 0 and <= MostPlainDigits && !text.AsSpan().ContainsAnyExceptInRange('0', '9'))
            return long.Parse(text, CultureInfo.InvariantCulture);
        var (digits, factor) = TakeMagnitude(Gaps().Replace(text, ""));
        if (mark == DecimalMark.Comma || (mark == DecimalMark.Either && IsSwapped(text)))
            digits = string.Create(
                digits.Length,
                digits,
                static (to, from) =>
                {
                    for (var i = 0; i < from.Length; i++)
                        to[i] = from[i] switch
                        {
                            '.' => ',',
                            ',' => '.',
                            var other => other,
                        };
                }
            );
        if (!Plain().IsMatch(digits) && !Grouped().IsMatch(digits))
            return null;
        return decimal.TryParse(digits, NumberStyles.Number | NumberStyles.AllowExponent, CultureInfo.InvariantCulture, out var number) && Math.Abs(number) < 1e15m
            ? number * factor
            : null;
    }

    /// <summary>
    /// The numbers a written one can mean: none, one, or two where nothing tells the mark before the decimals from one between thousands ("12,000"). Of two the
    /// one with thousands comes first.
    /// </summary>
    /// <param name="mark">The mark of who wrote it, where that is known: it settles what is open.</param>
    public static decimal[] Readings(string text, DecimalMark mark)
    {
        var bare = TakeCurrency(text).Amount;
        if (mark != DecimalMark.Either || MarkOf(bare) != DecimalMark.Either)
            return Number(bare, mark) is { } one ? [one] : [];
        decimal?[] both = [Number(bare, DecimalMark.Point), Number(bare, DecimalMark.Comma)];
        return [.. both.OfType<decimal>().Distinct().OrderByDescending(Math.Abs)];
    }

    /// <summary>The amount in <paramref name="currency"/>. Tells when the text names another currency: amounts are never converted in silence.</summary>
    public static (decimal? Amount, bool OtherCurrency) Money(string text, DecimalMark mark, string currency)
    {
        var (rest, named) = TakeCurrency(text);
        return named.Length > 0 && !named.Contains(currency) ? (null, true) : (Number(rest, mark), false);
    }

    /// <summary>The currencies that a text names by code or sign; a sign may be of several. Empty when it names none.</summary>
    public static string[] CurrencyIn(string text) => TakeCurrency(text.Trim(' ', '(', ')', '[', ']')).Named;

    /// <summary>Which decimal mark a written number shows without doubt: 1.234,5 a comma, 1,234.5 a point. <see cref="DecimalMark.Either"/> when it does not tell.</summary>
    public static DecimalMark MarkOf(string text)
    {
        if (text.AsSpan().IndexOfAny('.', ',') < 0)
            return DecimalMark.Either;
        var digits = Gaps().Replace(TakeCurrency(text).Amount, "");
        if (!digits.Any(char.IsAsciiDigit))
            return DecimalMark.Either;
        var (comma, point) = (digits.LastIndexOf(','), digits.LastIndexOf('.'));
        if (comma >= 0 && point >= 0)
            return comma > point ? DecimalMark.Comma : DecimalMark.Point;
        var at = Math.Max(comma, point);
        if (at < 0)
            return DecimalMark.Either;
        var written = comma >= 0 ? DecimalMark.Comma : DecimalMark.Point;
        var other = comma >= 0 ? DecimalMark.Point : DecimalMark.Comma;
        if (digits.IndexOf(digits[at], StringComparison.Ordinal) != at)
            return other;
        // No thousands begin with a zero: 0.125 is an eighth.
        return digits.Length - at - 1 == 3 && !LeadingZero().IsMatch(digits) ? DecimalMark.Either : written;
    }

    // A comma before the decimals, or a point that may stand between thousands: where nothing tells, thousands are taken, whichever the mark.
    private static bool IsSwapped(string text) =>
        MarkOf(text) is var mark && (mark == DecimalMark.Comma || (mark == DecimalMark.Either && text.Contains('.', StringComparison.Ordinal)));

    private static (string Digits, decimal Factor) TakeMagnitude(string text)
    {
        foreach (var (ending, factor) in Magnitudes)
        {
            var bare = text.TrimEnd('.');
            if (bare.Length > ending.Length && bare.EndsWith(ending, StringComparison.OrdinalIgnoreCase) && char.IsAsciiDigit(bare[^(ending.Length + 1)]))
                return (bare[..^ending.Length], factor);
        }
        return (text, 1);
    }

    private static (string Amount, string[] Named) TakeCurrency(string text)
    {
        var trimmed = text.Trim();
        if (!trimmed.AsSpan().ContainsAnyExcept(BareAmount))
            return (trimmed, []);
        if (StartingCode(trimmed) is { } starts)
            return (trimmed[starts.Length..], [starts]);
        foreach (Match code in CurrencyCode().Matches(trimmed))
            if (Iso4217.IsCode(code.Value.ToUpperInvariant()))
                return (trimmed.Remove(code.Index, code.Length), [code.Value.ToUpperInvariant()]);
        foreach (var (sign, currencies) in Signs)
        {
            if (trimmed.StartsWith(sign, StringComparison.OrdinalIgnoreCase))
                return (trimmed[sign.Length..].TrimStart('.'), currencies);
            if (trimmed.EndsWith(sign, StringComparison.OrdinalIgnoreCase))
                return (trimmed[..^sign.Length], currencies);
        }
        return (trimmed, []);
    }

    // "EUR 1,200", as most write it: told without a pattern.
    private static string? StartingCode(string text) => text.Length > 4 && text[3] == ' ' && Iso4217.IsCode(text[..3]) ? text[..3] : null;

    // Spaces of all widths and the Swiss apostrophe only group digits.
    [GeneratedRegex(@"[\s\u00a0\u202f\u2009'\u2019]+")]
    private static partial Regex Gaps();

    [GeneratedRegex(@"^[+-]?0")]
    private static partial Regex LeadingZero();

    [GeneratedRegex(@"^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d{1,2})?$")]
    private static partial Regex Plain();

    [GeneratedRegex(@"^[+-]?\d{1,3}(,\d{3})+(\.\d*)?$")]
    private static partial Regex Grouped();

    [GeneratedRegex(@"(?<![A-Za-z])[A-Za-z]{3}(?![A-Za-z])")]
    private static partial Regex CurrencyCode();
}
