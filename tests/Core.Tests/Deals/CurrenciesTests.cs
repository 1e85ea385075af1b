using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Tests.Deals;

public sealed class CurrenciesTests
{
    [Theory]
    [InlineData("NO", "NOK")]
    [InlineData("IE", "EUR")]
    [InlineData("LI", "CHF")]
    [InlineData("GL", "DKK")]
    [InlineData("ZZ", null)]
    [InlineData("no", null)]
    [InlineData(null, null)]
    public void ACountryHasItsUsualCurrency(string? country, string? currency) => Currencies.Of(country).ShouldBe(currency);

    [Fact]
    public void EveryCountryOfTheTableIsOneAndItsCurrencyIsWrittenAsOne()
    {
        var known = (from a in "ABCDEFGHIJKLMNOPQRSTUVWXYZ" from b in "ABCDEFGHIJKLMNOPQRSTUVWXYZ" select $"{a}{b}")
            .Where(c => Currencies.Of(c) is not null)
            .ToList();
        known.Count.ShouldBeGreaterThan(60);
        known.ShouldAllBe(c => Countries.NameOf(c) != null && Iso4217.IsCode(Currencies.Of(c)));
    }

    [Theory]
    [InlineData("EUR", true)]
    [InlineData("eur", false)]
    [InlineData("EURO", false)]
    [InlineData("E1R", false)]
    [InlineData("ÉUR", false)]
    [InlineData("", false)]
    [InlineData(null, false)]
    public void ACurrencyIsThreeCapitalLetters(string? text, bool good) => Iso4217.IsCode(text).ShouldBe(good);
}
