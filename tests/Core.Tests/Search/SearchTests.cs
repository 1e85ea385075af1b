using CsCheck;
using DapperLantern.Core.Search;

namespace DapperLantern.Core.Tests.Search;

public sealed class SearchTests
{
    [Theory]
    [InlineData("22 55 01 43", "22550143", false)]
    [InlineData("+47 22 55 01 43", "4722550143", true)]
    [InlineData("0047 (22) 55-01-43", "4722550143", true)]
    [InlineData("+44 (0)1632 960143", "441632960143", true)]
    [InlineData("01632 960143", "1632960143", false)]
    [InlineData("960", null, false)]
    [InlineData("ragna 1234567", null, false)]
    public void ATelephoneNumberIsReadInAnyWriting(string text, string? digits, bool international)
    {
        var ask = SearchAsk.Read(text);
        (ask.Digits, ask.IsInternational).ShouldBe((digits, international));
    }

    [Theory]
    [InlineData("1182", 1182)]
    [InlineData("L-1182", 1182)]
    [InlineData("lead 1182", 1182)]
    [InlineData("ragna 1182", null)]
    public void ALeadIsFoundByItsNumber(string text, int? number) => SearchAsk.Read(text).Number.ShouldBe(number);

    [Fact]
    public void WordsAreComparedWithoutAccentsAndEachOnce() => SearchAsk.Read(" Åse  MÜLLER, müller@fjord ").Words.ShouldBe(["ase", "muller", "fjord"]);

    [Fact]
    public void NothingIsAskedByNothing() => SearchAsk.Read("  ,- ").IsEmpty.ShouldBeTrue();

    [Fact]
    public void AWholeWordIsBetterThanABeginningAndThatBetterThanASlip()
    {
        var ask = SearchAsk.Read("sollid");
        SearchRank.Of(ask, "Ragna Sollid").ShouldBe(1);
        SearchRank.Of(ask, "Ragna Sollidsen").ShouldBeInRange(0.5, 0.99);
        SearchRank.Of(ask, "Ragna Solid").ShouldBeInRange(0.1, 0.5);
        SearchRank.Of(ask, "Ragna Berg").ShouldBe(0);
        SearchRank.Of(ask, null, "Sollid AS").ShouldBeLessThan(1);
    }

    [Fact]
    public void ARankIsAShareAndMoreThatFitsIsNeverWorse() =>
        Gen.Select(Gen.String[Gen.Char["abcde "], 0, 12], Gen.String[Gen.Char["abcde "], 0, 16], Gen.String[Gen.Char["abcde "], 0, 16])
            .Sample(
                (asked, first, second) =>
                {
                    var ask = SearchAsk.Read(asked);
                    var one = SearchRank.Of(ask, first);
                    one.ShouldBeInRange(0, 1);
                    SearchRank.Of(ask, first, second).ShouldBeGreaterThanOrEqualTo(one);
                }
            );

    [Fact]
    public void OfWordsThatMayBeMeantTheNearestComeFirstThenTheCommonest() =>
        SearchRank.Meant("hansne", [("hansen", 400), ("hanson", 20), ("hansna", 3), ("hanne", 90), ("johansen", 800), ("hansne", 1)], 3).ShouldBe(["hansen", "hanne", "hansna"]);

    [Fact]
    public void OfAShortWordNothingElseIsMeant() => SearchRank.Meant("ola", [("ole", 900)], 3).ShouldBeEmpty();
}
