using System.Collections.Frozen;

namespace DapperLantern.Core.Fields;

/// <summary>Place and region of a postal code, where the shipped data knows them: the United States by ZIP code, Canada by the first three letters (data: see NOTICE).</summary>
public static class Places
{
    private static readonly Lazy<FrozenDictionary<string, (string City, string Region)>> Codes = new(() =>
        EmbeddedTable.Lines("places.tsv").Select(l => l.Split('\t')).ToFrozenDictionary(c => c[0], c => (c[2], c[1]))
    );

    /// <returns>The place and its ISO 3166-2 region, or null.</returns>
    public static (string City, string Region)? Of(string country, string postalCode)
    {
        var code = country switch
        {
            "US" when postalCode.Length >= 5 => postalCode[..5],
            "CA" when postalCode.Length >= 3 => postalCode[..3].ToUpperInvariant(),
            _ => null,
        };
        return code is not null && Codes.Value.TryGetValue($"{country}{code}", out var place) ? place : null;
    }
}
