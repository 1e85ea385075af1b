using DapperLantern.Core.Leads;
using NodaTime;

namespace DapperLantern.Core.Tests.Leads;

public sealed class LeadStateTests
{
    private static readonly Instant Now = Sample.Now;

    private static string? Lacks(string to, string? reason = null, Instant? wakes = null) => LeadState.Lacks(to, reason, wakes, LeadState.Reasons, Now)?.Code;

    [Fact]
    public void OnHoldNeedsADayInTheYearsToCome()
    {
        Lacks(LeadState.OnHold).ShouldBe("wake-missing");
        Lacks(LeadState.OnHold, wakes: Now).ShouldBe("wake-missing");
        Lacks(LeadState.OnHold, wakes: Now + Duration.FromDays(1)).ShouldBeNull();
        Lacks(LeadState.OnHold, wakes: Now + LeadState.LongestHold).ShouldBeNull();
        Lacks(LeadState.OnHold, wakes: Now + LeadState.LongestHold + Duration.FromSeconds(1)).ShouldBe("wake-far");
    }

    [Fact]
    public void DisqualifiedNeedsAReasonThatThereIs()
    {
        Lacks(LeadState.Disqualified).ShouldBe("reason-missing");
        Lacks(LeadState.Disqualified, "bad_mood").ShouldBe("reason-missing");
        LeadState.Reasons.ShouldAllBe(r => Lacks(LeadState.Disqualified, r.Key, null) == null);
    }

    [Fact]
    public void OtherStatesNeedNothing() =>
        LeadState.Choices.Where(c => c.Key is not (LeadState.OnHold or LeadState.Disqualified)).ShouldAllBe(c => Lacks(c.Key, null, null) == null);

    [Fact]
    public void OnlyAHandoverHandsOverAndNothingMovesWhatWasHandedOver()
    {
        foreach (var from in LeadState.Choices)
        foreach (var to in LeadState.Choices)
            LeadState.MayMove(from.Key, to.Key).ShouldBe(from.Key != LeadState.HandedOver && to.Key != LeadState.HandedOver);
        LeadState.MayMove(LeadState.New, "asleep").ShouldBeFalse();
    }

    [Fact]
    public void WhatIsHandedOverOrDisqualifiedIsNotOpen() =>
        LeadState.Choices.Where(c => !LeadState.IsOpen(c.Key)).Select(c => c.Key).ShouldBe([LeadState.HandedOver, LeadState.Disqualified]);
}
