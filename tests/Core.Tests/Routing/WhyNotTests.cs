using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Routing;

namespace DapperLantern.Core.Tests.Routing;

/// <summary>"Why did I not get it?", answered from the decision as it was taken.</summary>
public sealed class WhyNotTests
{
    private static readonly Rep Tor = new(Guid.NewGuid(), "tor", "Tor Vik", false, 3, 60);
    private static readonly Rep Aoife = new(Guid.NewGuid(), "aoife", "Aoife Brannigan", false, 60, 60);
    private static readonly Rep Siv = new(Guid.NewGuid(), "siv", "Siv Moen", false, 3, 60) { Serves = ["SE"] };
    private static readonly Rep Lone = new(Guid.NewGuid(), "lone", "Lone Berg", false, 3, 60);
    private static readonly Team Sea = new("sea", "Sea", [new Turn(Tor.Id, 1, 0), new Turn(Aoife.Id, 1, 0)]);

    private static readonly Router Router = new(
        new RuleSheet(
            ["country"],
            [
                new("tor", "Norway", Condition.Where("country", TestOperator.In, "NO"), new RuleOutcome(Person: "tor")),
                new("sea", "the sea", Condition.Where("country", TestOperator.In, "NO", "GB"), new RuleOutcome(Team: "sea")),
                new("serving", "who serves it", Condition.Where("country", TestOperator.In, "SE"), new RuleOutcome(Hold: "later") { Else = new RuleOutcome { Serving = true } }),
            ],
            480,
            "Call"
        ),
        Sample.Catalogue
    );

    private static List<string> Of(Rep person, string country, ExistingOwner? standing = null, params Team[] teams)
    {
        var lead = Sample.Record(("country", country));
        var state = new RoutingState(new[] { Tor, Aoife, Siv, Lone }.ToDictionary(r => r.Id), new Dictionary<string, Team> { ["sea"] = Sea });
        var decision = Router.Decide(new RoutingAsk(lead, Sample.Now) { Standing = standing is null ? [] : [standing] }, state);
        var verdicts = Router.Verdicts(lead, RoutingMoment.Arrival, Sample.Now).ToList();
        return [.. RoutingWhyNot.Of(person, Router.Sheet, decision.Rule, Router.Explain(decision, lead), verdicts, [.. teams])];
    }

    [Fact]
    public void WhoGotItIsToldSo() => Of(Tor, "NO").ShouldHaveSingleItem().ShouldStartWith("Tor Vik did get it: ");

    [Fact]
    public void WhoWasPassedOverIsToldWhy() => Of(Aoife, "GB", null, Sea).ShouldBe(["Aoife Brannigan has 60 of 60 leads and is passed over."]);

    [Fact]
    public void WhatWentToAnOwnerWasNotAskedOfTheRules() =>
        Of(Siv, "NO", new ExistingOwner(Tor.Id, Guard.Account, "owns the account Laks"))
            .ShouldBe(["It went to who owned something already, before any rule was asked. Tor Vik owns the account Laks."]);

    [Fact]
    public void SomebodyElsesTurnIsSaid() =>
        Of(Lone, "GB", null, Sea with { Turns = [new Turn(Lone.Id, 1, 0)] })
            .ShouldHaveSingleItem()
            .ShouldStartWith("Lone Berg could have got it by rule 2, but it was somebody else\u2019s turn.");

    [Fact]
    public void ARuleBehindTheOneThatFitIsNamedAsBehind() => Of(Aoife, "NO", null, Sea).ShouldBe(["Rule 2, the sea, leads to Aoife Brannigan, but rule 1 comes first and fits."]);

    [Fact]
    public void ARuleThatDidNotFitSaysWhat() => Of(Tor, "SE").ShouldBe(["Rule 1, Norway, leads to Tor Vik, but country is Sweden, the rule wants: is Norway."]);

    [Fact]
    public void WhereNoRuleFitsEachThatLeadsThereSaysWhy() =>
        Of(Tor, "US", null, Sea)
            .ShouldBe([
                "Rule 1, Norway, leads to Tor Vik, but country is United States, the rule wants: is Norway.",
                "Rule 2, the sea, leads to Tor Vik, but country is United States, the rule wants: is Norway or United Kingdom.",
            ]);

    [Fact]
    public void WhatIsElsewhereLeadsThereToo() => Of(Siv, "NO").ShouldBe(["Rule 3, who serves it, leads to Siv Moen, but rule 1 comes first and fits."]);

    [Fact]
    public void WhomNoRuleNamesIsTold() => Of(Lone, "NO").ShouldBe(["No rule of the sheet leads to Lone Berg."]);

    [Fact]
    public void ThereIsAlwaysAnAnswer() =>
        Gen.Select(Gen.OneOfConst(Tor, Aoife, Siv, Lone), Gen.OneOfConst("NO", "GB", "SE", "US"), Gen.Bool, Gen.Bool)
            .Sample(
                (person, country, inTeam, owned) =>
                    Of(person, country, owned ? new ExistingOwner(Tor.Id, Guard.Contact, "owns the contact") : null, inTeam ? [Sea] : []) is { Count: > 0 } said
                    && said.All(s => s.EndsWith('.') && !s.Contains("  ", StringComparison.Ordinal))
            );
}
