using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Events;
using DapperLantern.Core.Handing;
using DapperLantern.Core.Routing;

namespace DapperLantern.Core.Tests.Handing;

public sealed class SpreadTests
{
    private static readonly Guid[] People = [.. Enumerable.Range(1, 4).Select(i => new Guid(i, 0, 0, new byte[8]))];
    private static readonly Dictionary<string, Guid> NobodyApart = [];

    private static List<HeldRecord> Records(int count, Guid? along = null) => [.. Enumerable.Range(0, count).Select(i => new HeldRecord($"{i}", along))];

    private static ImmutableArray<Turn> Places(params int[] weights) =>
        [
            .. weights.Select(
                (w, i) =>
                    new Turn(
                        People[i],
                        w,
                        i == 0 ? 3
                            : i == 1 ? -3
                            : 0
                    )
            ),
        ];

    [Fact]
    public void ATurnSharesByWeightWhateverTheTeamOwesNow() =>
        Gen.Select(Gen.Int[0, 200], Gen.Int[1, 9].Array[1, 4])
            .Sample(
                (count, weights) =>
                {
                    var to = Spread.Of(Records(count), new SpreadOrder(HandingWay.Turn, null, Places(weights)), NobodyApart);
                    to.Length.ShouldBe(count);
                    for (var i = 0; i < weights.Length; i++)
                        Math.Abs(to.Count(t => t == People[i]) - (double)count * weights[i] / weights.Sum()).ShouldBeLessThan(1);
                }
            );

    [Fact]
    public void WhatIsDecidedByItselfTakesNoTurn()
    {
        var apart = new Dictionary<string, Guid> { ["0"] = People[3], ["3"] = People[3] };
        var to = Spread.Of(Records(6), new SpreadOrder(HandingWay.Turn, null, Places(1, 1)), apart);
        to.Count(t => t == People[3]).ShouldBe(2);
        (to.Count(t => t == People[0]), to.Count(t => t == People[1])).ShouldBe((2, 2));
    }

    [Fact]
    public void WhatBelongsToSomethingGoesAlongAndTheRestToThePersonNamed()
    {
        List<HeldRecord> held = [new("a", People[0]), new("b"), new("c", People[1])];
        Spread.Of(held, new SpreadOrder(HandingWay.Along, People[2], []), NobodyApart).ShouldBe([People[0], People[2], People[1]]);
        // Without one named, they have nobody.
        Spread.Of(held, new SpreadOrder(HandingWay.Along, null, []), NobodyApart).ShouldBe([People[0], null, People[1]]);
        // All to one person looks at nothing else.
        Spread.Of(held, new SpreadOrder(HandingWay.Person, People[3], []), NobodyApart).ShouldAllBe(t => t == People[3]);
    }

    [Fact]
    public void ATeamOfNobodyGivesToNobody() => Spread.Of(Records(2), new SpreadOrder(HandingWay.Turn, People[0], []), NobodyApart).ShouldBe([null, null]);

    [Fact]
    public void TheNoticeSaysWhatCameAndWhatItIsWorth()
    {
        var on = new HandedOn(People[0], new Dictionary<string, int> { ["deal"] = 3, ["lead"] = 1 }, new Dictionary<string, decimal> { ["NOK"] = 120_000, ["EUR"] = 7.5m });
        NoticeWords.HandedWhat(on).ShouldBe("1 lead, 3 deals (NOK 120,000, EUR 7.5)");
    }

    [Fact]
    public void EveryPlaceOfASheetThatNamesSomebodyNamesTheOtherAndNothingElseChanges()
    {
        var first = new Rule(
            "a",
            "North",
            null!,
            new RuleOutcome(Person: "tor.vik")
            {
                Skills = ["sonar"],
                Else = new RuleOutcome(Team: "north") { Else = new RuleOutcome(Person: "tor.vik") },
            }
        );
        var second = new Rule("b", "South", null!, new RuleOutcome(Person: "ada.moe"));
        var sheet = RuleSheet.Empty with { Rules = [first, second] };
        SheetNames.Of(sheet, "tor.vik").ShouldBe(["North"]);
        SheetNames.Of(sheet, "nobody").ShouldBeEmpty();
        var after = SheetNames.With(sheet, "tor.vik", new RuleOutcome(Team: "east"));
        after.Rules[1].ShouldBe(second);
        var to = after.Rules[0].To;
        (to.Person, to.Team, to.Ways).ShouldBe((null, "east", 1));
        to.Skills.ShouldBe(["sonar"]);
        (to.Else!.Team, to.Else.Else!.Team, to.Else.Else.Person).ShouldBe(("north", "east", null));
        SheetNames.Of(after, "tor.vik").ShouldBeEmpty();
    }
}
