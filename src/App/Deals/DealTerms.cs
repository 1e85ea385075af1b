using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Deals;

/// <summary>A product that goes to a deal.</summary>
/// <param name="Price">Of one, in the deal's currency.</param>
public sealed record OrderedProduct([Text(100)] string Product, [Between(0d, 1_000_000d)] decimal Quantity, [Between(0d, 1_000_000_000_000d)] decimal Price);

/// <summary>What a deal may be called, be worth and sell; asked as it is made and as it is changed.</summary>
public static class DealTerms
{
    /// <summary>At most so many products on a deal.</summary>
    public const int MostProducts = 100;

    private const decimal MostMoney = 1_000_000_000_000m;
    private const int LongestName = 200;

    /// <summary>What is wrong with the first that is; null where none is. What is null is not asked.</summary>
    /// <param name="nameField">What the name is called where it comes from.</param>
    public static Problem? Wrong(string? name, decimal? amount, string? currency, DateOnly? closes, string nameField = "name")
    {
        if (amount is < 0 or > MostMoney)
            return Problem.Of("amount-unfit", "amount");
        if (currency is not null && !Iso4217.IsCode(currency))
            return Problem.Of("currency-unfit", "currency");
        if (name is not null && (string.IsNullOrWhiteSpace(name) || name.Length > LongestName))
            return Problem.Of("name-missing", nameField, LongestName);
        return closes is { Year: < 2000 or > 2200 } ? Problem.Of("close-unfit", "expectedClose") : null;
    }

    /// <summary>What is wrong with the first product that is wrong; null where none is.</summary>
    public static Problem? OddProduct(IEnumerable<OrderedProduct> products, Workspace workspace) =>
        products.FirstOrDefault(p => p.Quantity is <= 0 or > 1_000_000 || p.Price is < 0 or > MostMoney || workspace.Products.All(k => k.Key != p.Product)) is { } odd
            ? Problem.Of("product-unfit", "products", odd.Product)
            : null;

    /// <summary>Puts products on a deal that has none, in their order.</summary>
    internal static SqlText Put(Guid deal, IReadOnlyCollection<OrderedProduct> products)
    {
        var (keys, quantities, prices) = (products.Select(p => p.Product).ToArray(), products.Select(p => p.Quantity).ToArray(), products.Select(p => p.Price).ToArray());
        return $"""
            insert into deal_product (id, deal_id, position, product_key, quantity, price)
              select gen_random_uuid(), {deal}, x.n, x.key, x.quantity, x.price from unnest({keys}, {quantities}, {prices}) with ordinality x(key, quantity, price, n)
            """;
    }
}
