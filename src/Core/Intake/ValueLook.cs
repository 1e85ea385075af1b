using System.Collections.Immutable;
using System.Text.RegularExpressions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>What the values of a column are by their form alone.</summary>
public enum ValueLook
{
    /// <summary>No form we can tell: names, free text.</summary>
    Text,
    Email,
    Web,
    Machine,
    YesNo,

    /// <summary>Forms of address and academic titles: Mr, Frau, Dr.</summary>
    Salutation,
    Date,
    Year,
    Amount,
    Number,
    Code,
    Phone,
    Country,
    PlaceLine,
    Company,
}

/// <summary>
/// Tells what a column's values are by their form. The plainest explanation comes first: what can be a date, a year, an amount, a code or the address of a
/// machine is not taken for a telephone number, and yes or no not for a country.
/// </summary>
public static partial class ValueLooks
{
    // So many of the values must have the form, in hundredths: lists have slips.
    private const int Share = 80;

    private static readonly FieldDefinition Email = BuiltInFields.Facts.Single(f => f.Key == "email");
    private static readonly FieldDefinition Decides = BuiltInFields.Facts.Single(f => f.Key == "decides");
    private static readonly FieldDefinition Phone = BuiltInFields.Facts.Single(f => f.Key == "phone");

    private static readonly (ValueLook Look, Func<string, bool> Has)[] Table =
    [
        (ValueLook.Email, v => FieldReader.Read(Email, v).Value.IsKnown),
        (ValueLook.Web, v => Web().IsMatch(v)),
        (ValueLook.Machine, v => Machine().IsMatch(v)),
        (ValueLook.YesNo, v => Decides.ChoiceOf(v) is not null),
        (ValueLook.Salutation, FormsOfAddress.IsOne),
        (ValueLook.Date, v => Date().IsMatch(v) && (DateReader.Read(v, DateOrder.DayFirst) ?? DateReader.Read(v, DateOrder.MonthFirst)) is not null),
        (ValueLook.Year, v => Year().IsMatch(v)),
        (ValueLook.Amount, v => Amount().IsMatch(v)),
        (ValueLook.Phone, IsPhone),
        (ValueLook.Number, v => NumberReader.Number(v, DecimalMark.Either) is not null),
        (ValueLook.Code, v => Code().IsMatch(v)),
        (ValueLook.PlaceLine, Composites.LooksLikePlaceLine),
        (ValueLook.Company, LegalForms.IsCompany),
    ];

    /// <summary>What these values are; <see cref="ValueLook.Text"/> when they have no form in common. One value alone is never a country.</summary>
    public static ValueLook Of(ImmutableArray<string> values)
    {
        if (values.Length == 0)
            return ValueLook.Text;
        foreach (var (look, has) in Table)
            if (values.Count(has) * 100 >= values.Length * Share)
                return look;
        return AreCountries(values) ? ValueLook.Country : ValueLook.Text;
    }

    /// <summary>For people: "dates", "telephone numbers".</summary>
    public static string Words(ValueLook look) =>
        look switch
        {
            ValueLook.Email => "email addresses",
            ValueLook.Web => "web addresses",
            ValueLook.Machine => "addresses of machines",
            ValueLook.YesNo => "yes or no",
            ValueLook.Salutation => "forms of address",
            ValueLook.Date => "dates",
            ValueLook.Year => "years",
            ValueLook.Amount => "amounts",
            ValueLook.Number => "numbers",
            ValueLook.Code => "codes",
            ValueLook.Phone => "telephone numbers",
            ValueLook.Country => "countries",
            ValueLook.PlaceLine => "postal codes with places",
            ValueLook.Company => "companies",
            _ => "text",
        };

    // A number that says itself that it is one to dial: a country code, or a zero or bracket in front with gaps between the digits.
    private static bool IsPhone(string value) =>
        DialledFromAbroad().IsMatch(value) ? FieldReader.Read(Phone, value).Value.IsKnown : DialledAtHome().IsMatch(value) && value.Count(char.IsAsciiDigit) is >= 7 and <= 12;

    // Names of four letters and more, or three different codes in capitals; "No" and "Ada" are names of countries or codes too.
    private static bool AreCountries(ImmutableArray<string> values)
    {
        var distinct = values.Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        var named = distinct.Count(v => v.Length >= 4 && Countries.Find(v) is not null);
        if (distinct.Count >= 2 && named * 100 >= distinct.Count * Share)
            return true;
        return distinct.Count >= 3 && distinct.TrueForAll(v => v.Length == 2 && v.All(char.IsAsciiLetterUpper) && Countries.NameOf(v) is not null);
    }

    [GeneratedRegex(@"^(?:https?://|www\.)[^\s/]+\.[^\s]+$", RegexOptions.IgnoreCase)]
    private static partial Regex Web();

    [GeneratedRegex(@"^(?:\d{1,3}(?:\.\d{1,3}){3}(?:[:/]\d+)?|[0-9a-f]{1,4}(?::[0-9a-f]{0,4}){3,7}|(?:[0-9a-f]{2}[:-]){5}[0-9a-f]{2})$", RegexOptions.IgnoreCase)]
    private static partial Regex Machine();

    [GeneratedRegex(@"\d[-/.]\s?\d|\d\.?[\s-]\p{L}{3}|\p{L}{3}\.?\s\d")]
    private static partial Regex Date();

    [GeneratedRegex(@"^(?:19|20)\d{2}$")]
    private static partial Regex Year();

    [GeneratedRegex(
        @"^[-+]?(?:[€£$]|(?:EUR|USD|GBP|CHF|NOK|SEK|DKK|kr)\.?)?\s?-?\d[\d.,'\s]*(?:[.,]\d{2}|\s?(?:%|[€£$]|(?:EUR|USD|GBP|CHF|NOK|SEK|DKK|kr)\b\.?,?-?))$|^[€£$]\s?\d[\d.,'\s]*$|^(?:EUR|USD|GBP|CHF|NOK|SEK|DKK)\s\d[\d.,'\s]*$|^\d{1,3}(?:[.,']\d{3})+$"
    )]
    private static partial Regex Amount();

    [GeneratedRegex(@"^(?=.*\d)[A-Za-z]{0,6}[-_/.# ]?\d[\dA-Za-z]*(?:[-_/.][\dA-Za-z]+){0,5}$")]
    private static partial Regex Code();

    [GeneratedRegex(@"^(?:\+|00)\s?[1-9][\d\s().\-/]{5,}")]
    private static partial Regex DialledFromAbroad();

    [GeneratedRegex(@"^(?:0\d{1,5}[\s/\-]+|\(\d{2,5}\)\s?)\d[\d\s\-]{3,}$")]
    private static partial Regex DialledAtHome();
}
