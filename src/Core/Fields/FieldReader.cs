using System.Text.RegularExpressions;

namespace DapperLantern.Core.Fields;

/// <summary>What a written value became: a normalised value (perhaps unknown, for a blank), or a problem. Never both.</summary>
public readonly record struct ReadResult(FieldValue Value, Problem? Problem)
{
    /// <summary>What else the text said: the name beside an email address, the extension of a telephone number; null for nothing.</summary>
    public string? Beside { get; init; }

    public static ReadResult Good(string? text, string? beside = null) => new(FieldValue.Of(text), null) { Beside = beside };

    public static ReadResult Bad(string code, FieldDefinition field, string found) => new(default, new Problem(code, field.Key, found));
}

/// <summary>Normalises and validates one written value by its field's type. One line of the table a type.</summary>
public static partial class FieldReader
{
    /// <summary>Longest text most fields keep, in UTF-16 units; see <see cref="FieldDefinition.Longest"/>.</summary>
    public const int LongestText = 500;

    private delegate ReadResult Reader(FieldDefinition field, string written, Conventions conventions);

    private static readonly Dictionary<FieldType, Reader> Readers = new()
    {
        [FieldType.Text] = (_, text, _) => ReadResult.Good(text),
        [FieldType.Name] = (_, text, _) => ReadResult.Good(NameCase.Of(text)),
        [FieldType.Email] = (f, text, _) => EmailReader.Read(f, text),
        [FieldType.Phone] = (f, text, how) => PhoneReader.Read(f, text, how.Country),
        [FieldType.Country] = (f, text, _) => Countries.Find(text) is { } code ? ReadResult.Good(code) : ReadResult.Bad("country-unknown", f, text),
        [FieldType.Region] = (f, text, how) =>
            Regions.Find(text, how.Country) is { } code ? ReadResult.Good(code) : ReadResult.Bad(how.Country is null ? "region-landless" : "region-unknown", f, text),
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
        if (IsBlank(text))
            return default;
        if (text.Length > field.Longest)
            return ReadResult.Bad("text-too-long", field, text);
        if (text[0] == '#' && CellError().IsMatch(text))
            return ReadResult.Bad("cell-error", field, text);
        return Readers[field.Type](field, text, conventions);
    }

    /// <summary>True for no text and for the usual words for nothing.</summary>
    public static bool IsBlank(string clean) => clean.Length == 0 || (clean.Length <= 8 && Nothing().IsMatch(clean));

    /// <summary>One value that somebody types or a program sends, who can be asked: "12,000" is a problem, since it can be read in two ways.</summary>
    /// <param name="country">Two-letter code by which telephones and regions are read; null if unknown.</param>
    /// <param name="mark">The decimal mark of who writes it, where it is known.</param>
    public static ReadResult Read(FieldDefinition field, string? written, string? country, DecimalMark mark = DecimalMark.Either) =>
        Read(field, written, new Conventions(country, Decimals: mark, Asks: true));

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

    private static ReadResult ReadDomain(FieldDefinition field, string text, Conventions _)
    {
        var host = DomainHead().Replace(text.ToLowerInvariant(), "");
        host = host.Split('/', '?', '#')[0].TrimEnd('.');
        return IsDomain(host) ? ReadResult.Good(host) : ReadResult.Bad("domain-unreadable", field, text);
    }

    /// <summary>True for the name of a host: labels of at most 63 letters, the last with at least two and one that is no figure, so that the address of a machine is none.</summary>
    internal static bool IsDomain(ReadOnlySpan<char> host) => DomainForm().IsMatch(host);

    private static ReadResult ReadChoice(FieldDefinition field, string text, Conventions _)
    {
        if (field.Choices.Length == 0)
            return ReadResult.Good(text);
        return field.ChoiceOf(text) is { } key ? ReadResult.Good(key) : ReadResult.Bad("choice-unknown", field, text);
    }

    private static bool IsOpen(string text, Conventions conventions) => conventions.Asks && NumberReader.Readings(text, conventions.Decimals).Length > 1;

    private static ReadResult ReadNumber(FieldDefinition field, string text, Conventions conventions) =>
        IsOpen(text, conventions) && !field.Counts ? ReadResult.Bad("number-two-readings", field, text)
        : NumberReader.Number(text, conventions.Decimals) is not { } number ? ReadResult.Bad("number-unreadable", field, text)
        : field.Counts && (number < 0 || !decimal.IsInteger(number)) ? ReadResult.Bad("count-unreadable", field, text)
        : new ReadResult(FieldValue.Of(number), null);

    private static ReadResult ReadMoney(FieldDefinition field, string text, Conventions conventions) =>
        IsOpen(text, conventions)
            ? ReadResult.Bad("number-two-readings", field, text)
            : NumberReader.Money(text, conventions.Decimals, field.Currency) switch
            {
                ({ } amount, _) => new ReadResult(FieldValue.Of(amount), null),
                (_, true) => ReadResult.Bad("currency-other", field, text),
                _ => ReadResult.Bad("money-unreadable", field, text),
            };

    private static ReadResult ReadDate(FieldDefinition field, string text, Conventions conventions) =>
        DateReader.Read(text, conventions.Dates) is { } moment
            ? new ReadResult(FieldValue.Of(moment), null)
            : ReadResult.Bad(conventions.Dates == DateOrder.Either && DateReader.OrderOf(text) is (null, true) ? "date-doubtful" : "date-unreadable", field, text);

    [GeneratedRegex(@"[\s\u00a0\u200b\ufeff\p{Cc}]+")]
    private static partial Regex Spaces();

    [GeneratedRegex(
        @"^(n/?a|n\.\s?a\.?|n\.\s?d\.?|n/d|none|nil|null|nan|k\.?\s?a\.?|keine?|entf\.?|s/o|s\.\s?o\.?|-+|[\u2013\u2014]+|_+|\?+|x{2,}|/+|unknown|unbek\.?|inconnu|ukjent|\.+)$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Nothing();

    // What a spreadsheet shows where a formula failed.
    [GeneratedRegex(@"^#(REF|DIV/0|VALUE|NAME|NUM|NULL|N/A|ERROR)[!?]?$")]
    private static partial Regex CellError();

    [GeneratedRegex(@"^[a-z]+://|^www\.|(?<=^[a-z]+://)www\.")]
    private static partial Regex DomainHead();

    [GeneratedRegex(@"^(?:[\p{L}\p{N}](?:[\p{L}\p{M}\p{N}-]{0,61}[\p{L}\p{M}\p{N}])?\.)+(?=[^.]*\p{L})[\p{L}\p{N}][\p{L}\p{M}\p{N}-]{0,61}[\p{L}\p{M}\p{N}]$")]
    private static partial Regex DomainForm();
}
