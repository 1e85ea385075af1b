using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;

namespace DapperLantern.Core.Tests.Events;

/// <summary>The words of stories, made from events as they are read.</summary>
public sealed class EventWordsTests
{
    private static readonly Guid Mara = Guid.Parse("00000000-0000-0000-0000-000000000001");
    private static readonly Guid Loch = Guid.Parse("00000000-0000-0000-0000-000000000002");

    private sealed class Names(bool shows = true) : IEventNames
    {
        public string Person(Guid id) => id == Mara ? "Mara Quist" : "somebody";

        public string Record(Guid id) => id == Loch ? "Loch Torran" : "one that is gone";

        public string Entry(EventList list, string key) => $"{list} {key}";

        public string Stage(string pipeline, string stage) => $"{stage} of {pipeline}";

        public string Product(string key) => key;

        public FieldDefinition? Field(string key) => BuiltInFields.Facts.FirstOrDefault(f => f.Key == key);

        public bool Shows(FieldDefinition field) => shows || field.Type != FieldType.Email;

        public string? Name(string? name) => shows || name?.Contains('@', StringComparison.Ordinal) != true ? name : null;
    }

    private static string? Line(Happening happening, string kind = "lead", string? of = null) =>
        EventWords.Of(happening, kind, of, new Names()) is { } line ? $"{line.Kind}: {line.Text}" : null;

    [Fact]
    public void AValueThatIsKeptFromTheReaderIsNotTold()
    {
        var changed = FactsChanged.Of([new ChangedFact("email", "ann@fjord.example", "ann@laks.example"), new ChangedFact("city", "Oslo", "Narvik")]);
        EventWords.Of(changed, "lead", null, new Names(shows: false))!.Text.ShouldBe("Changed email, place to Narvik");
        EventWords.Of(changed, "lead", null, new Names())!.Text.ShouldBe("Changed email to ann@laks.example, place to Narvik");
        var merged = new Merged(Loch, [], "ann@fjord.example");
        EventWords.Of(merged, "lead", null, new Names(shows: false))!.Text.ShouldBe("Merged with another");
        EventWords.Of(merged, "lead", null, new Names())!.Text.ShouldBe("Merged with ann@fjord.example");
    }

    public static TheoryData<Happening, string?> Leads =>
        new()
        {
            { new OwnerChanged(null, Mara, new Why(Why.ByHand)), "routed: Given to Mara Quist by hand" },
            { new OwnerChanged(Mara, null, new Why(Why.ByHand)), "routed: Put back to wait for an owner" },
            { new OwnerChanged(Mara, null, new Why(Why.GivenBack, Reason: "too far")), "routed: Given back: too far; waits on the Desk" },
            { new OwnerChanged(null, Mara, new Why(Why.GivenBack, Reason: "too far")), "routed: Given back: too far; given to Mara Quist" },
            { new OwnerChanged(Mara, null, new Why(Why.ClockRanOut, Times: 3)), "routed: The time to answer ran out 3 times; it waits on the Desk" },
            { new OwnerChanged(null, Mara, new Why(Why.ClockRanOut)), "routed: The time to answer ran out; given to Mara Quist" },
            { new OwnerChanged(null, Mara, new Why(Why.Cleared)), "routed: Cleared the bar; given to Mara Quist" },
            { new OwnerChanged(null, Mara, new Why(Why.Taken)), "routed: Taken by hand" },
            { new OwnerChanged(null, Mara), null },
            { new StateChanged("new", "in_work"), null },
            { new StateChanged("new", "in_work", Why: new Why(Why.ByHand)), "state: State is now in work" },
            { new StateChanged("on_hold", "in_work", Why: new Why(Why.Woke)), "state: Woke as planned; state is now in work" },
            { new StateChanged("disqualified", "in_work", Why: new Why(Why.ByHand)), "state: State is now in work, opened again" },
            {
                new StateChanged("in_work", "on_hold", Wake: new DateTimeOffset(2026, 5, 3, 6, 0, 0, TimeSpan.Zero), Why: new Why(Why.ByHand)),
                "state: State is now on hold, until 3 May 2026"
            },
            {
                new StateChanged("in_work", "disqualified", "dear", LostTo: "kelp", Why: new Why(Why.ByHand)),
                "state: State is now disqualified: reasons dear, Competitors kelp got it"
            },
            {
                new StateChanged("in_work", "qualified", Why: new Why(Why.ByHand, ["Need is not known."]), Because: "they sign tomorrow"),
                "state: State is now qualified, as an exception: they sign tomorrow (not met: Need is not known.)"
            },
            { new StateChanged("qualified", "handed_over", Why: new Why(Why.ByHand)), null },
            { new CameInAgain("Row 3", []), "added: Row 3. Added: nothing we did not know" },
            { new CameInAgain("Row 3", ["phone", "city"]), "added: Row 3. Added: phone, place" },
            { new FactsChanged(["company"], [new ChangedFact("company", null, "Tide Ltd")]), "edited: Changed company to Tide Ltd" },
            { new FactsChanged(["phone"], [new ChangedFact("phone", "+441632960000", null)], "The shop"), "edited: The shop: changed phone to blank" },
            { new FactsChanged(["phone"]), "edited: Changed phone" },
            { new ClockMissed(true), "routed: The time to answer ran out; the manager was told" },
            { new FoundOut(["need"], [new AnswerFound("need", "confirmed", "has to report")]), "found: Found out: need confirmed (has to report)" },
            { new FoundOut(["need"]), "found: Found out: need" },
            { new HandedOver(Loch, Mara, null, 4, 5, ["city"], false, "Buoys"), "handed_over: Handed over as Buoys: 4 of 5 facts carried; left behind on purpose: city" },
            { new HandoverUndone(true), "taken_back: Handover taken back; what had been made was worked on and is kept" },
            { new Merged(Loch, ["phone"], "Ann Ray", "came in twice"), "merged: Merged with Ann Ray, came in twice. Taken from there: phone" },
            { new Merged(Loch, []), "merged: Merged with another" },
            { new Noted(Loch, "note"), null },
            { new SignedIn("1.2.3.4"), null },
        };

    [Theory]
    [MemberData(nameof(Leads))]
    public void ALeadsEventHasTheseWords(Happening happening, string? words) => Line(happening).ShouldBe(words);

    public static TheoryData<Happening, string?> Deals =>
        new()
        {
            { new StageChanged("sale", "a", "offer", 10, "EUR"), "deal: Now in offer of sale" },
            { new StageChanged("sale", "won", "offer", 10, "EUR", true), "deal: Opened again, in offer of sale" },
            { new DealLost("sale", "a", "lost", 10, "EUR", "dear", "kelp"), "deal: Lost: lostreasons dear, Competitors kelp got it" },
            { new DealWon("sale", "a", "won", 10, "EUR"), "deal: Won" },
            { new AmountChanged(10.5m, "EUR", 12m, "NOK"), "deal: Amount changed from 10.5 EUR to 12 NOK" },
            { new AmountChanged(10.5m, "EUR", 12m, "EUR", new Why(Why.Products)), "deal: amount follows, 12 EUR" },
            { new CloseMoved(new DateOnly(2026, 5, 3), new DateOnly(2026, 6, 1)), "deal: Expected close moved from 3 May 2026 to 1 Jun 2026" },
            { new OwnerChanged(null, Mara), "deal: Given to Mara Quist" },
            { new DealPeopleChanged(Loch, "joined", "user", "Ann"), "deal: Ann joined as roles user" },
            { new DealPeopleChanged(Loch, "role", "", "Ann"), "deal: Ann is there without a part of their own now" },
            { new DealProductsChanged([new DealProduct("buoy", 2, 5)]), "deal: Products: 2 buoy" },
            { new ProbabilitySaid(null), "deal: Probability follows the stage again" },
            { new TaskPlanned(Loch, DateTimeOffset.UnixEpoch, Mara, "Call"), "deal: Planned: Call" },
        };

    [Theory]
    [MemberData(nameof(Deals))]
    public void ADealsEventHasTheseWords(Happening happening, string? words) => Line(happening, "deal").ShouldBe(words);

    [Fact]
    public void AnAccountIsToldByItsOwnColumns() =>
        Line(
                FactsChanged.Of([
                    new ChangedFact("name", "A", "B"),
                    new ChangedFact("household", "false", "true"),
                    new ChangedFact("kinds", "", "customer partner"),
                    new ChangedFact("parent", null, $"{Loch}"),
                    new ChangedFact("owner", null, $"{Mara}"),
                ]),
                "account"
            )
            .ShouldBe("edited: Changed name to B, to a household, kinds to kinds customer, kinds partner, to a branch of Loch Torran, owner to Mara Quist");

    [Fact]
    public void WhatWasDoneToManyIsToldByTheWordsOfThat()
    {
        Line(new OwnerChanged(null, Mara), of: "Given to Mara").ShouldBe("routed: Given to Mara");
        Line(new StateChanged("new", "in_work", Why: new Why(Why.ByHand)), of: "In work").ShouldBe("state: In work");
        Line(new StateChanged("in_work", "new"), of: "Taken back").ShouldBe("state: Taken back");
        // A handover tells itself, and its change of state nothing.
        Line(new StateChanged("qualified", "handed_over"), of: "Handed over").ShouldBeNull();
        Line(new HandoverUndone(false), of: "Handed over").ShouldBe("taken_back: Handover taken back");
    }

    [Fact]
    public void EachKindHasAKeyOfItsOwnAndOneType()
    {
        var types = typeof(Happening).Assembly.GetTypes().Where(t => t.IsAssignableTo(typeof(Happening)) && !t.IsAbstract).ToList();
        types.Select(t => t.GetCustomAttributes(typeof(EventKindAttribute), false).Cast<EventKindAttribute>().Single().Key).Order(StringComparer.Ordinal).ShouldBe(Happening.Kinds);
        Happening.Kinds.Length.ShouldBe(types.Count);
        foreach (var type in types)
            Happening.TypeOf(((EventKindAttribute)type.GetCustomAttributes(typeof(EventKindAttribute), false)[0]).Key).ShouldBe(type);
    }
}
