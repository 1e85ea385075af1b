using System.Buffers;
using System.Text.RegularExpressions;
using PhoneNumbers;

namespace DapperLantern.Core.Fields;

/// <summary>
/// Reads telephone numbers. Three things are told apart: a whole number, which is kept in E.164 and links people; one that may lack digits or is
/// assigned to nobody, which is kept as it was written and links nobody; and text that is no number. Letters are never turned into digits.
/// </summary>
public static partial class PhoneReader
{
    /// <summary>Fewest digits of a number that may be whole somewhere.</summary>
    private const int FewestDigits = 6;

    /// <summary>Longest national number that people dial where numbers vary in length; E.164 leaves 12 to 14, no country uses them.</summary>
    private const int LongestInUse = 11;

    private static readonly PhoneNumberUtil Util = PhoneNumberUtil.GetInstance();

    // Ranges that regulators keep free for stories and examples, as far as the numbering plan itself does not hold them: Ofcom (United
    // Kingdom), ComReg (Ireland), ARCEP (France), ACMA (Australia).
    private static readonly string[] ForFiction =
    [
        "+441632960",
        "+447700900",
        "+448081570",
        "+449098790",
        "+443069990",
        "+3532091",
        "+3319900",
        "+3326191",
        "+3335301",
        "+3346571",
        "+3353649",
        "+3363998",
        "+61255501",
        "+61355501",
        "+61755501",
        "+61855501",
    ];

    private static readonly SearchValues<char> Dialling = SearchValues.Create("+0123456789 ().-/\u00a0");

    private enum Validity
    {
        None,
        Possible,
        Whole,
    }

    private readonly record struct Reading(Validity Standing, PhoneNumber? Number)
    {
        public string E164 => Number is null ? "" : Util.Format(Number, PhoneNumberFormat.E164);
    }

    /// <summary>True for a number in E.164, by which people can be told apart; false for one kept as it was written.</summary>
    public static bool IsWhole(string? stored) => stored is ['+', _, ..] && !stored.AsSpan(1).ContainsAnyExceptInRange('0', '9');

    /// <summary>The number where it is whole; empty where it is unknown or was kept as written.</summary>
    public static string Whole(string? stored) => IsWhole(stored) ? stored! : "";

    /// <summary>A stored number as people write it: "+44 1632 960143"; one that may not be whole as it came, and said so.</summary>
    public static string Show(string stored)
    {
        if (!IsWhole(stored))
            return $"{stored} (not a whole number)";
        try
        {
            return Util.Format(Util.Parse(stored, null), PhoneNumberFormat.INTERNATIONAL);
        }
        catch (NumberParseException)
        {
            return stored;
        }
    }

    /// <summary>
    /// Reads one number. The extension of a whole number stands in <see cref="ReadResult.Beside"/>, digits only; that of another stays within the text.
    /// </summary>
    /// <param name="country">Two-letter code by which a number without country code is read; null if unknown.</param>
    public static ReadResult Read(FieldDefinition field, string text, string? country)
    {
        var (dialled, extension) = TakeExtension(Bare(text));
        if (dialled.Any(char.IsLetter))
            return ReadResult.Bad("phone-letters", field, text);
        if (DateOrMachine().IsMatch(text))
            return ReadResult.Bad("phone-unreadable", field, text);
        var readings = Readings(dialled, country).ToList();
        if (readings is [{ Standing: Validity.Whole } one])
            return ReadResult.Good(one.E164, extension);
        var whole = readings.Where(r => r.Standing == Validity.Whole).Select(r => r.E164).Distinct().ToList();
        if (whole.Count > 1)
            return ReadResult.Bad("phone-two-readings", field, text);
        if (whole.Count == 1)
            return ReadResult.Good(whole[0], extension);
        return readings.Any(r => r.Standing == Validity.Possible) ? ReadResult.Good(AsWritten(text)) : ReadResult.Bad("phone-unreadable", field, text);
    }

    /// <summary>Numbers that were probably meant, in E.164: the two readings of one, those of several in one cell, or with O and l taken for digits.</summary>
    public static IEnumerable<string> Proposals(string text, string? country)
    {
        var (dialled, _) = TakeExtension(Bare(text));
        var digits = Slip().Replace(dialled, m => m.Value is "O" or "o" ? "0" : "1");
        var several = Between().Split(text).Where(p => p.Count(char.IsAsciiDigit) >= FewestDigits).Select(p => TakeExtension(Bare(p)).Dialled);
        return several
            .Prepend(digits)
            .Where(p => !p.Any(char.IsLetter))
            .SelectMany(p => Readings(p, country))
            .Where(r => r.Standing == Validity.Whole)
            .Select(r => r.E164)
            .Distinct();
    }

    // Without what people write before a number: "Tel.:", "mobil", "tel:".
    private static string Bare(string text)
    {
        var bare = text.Length > 0 && char.IsLetter(text[0]) ? Label().Replace(text, "") : text;
        // A spreadsheet that took a number for a quantity leaves "4722550143.0".
        return bare.EndsWith('0') ? FloatTail().Replace(bare, "") : bare;
    }

    private static (string Dialled, string? Extension) TakeExtension(string text)
    {
        // Most numbers are digits with what stands between them; they need no looking for words.
        if (!text.AsSpan().ContainsAnyExcept(Dialling))
            return (text, null);
        var match = ExtensionAtEnd().Match(text);
        return match.Success ? (text[..match.Index], match.Groups["n"].Value) : (text, null);
    }

    // As it came; a number that looks whole and is not is spaced, so that the two can be told apart.
    private static string AsWritten(string text)
    {
        if (!IsWhole(text))
            return text;
        var shown = Show(text);
        return IsWhole(shown) ? $"{text[..3]} {text[3..]}" : shown;
    }

    private static IEnumerable<Reading> Readings(string dialled, string? country)
    {
        var text = dialled.Trim();
        if (text.StartsWith("00", StringComparison.Ordinal))
            text = '+' + text[2..];
        if (text.StartsWith('+'))
            return text.Contains('(', StringComparison.Ordinal) && TrunkInside().IsMatch(text) ? Trunk(text) : [Parse(text, "ZZ")];
        return country is null ? [] : National(text, country);
    }

    // "+39 (0)6 ...": a few countries dial the zero from abroad too, the others do not. The one that is assigned holds.
    private static IEnumerable<Reading> Trunk(string text)
    {
        var without = Parse(TrunkInside().Replace(text, "$1 "), "ZZ");
        return without.Standing == Validity.Whole ? [without] : [Parse(text, "ZZ"), without];
    }

    // A number without plus is a national one, or an international one that lost its plus.
    private static IEnumerable<Reading> National(string text, string country)
    {
        var digits = string.Concat(text.Where(char.IsAsciiDigit));
        var code = Util.GetCountryCodeForRegion(country).ToString(System.Globalization.CultureInfo.InvariantCulture);
        var abroad = code != "0" && digits.StartsWith(code, StringComparison.Ordinal) ? Parse("+" + digits, "ZZ") : default;
        var home = Parse(text, country);
        // Where calls within the country begin with a zero, a number without one lacks its area code, unless a spreadsheet took the zero away.
        if (
            home.Standing == Validity.Whole
            && !digits.StartsWith('0')
            && Util.GetNddPrefixForRegion(country, true) == "0"
            && !LostZero().IsMatch(text)
            && abroad.Standing != Validity.Whole
        )
            home = home with { Standing = Validity.Possible };
        // The library takes the country code off by itself where that alone gives a number: then there is one reading.
        if (abroad.Standing == Validity.Whole && (home.Standing != Validity.Whole || digits.Length > LongestInUse))
            return [abroad];
        return abroad.Standing == Validity.Whole ? [home, abroad] : [home];
    }

    private static Reading Parse(string text, string region)
    {
        try
        {
            var number = Util.Parse(text, region);
            if (Util.IsValidNumber(number) || IsForFiction(number))
                return new Reading(Validity.Whole, number);
            var possible =
                text.Count(char.IsAsciiDigit) >= FewestDigits
                && Util.IsPossibleNumberWithReason(number) is PhoneNumberUtil.ValidationResult.IS_POSSIBLE or PhoneNumberUtil.ValidationResult.IS_POSSIBLE_LOCAL_ONLY;
            return new Reading(possible ? Validity.Possible : Validity.None, number);
        }
        catch (NumberParseException)
        {
            // Unreadable numbers are expected in lists.
            return default;
        }
    }

    private static bool IsForFiction(PhoneNumber number)
    {
        if (!Util.IsPossibleNumber(number))
            return false;
        var e164 = Util.Format(number, PhoneNumberFormat.E164);
        return Array.Exists(ForFiction, f => e164.StartsWith(f, StringComparison.Ordinal) && e164.Length >= 12);
    }

    [GeneratedRegex(
        @"^(?:tel:|callto:|(?:(?:t|tel|telephone|telefon|telefonnr|t[ée]l[ée]phone|t[ée]l|tel[ée]fono|tlf|fon|phone|ph|office|b[üu]ro|work|m|mob|mobil|mobile|mobiltelefon|m[óo]vil|portable|cell|handy|direct|direkt)\b\.?\s*[:.]?\s*)(?=[+(\d]))+",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Label();

    // 03.04.2026, 2026-04-03 10:15, 10.0.12.7
    [GeneratedRegex(@"^(?:\d{1,2}[./-]\d{1,2}[./-](?:19|20)\d{2}|(?:19|20)\d{2}[./-]\d{1,2}[./-]\d{1,2}|\d{1,3}(?:\.\d{1,3}){3})(?:[T\s].*)?$")]
    private static partial Regex DateOrMachine();

    [GeneratedRegex(@"(?<=^\+?\d{6,})\.0+$")]
    private static partial Regex FloatTail();

    [GeneratedRegex(
        @"(?<=\d[\s).]*)\s*(?:;ext=|,?\s*(?:ext(?:ension|n)?|x|#|durchwahl|dw|apparat|app|poste|anexo|int|interno|linje)\b?\.?\s*[:.]?)\s*(?<n>\d{1,7})\s*$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex ExtensionAtEnd();

    [GeneratedRegex(@"^\d{9,}$")]
    private static partial Regex LostZero();

    [GeneratedRegex(@"^(\+\s?\d{1,3})[\s./\-\u00a0]*\(\s*0\s*\)[\s./\-\u00a0]*")]
    private static partial Regex TrunkInside();

    [GeneratedRegex(@"[Ool](?=[\d\s]|$)")]
    private static partial Regex Slip();

    [GeneratedRegex(@"\s*(?:[;,|]|\s/\s|\bor\b|\boder\b|\bou\b|\beller\b|\bund\b|\band\b|\n)\s*", RegexOptions.IgnoreCase)]
    private static partial Regex Between();
}
