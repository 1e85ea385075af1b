using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Deals;

namespace DapperLantern.Core.Tests.Deals;

public sealed class ProductWishTests
{
    private static Product Make(string key, string name, decimal euros, params string[] also) =>
        new(key, name, "piece", [.. also], ImmutableSortedDictionary.CreateRange([KeyValuePair.Create("EUR", euros)]));

    private static readonly ProductWish Wish = new([
        Make("s2", "Skerry S2", 7900),
        Make("s4", "Skerry S4", 14800, "Skerry S4 buoy"),
        Make("oxygen", "Oxygen probe", 1450, "dissolved oxygen probe", "oxygen"),
        Make("skerry", "Skerry", 1),
    ]);

    private static string Told(string? text, string currency = "EUR") => string.Join(", ", Wish.Read(text, currency).Select(l => $"{l.Quantity:0} {l.Product}"));

    [Theory]
    [InlineData("2 Skerry S4, oxygen probes", "2 s4, 1 oxygen")]
    [InlineData("we need 3x Dissolved Oxygen Probes please", "3 oxygen")]
    [InlineData("3 x oxygen probe and a Skerry S4 buoy", "3 oxygen, 1 s4")]
    [InlineData("SKERRY S2", "1 s2")]
    [InlineData("a Skerry", "1 skerry")]
    [InlineData("oxygen, oxygen, 4 oxygen probes", "4 oxygen")]
    [InlineData("something against algae", "")]
    [InlineData("", "")]
    [InlineData(null, "")]
    public void ProductsAreReadOutOfWhatPeopleSay(string? text, string expected) => Told(text).ShouldBe(expected);

    [Fact]
    public void TheAmountIsWhatTheProductsComeTo()
    {
        var lines = Wish.Read("2 Skerry S4, oxygen probes", "EUR");
        ProductWish.Amount(lines).ShouldBe(2 * 14800 + 1450);
    }

    [Fact]
    public void WhereThePriceListHasNothingInTheCurrencyThereIsNoAmount() => ProductWish.Amount(Wish.Read("2 Skerry S4", "JPY")).ShouldBeNull();

    [Fact]
    public void NoTextMakesItStumbleAndNoProductComesTwice() =>
        Gen.OneOf(Gen.String, Gen.OneOfConst("2 ", "x ", "Skerry ", "S4 ", "oxygen ", "probes ", ", ", "99999999999999999999999999999999 ").Array[0, 12].Select(string.Concat))
            .Sample(text =>
            {
                var lines = Wish.Read(text, "EUR");
                return lines.All(l => l.Quantity is > 0 and <= 10_000) && lines.Select(l => l.Product).Distinct().Count() == lines.Length;
            });
}
