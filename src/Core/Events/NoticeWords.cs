using System.Collections.Frozen;
using System.Globalization;
using DapperLantern.Core.Handing;

namespace DapperLantern.Core.Events;

/// <summary>An event that somebody may have to be told of.</summary>
/// <param name="At">The moment of its transaction.</param>
/// <param name="By">The person whose act it was; null for the program itself.</param>
/// <param name="OneOfMany">True where it is part of a change to many records, whose owners are told once, with the count.</param>
public sealed record HeardEvent(long Id, DateTimeOffset At, Guid? By, bool OneOfMany, string? RecordKind, Guid? Record, Happening Happening);

/// <summary>A message to one of us.</summary>
/// <param name="Event">Id of the event that it tells of; of several, the first.</param>
/// <param name="Kind">Key under which it is kept.</param>
/// <param name="Lead">The lead that it is about; null for several, or for none.</param>
/// <param name="Text">Moments as <see cref="MomentText"/> has them.</param>
public sealed record Notice(long Event, Guid To, string Kind, Guid? Lead, string Subject, string Text);

/// <summary>A lead as a message names it.</summary>
/// <param name="Owner">Null for nobody.</param>
public sealed record NoticeLead(string Name, Guid? Owner);

/// <summary>A deal as a message names it.</summary>
/// <param name="Lead">The lead that it came of; null for none.</param>
/// <param name="Pipeline">Name of the pipeline.</param>
public sealed record NoticeDeal(string Name, Guid? Owner, Guid? Lead, string Pipeline);

/// <summary>The records and people around events, as they are when the messages are written.</summary>
/// <param name="Managers">Those who are told when the time to answer ran out.</param>
public sealed record NoticeFacts(
    IReadOnlyDictionary<Guid, NoticeLead> Leads,
    IReadOnlyDictionary<Guid, NoticeDeal> Deals,
    IReadOnlyDictionary<Guid, string> People,
    IReadOnlyCollection<Guid> Managers,
    IReadOnlyCollection<Guid> Administrators
);

/// <summary>Who of us is told of an event, and in which words. A person is not told of their own act; a record that is gone is told of to nobody.</summary>
public static class NoticeWords
{
    /// <summary>So many leads that one act gives to one person are told one by one; of more, the number.</summary>
    public const int ToldEach = 5;

    public const string OneKind = "lead-given";
    public const string ManyKind = "leads-given";
    public const string AgainKind = "lead-again";
    public const string WokeKind = "lead-woke";
    public const string LateKind = "lead-late";
    public const string DealKind = "deal-given";
    public const string MuchReadKind = "read-much";
    public const string HandedOnKind = "handed-on";
    public const string AskedKind = "asked-for";
    public const string AnsweredKind = "ask-answered";

    private static readonly Type[] Told =
    [
        typeof(OwnerChanged),
        typeof(StateChanged),
        typeof(ClockSoon),
        typeof(ClockMissed),
        typeof(CameInAgain),
        typeof(HandedOver),
        typeof(LeadsGiven),
        typeof(MuchRead),
        typeof(HandedOn),
        typeof(AskedFor),
        typeof(AskAnswered),
    ];

    /// <summary>Keys of the kinds of events that messages follow from.</summary>
    public static FrozenSet<string> Kinds { get; } = Happening.Kinds.Where(k => Told.Contains(Happening.TypeOf(k))).ToFrozenSet();

    /// <summary>The messages of events. Those of one act are told together: many leads given to one person as a count, one lead that came in several times as one message.</summary>
    public static IReadOnlyList<Notice> Of(IReadOnlyList<HeardEvent> heard, NoticeFacts facts) =>
        [.. Given(heard, facts), .. Again(heard, facts), .. heard.SelectMany(e => Each(e, facts))];

    private static IEnumerable<Notice> Given(IReadOnlyList<HeardEvent> heard, NoticeFacts facts)
    {
        var given = heard.Where(e => !e.OneOfMany && e is { Happening: OwnerChanged { To: { } to }, Record: { } lead } && to != e.By && facts.Leads.ContainsKey(lead));
        foreach (var act in given.GroupBy(e => (e.At, e.By, To: ((OwnerChanged)e.Happening).To!.Value)))
            if (act.Count() > ToldEach)
                yield return Count(act.First().Id, act.Key.To, new LeadsGiven(act.Count()));
            else
                foreach (var one in act)
                    yield return new Notice(
                        one.Id,
                        act.Key.To,
                        OneKind,
                        one.Record,
                        NewLead(facts.Leads[one.Record!.Value].Name),
                        GivenText(((OwnerChanged)one.Happening).Due, ((OwnerChanged)one.Happening).Why?.Message ?? "")
                    );
    }

    private static IEnumerable<Notice> Again(IReadOnlyList<HeardEvent> heard, NoticeFacts facts) =>
        from e in heard
        where e is { Happening: CameInAgain { Asks: true }, Record: not null }
        group e by (e.At, Lead: e.Record!.Value) into act
        where facts.Leads.TryGetValue(act.Key.Lead, out var lead) && lead.Owner is not null
        select new Notice(
            act.First().Id,
            facts.Leads[act.Key.Lead].Owner!.Value,
            AgainKind,
            act.Key.Lead,
            $"Came in again: {facts.Leads[act.Key.Lead].Name}",
            string.Join('\n', act.Select(e => ((CameInAgain)e.Happening).How))
        );

    private static IEnumerable<Notice> Each(HeardEvent e, NoticeFacts facts)
    {
        var lead = e.Record is { } record ? facts.Leads.GetValueOrDefault(record) : null;
        return e.Happening switch
        {
            OwnerChanged { From: { } from, Why.How: Why.ClockRanOut } change when lead is not null =>
            [
                new(
                    e.Id,
                    from,
                    LateKind,
                    e.Record,
                    $"Passed on: {lead.Name}",
                    change.To is null
                        ? "The time to answer this lead ran out too often, so it waits for another owner."
                        : "The time to answer this lead ran out, so it was passed on."
                ),
            ],
            OwnerChanged { To: { } to } when !e.OneOfMany && to != e.By && e.Record is { } id && facts.Deals.TryGetValue(id, out var deal) =>
            [
                new(e.Id, to, DealKind, deal.Lead, $"The deal {deal.Name} was given to you", "It stands among your deals."),
            ],
            StateChanged { Why.How: Why.Woke } when lead is { Owner: { } owner } =>
            [
                new(e.Id, owner, WokeKind, e.Record, $"Awake again: {lead.Name}", "The date until which this lead was on hold has come."),
            ],
            ClockSoon soon when lead is { Owner: { } owner } =>
            [
                new(e.Id, owner, LateKind, e.Record, $"Soon due: {lead.Name}", $"The time to answer this lead runs out at {MomentText.Of(soon.Due)}."),
            ],
            ClockMissed missed when lead is { Owner: { } owner } =>
            [
                .. (missed.ManagerTold ? facts.Managers : [owner]).Select(to => new Notice(
                    e.Id,
                    to,
                    LateKind,
                    e.Record,
                    $"Not answered in time: {lead.Name}",
                    "The time to answer this lead has run out."
                )),
            ],
            HandedOver { Along: false } handed when lead is not null && facts.Deals.TryGetValue(handed.Deal, out var deal) && deal.Owner is { } owner && owner != e.By =>
            [
                new(e.Id, owner, DealKind, e.Record, $"New deal: {deal.Name}", $"Handed over from the lead {lead.Name}, in {deal.Pipeline}."),
            ],
            LeadsGiven many when e.Record is { } owner => [Count(e.Id, owner, many)],
            MuchRead much when e.Record is { } reader && facts.People.TryGetValue(reader, out var name) =>
            [
                .. facts.Administrators.Select(to => new Notice(
                    e.Id,
                    to,
                    MuchReadKind,
                    null,
                    $"Many people read by {name}",
                    $"{name} asked by address or number for {much.People} people of colleagues within one hour. More is not told before the next."
                )),
            ],
            AskedFor { Owner: { } owner } asked when owner != e.By =>
            [
                new(e.Id, owner, AskedKind, null, $"{Actor(e, facts)} asks for {asked.Name}", $"{Said(asked.Word)}Share it, give it to them or decline: it stands on your Desk."),
            ],
            AskAnswered answered when answered.To != e.By && Answered(answered, Actor(e, facts)) is var (subject, text) =>
            [
                new(e.Id, answered.To, AnsweredKind, null, subject, $"{Said(answered.Word)}{text}"),
            ],
            HandedOn on when e.Record is { } to && to != e.By =>
            [
                new(e.Id, to, HandedOnKind, null, HandedSubject(on, facts.People.GetValueOrDefault(on.Person, "a colleague")), HandedText(on)),
            ],
            _ => [],
        };
    }

    private static string Actor(HeardEvent e, NoticeFacts facts) => e.By is { } by ? facts.People.GetValueOrDefault(by, "A colleague") : "A colleague";

    private static string Said(string? word) => word is { Length: > 0 } ? $"{word}\n\n" : "";

    private static (string Subject, string Text) Answered(AskAnswered answered, string by) =>
        answered.How switch
        {
            "shared" => ($"{by} shares {answered.Name} with you", "You see it now."),
            "given" => ($"{by} gave you {answered.Name}", "It stands among your own now."),
            "declined" => ($"{by} keeps what you asked for to themselves", "Talk to them if it matters."),
            _ => ($"{by} took an answer to you back", "What you asked for is open again."),
        };

    private static string HandedSubject(HandedOn on, string name) => on.Back ? $"Yours again: {HandedWhat(on)}" : $"From {name}: {HandedWhat(on)}";

    /// <summary>What was handed on, in words: "12 leads, 3 deals (NOK 120,000)".</summary>
    public static string HandedWhat(HandedOn on)
    {
        var money = on.Money is { Count: > 0 } worth ? $" ({string.Join(", ", worth.Select(m => string.Create(CultureInfo.InvariantCulture, $"{m.Key} {m.Value:#,0.##}")))})" : "";
        return string.Join(
            ", ",
            HeldKind.All.Where(k => on.Counts.ContainsKey(k.Key)).Select(k => HeldKind.Words(k.Key, on.Counts[k.Key]) + (k.Key == HeldKind.Deal ? money : ""))
        );
    }

    private static string HandedText(HandedOn on)
    {
        var until = on.Until is { } at ? $" They go back at {MomentText.Of(at)}." : "";
        return $"They stand among your own now.{(on.Back ? "" : until)}{(on.Note is { Length: > 0 } note ? $"\n\n{note}" : "")}";
    }

    private static Notice Count(long of, Guid to, LeadsGiven many)
    {
        var were = LeadsWere(many.Count);
        return new Notice(
            of,
            to,
            ManyKind,
            null,
            many.From is { } from ? $"New leads: {many.Count} from {from}" : $"{were} given to you",
            many.Due is { } due ? $"{were} given to you. Answer the first by {MomentText.Of(due)}." : "They wait in your list of leads."
        );
    }

    public static string LeadsWere(int count) => count == 1 ? "1 lead was" : $"{count} leads were";

    public static string NewLead(string name) => $"New lead: {name}";

    /// <summary>What the new owner of a lead is told.</summary>
    /// <param name="message">What the rule adds; may be empty.</param>
    public static string GivenText(DateTimeOffset? due, string message) =>
        $"A lead was given to you. Answer by {(due is { } by ? MomentText.Of(by) : "the promised time")}.{(message.Length > 0 ? $"\n\n{message}" : "")}";
}
