using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Deals;

/// <summary>A product that goes to a deal.</summary>
/// <param name="Price">Of one, in the deal's currency.</param>
public sealed record OrderedProduct(string Product, decimal Quantity, decimal Price);

/// <summary>What a deal may be called, be worth and sell; asked as it is made and as it is changed.</summary>
public static class DealTerms
{
    /// <summary>At most so many products on a deal.</summary>
    public const int MostProducts = 100;

    private const decimal MostMoney = 1_000_000_000_000m;
    private const int LongestName = 200;

    /// <summary>What is wrong with the first that is; null where none is. What is null is not asked.</summary>
    /// <param name="nameField">What the name is called where it comes from.</param>
    public static ProblemHttpResult? Wrong(string? name, decimal? amount, string? currency, DateOnly? closes, string nameField = "name")
    {
        if (amount is < 0 or > MostMoney)
            return ApiProblems.Invalid("amount-unfit", "The amount is a number from 0 to a million million.", "amount");
        if (currency is not null && !Iso4217.IsCode(currency))
            return ApiProblems.Invalid("currency-unfit", "The currency is a code of ISO 4217, for instance EUR.", "currency");
        if (name is not null && (string.IsNullOrWhiteSpace(name) || name.Length > LongestName))
            return ApiProblems.Invalid("deal-name-unfit", $"The deal needs a name of at most {LongestName} letters.", nameField);
        return closes is { Year: < 2000 or > 2200 } ? ApiProblems.Invalid("close-unfit", "The expected close is a day we can live to see.", "expectedClose") : null;
    }

    /// <summary>What is wrong with the first product that is wrong; null where none is.</summary>
    public static ProblemHttpResult? OddProduct(IEnumerable<OrderedProduct> products, Workspace workspace) =>
        products.FirstOrDefault(p => p.Quantity is <= 0 or > 1_000_000 || p.Price is < 0 or > MostMoney || workspace.Products.All(k => k.Key != p.Product)) is { } odd
            ? ApiProblems.Invalid("product-unfit", $"“{odd.Product}” needs to be in the product list, with a quantity over 0 and a price from 0.", "products")
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
