using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Routing;
using NodaTime;

namespace DapperLantern.Core.Tests.Routing;

public sealed class RouterTests
{
    private static readonly Rep Tor = new(Guid.NewGuid(), "tor.vik", "Tor Vik", false, 3, 60);
    private static readonly Rep Aoife = new(Guid.NewGuid(), "aoife", "Aoife Brannigan", false, 3, 60);
    private static readonly Team NorthSea = new("north-sea", "North Sea", [new Turn(Tor.Id, 1, 0), new Turn(Aoife.Id, 1, 0)]);

    private static readonly Router Router = new(
        new RuleSheet(
            ["country", "industry"],
            [
                new(
                    "no-fish",
                    "Norway, fish farming",
                    new AllOf([Condition.Where("country", TestOperator.In, "NO"), Condition.Where("industry", TestOperator.In, "fish_farming")]),
                    new Outcome(Person: "tor.vik"),
                    240
                ),
                new("north", "the north", Condition.Where("country", TestOperator.In, "NO", "GB"), new Outcome(Team: "north-sea")),
                new("barred", "barred", Condition.Where("country", TestOperator.In, "FR"), new Outcome(Hold: "we do not sell there yet")),
            ],
            480,
            "First call"
        ),
        Sample.Catalogue
    );

    private static RoutingDecision Route(string country, string? industry = null, StandingOwner? standing = null, params Rep[] reps) =>
        Router.Route(
            Sample.Record(("country", country), ("industry", industry)),
            (reps.Length > 0 ? reps : [Tor, Aoife]).ToDictionary(r => r.Id),
            new Dictionary<string, Team> { ["north-sea"] = NorthSea },
            standing,
            Sample.Now
        );

    [Fact]
    public void TheFirstRuleThatFitsDecidesAndTheLastLineSaysWhy()
    {
        var decision = Route("NO", "fish_farming");
        decision.Owner.ShouldBe(Tor.Id);
        decision.AnswerWithin.ShouldBe(Duration.FromMinutes(240));
        decision.Trace[^1].ShouldBe(new TraceLine("Rule 1, Norway, fish farming, fits: to Tor Vik.", true));
    }

    [Fact]
    public void ARuleThatDoesNotFitSaysWhichFactKeptTheLeadOut() =>
        Route("GB", "port").Trace[0].Words.ShouldBe("Rule 1, Norway, fish farming: country is United Kingdom, the rule wants: is Norway");

    [Fact]
    public void AFactThatIsNotKnownIsNamedAsSuch() => Route("NO").Trace[0].Words.ShouldContain("industry is not known");

    [Fact]
    public void WhoOwnsTheAccountComesBeforeTheRules()
    {
        var decision = Route("NO", "fish_farming", new StandingOwner(Aoife.Id, "owns the account Fjordnær Laks"));
        decision.Owner.ShouldBe(Aoife.Id);
        decision.Trace.ShouldHaveSingleItem().Words.ShouldBe("Aoife Brannigan owns the account Fjordnær Laks.");
    }

    [Fact]
    public void AStandingOwnerWhoIsAwayLeavesItToTheRulesAndIsNamed()
    {
        var decision = Route("GB", null, new StandingOwner(Tor.Id, "owns the contact"), Tor with { Away = true }, Aoife);
        decision.Owner.ShouldBe(Aoife.Id);
        decision.Trace[0].Words.ShouldBe("Tor Vik owns the contact, but is away.");
    }

    [Fact]
    public void ATeamPassesOverWhoIsFullAndSaysSo()
    {
        var decision = Route("GB", null, null, Tor with { Open = 60 }, Aoife);
        decision.Owner.ShouldBe(Aoife.Id);
        decision.Trace.ShouldContain(l => l.Words == "Tor Vik has 60 of 60 leads and is passed over.");
        decision.Team.ShouldNotBeNull();
    }

    [Fact]
    public void NobodyAvailableLetsItWait()
    {
        var decision = Route("GB", null, null, Tor with { Away = true }, Aoife with { Away = true });
        decision.Owner.ShouldBeNull();
        decision.Rule.ShouldBe("north");
        decision.Trace[^1].Hit.ShouldBeTrue();
    }

    [Fact]
    public void NoRuleFittingLetsItWaitAndEveryRuleSaysWhyNot()
    {
        var decision = Route("US");
        decision.Owner.ShouldBeNull();
        decision.Rule.ShouldBeNull();
        decision.Trace.Length.ShouldBe(4);
    }

    [Fact]
    public void AHeldLeadCarriesTheReason() => Route("FR").Trace[^1].Words.ShouldContain("we do not sell there yet");
}
