using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Leads.Bulk;
using NodaTime;

namespace DapperLantern.Core.Tests.Leads.Bulk;

public sealed class BulkChangeTests
{
    private static readonly Instant Now = Instant.FromUtc(2026, 11, 25, 9, 0);
    private static readonly FieldCatalogue Catalogue = FieldCatalogue.Build();
    private static readonly Guid Tor = Guid.NewGuid();
    private static readonly Guid Effie = Guid.NewGuid();

    private static BulkLead Lead(string state = "in_work", Guid? owner = null, bool has = false, bool mine = true, params (string Key, string Value)[] facts)
    {
        var values = new RecordValues(Catalogue);
        foreach (var (key, value) in facts.Prepend(("email", "a@b.example")).Prepend(("last_name", "Sollid")))
            values[key] = FieldValue.Parse(Catalogue[key].Type, value);
        return new BulkLead(values, state, null, null, owner, "The need must be confirmed.", has, mine);
    }

    private static BulkOutcome Decide(BulkAct act, BulkLead lead) => BulkChange.Decide(act, act.Field is null ? null : Catalogue[act.Field], lead, Now);

    [Fact]
    public void AHandedOverLeadIsLeftWhateverTheAct()
    {
        foreach (var kind in BulkAct.Kinds)
            Decide(new BulkAct(kind, Field: "city", Value: "Bergen", State: "new"), Lead(LeadState.HandedOver)).Verdict.ShouldBe(BulkVerdict.Left);
    }

    [Fact]
    public void AnActIsSaidInWords()
    {
        var catalogue = Sample.Catalogue;
        string Of(BulkAct act) => BulkWords.Of(act, catalogue, "Nordic autumn");
        Of(new BulkAct(BulkAct.Fact, "industry", "port")).ShouldBe("Industry to Port or harbour");
        Of(new BulkAct(BulkAct.Fact, "industry", " ")).ShouldBe("Industry to blank");
        Of(new BulkAct(BulkAct.Tag)).ShouldBe("Tag Nordic autumn put on");
        Of(new BulkAct(BulkAct.Untag)).ShouldBe("Tag Nordic autumn taken off");
        Of(new BulkAct(BulkAct.Give) { Swap = true }).ShouldBe("Owners exchanged");
        Of(new BulkAct(BulkAct.Give) { ByRules = true, Onward = true }).ShouldBe("Handed on by the rules");
        Of(new BulkAct(BulkAct.Give) { ByRules = true }).ShouldBe("Given by the rules");
        Of(new BulkAct(BulkAct.Give, To: [])).ShouldBe("Put back to wait for an owner");
        Of(new BulkAct(BulkAct.Give, To: [Tor])).ShouldBe("Given to Nordic autumn");
        Of(new BulkAct(BulkAct.Give, To: [Tor, Effie])).ShouldBe("Given in turn to 2 people");
        Of(new BulkAct(BulkAct.Move, State: "on_hold")).ShouldBe("State to on hold");
        Of(new BulkAct(BulkAct.Remove)).ShouldBe("Removed");
        Of(new BulkAct(BulkAct.HandOver)).ShouldBe("Handed over into Nordic autumn");
        Of(new BulkAct(BulkAct.Campaign)).ShouldBe("Added to the campaign Nordic autumn");
    }

    [Fact]
    public void ToExchangeIsToNameEachTheOthersOwner()
    {
        new BulkAct(BulkAct.Give) { Swap = true }
            .Exchanging([Tor, Effie])
            .To.ShouldNotBeNull()
            .ShouldBe([Effie, Tor]);
        new BulkAct(BulkAct.Give, To: [Tor]).Exchanging([Effie]).To.ShouldNotBeNull().ShouldBe([Tor]);
    }

    [Fact]
    public void SomebodyElsesLeadIsLeft() => Decide(new BulkAct(BulkAct.Tag), Lead(mine: false)).Why.ShouldBe("not yours");

    [Fact]
    public void AFactIsReadByTheLeadsOwnCountry()
    {
        var act = new BulkAct(BulkAct.Fact, "phone", "22 55 01 43");
        Decide(act, Lead(facts: ("country", "NO"))).Value.ShouldBe(FieldValue.Of("+4722550143"));
        Decide(act, Lead()).Verdict.ShouldBe(BulkVerdict.Left);
    }

    [Fact]
    public void WhatIsSoAlreadyIsNotChanged() => Decide(new BulkAct(BulkAct.Fact, "city", " Bergen "), Lead(facts: ("city", "Bergen"))).Verdict.ShouldBe(BulkVerdict.Same);

    [Fact]
    public void NobodyLosesTheirLastWayToBeReachedAndTheLeadIsAsItWas()
    {
        var lead = Lead();
        Decide(new BulkAct(BulkAct.Fact, "email", ""), lead).Verdict.ShouldBe(BulkVerdict.Left);
        lead.Facts.Text("email").ShouldBe("a@b.example");
        Decide(new BulkAct(BulkAct.Fact, "email", ""), Lead(facts: ("phone", "+4722550143"))).Verdict.ShouldBe(BulkVerdict.Changed);
    }

    [Fact]
    public void WhoeverHasOneOfThoseItIsGivenToKeepsThem()
    {
        var act = new BulkAct(BulkAct.Give, To: [Tor, Effie]);
        Decide(act, Lead(owner: Effie)).Verdict.ShouldBe(BulkVerdict.Same);
        Decide(act, Lead(owner: Guid.NewGuid())).Verdict.ShouldBe(BulkVerdict.Changed);
        Decide(new BulkAct(BulkAct.Give, To: []), Lead()).Verdict.ShouldBe(BulkVerdict.Same);
        Decide(new BulkAct(BulkAct.Give, To: []), Lead(owner: Tor)).Verdict.ShouldBe(BulkVerdict.Changed);
    }

    [Fact]
    public void ATagIsPutOnOnceAndTakenOffWhereItIs()
    {
        Decide(new BulkAct(BulkAct.Tag), Lead(has: true)).Verdict.ShouldBe(BulkVerdict.Same);
        Decide(new BulkAct(BulkAct.Tag), Lead()).Verdict.ShouldBe(BulkVerdict.Changed);
        Decide(new BulkAct(BulkAct.Untag), Lead(has: true)).Verdict.ShouldBe(BulkVerdict.Changed);
        Decide(new BulkAct(BulkAct.Untag), Lead()).Verdict.ShouldBe(BulkVerdict.Same);
    }

    [Fact]
    public void QualifiedNeedsWhatIsWrittenDown()
    {
        var act = new BulkAct(BulkAct.Move, State: LeadState.Qualified);
        Decide(act, Lead()).Why.ShouldBe("The need must be confirmed");
        Decide(act, Lead() with { Lacks = null }).Verdict.ShouldBe(BulkVerdict.Changed);
    }
}
