using CsCheck;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;

namespace DapperLantern.Core.Tests.Matching;

public sealed class BlockKeysTests
{
    private static bool Meet(Identity a, Identity b) => BlockKeys.Kept(a).Intersect(BlockKeys.Kept(b)).Any();

    [Fact]
    public void WhoSharesAddressOrNumberMeets()
    {
        Meet(new("r@f.example", "", "a", "b", ""), new("r@f.example", "", "c", "d", "")).ShouldBeTrue();
        Meet(new("", "+1", "a", "b", ""), new("", "+2", "c", "d", "", "+1")).ShouldBeTrue();
    }

    [Fact]
    public void WhoeverIsTheSameMeetsThroughTheNamesWhateverTheirOrder() => Meet(new("", "", "ragna", "sollid", ""), new("", "", "sollid", "ragna", "")).ShouldBeTrue();

    [Fact]
    public void ALastNameThatSoundsAlikeMeetsAtTheSameCompany() =>
        Meet(new("a@f.example", "", "ragna", "sollid", "fjordnaer laks"), new("b@f.example", "", "r", "sohlit", "fjordnaer")).ShouldBeTrue();

    [Fact]
    public void StrangersDoNotMeet() => Meet(new("r@f.example", "+1", "ragna", "sollid", "fjordnaer"), new("t@g.example", "+2", "tor", "vik", "oban mussels")).ShouldBeFalse();

    [Fact]
    public void KeysAreAmongAllKeysAndEachOnce() =>
        MatcherTests.AnyIdentity.Sample(who => BlockKeys.Of(who) is var all && all.Distinct().Count() == all.Count && BlockKeys.Kept(who).All(k => all.Any(a => a.Key == k)));

    /// <summary>Against looking at every pair: whoever would be linked is met through a key, but for names that slipped in both words with nothing else shared.</summary>
    [Fact]
    public void PairsInAListAreThoseThatShareAKey() =>
        MatcherTests
            .AnyIdentity.Array[2, 12]
            .Sample(
                (Identity[] records) =>
                {
                    var slow =
                        from i in Enumerable.Range(0, records.Length)
                        from j in Enumerable.Range(0, i)
                        where BlockKeys.Of(records[i]).Select(k => k.Key).Intersect(BlockKeys.Of(records[j]).Select(k => k.Key)).Any()
                        select (j, i);
                    return slow.ToHashSet().SetEquals(Pairs.Candidates(records));
                },
                iter: 500
            );

    [Theory]
    [InlineData("Müller", "Mueller")]
    [InlineData("Åse", "Aase")]
    [InlineData("Sørensen", "Soerensen")]
    [InlineData("Lindqvist", "Lindqvist")]
    [InlineData("Иванов", "Ivanov")]
    public void SpellingsOfOneNameFallTogether(string one, string other) => NameForm.Of(Folding.Plain(one)).ShouldBe(NameForm.Of(Folding.Plain(other)));

    [Theory]
    [InlineData("Harbour Rd. 4", "Harbour Road 4")]
    [InlineData("Kaistr. 12", "Kaistrasse 12")]
    public void ShortWordsOfStreetsAreWrittenOut(string one, string other) => NameForm.Street(one).ShouldBe(NameForm.Street(other));

    [Theory]
    [InlineData("meyer", "maier")]
    [InlineData("philip", "filip")]
    [InlineData("schmidt", "shmit")]
    public void NamesThatSoundAlikeHaveOneCode(string one, string other) => NameSound.Of(NameForm.Of(one)).ShouldBe(NameSound.Of(NameForm.Of(other)));

    [Fact]
    public void ClustersHoldWhoeverIsLinkedThroughOthers()
    {
        DuplicateClusters
            .Of(6, [(4, 5), (0, 2), (2, 5)])
            .ShouldBe([
                [0, 2, 4, 5],
            ]);
        DuplicateClusters.Of(3, []).ShouldBeEmpty();
    }
}
