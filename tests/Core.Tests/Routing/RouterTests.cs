using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Tests.Conditions;
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
                    new RuleOutcome(Person: "tor.vik"),
                    240
                ),
                new("north", "the north", Condition.Where("country", TestOperator.In, "NO", "GB"), new RuleOutcome(Team: "north-sea")),
                new("barred", "barred", Condition.Where("country", TestOperator.In, "FR"), new RuleOutcome(Hold: "we do not sell there yet")),
            ],
            480,
            "First call"
        ),
        Sample.Catalogue
    );

    private static RoutingState State(params Rep[] reps) =>
        new((reps.Length > 0 ? reps : [Tor, Aoife]).ToDictionary(r => r.Id), new Dictionary<string, Team> { ["north-sea"] = NorthSea });

    private static (RoutingDecision Decision, ImmutableArray<string> Told) Route(string country, string? industry = null, ExistingOwner? standing = null, params Rep[] reps)
    {
        var lead = Sample.Record(("country", country), ("industry", industry));
        var decision = Router.Decide(new RoutingAsk(lead, Sample.Now) { Standing = standing is null ? [] : [standing] }, State(reps));
        return (decision, [.. Router.Explain(decision, lead).Select(l => l.Words)]);
    }

    [Fact]
    public void TheFirstRuleThatFitsDecidesAndTheTraceSaysByWhat()
    {
        var (decision, told) = Route("NO", "fish_farming");
        decision.Owner.ShouldBe(Tor.Id);
        decision.AnswerWithin.ShouldBe(Duration.FromMinutes(240));
        told.ShouldBe(["Rule 1, Norway, fish farming, fits (country Norway, industry Fish farming).", "To Tor Vik."]);
    }

    [Fact]
    public void RulesBeforeTheFirstThatFitsSayWhichFactKeptTheLeadOut() =>
        Router
            .Verdicts(Sample.Record(("country", "GB"), ("industry", "port")), RoutingMoment.Arrival, Sample.Now)
            .Select(v => v.Failed)
            .ShouldBe(["country is United Kingdom, the rule wants: is Norway", null]);

    [Fact]
    public void AFactThatIsNotKnownIsNamedAsSuch() =>
        Router.Verdicts(Sample.Record(("country", "NO")), RoutingMoment.Arrival, Sample.Now).First().Failed.ShouldNotBeNull().ShouldContain("industry is not known");

    [Fact]
    public void WhoOwnsTheAccountComesBeforeTheRules()
    {
        var (decision, told) = Route("NO", "fish_farming", new ExistingOwner(Aoife.Id, Guard.Account, "owns the account Fjordnær Laks"));
        decision.Owner.ShouldBe(Aoife.Id);
        told.ShouldBe(["Aoife Brannigan owns the account Fjordnær Laks."]);
    }

    [Fact]
    public void AGuardThatIsOffIsNotAsked()
    {
        var off = new Router(Router.Sheet with { Guards = [new Guard(Guard.Account, false), new Guard(Guard.Contact)] }, Sample.Catalogue);
        var ask = new RoutingAsk(Sample.Record(("country", "FR")), Sample.Now) { Standing = [new ExistingOwner(Aoife.Id, Guard.Account, "owns the account")] };
        off.Decide(ask, State()).Owner.ShouldBeNull();
    }

    [Fact]
    public void AStandingOwnerAwayForLongerThanTheGuardAllowsLeavesItToWhoStandsIn()
    {
        var guarded = new Router(Router.Sheet with { Guards = [new Guard(Guard.Account, true, 3)] }, Sample.Catalogue);
        var ask = new RoutingAsk(Sample.Record(("country", "GB")), Sample.Now) { Standing = [new ExistingOwner(Tor.Id, Guard.Account, "owns the account")] };
        var away = Tor with { Away = true, AwayUntil = Sample.Now + Duration.FromDays(2) };
        guarded.Decide(ask, State(away, Aoife)).Owner.ShouldBe(Tor.Id);
        var longer = away with { AwayUntil = Sample.Now + Duration.FromDays(4), StandIn = Aoife.Id };
        guarded.Decide(ask, State(longer, Aoife)).Rule.ShouldBeNull();
        guarded.Decide(ask, State(longer, Aoife)).Owner.ShouldBe(Aoife.Id);
        guarded.Decide(ask, State(longer with { StandIn = null }, Aoife)).Rule.ShouldBe("north");
    }

    [Fact]
    public void AStandingOwnerWhoIsAwayLeavesItToTheRulesAndIsNamed()
    {
        var (decision, told) = Route("GB", null, new ExistingOwner(Tor.Id, Guard.Contact, "owns the contact"), Tor with { Away = true }, Aoife);
        decision.Owner.ShouldBe(Aoife.Id);
        told[0].ShouldBe("Tor Vik owns the contact, but is away.");
    }

    [Fact]
    public void ATeamPassesOverWhoIsFullAndSaysSo()
    {
        var (decision, told) = Route("GB", null, null, Tor with { Open = 60 }, Aoife);
        decision.Owner.ShouldBe(Aoife.Id);
        told.ShouldContain("Tor Vik has 60 of 60 leads and is passed over.");
        decision.Team.ShouldNotBeNull();
    }

    [Fact]
    public void NobodyAvailableLetsItWait()
    {
        var (decision, told) = Route("GB", null, null, Tor with { Away = true }, Aoife with { Away = true });
        decision.Owner.ShouldBeNull();
        decision.Rule.ShouldBe("north");
        told[^1].ShouldBe("Nobody else is named, so it waits on the Desk.");
    }

    [Fact]
    public void NoRuleFittingLetsItWaitAndEveryRuleSaysWhyNot()
    {
        var (decision, told) = Route("US");
        decision.Owner.ShouldBeNull();
        decision.Rule.ShouldBeNull();
        told.ShouldBe(["No rule fits, so it waits on the Desk."]);
        Router.Verdicts(Sample.Record(("country", "US")), RoutingMoment.Arrival, Sample.Now).ShouldAllBe(v => v.Failed != null);
    }

    [Fact]
    public void AHeldLeadCarriesTheReason() => Route("FR").Told[^1].ShouldContain("we do not sell there yet");

    [Fact]
    public void APersonNamedWhoIsAwayIsStoodInForAndACircleEnds()
    {
        var (tor, aoife) = (Tor with { Away = true, StandIn = Aoife.Id }, Aoife with { StandIn = Tor.Id });
        Route("NO", "fish_farming", null, tor, aoife).Told.ShouldContain("Aoife Brannigan stands in for Tor Vik.");
        Route("NO", "fish_farming", null, tor, aoife with { Away = true }).Decision.Owner.ShouldBeNull();
    }

    private static Router One(RuleOutcome to) => new(new RuleSheet([], [new Rule("one", "one", Condition.Always, to)], 60, "Call"), Sample.Catalogue);

    [Fact]
    public void WhoLacksTheLanguageOrASkillIsPassedOver()
    {
        var router = One(new RuleOutcome(Team: "north-sea") { Speaking = true, Skills = ["sonar"] });
        RoutingDecision Of(string? language, Rep tor, Rep aoife) => router.Decide(new RoutingAsk(Sample.Record(("language", language)), Sample.Now), State(tor, aoife));
        var (speaks, dives) = (Aoife with { Languages = ["de"], Skills = ["sonar"] }, Tor with { Skills = ["sonar"] });
        Of("de", dives, speaks).Owner.ShouldBe(Aoife.Id);
        Of(null, dives, speaks).Owner.ShouldBe(Tor.Id);
        Of("de", dives, Aoife).Owner.ShouldBeNull();
    }

    [Fact]
    public void AStateNotKnownGoesRoundEveryoneWhoServesTheCountry()
    {
        var (west, east) = (Tor with { Serves = ["US-WA"] }, Aoife with { Serves = ["US-NY"] });
        var teams = new Dictionary<string, Team> { ["serves:US"] = NorthSea with { Key = "serves:US", Name = "Everyone who serves United States" } };
        var state = new RoutingState(new[] { west, east }.ToDictionary(r => r.Id), teams);
        var router = One(new RuleOutcome { Serving = true, Else = new RuleOutcome(Hold: "nobody there") });
        RoutingDecision Of(string? country, string? region) => router.Decide(new RoutingAsk(Sample.Record(("country", country), ("region", region)), Sample.Now), state);
        Of("US", "US-NY").Owner.ShouldBe(Aoife.Id);
        var first = Of("US", null);
        first.Owner.ShouldBe(Tor.Id);
        first.Team.ShouldNotBeNull().Turns.Single(t => t.Rep == Aoife.Id).Credit.ShouldBe(Turns.Lead / 2);
        Of("US", "US-TX").Owner.ShouldBeNull();
        Of(null, null).Owner.ShouldBeNull();
    }

    [Fact]
    public void WhoGaveItBackDoesNotGetItAgainAndAKeptLeadStays()
    {
        var ask = new RoutingAsk(Sample.Record(("country", "GB")), Sample.Now)
        {
            Moment = RoutingMoment.GivenBack,
            Owner = Tor.Id,
            NotAgain = Tor.Id,
        };
        Router.Decide(ask, State()).Owner.ShouldBe(Aoife.Id);
        var kept = One(new RuleOutcome { Keep = true }).Decide(ask with { Moment = RoutingMoment.Qualified, NotAgain = null }, State());
        (kept.Owner, kept.Kept).ShouldBe((Tor.Id, true));
    }

    [Fact]
    public void OnQualificationALeadStaysWithWhomItIsUnlessARuleIsForThat()
    {
        var ask = new RoutingAsk(Sample.Record(("country", "GB")), Sample.Now) { Moment = RoutingMoment.Qualified, Owner = Tor.Id };
        var stays = Router.Decide(ask, State());
        (stays.Owner, stays.Kept, stays.Rule).ShouldBe((Tor.Id, true, null));
        var moves = new Router(
            Router.Sheet with
            {
                Rules = [Router.Sheet.Rules[1] with { Moments = [RoutingMoment.Qualified], To = new RuleOutcome(Person: "aoife") }],
            },
            Sample.Catalogue
        );
        moves.Decide(ask, State()).Owner.ShouldBe(Aoife.Id);
        // Where nobody can take it, it stays as well.
        moves.Decide(ask, State(Tor, Aoife with { Away = true })).Owner.ShouldBe(Tor.Id);
    }

    [Fact]
    public void EachWhoIsPassedOverIsNamedWithTheReason()
    {
        (string Words, Rep Rep, Guid? NotAgain)[] passed =
        [
            ("had it before", Tor, Tor.Id),
            ("is away until 2026-11-25", Tor with { Away = true, AwayUntil = Sample.Now + Duration.FromDays(2) }, null),
            ("is away", Tor with { Away = true }, null),
            ("does not serve the place", Tor with { Serves = ["NO"] }, null),
            ("does not speak the language", Tor with { Serves = ["US"] }, null),
            ("lacks a skill it needs", Tor with { Serves = ["US"], Languages = ["de"] }, null),
            ("has 60 of 60 leads", Tor with { Serves = ["US"], Languages = ["de"], Skills = ["sonar"], Open = 60 }, null),
            ("got 4 today", Tor with { Serves = ["US"], Languages = ["de"], Skills = ["sonar"], Today = 4, CapacityToday = 4 }, null),
        ];
        var able = Aoife with { Serves = ["US"], Languages = ["de"], Skills = ["sonar"] };
        var router = One(
            new RuleOutcome
            {
                Serving = true,
                Speaking = true,
                Skills = ["sonar"],
            }
        );
        foreach (var (words, rep, notAgain) in passed)
        {
            var state = new RoutingState(new[] { rep, able }.ToDictionary(r => r.Id), new Dictionary<string, Team> { ["serves:US"] = NorthSea with { Key = "serves:US" } });
            var lead = Sample.Record(("country", "US"), ("language", "de"));
            var decision = router.Decide(new RoutingAsk(lead, Sample.Now) { NotAgain = notAgain }, state);
            decision.Owner.ShouldBe(Aoife.Id);
            router.Explain(decision, lead).Select(l => l.Words).ShouldContain($"Tor Vik {words} and is passed over.");
        }
    }

    [Fact]
    public void ATeamThatOnlyTakesInItsHoursPassesOverWhoIsNotAtWork()
    {
        var state = new RoutingState(
            new[] { Tor with { Working = false }, Aoife }.ToDictionary(r => r.Id),
            new Dictionary<string, Team> { ["north-sea"] = NorthSea with { OnlyInHours = true } }
        );
        var lead = Sample.Record(("country", "GB"));
        var decision = Router.Decide(new RoutingAsk(lead, Sample.Now), state);
        decision.Owner.ShouldBe(Aoife.Id);
        Router.Explain(decision, lead).Select(l => l.Words).ShouldContain("Tor Vik is not at work just now and is passed over.");
    }

    [Fact]
    public void WhoIsNamedByHandGetsItAsTheRulesWouldGive()
    {
        var lead = Sample.Record(("country", "US"));
        List<string> Told(RoutingDecision decision) => [.. Router.Explain(decision, lead).Select(l => l.Words)];
        var person = Router.Assign("The list says so", Tor.Id, null, State());
        (person.Owner, person.Rule).ShouldBe((Tor.Id, null));
        Told(person).ShouldBe(["The list says so.", "To Tor Vik."]);
        // Away: who stands in; nobody does: it waits.
        Router.Assign("So", Tor.Id, null, State(Tor with { Away = true, StandIn = Aoife.Id }, Aoife)).Owner.ShouldBe(Aoife.Id);
        Router.Assign("So", Tor.Id, null, State(Tor with { Away = true }, Aoife)).Owner.ShouldBeNull();
        var team = Router.Assign("So", null, "north-sea", State());
        team.Owner.ShouldBe(Tor.Id);
        team.Team.ShouldNotBeNull().Turns.Single(t => t.Rep == Aoife.Id).Credit.ShouldNotBe(0);
        Router.Assign("So", null, "north-sea", State(Tor with { Away = true }, Aoife with { Away = true })).Owner.ShouldBeNull();
        Told(Router.Assign("So", Guid.NewGuid(), null, State()))[^1].ShouldBe("Who is named no longer exists. It waits on the Desk.");
    }

    [Fact]
    public void WhoIsNamedAndGoneOrServedByNobodyIsSaid()
    {
        List<string> Told(RuleOutcome to, string? country)
        {
            var (router, lead) = (One(to), Sample.Record(("country", country)));
            return [.. router.Explain(router.Decide(new RoutingAsk(lead, Sample.Now), State()), lead).Select(l => l.Words)];
        }
        Told(new RuleOutcome(Person: "old.hand"), "NO").ShouldContain("\u201cold.hand\u201d is no longer here.");
        Told(new RuleOutcome(Team: "river"), "NO").ShouldContain("\u201criver\u201d is no longer here.");
        Told(new RuleOutcome { Serving = true }, "SE").ShouldContain("Nobody serves Sweden.");
        Told(new RuleOutcome { Keep = true }, "SE")[^1].ShouldBe("It is to stay with whom it is, and it is with nobody. It waits on the Desk.");
    }

    [Fact]
    public void ASheetIsAskedAtItsMomentsAndOnArrivalAlways()
    {
        var router = new Router(Router.Sheet with { Moments = [RoutingMoment.Handover] }, Sample.Catalogue);
        RoutingMoment.Choices.Where(c => router.AskedAt(c.Key)).Select(c => c.Key).ShouldBe([RoutingMoment.Arrival, RoutingMoment.Handover]);
        Router.CanRead(Router.Sheet, Sample.Catalogue).ShouldBeTrue();
        Router.CanRead(Router.Sheet with { Rules = [Router.Sheet.Rules[0] with { When = Condition.Where("long_gone", TestOperator.Known) }] }, Sample.Catalogue).ShouldBeFalse();
    }

    private static readonly Gen<Condition> AnyCell = Gen.OneOf(
        Gen.OneOfConst("NO", "SE", "GB").Array[1, 2].Select(v => Condition.Where("country", TestOperator.In, v)),
        Gen.OneOfConst("fish_farming", "port").Select(v => Condition.Where("industry", TestOperator.In, v)),
        Gen.Select(Gen.Int[0, 9], Gen.OneOfConst(TestOperator.AtLeast, TestOperator.AtMost, TestOperator.In), (n, test) => Condition.Where("employees", test, $"{n}")),
        Gen.OneOfConst("buoy", "probe").Select(v => Condition.Where("interest", TestOperator.Contains, v)),
        Gen.OneOfConst("country", "interest").Select(f => Condition.Where(f, TestOperator.Known))
    );

    [Fact]
    public void TheIndexFindsWhatAskingEveryRuleInOrderFinds() =>
        Gen.Select(
                ConditionGen.Nested(AnyCell).Array[1, 80],
                Gen.Select(Gen.OneOfConst("NO", "SE", "FR", null), Gen.OneOfConst("port", "x", null), Gen.Int[-1, 10], Gen.OneOfConst("buoys", "a probe, a buoy", null)).Array[
                    1,
                    20
                ]
            )
            .Sample(
                (rules, leads) =>
                {
                    var router = new Router(
                        new RuleSheet(
                            [],
                            [.. rules.Select((when, i) => new Rule($"r{i}", "r", when, new RuleOutcome(Hold: "x")) { Moments = i % 7 == 3 ? [RoutingMoment.Cleared] : [] })],
                            60,
                            "Call"
                        ),
                        Sample.Catalogue
                    );
                    var asked = rules.Select(r => ConditionPredicate.Compile(r, Sample.Catalogue)).ToArray();
                    foreach (var (country, industry, staff, interest) in leads)
                    {
                        var lead = Sample.Record(("country", country), ("industry", industry), ("employees", staff < 0 ? null : staff), ("interest", interest));
                        var first = -1;
                        for (var i = 0; i < asked.Length && first < 0; i++)
                            if (i % 7 != 3 && asked[i](lead, Sample.Now))
                                first = i;
                        router.FirstRule(lead, RoutingMoment.Arrival, Sample.Now).ShouldBe(first);
                    }
                }
            );
}
