using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Tests.Deals;

public sealed class StageNeedsTests
{
    private static readonly DealSnapshot Bare = new(0, 0, false, new HashSet<string>(), false, new HashSet<string>());
    private static readonly IReadOnlyList<Choice> All = StageNeeds.All([new Choice("lawyer", "Lawyer")], Sample.Catalogue.FactsOf(TargetRecord.Deal));

    [Theory]
    [InlineData("amount", "An amount over 0")]
    [InlineData("products", "At least one product")]
    [InlineData("next_step", "A next step")]
    [InlineData("competitor", "A competitor named")]
    [InlineData("role:lawyer", "Somebody as lawyer")]
    [InlineData("fact:interest", "Interest known")]
    public void ABareDealLacksWhateverIsNeeded(string need, string words) => StageNeeds.Missing([need], Bare, All).ShouldBe([words]);

    [Fact]
    public void ADealThatHasItAllLacksNothing()
    {
        var whole = new DealSnapshot(1, 1, true, new HashSet<string> { "lawyer" }, true, new HashSet<string> { "interest" });
        StageNeeds.Missing(["amount", "products", "next_step", "competitor", "role:lawyer", "fact:interest"], whole, All).ShouldBeEmpty();
    }

    [Fact]
    public void WhatNobodyCanMeetAnyMoreKeepsNobodyOut() => StageNeeds.Missing(["role:gone", "fact:gone", "nonsense"], Bare, All).ShouldBeEmpty();
}
