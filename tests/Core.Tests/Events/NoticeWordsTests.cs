using DapperLantern.Core.Events;

namespace DapperLantern.Core.Tests.Events;

/// <summary>Who is told of what, and in which words.</summary>
public sealed class NoticeWordsTests
{
    private static readonly Guid Mara = Guid.Parse("00000000-0000-0000-0000-000000000001");
    private static readonly Guid Tor = Guid.Parse("00000000-0000-0000-0000-000000000002");
    private static readonly Guid Chief = Guid.Parse("00000000-0000-0000-0000-000000000003");
    private static readonly Guid Admin = Guid.Parse("00000000-0000-0000-0000-000000000004");
    private static readonly Guid Ann = Guid.Parse("00000000-0000-0000-0000-00000000000a");
    private static readonly Guid Ben = Guid.Parse("00000000-0000-0000-0000-00000000000b");
    private static readonly Guid Nobodys = Guid.Parse("00000000-0000-0000-0000-00000000000c");
    private static readonly Guid Buoys = Guid.Parse("00000000-0000-0000-0000-00000000000d");
    private static readonly Guid Gone = Guid.Parse("00000000-0000-0000-0000-00000000000e");
    private static readonly DateTimeOffset Noon = new(2026, 12, 1, 12, 0, 0, TimeSpan.Zero);

    private static readonly NoticeFacts Facts = new(
        new Dictionary<Guid, NoticeLead>
        {
            [Ann] = new("Ann Fjord", Mara),
            [Ben] = new("Ben Laks", Mara),
            [Nobodys] = new("Nobody's", null),
        },
        new Dictionary<Guid, NoticeDeal> { [Buoys] = new("Buoys for Laks", Tor, Ben, "Instruments") },
        new Dictionary<Guid, string> { [Mara] = "Mara Quist", [Tor] = "Tor Vik" },
        [Chief],
        [Admin]
    );

    private static HeardEvent Heard(Happening happening, Guid record, Guid? by = null, bool many = false, long id = 7, DateTimeOffset? at = null) =>
        new(id, at ?? Noon, by, many, "lead", record, happening);

    private static IEnumerable<string> Told(params HeardEvent[] heard) =>
        NoticeWords
            .Of(heard, Facts)
            .Select(n => $"{(n.To == Mara ? "Mara" : n.To == Tor ? "Tor" : n.To == Chief ? "Chief" : "Admin")} {n.Kind}: {n.Subject} | {n.Text}");

    public static TheoryData<Happening, Guid, string[]> Each =>
        new()
        {
            {
                new OwnerChanged(null, Mara, new Why(Why.ByHand), Noon),
                Ann,
                ["Mara lead-given: New lead: Ann Fjord | A lead was given to you. Answer by {at:2026-12-01T12:00:00Z}."]
            },
            { new OwnerChanged(null, Mara), Ann, ["Mara lead-given: New lead: Ann Fjord | A lead was given to you. Answer by the promised time."] },
            {
                new OwnerChanged(Tor, Mara, new Why(Why.ClockRanOut, Message: "Call first."), Noon),
                Ann,
                [
                    "Mara lead-given: New lead: Ann Fjord | A lead was given to you. Answer by {at:2026-12-01T12:00:00Z}.\n\nCall first.",
                    "Tor lead-late: Passed on: Ann Fjord | The time to answer this lead ran out, so it was passed on.",
                ]
            },
            {
                new OwnerChanged(Tor, null, new Why(Why.ClockRanOut, Times: 3)),
                Ann,
                ["Tor lead-late: Passed on: Ann Fjord | The time to answer this lead ran out too often, so it waits for another owner."]
            },
            { new OwnerChanged(Tor, null, new Why(Why.ByHand)), Ann, [] },
            { new OwnerChanged(null, Mara), Gone, [] },
            { new OwnerChanged(Mara, Tor), Buoys, ["Tor deal-given: The deal Buoys for Laks was given to you | It stands among your deals."] },
            {
                new StateChanged("on_hold", "in_work", Why: new Why(Why.Woke)),
                Ann,
                ["Mara lead-woke: Awake again: Ann Fjord | The date until which this lead was on hold has come."]
            },
            { new StateChanged("on_hold", "in_work", Why: new Why(Why.Woke)), Nobodys, [] },
            { new StateChanged("on_hold", "in_work", Why: new Why(Why.ByHand)), Ann, [] },
            { new ClockSoon(Noon), Ann, ["Mara lead-late: Soon due: Ann Fjord | The time to answer this lead runs out at {at:2026-12-01T12:00:00Z}."] },
            { new ClockMissed(false), Ann, ["Mara lead-late: Not answered in time: Ann Fjord | The time to answer this lead has run out."] },
            { new ClockMissed(true), Ann, ["Chief lead-late: Not answered in time: Ann Fjord | The time to answer this lead has run out."] },
            { new ClockMissed(true), Nobodys, [] },
            { new CameInAgain("Came in again through Price guide", [], true), Ann, ["Mara lead-again: Came in again: Ann Fjord | Came in again through Price guide"] },
            { new CameInAgain("Came in again through Price guide", [], true), Nobodys, [] },
            { new CameInAgain("Opened a mail", []), Ann, [] },
            {
                new HandedOver(Buoys, Gone, null, 3, 3, [], false, "Buoys for Laks"),
                Ben,
                ["Tor deal-given: New deal: Buoys for Laks | Handed over from the lead Ben Laks, in Instruments."]
            },
            { new HandedOver(Buoys, Gone, null, 3, 3, [], true, "Buoys for Laks"), Ben, [] },
            { new LeadsGiven(1), Mara, ["Mara leads-given: 1 lead was given to you | They wait in your list of leads."] },
            {
                new LeadsGiven(4, Noon, "fair.csv"),
                Mara,
                ["Mara leads-given: New leads: 4 from fair.csv | 4 leads were given to you. Answer the first by {at:2026-12-01T12:00:00Z}."]
            },
            {
                new HandedOn(Tor, new Dictionary<string, int> { ["deal"] = 2, ["lead"] = 1 }, new Dictionary<string, decimal> { ["NOK"] = 5_000 }, Note: "Mind the ferry."),
                Mara,
                ["Mara handed-on: From Tor Vik: 1 lead, 2 deals (NOK 5,000) | They stand among your own now.\n\nMind the ferry."]
            },
            {
                new AskedFor(Tor, "Ann Fjord", "They rang me."),
                Ann,
                ["Tor asked-for: A colleague asks for Ann Fjord | They rang me.\n\nShare it, give it to them or decline: it stands on your Desk."]
            },
            { new AskedFor(null, "Ann Fjord"), Ann, [] },
            { new AskAnswered(Mara, "shared", "Ann Fjord"), Ann, ["Mara ask-answered: A colleague shares Ann Fjord with you | You see it now."] },
            { new AskAnswered(Mara, "given", "Ann Fjord"), Ann, ["Mara ask-answered: A colleague gave you Ann Fjord | It stands among your own now."] },
            {
                new AskAnswered(Mara, "declined", null, "Mine since May."),
                Ann,
                ["Mara ask-answered: A colleague keeps what you asked for to themselves | Mine since May.\n\nTalk to them if it matters."]
            },
            { new AskAnswered(Mara, "open"), Ann, ["Mara ask-answered: A colleague took an answer to you back | What you asked for is open again."] },
            { new HandedOn(Mara, new Dictionary<string, int> { ["task"] = 1 }, Back: true), Mara, ["Mara handed-on: Yours again: 1 task | They stand among your own now."] },
            {
                new MuchRead(11),
                Mara,
                [
                    "Admin read-much: Many people read by Mara Quist | Mara Quist asked by address or number for 11 people of colleagues within one hour. More is not told before the next.",
                ]
            },
        };

    [Theory]
    [MemberData(nameof(Each))]
    public void AnEventIsToldToWhomItConcerns(Happening happening, Guid record, string[] wanted) => Told(Heard(happening, record)).ShouldBe(wanted);

    [Fact]
    public void NobodyIsToldOfTheirOwnAct()
    {
        Told(Heard(new OwnerChanged(null, Mara), Ann, by: Mara)).ShouldBeEmpty();
        Told(Heard(new OwnerChanged(Mara, Tor), Buoys, by: Tor)).ShouldBeEmpty();
        Told(Heard(new HandedOver(Buoys, Gone, null, 3, 3, [], false), Ben, by: Tor)).ShouldBeEmpty();
    }

    [Fact]
    public void OfAChangeToManyEachOwnerIsToldOnceByItsCount() => Told(Heard(new OwnerChanged(null, Mara), Ann, many: true)).ShouldBeEmpty();

    [Fact]
    public void SeveralThatOneActGaveToOnePersonAreCounted()
    {
        var given = new OwnerChanged(null, Mara);
        HeardEvent[] Several(int count, Func<int, HeardEvent> one) => [.. Enumerable.Range(1, count).Select(one)];
        var many = Several(NoticeWords.ToldEach + 1, i => Heard(given, i % 2 == 0 ? Ann : Ben, Tor, id: i));
        Told(many).ShouldBe(["Mara leads-given: 6 leads were given to you | They wait in your list of leads."]);
        // One message tells of the first of them.
        NoticeWords.Of(many, Facts)[0].Event.ShouldBe(1);
        // A few are told one by one; another person's act, or one at another time, is another act.
        Told(many[1..]).Count().ShouldBe(NoticeWords.ToldEach);
        Told([.. many[1..], Heard(given, Ann, id: 9)]).Count().ShouldBe(NoticeWords.ToldEach + 1);
        Told([.. many[1..], Heard(given, Ann, Tor, id: 9, at: Noon.AddSeconds(1))]).Count().ShouldBe(NoticeWords.ToldEach + 1);
    }

    [Fact]
    public void WhatCameInTwiceAtOnceIsOneMessage() =>
        Told(Heard(new CameInAgain("By form", [], true), Ann, id: 1), Heard(new CameInAgain("By letter", [], true), Ann, id: 2))
            .ShouldBe(["Mara lead-again: Came in again: Ann Fjord | By form\nBy letter"]);

    [Fact]
    public void TheKindsAreThoseOfTheEventsTold() =>
        NoticeWords
            .Kinds.Order(StringComparer.Ordinal)
            .ShouldBe(["added", "ask_answered", "asked_for", "clock_missed", "clock_soon", "handed", "handed_on", "leads_given", "owner", "read_much", "state"]);
}
