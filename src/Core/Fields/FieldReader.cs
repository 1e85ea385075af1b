using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;
using NodaTime.Text;
using PhoneNumbers;

namespace DapperLantern.Core.Fields;

/// <summary>What a written value became: a normalised value (perhaps unknown, for a blank), or a problem. Never both.</summary>
public readonly record struct ReadResult(FieldValue Value, Problem? Problem)
{
    public static ReadResult Good(string? text) => new(FieldValue.Of(text), null);

    public static ReadResult Bad(string code, FieldDefinition field, string found) => new(default, new Problem(code, field.Key, found));
}

/// <summary>Normalises and validates one written value by its field's type. One line of the table a type.</summary>
public static partial class FieldReader
{
    /// <summary>Longest text a field keeps, in UTF-16 units.</summary>
    public const int LongestText = 500;

    private delegate ReadResult Reader(FieldDefinition field, string written, string? country);

    private static readonly Dictionary<FieldType, Reader> Readers = new()
    {
        [FieldType.Text] = (_, text, _) => ReadResult.Good(text),
        [FieldType.Name] = (_, text, _) => ReadResult.Good(NameCase.Of(text)),
        [FieldType.Email] = ReadEmail,
        [FieldType.Phone] = ReadPhone,
        [FieldType.Country] = (f, text, _) => Countries.Find(text) is { } code ? ReadResult.Good(code) : ReadResult.Bad("country-unknown", f, text),
        [FieldType.Region] = (f, text, country) => Regions.Find(text, country) is { } code ? ReadResult.Good(code) : ReadResult.Bad("region-unknown", f, text),
        [FieldType.Domain] = ReadDomain,
        [FieldType.Choice] = ReadChoice,
        [FieldType.Number] = ReadNumber,
        [FieldType.Date] = ReadDate,
    };

    /// <summary>Reads one value. Blank, and the usual words for nothing ("n/a", "-"), are unknown and no problem.</summary>
    /// <param name="country">Two-letter code of the row's country, which phones and regions depend on; null if unknown.</param>
    public static ReadResult Read(FieldDefinition field, string? written, string? country = null)
    {
        var text = Spaces().Replace(written ?? "", " ").Replace("\0", "", StringComparison.Ordinal).Trim();
        if (text.Length == 0 || Nothing().IsMatch(text))
            return default;
        if (text.Length > LongestText)
            return ReadResult.Bad("text-too-long", field, text);
        return Readers[field.Type](field, text, country);
    }

    private static ReadResult ReadEmail(FieldDefinition field, string text, string? _)
    {
        var address = text.Replace("mailto:", "", StringComparison.OrdinalIgnoreCase).Replace(" ", "", StringComparison.Ordinal).Trim('<', '>', ';', ',', '.');
        return EmailForm().IsMatch(address) ? ReadResult.Good(address.ToLowerInvariant()) : ReadResult.Bad("email-unreadable", field, text);
    }

    private static ReadResult ReadPhone(FieldDefinition field, string text, string? country)
    {
        var dialled = FloatTail().Replace(text, "");
        if (dialled.StartsWith("00", StringComparison.Ordinal))
            dialled = '+' + dialled[2..];
        var util = PhoneNumberUtil.GetInstance();
        try
        {
            var number = util.Parse(dialled, country ?? "ZZ");
            if (util.IsPossibleNumber(number))
                return ReadResult.Good(util.Format(number, PhoneNumberFormat.E164));
        }
        catch (NumberParseException)
        {
            // Said below: an unreadable number is expected in lists, not a fault of ours.
        }
        return ReadResult.Bad("phone-unreadable", field, text);
    }

    /// <summary>A stored number as people write it: "+44 1632 960143"; what is no number stays as it is.</summary>
    public static string ShowPhone(string stored)
    {
        var util = PhoneNumberUtil.GetInstance();
        try
        {
            return util.Format(util.Parse(stored, null), PhoneNumberFormat.INTERNATIONAL);
        }
        catch (NumberParseException)
        {
            return stored;
        }
    }

    private static ReadResult ReadDomain(FieldDefinition field, string text, string? _)
    {
        var host = DomainHead().Replace(text.ToLowerInvariant(), "");
        host = host.Split('/', '?', '#')[0].TrimEnd('.');
        return DomainForm().IsMatch(host) ? ReadResult.Good(host) : ReadResult.Bad("domain-unreadable", field, text);
    }

    private static ReadResult ReadChoice(FieldDefinition field, string text, string? _)
    {
        if (field.Choices.Length == 0)
            return ReadResult.Good(text);
        var folded = Folding.Heading(text);
        foreach (var choice in field.Choices)
            if (choice.Key == text || Folding.Heading(choice.Label) == folded || choice.AlsoCalled.Any(a => Folding.Heading(a) == folded))
                return ReadResult.Good(choice.Key);
        return ReadResult.Bad("choice-unknown", field, text);
    }

    private static ReadResult ReadNumber(FieldDefinition field, string text, string? _)
    {
        var plain = text.Replace(" ", "", StringComparison.Ordinal).Replace("\u00a0", "", StringComparison.Ordinal);
        if (DecimalComma().IsMatch(plain))
            plain = plain.Replace(".", "", StringComparison.Ordinal).Replace(',', '.');
        var good = decimal.TryParse(plain, NumberStyles.Number, CultureInfo.InvariantCulture, out var number);
        return good ? new ReadResult(FieldValue.Of(number), null) : ReadResult.Bad("number-unreadable", field, text);
    }

    private static ReadResult ReadDate(FieldDefinition field, string text, string? _) =>
        LocalDatePattern.Iso.Parse(text) is { Success: true } date
            ? new ReadResult(FieldValue.Of(date.Value.AtStartOfDayInZone(DateTimeZone.Utc).ToInstant()), null)
            : ReadResult.Bad("date-unreadable", field, text);

    [GeneratedRegex(@"[\s\u00a0\u200b]+")]
    private static partial Regex Spaces();

    [GeneratedRegex(@"^(n/?a|none|null|-+|\?+|unknown|keine|\.)$", RegexOptions.IgnoreCase)]
    private static partial Regex Nothing();

    [GeneratedRegex(@"^[^@\s,;:<>""()\[\]]{1,64}@(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+[\p{L}]{2,}$")]
    private static partial Regex EmailForm();

    // A spreadsheet that took a phone for a number leaves "4722550143.0".
    [GeneratedRegex(@"(?<=^\+?\d{6,})\.0+$")]
    private static partial Regex FloatTail();

    [GeneratedRegex(@"^[a-z]+://|^www\.|(?<=^[a-z]+://)www\.")]
    private static partial Regex DomainHead();

    [GeneratedRegex(@"^(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+[\p{L}]{2,}$")]
    private static partial Regex DomainForm();

    // "1,200" is a thousand and two hundred: three digits behind one comma are a group.
    [GeneratedRegex(@"^-?\d{1,3}(\.\d{3})+,\d+$|^-?\d+,(\d{1,2}|\d{4,})$")]
    private static partial Regex DecimalComma();
}
