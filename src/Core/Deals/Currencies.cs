using System.Collections.Frozen;

namespace DapperLantern.Core.Deals;

/// <summary>The currency (ISO 4217) usual in a country (ISO 3166-1 alpha-2), of those most leads come from.</summary>
public static class Currencies
{
    private const string Table =
        "EUR AT BE BG HR CY EE FI FR DE GR IE IT LV LT LU MT NL PT SK SI ES MC SM VA AD ME|GBP GB IM JE GG|NOK NO SJ|SEK SE|DKK DK FO GL|CHF CH LI|USD US PR GU VI EC SV PA"
        + "|CAD CA|AUD AU|NZD NZ|JPY JP|PLN PL|CZK CZ|HUF HU|RON RO|ISK IS|MXN MX|BRL BR|INR IN|ZAR ZA|TRY TR|AED AE|SGD SG|HKD HK|CNY CN|KRW KR|ILS IL|UAH UA";

    private static readonly FrozenDictionary<string, string> ByCountry = Table
        .Split('|')
        .Select(line => line.Split(' '))
        .SelectMany(line => line.Skip(1).Select(country => (country, line[0])))
        .ToFrozenDictionary(x => x.country, x => x.Item2);

    /// <summary>Null for a country that is not in the table.</summary>
    public static string? Of(string? country) => country is null ? null : ByCountry.GetValueOrDefault(country);
}
