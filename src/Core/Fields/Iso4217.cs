using System.Collections.Frozen;

namespace DapperLantern.Core.Fields;

/// <summary>Currencies in use (ISO 4217:2015, list one, without funds, metals and test codes), each with the number of decimals of its minor unit.</summary>
public static class Iso4217
{
    private const string Hundredths =
        "AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BGN BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF CNY COP CRC CUP CVE CZK DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS "
        + "GIP GMD GTQ GYD HKD HNL HTG HUF IDR ILS INR IRR JMD KES KGS KHR KPW KYD KZT LAK LBP LKR LRD LSL MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO NOK NPR "
        + "NZD PAB PEN PGK PHP PKR PLN QAR RON RSD RUB SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TOP TRY TTD TWD TZS UAH USD UYU UZS VES WST XCD YER ZAR "
        + "ZMW ZWG";

    private const string Whole = "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX VND VUV XAF XOF XPF";
    private const string Thousandths = "BHD IQD JOD KWD LYD OMR TND";

    private static readonly FrozenDictionary<string, int> ByCode = Of(Whole, 0).Concat(Of(Hundredths, 2)).Concat(Of(Thousandths, 3)).ToFrozenDictionary(c => c.Code, c => c.Digits);

    private static IEnumerable<(string Code, int Digits)> Of(string codes, int digits) => codes.Split(' ').Select(c => (c, digits));

    /// <summary>True for the code of a currency in use: three capital letters of the list.</summary>
    public static bool IsCode(string? code) => code is not null && ByCode.ContainsKey(code);

    /// <summary>Decimals of the minor unit, 0 to 3; 2 for a code that is not in the list.</summary>
    public static int Digits(string code) => ByCode.GetValueOrDefault(code, 2);

    /// <summary>All codes, in no order.</summary>
    public static IEnumerable<string> Codes => ByCode.Keys;
}
