using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Leads;

/// <summary>One key of an order. What is not known comes last, whichever the direction.</summary>
public sealed record SortKey(string Field, bool Descending)
{
    public override string ToString() => Descending ? $"-{Field}" : Field;
}

/// <summary>The order of a list as it is written: field keys from the most important on, with a minus where the greatest comes first: <c>-fit,created_at</c>.</summary>
public static class ListOrder
{
    public const int MostKeys = 4;

    public static ImmutableArray<SortKey> NewestFirst { get; } = [new("created_at", true)];

    /// <summary>Reads an order; newest first for none. A problem names the key that is no field one can sort by.</summary>
    public static (ImmutableArray<SortKey> Keys, Problem? Problem) Read(string? text, FieldCatalogue catalogue)
    {
        if (string.IsNullOrEmpty(text))
            return (NewestFirst, null);
        var keys = text.Split(',').Select(k => k.StartsWith('-') ? new SortKey(k[1..], true) : new SortKey(k, false)).DistinctBy(k => k.Field).ToImmutableArray();
        if (keys.Length > MostKeys)
            return ([], new Problem("too-many-keys", "order", $"{keys.Length}"));
        var wrong = keys.FirstOrDefault(k => catalogue.Asked(k.Field) is null or { Many: true } or { Origin: FieldOrigin.Arrival });
        return wrong is null ? (keys, null) : ([], new Problem("order-unknown", "order", wrong.Field));
    }
}
