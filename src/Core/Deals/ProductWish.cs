using System.Collections.Immutable;
using System.Globalization;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Deals;

/// <summary>Something sold.</summary>
/// <param name="Unit">What one of it is, as "piece" or "month".</param>
/// <param name="AlsoCalled">Other words for it.</param>
/// <param name="Prices">Of one, by currency (ISO 4217).</param>
public sealed record Product(string Key, string Name, string Unit, ImmutableArray<string> AlsoCalled, ImmutableSortedDictionary<string, decimal> Prices);

/// <summary>So many of a product, each at a price.</summary>
/// <param name="Price">Of one; null where the price list has none in the currency.</param>
public sealed record WishedLine(string Product, string Name, decimal Quantity, decimal? Price)
{
    public decimal Total => Quantity * (Price ?? 0);
}

/// <summary>
/// Reads which products somebody wants from their words, and how many: "2 Skerry S4, oxygen probes" is two of the one and one of the other.
/// The longest name at a place counts; a number, or "2 x", before a name is how many; where none stands it is one.
/// </summary>
public sealed class ProductWish
{
    private const decimal MostOfOne = 10_000;
    private readonly List<(string[] Words, Product Product)> _names;

    public ProductWish(IEnumerable<Product> products) =>
        _names = [
            .. products
                .SelectMany(p => p.AlsoCalled.Prepend(p.Name).Select(n => (Words: Words(n), Product: p)))
                .Where(n => n.Words.Length > 0)
                .OrderByDescending(n => n.Words.Length)
                .ThenBy(n => n.Product.Key, StringComparer.Ordinal),
        ];

    /// <summary>The products named in a text, in its order, each once.</summary>
    /// <param name="currency">Of the prices.</param>
    public ImmutableArray<WishedLine> Read(string? text, string currency)
    {
        var words = Words(text ?? "");
        var found = new List<(Product Product, decimal Quantity)>();
        for (var at = 0; at < words.Length; )
        {
            if (_names.FirstOrDefault(n => StandsAt(n.Words, words, at)) is not { Product: { } product, Words.Length: var length })
            {
                at++;
                continue;
            }
            var known = found.FindIndex(f => f.Product == product);
            var quantity = QuantityBefore(words, at);
            if (known < 0)
                found.Add((product, quantity ?? 1));
            else if (quantity is { } more)
                found[known] = (product, Math.Max(found[known].Quantity, more));
            at += length;
        }
        return [.. found.Select(f => new WishedLine(f.Product.Key, f.Product.Name, f.Quantity, f.Product.Prices.TryGetValue(currency, out var price) ? price : null))];
    }

    /// <summary>What the lines come to; null where no line has a price.</summary>
    public static decimal? Amount(IEnumerable<WishedLine> lines) => lines.Where(l => l.Price is not null).ToList() is { Count: > 0 } priced ? priced.Sum(l => l.Total) : null;

    private static string[] Words(string text) => Folding.Heading(text).Split(' ', StringSplitOptions.RemoveEmptyEntries);

    private static bool StandsAt(string[] name, string[] words, int at) =>
        at + name.Length <= words.Length && name.Select((word, i) => Same(word, words[at + i])).All(same => same);

    // One or several of a thing: a final s is not looked at in words of four letters and more.
    private static bool Same(string a, string b) => a == b || (Stem(a) == Stem(b));

    private static string Stem(string word) => word.Length > 3 && word[^1] == 's' ? word[..^1] : word;

    private static decimal? QuantityBefore(string[] words, int at)
    {
        var before = at - 1;
        if (before >= 0 && words[before] is "x" or "pcs" or "pc" or "pieces" or "stk")
            before--;
        if (before < 0)
            return null;
        var written = words[before].TrimEnd('x');
        return decimal.TryParse(written, NumberStyles.None, CultureInfo.InvariantCulture, out var n) && n is > 0 and <= MostOfOne ? n : null;
    }
}
