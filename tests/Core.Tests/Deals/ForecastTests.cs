using DapperLantern.Core.Deals;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Qualifying;

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
    public void NoDealsMakeNoTotals() => Forecast.Totals([]).ShouldBeEmpty();

    [Theory]
    [InlineData(Certainty.Weak, Certainty.Weak, Certainty.Confirmed, 1)]
    [InlineData(Certainty.Confirmed, Certainty.Unknown, Certainty.Confirmed, 1)]
    [InlineData(Certainty.Confirmed, Certainty.Weak, Certainty.Confirmed, 0)]
    [InlineData(Certainty.Unknown, Certainty.Unknown, Certainty.Unknown, 2)]
    public void QualifiedNeedsAConfirmedNeedAndTwoOfTheOthers(Certainty need, Certainty budget, Certainty authority, int missing) =>
        new Qualification(new(need, ""), new(budget, ""), new(authority, ""), Finding.Unknown).Missing().Count().ShouldBe(missing);

    [Theory]
    [InlineData(LeadState.New, LeadState.InWork, true)]
    [InlineData(LeadState.HandedOver, LeadState.InWork, false)]
    [InlineData(LeadState.Qualified, LeadState.HandedOver, false)]
    [InlineData(LeadState.New, "asleep", false)]
    public void OnlyAHandoverHandsOverAndNothingLeavesItByHand(string from, string to, bool may) => LeadState.MayMove(from, to).ShouldBe(may);
}
