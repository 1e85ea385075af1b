using System.Text.RegularExpressions;
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

    private delegate ReadResult Reader(FieldDefinition field, string written, Conventions conventions);

    private static readonly Dictionary<FieldType, Reader> Readers = new()
    {
        [FieldType.Text] = (_, text, _) => ReadResult.Good(text),
        [FieldType.Name] = (_, text, _) => ReadResult.Good(NameCase.Of(text)),
        [FieldType.Email] = ReadEmail,
        [FieldType.Phone] = ReadPhone,
        [FieldType.Country] = (f, text, _) => Countries.Find(text) is { } code ? ReadResult.Good(code) : ReadResult.Bad("country-unknown", f, text),
        [FieldType.Region] = (f, text, how) => Regions.Find(text, how.Country) is { } code ? ReadResult.Good(code) : ReadResult.Bad("region-unknown", f, text),
        [FieldType.Domain] = ReadDomain,
        [FieldType.Choice] = ReadChoice,
        [FieldType.Number] = ReadNumber,
        [FieldType.Date] = ReadDate,
        [FieldType.Money] = ReadMoney,
        [FieldType.YesNo] = ReadChoice,
    };

    /// <summary>Reads one value. Blank, and the usual words for nothing ("n/a", "-"), are unknown and no problem.</summary>
    /// <param name="conventions">How the row and its column write such values.</param>
    public static ReadResult Read(FieldDefinition field, string? written, Conventions conventions = default)
    {
        var text = Clean(written);
        if (text.Length == 0 || (text.Length <= 7 && Nothing().IsMatch(text)))
            return default;
        if (text.Length > LongestText)
            return ReadResult.Bad("text-too-long", field, text);
        if (text[0] == '#' && CellError().IsMatch(text))
            return ReadResult.Bad("cell-error", field, text);
        return Readers[field.Type](field, text, conventions);
    }

    /// <summary>The same with the one convention that the row's country is.</summary>
    public static ReadResult Read(FieldDefinition field, string? written, string? country) => Read(field, written, new Conventions(country));

    /// <summary>Runs of spaces of every kind made one, none at the ends, no NUL. A clean text is given back as it is, without a copy.</summary>
    public static string Clean(string? written)
    {
        if (string.IsNullOrEmpty(written))
            return "";
        var clean = !IsSpace(written[0]) && !IsSpace(written[^1]);
        for (var i = 0; clean && i < written.Length; i++)
            clean = written[i] == ' ' ? written[i - 1] != ' ' : !IsSpace(written[i]);
        return clean ? written : Spaces().Replace(written, " ").Trim();
    }

    private static bool IsSpace(char letter) => letter is ' ' or '\u200b' or '\ufeff' or '\0' || char.IsWhiteSpace(letter) || char.IsControl(letter);

    private static ReadResult ReadEmail(FieldDefinition field, string text, Conventions _)
    {
        var address = text.Replace("mailto:", "", StringComparison.OrdinalIgnoreCase).Replace(" ", "", StringComparison.Ordinal).Trim('<', '>', ';', ',', '.');
        return EmailForm().IsMatch(address) ? ReadResult.Good(address.ToLowerInvariant()) : ReadResult.Bad("email-unreadable", field, text);
    }

    private static ReadResult ReadPhone(FieldDefinition field, string text, Conventions conventions)
    {
        var dialled = text.EndsWith('0') ? FloatTail().Replace(text, "") : text;
        if (dialled.StartsWith("00", StringComparison.Ordinal))
            dialled = '+' + dialled[2..];
        var util = PhoneNumberUtil.GetInstance();
        try
        {
            var number = util.Parse(dialled, conventions.Country ?? "ZZ");
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

    private static ReadResult ReadDomain(FieldDefinition field, string text, Conventions _)
    {
        var host = DomainHead().Replace(text.ToLowerInvariant(), "");
        host = host.Split('/', '?', '#')[0].TrimEnd('.');
        return DomainForm().IsMatch(host) ? ReadResult.Good(host) : ReadResult.Bad("domain-unreadable", field, text);
    }

    private static ReadResult ReadChoice(FieldDefinition field, string text, Conventions _)
    {
        if (field.Choices.Length == 0)
            return ReadResult.Good(text);
        return field.ChoiceOf(text) is { } key ? ReadResult.Good(key) : ReadResult.Bad("choice-unknown", field, text);
    }

    private static ReadResult ReadNumber(FieldDefinition field, string text, Conventions conventions) =>
        NumberReader.Number(text, conventions.Decimals) is not { } number ? ReadResult.Bad("number-unreadable", field, text)
        : field.Counts && (number < 0 || !decimal.IsInteger(number)) ? ReadResult.Bad("count-unreadable", field, text)
        : new ReadResult(FieldValue.Of(number), null);

    private static ReadResult ReadMoney(FieldDefinition field, string text, Conventions conventions) =>
        NumberReader.Money(text, conventions.Decimals, field.Currency) switch
        {
            ({ } amount, _) => new ReadResult(FieldValue.Of(amount), null),
            (_, true) => ReadResult.Bad("currency-other", field, text),
            _ => ReadResult.Bad("money-unreadable", field, text),
        };

    private static ReadResult ReadDate(FieldDefinition field, string text, Conventions conventions) =>
        DateReader.Read(text, conventions.Dates) is { } moment ? new ReadResult(FieldValue.Of(moment), null) : ReadResult.Bad("date-unreadable", field, text);

    [GeneratedRegex(@"[\s\u00a0\u200b\ufeff\p{Cc}]+")]
    private static partial Regex Spaces();

    [GeneratedRegex(@"^(n/?a|none|null|-+|\?+|unknown|keine|\.)$", RegexOptions.IgnoreCase)]
    private static partial Regex Nothing();

    [GeneratedRegex(@"^[^@\s,;:<>""()\[\]]{1,64}@(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+[\p{L}]{2,}$")]
    private static partial Regex EmailForm();

    // What a spreadsheet shows where a formula failed.
    [GeneratedRegex(@"^#(REF|DIV/0|VALUE|NAME|NUM|NULL|N/A|ERROR)[!?]?$")]
    private static partial Regex CellError();

    // A spreadsheet that took a phone for a number leaves "4722550143.0".
    [GeneratedRegex(@"(?<=^\+?\d{6,})\.0+$")]
    private static partial Regex FloatTail();

    [GeneratedRegex(@"^[a-z]+://|^www\.|(?<=^[a-z]+://)www\.")]
    private static partial Regex DomainHead();

    [GeneratedRegex(@"^(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+[\p{L}]{2,}$")]
    private static partial Regex DomainForm();
}
