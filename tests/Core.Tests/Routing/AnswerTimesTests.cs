using DapperLantern.Core.Routing;

namespace DapperLantern.Core.Tests.Routing;

public sealed class AnswerTimesTests
{
    [Fact]
    public void OfTenTheFifthIsTheMedianAndTheNinthTheNinetiethPercentile() =>
        AnswerTimes.Of(Enumerable.Range(1, 10).Select(i => ((double?)(i * 10), (bool?)(i <= 7)))).ShouldBe(new AnswerTimes(10, 10, 0.7, 50, 90));

    [Fact]
    public void WhoseTimeStillRunsIsNotHeldAgainstAnybody() => AnswerTimes.Of([(30, true), (null, null), (null, false), (null, null)]).ShouldBe(new AnswerTimes(4, 1, 0.5, 30, 30));

    [Fact]
    public void OfNoneNothingIsSaid() => AnswerTimes.Of([]).ShouldBe(new AnswerTimes(0, 0, null, null, null));
}
