using System.Collections.Frozen;
using System.Reflection;

namespace DapperLantern.Core.Fields;

/// <summary>ISO 3166-1 countries by code, name, native name and usual misspelling (data: see NOTICE).</summary>
public static class Countries
{
    private static readonly (string Code, string[] Names)[] Rows = [.. EmbeddedTable.Lines("countries.tsv").Select(l => l.Split('\t')).Select(c => (c[0], c[1..]))];

    private static readonly FrozenDictionary<string, string> Names = Rows.ToFrozenDictionary(r => r.Code, r => r.Names[0]);
    private static readonly FrozenDictionary<string, string> Codes = MakeCodes();

    public static string? NameOf(string code) => Names.GetValueOrDefault(code);

    /// <summary>The two-letter code for whatever was written, or null.</summary>
    public static string? Find(string written) => Codes.GetValueOrDefault(Compact(written));

    public static IEnumerable<(string Code, string Name)> All => Rows.Select(r => (r.Code, r.Names[0]));

    private static string Compact(string written) => Folding.Heading(written).Replace(" ", "", StringComparison.Ordinal);

    private static FrozenDictionary<string, string> MakeCodes()
    {
        var codes = new Dictionary<string, string>();
        foreach (var (code, _) in Rows)
            codes[code.ToLowerInvariant()] = code;
        foreach (var (code, names) in Rows)
        foreach (var name in names)
            codes.TryAdd(Compact(name), code);
        return codes.ToFrozenDictionary();
    }
}

/// <summary>ISO 3166-2 subdivisions by code or by name within a country.</summary>
public static class Regions
{
    private static readonly (string Code, string Name)[] Rows = [.. EmbeddedTable.Lines("regions.tsv").Select(l => l.Split('\t')).Select(c => (c[0], c[1]))];

    private static readonly FrozenDictionary<string, string> Names = Rows.ToFrozenDictionary(r => r.Code, r => r.Name);
    private static readonly FrozenDictionary<string, string> Codes = Rows.GroupBy(r => Key(r.Code[..2], r.Name)).ToFrozenDictionary(g => g.Key, g => g.First().Code);

    // Names in other languages than the subdivision's own, which the standard's list does not have.
    private static readonly FrozenDictionary<string, string> AlsoCalled = new Dictionary<string, string>
    {
        ["DE:bavaria"] = "DE-BY",
        ["DE:saxony"] = "DE-SN",
        ["DE:lower saxony"] = "DE-NI",
        ["DE:hesse"] = "DE-HE",
        ["DE:north rhine westphalia"] = "DE-NW",
        ["DE:nrw"] = "DE-NW",
        ["DE:thuringia"] = "DE-TH",
        ["DE:rhineland palatinate"] = "DE-RP",
        ["AT:vienna"] = "AT-9",
        ["AT:tyrol"] = "AT-7",
        ["AT:styria"] = "AT-6",
        ["AT:carinthia"] = "AT-2",
        ["AT:upper austria"] = "AT-4",
        ["AT:lower austria"] = "AT-3",
        ["CH:zurich"] = "CH-ZH",
        ["CH:geneva"] = "CH-GE",
        ["CH:lucerne"] = "CH-LU",
        ["ES:andalusia"] = "ES-AN",
        ["ES:catalonia"] = "ES-CT",
        ["ES:basque country"] = "ES-PV",
        ["ES:balearic islands"] = "ES-IB",
        ["PT:lisbon"] = "PT-11",
        ["DK:zealand"] = "DK-85",
        ["CA:quebec"] = "CA-QC",
    }.ToFrozenDictionary();

    private static readonly ILookup<string, (string Code, string Name)> ByCountry = Rows.ToLookup(r => r.Code[..2]);

    /// <summary>All subdivisions of a country.</summary>
    public static IEnumerable<(string Code, string Name)> Of(string country) => ByCountry[country];

    public static string? NameOf(string code) => Names.GetValueOrDefault(code);

    /// <summary>The subdivision's code; a bare name or short code needs the country, a full code does not, but is none of another country's.</summary>
    public static string? Find(string written, string? country)
    {
        var code = written.Trim().ToUpperInvariant();
        if (Names.ContainsKey(code))
            return country is null || code.StartsWith(country + "-", StringComparison.Ordinal) ? code : null;
        if (country is null)
            return null;
        if (Names.ContainsKey($"{country}-{code}"))
            return $"{country}-{code}";
        var key = Key(country, written);
        return Codes.GetValueOrDefault(key) ?? AlsoCalled.GetValueOrDefault(key);
    }

    private static string Key(string country, string name) => $"{country}:{Folding.Heading(name)}";
}

internal static class EmbeddedTable
{
    public static IEnumerable<string> Lines(string name)
    {
        using var stream = Assembly.GetExecutingAssembly().GetManifestResourceStream(name) ?? throw new InvalidOperationException($"{name} is not embedded");
        using var reader = new StreamReader(stream);
        while (reader.ReadLine() is { } line)
            yield return line;
    }
}
