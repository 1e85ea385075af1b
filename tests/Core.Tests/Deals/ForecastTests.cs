using DapperLantern.Core.Deals;
using DapperLantern.Core.Leads;

namespace DapperLantern.Core.Tests.Deals;

public sealed class ForecastTests
{
    [Fact]
    public void DealsWeighByTheirProbabilityAndCurrenciesStayApart()
    {
        var totals = Forecast.Totals([new(new Money(1000, "EUR"), 50), new(new Money(500, "EUR"), 10), new(new Money(90, "NOK"), 100)]);
        totals.ShouldBe([new ForecastTotal("EUR", 2, 1500, 550), new ForecastTotal("NOK", 1, 90, 90)]);
    }

    [Fact]
    public void SeveralTogetherComeToTheSameAsEachByItself()
    {
        var each = Forecast.Totals([new(new Money(1000, "EUR"), 30), new(new Money(501, "EUR"), 30), new(new Money(70, "EUR"), 80)]);
        Forecast.Totals([new(new Money(1501, "EUR"), 30, 2), new(new Money(70, "EUR"), 80)]).ShouldBe(each);
    }

    [Fact]
    public void NoDealsMakeNoTotals() => Forecast.Totals([]).ShouldBeEmpty();

    [Theory]
    [InlineData(LeadState.New, LeadState.InWork, true)]
    [InlineData(LeadState.HandedOver, LeadState.InWork, false)]
    [InlineData(LeadState.Qualified, LeadState.HandedOver, false)]
    [InlineData(LeadState.New, "asleep", false)]
    public void OnlyAHandoverHandsOverAndNothingLeavesItByHand(string from, string to, bool may) => LeadState.MayMove(from, to).ShouldBe(may);
}
