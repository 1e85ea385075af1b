using System.Collections.Frozen;
using DapperLantern.App.Data;

namespace DapperLantern.App.Starting;

/// <summary>The starting sets that ship: the files of the folder <c>sets</c> beside the program.</summary>
public static class StartingSets
{
    private const string Country = "\"@country\"";

    private static readonly Lazy<FrozenDictionary<string, string>> s_files = new(() =>
        Directory
            .EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "sets"), "*.json")
            .ToFrozenDictionary(f => Path.GetFileNameWithoutExtension(f), File.ReadAllText, StringComparer.Ordinal)
    );

    /// <summary>Keys of all sets, in the order in which they are offered.</summary>
    public static IReadOnlyList<string> Keys { get; } = ["organisations", "private-persons", "both"];

    /// <summary>A set for a company; null where there is none of this key.</summary>
    /// <param name="country">The company's own country; the usual Norway stands for none, so that the set can be looked at.</param>
    public static StartingSet? Find(string key, string? country) =>
        s_files.Value.TryGetValue(key, out var text) ? Json.Read<StartingSet>(text.Replace(Country, $"\"{country ?? "NO"}\"", StringComparison.Ordinal)) : null;
}
