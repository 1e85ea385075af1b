using CsCheck;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;
using NodaTime;

namespace DapperLantern.Core.Tests.Matching;

public sealed class MergeProposalTests
{
    private static readonly FieldDefinition Company = BuiltInFields.Facts.Single(f => f.Key == "company");

    private static readonly Gen<SideValue> Sides = Gen.Select(
        Gen.OneOfConst(null, "Fjord", "Fjord Laks", "Havn", "Havn AS"),
        Gen.Enum<SaidBy>(),
        Gen.Int[0, 3],
        Gen.Int[-1, 1],
        (text, by, day, trust) => new SideValue(FieldValue.Of(text), by, Instant.FromUnixTimeSeconds(day * 86400), trust)
    );

    private static SideValue Said(string? text, SaidBy by = SaidBy.Source, int day = 0, int trust = 0) =>
        new(FieldValue.Of(text), by, Instant.FromUnixTimeSeconds(day * 86400), trust);

    [Fact]
    public void WhicheverOfTheTwoStaysTheSameValueIsProposed() =>
        Gen.Select(Sides, Sides, Gen.Enum<MergeRule>())
            .Sample(
                (a, b, rule) =>
                {
                    var (one, other) = (MergeProposal.For(Company, a, b, rule), MergeProposal.For(Company, b, a, rule));
                    if (a.Value == b.Value)
                        return !one.Theirs && !other.Theirs;
                    // Without a reason each keeps its own.
                    return one.Why.Length == 0 && a.Value.IsKnown && b.Value.IsKnown ? !one.Theirs && other.Why.Length == 0 : one.Theirs != other.Theirs;
                }
            );

    [Fact]
    public void WhatAPersonWroteIsProposedByEveryRule() =>
        Gen.Select(Sides, Sides, Gen.Enum<MergeRule>())
            .Where((a, b, _) => a.Value.IsKnown && b.Value.IsKnown && a.Value != b.Value && a.By == SaidBy.Person && b.By != SaidBy.Person)
            .Sample((a, b, rule) => !MergeProposal.For(Company, a, b, rule).Theirs && MergeProposal.For(Company, b, a, rule).Theirs);

    [Theory]
    [InlineData(MergeRule.Trusted, "from a source trusted more", true)]
    [InlineData(MergeRule.Fullest, "fuller", false)]
    [InlineData(MergeRule.Newest, "newer", true)]
    public void TheRuleOfTheFieldDecidesFirst(MergeRule rule, string why, bool theirs)
    {
        var choice = MergeProposal.For(Company, Said("Fjord Laks", day: 1, trust: 0), Said("Fjord", day: 2, trust: 1), rule);
        (choice.Theirs, choice.Why).ShouldBe((theirs, why));
    }

    [Fact]
    public void WhereTheRuleSaysNothingTheOthersDo()
    {
        MergeProposal.For(Company, Said("Havn"), Said("Havn AS"), MergeRule.Trusted).ShouldBe(new MergeChoice(true, "fuller"));
        MergeProposal.For(Company, Said("Havn"), Said("Fjord", day: 1), MergeRule.Fullest).ShouldBe(new MergeChoice(true, "newer"));
        MergeProposal.For(Company, Said("Havn"), Said("Fjord", trust: -1), MergeRule.Newest).ShouldBe(new MergeChoice(false, "from a source trusted more"));
        MergeProposal.For(Company, Said("Havn", SaidBy.Directory), Said("Fjord", trust: -1)).ShouldBe(new MergeChoice(true, "the other is only from a directory"));
    }
}
