using System.Collections.Frozen;
using System.Reflection;
using System.Text.RegularExpressions;

namespace DapperLantern.Core.Fields;

/// <summary>ISO 3166-1 countries by code, name, native name, name in fourteen languages and usual misspelling (data: see NOTICE).</summary>
public static partial class Countries
{
    private static readonly (string Code, string[] Names)[] Rows = [.. EmbeddedTable.Lines("countries.tsv").Select(l => l.Split('\t')).Select(c => (c[0], c[1..]))];

    // Everyday names and abbreviations that the standard's lists do not have: parts that stand for the whole, older names, and the
    // distinguishing signs of vehicles (Vienna Convention on Road Traffic, 1968) where no ISO code has the same letters.
    private static readonly (string Code, string Names)[] Everyday =
    [
        ("AE", "VAE|Emirate|EAU"),
        ("AT", "A"),
        ("BA", "Bosnien|Bosnie|Bosnia"),
        ("BE", "B"),
        ("BY", "Wei\u00dfrussland|Belorussia"),
        ("CH", "CH Schweiz"),
        ("CI", "Elfenbeink\u00fcste"),
        ("CN", "VR China|PRC"),
        ("CZ", "Tschechei|CSR"),
        ("DE", "D|BRD|FRG|RFA"),
        ("DK", "Daenemark"),
        ("ES", "E"),
        ("FO", "F\u00e4r\u00f6er"),
        ("FR", "F"),
        (
            "GB",
            "Gro\u00dfbritannien|Grossbritannien|Grande Bretagne|Gran Breta\u00f1a|Angleterre|Inglaterra|Schottland|\u00c9cosse|Escocia|Skottland|Nordirland|Britain|Gran Bretagna|Groot Brittanni\u00eb|Inghilterra"
        ),
        ("HU", "H"),
        ("IT", "I"),
        ("KR", "Corea del Sur|Corea del Sud|Cor\u00e9e du Sud|Zuid Korea|S Korea|Korea South"),
        ("LI", "FL"),
        ("LU", "L"),
        ("MX", "M\u00e9jico"),
        ("NL", "Hollande|Holanda|Olanda"),
        ("NO", "N"),
        ("PT", "P"),
        ("RU", "Russie|Rusia|Ryssland"),
        ("SE", "S"),
        ("SI", "SLO"),
        ("TR", "Turquie|Tyrkia|Turchia|Tyrkiet"),
        ("US", "EEUU|EE UU|Amerika|Am\u00e9rique|Forente stater|F\u00f6renta staterna|EUA"),
        ("VA", "Vatikan"),
    ];

    private static readonly FrozenDictionary<string, string> Names = Rows.ToFrozenDictionary(r => r.Code, r => r.Names[0]);
    private static readonly (string Code, string Written)[] Spellings = [.. MakeSpellings()];
    private static readonly FrozenDictionary<string, string> Codes = MakeCodes();

    // Folded spellings long enough to be meant by a slip of the hand.
    private static readonly Lazy<(string Code, string Folded)[]> Slippable = new(() =>
        [.. Spellings.Select(s => (s.Code, Folded: Folding.Heading(s.Written))).Where(s => s.Folded.Length >= 4).Distinct()]
    );

    public static string? NameOf(string code) => Names.GetValueOrDefault(code);

    /// <summary>The two-letter code for whatever was written, or null. A name may have its article ("Les Pays-Bas"), and stand beside its code or its name in another language ("Norway/Norge").</summary>
    public static string? Find(string written)
    {
        if (Codes.GetValueOrDefault(Compact(written)) is { } code)
            return code;
        var parts = Beside().Split(written).Where(p => p.Length > 0).ToList();
        if (parts.Count > 1)
            return parts.Select(Find).Distinct().ToList() is [{ } same] ? same : null;
        var bare = Article().Replace(written, "");
        return bare.Length < written.Length && (bare.Length >= 4 || written.TrimStart().StartsWith("the ", StringComparison.OrdinalIgnoreCase))
            ? Codes.GetValueOrDefault(Compact(bare))
            : null;
    }

    public static IEnumerable<(string Code, string Name)> All => Rows.Select(r => (r.Code, r.Names[0]));

    /// <summary>Countries whose name in any language is at most <paramref name="most"/> typing slips from what was written, the nearest first.</summary>
    public static IEnumerable<string> Near(string written, int most)
    {
        var folded = Folding.Heading(written);
        return Slippable
            .Value.Where(s => Math.Abs(s.Folded.Length - folded.Length) <= most)
            .Select(s => (s.Code, Away: TypingDistance.Within(s.Folded, folded, most)))
            .Where(s => s.Away <= most)
            .GroupBy(s => s.Code, (code, all) => (Code: code, Away: all.Min(s => s.Away)))
            .OrderBy(s => s.Away)
            .ThenBy(s => s.Code, StringComparer.Ordinal)
            .Select(s => s.Code);
    }

    private static string Compact(string written) => Folding.Heading(written).Replace(" ", "", StringComparison.Ordinal);

    private static IEnumerable<(string Code, string Written)> MakeSpellings()
    {
        foreach (var (code, names) in Rows)
        foreach (var name in names)
            yield return (code, name);
        foreach (var cells in EmbeddedTable.Lines("country-names.tsv").Select(l => l.Split('\t')))
        foreach (var name in cells[1..])
            yield return (cells[0], name);
    }

    [GeneratedRegex(@"\s*[()/|,;]\s*|\s+[-\u2013]\s+")]
    private static partial Regex Beside();

    [GeneratedRegex(@"^\s*(?:the|les?|la|l['\u2019]|los|las|el|die|der|de|il|i)(?:\s+|(?<=['\u2019]))", RegexOptions.IgnoreCase)]
    private static partial Regex Article();

    // Codes come first, then what people write every day, then the lists: a spelling that two countries have goes to the first.
    private static FrozenDictionary<string, string> MakeCodes()
    {
        var codes = new Dictionary<string, string>();
        foreach (var (code, _) in Rows)
            codes[code.ToLowerInvariant()] = code;
        foreach (var (code, names) in Everyday)
        foreach (var name in names.Split('|'))
            codes.TryAdd(Compact(name), code);
        foreach (var (code, written) in Spellings)
            codes.TryAdd(Compact(written), code);
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
