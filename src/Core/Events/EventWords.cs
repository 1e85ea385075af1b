using System.Globalization;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;

namespace DapperLantern.Core.Events;

/// <summary>Names of what events refer to by id or key, as they are now.</summary>
public interface IEventNames
{
    string Person(Guid id);

    /// <summary>Name of an account, contact or deal.</summary>
    string Record(Guid id);

    /// <summary>Label of an entry of a list: <c>reasons</c> and so on; the key itself where it is there no more.</summary>
    string Entry(EventList list, string key);
    string Stage(string pipeline, string stage);
    string Product(string key);

    /// <summary>Null for a field that is there no more.</summary>
    FieldDefinition? Field(string key);

    /// <summary>False where the values of a field are kept from the reader.</summary>
    bool Shows(FieldDefinition field);

    /// <summary>A name as the reader sees it; null where it is none but an address or number that is kept from them.</summary>
    string? Name(string? name);
}

/// <summary>The lists of the workspace that events name entries of.</summary>
public enum EventList
{
    Reasons,
    LostReasons,
    Competitors,
    Kinds,
    Segments,
    Roles,
}

/// <summary>A line of a story.</summary>
/// <param name="Kind">How it is shown: came_in, added, routed, state, edited, found, consent, merged, meeting, file, mail_note, handed_over, taken_back, deal.</param>
public sealed record EventLine(string Kind, string Text);

/// <summary>The one table of words: makes the line of a story from an event. What stands in the story otherwise, and what is only for the audit, has none.</summary>
public static class EventWords
{
    /// <param name="recordKind">lead, deal, account or contact.</param>
    /// <param name="of">Who did it: the words of the change to many that it was part of; null for none.</param>
    public static EventLine? Of(Happening happening, string? recordKind, string? of, IEventNames names)
    {
        if (Plain(happening, recordKind, names) is { } line)
            return of is null || happening is HandedOver or HandoverUndone ? line : line with { Text = of };
        // A change by the rules among many says nothing by itself.
        return of is null
            ? null
            : happening switch
            {
                OwnerChanged => new EventLine("routed", of),
                StateChanged { To: not LeadState.HandedOver, From: not LeadState.HandedOver } => new EventLine("state", of),
                ResponseEntered => new EventLine("edited", of),
                _ => null,
            };
    }

    private static EventLine? Plain(Happening happening, string? recordKind, IEventNames names) =>
        happening switch
        {
            CameIn e => new("came_in", e.How),
            CameInAgain e => new("added", $"{e.How}. Added: {(e.Fields.Length == 0 ? "nothing we did not know" : Labels(e.Fields, names))}"),
            StateChanged e => State(e, names) is { } text ? new("state", text) : null,
            OwnerChanged e when recordKind == "deal" => new("deal", e.To is { } to ? $"Given to {names.Person(to)}" : "Has nobody"),
            OwnerChanged e => Owner(e, names) is { } text ? new("routed", text) : null,
            ClockMissed e => new("routed", e.ManagerTold ? "The time to answer ran out; the manager was told" : "The time to answer ran out; its owner was reminded"),
            FactsFilled e => new("edited", $"Filled from the company directory: {Labels(e.Fields, names)}"),
            FactsChanged e => new("edited", Facts(e, names)),
            Tagged e => new("edited", $"{(e.On ? "Tagged" : "Tag taken off:")} {e.Name}"),
            FoundOut e => new(
                "found",
                $"Found out: {(e.Answers is { } answers ? string.Join("; ", answers.Select(a => $"{a.Question} {a.Certainty}{(a.Evidence.Length > 0 ? $" ({a.Evidence})" : "")}")) : string.Join("; ", e.Questions))}"
            ),
            ConsentChanged e => new("consent", $"{e.How}: {string.Join(", ", e.Purposes)}"),
            LetterCame e => new("mail_note", e.Words ?? "A letter"),
            Merged e => new(
                "merged",
                $"Merged with {names.Name(e.Name) ?? "another"}{(e.Line is { } l ? $", {l}" : "")}{(e.Fields.Length == 0 ? "" : $". Taken from there: {Labels(e.Fields, names)}")}"
            ),
            TakenApart => new("merged", "Taken apart again: these are two"),
            HandedOver e => new(
                "handed_over",
                $"{(e.Along ? "Handed over along with" : "Handed over as")} {names.Name(e.Name) ?? "a deal"}: {e.Found} of {e.Known} facts carried{(e.Left.Length == 0 ? "" : $"; left behind on purpose: {string.Join(", ", e.Left)}")}"
            ),
            HandoverUndone e => new("taken_back", e.Kept ? "Handover taken back; what had been made was worked on and is kept" : "Handover taken back"),
            MeetingPlanned e => new("meeting", $"Meeting planned for {Day(e.Starts)}: {e.Subject}"),
            MeetingCalledOff e => new("meeting", $"Meeting called off: {e.Subject}"),
            FilesChanged e => new("file", $"{(e.What == "added" ? "Added" : e.What == "removed" ? "Removed" : "Brought back")} {string.Join(", ", e.Names ?? ["a file"])}"),
            StageChanged e => new("deal", $"{(e.Opened == true ? "Opened again, in" : "Now in")} {names.Stage(e.Pipeline, e.To)}"),
            DealWon => new("deal", "Won"),
            DealLost e => new(
                "deal",
                $"Lost{(e.Reason is { } why ? $": {Lower(names.Entry(EventList.LostReasons, why))}" : "")}{(e.LostTo is { } to ? $", {names.Entry(EventList.Competitors, to)} got it" : "")}"
            ),
            CloseMoved e => new("deal", $"Expected close moved from {Day(e.From)} to {Day(e.To)}"),
            AmountChanged { Why.How: Why.Products } e => new("deal", $"amount follows, {Number(e.To)} {e.Currency}"),
            AmountChanged e => new("deal", $"Amount changed from {Number(e.From)} {e.FromCurrency} to {Number(e.To)} {e.Currency}"),
            DealNamed e => new("deal", $"Called {e.To}, before {e.From}"),
            ProbabilitySaid e => new("deal", e.Percent is { } percent ? $"Probability said to be {percent} %" : "Probability follows the stage again"),
            DealPeopleChanged e => new("deal", People(e, names)),
            DealProductsChanged e => new(
                "deal",
                e.Products.Length == 0 ? "No products now" : $"Products: {string.Join(", ", e.Products.Select(p => $"{Number(p.Quantity)} {names.Product(p.Product)}"))}"
            ),
            DealCompetitorsChanged e => new(
                "deal",
                e.Competitors.Length == 0 ? "No competitors known now" : $"Competitors: {string.Join(", ", e.Competitors.Select(c => names.Entry(EventList.Competitors, c)))}"
            ),
            TaskPlanned e when recordKind == "deal" => new("deal", $"Planned: {e.Subject}"),
            AddressChanged e => new(
                "edited",
                e.What == "changed" ? $"Changed the {e.AddressKind} address" : $"{(e.What == "added" ? "Added" : "Dropped")} a {e.AddressKind} address"
            ),
            Made when recordKind == "account" => new("edited", "Made by hand"),
            _ => null,
        };

    private static string? State(StateChanged e, IEventNames names)
    {
        if (e.Why is not { How: Why.ByHand or Why.Woke } why || e.To == LeadState.HandedOver)
            return null;
        var label = Lower(LeadState.Choices.FirstOrDefault(c => c.Key == e.To)?.Label ?? e.To);
        if (why.How == Why.Woke)
            return $"Woke as planned; state is now {label}";
        var more = e.To switch
        {
            LeadState.OnHold => $", until {Day(e.Wake ?? default)}",
            LeadState.Disqualified =>
                $"{(e.Reason is { } reason ? $": {Lower(names.Entry(EventList.Reasons, reason))}" : "")}{(e.LostTo is { } to ? $", {names.Entry(EventList.Competitors, to)} got it" : "")}",
            LeadState.Qualified when why.Missing is { Length: > 0 } missing => $", as an exception: {e.Because} (not met: {string.Join(" ", missing)})",
            _ when e.From == LeadState.Disqualified => ", opened again",
            _ => "",
        };
        return $"State is now {label}{more}";
    }

    private static string? Owner(OwnerChanged e, IEventNames names)
    {
        var goes = e.To is { } to ? $"given to {names.Person(to)}" : "waits on the Desk";
        return e.Why?.How switch
        {
            Why.ByHand => e.To is { } person ? $"Given to {names.Person(person)} by hand" : "Put back to wait for an owner",
            Why.Taken => "Taken by hand",
            Why.GivenBack => $"Given back: {e.Why.Reason}; {goes}",
            Why.ClockRanOut when e.Why.Times is { } times => $"The time to answer ran out {times} times; it {goes}",
            Why.ClockRanOut => $"The time to answer ran out; {goes}",
            Why.Cleared => $"Cleared the bar; {goes}",
            _ => null,
        };
    }

    private static string Facts(FactsChanged e, IEventNames names)
    {
        var changed = e.Changes is null ? Labels(e.Fields, names) : string.Join(", ", e.Changes.Select(c => Fact(c, names)));
        return e.Source is { } source ? $"{source}: changed {changed}" : $"Changed {changed}";
    }

    // A field of the catalogue, or a column of a record that the catalogue does not have.
    private static string Fact(ChangedFact change, IEventNames names)
    {
        if (names.Field(change.Field) is { } field)
            return !names.Shows(field) ? Lower(field.Label) : $"{Lower(field.Label)} to {(change.To is null ? "blank" : field.Show(change.To))}";
        string Id(Func<Guid, string> name, string none) => Guid.TryParse(change.To, out var id) ? name(id) : none;
        string All(EventList list) => string.IsNullOrEmpty(change.To) ? "none" : string.Join(", ", change.To.Split(' ').Select(k => Lower(names.Entry(list, k))));
        return change.Field switch
        {
            "household" => change.To == "true" ? "to a household" : "to an organisation",
            "kinds" => $"kinds to {All(EventList.Kinds)}",
            "kind" => $"kind to {All(EventList.Kinds)}",
            "segments" => $"segments to {All(EventList.Segments)}",
            "parent" => Id(id => $"to a branch of {names.Record(id)}", "to stand by itself"),
            "reports_to" => Id(id => $"to report to {names.Record(id)}", "to report to nobody"),
            "account" => $"account to {Id(names.Record, "none")}",
            "owner" => $"owner to {Id(names.Person, "nobody")}",
            _ => $"{change.Field} to {change.To ?? "blank"}",
        };
    }

    private static string People(DealPeopleChanged e, IEventNames names)
    {
        var (name, role) = (names.Name(e.Name) ?? "Somebody", e.Role.Length == 0 ? null : Lower(names.Entry(EventList.Roles, e.Role)));
        return e.What switch
        {
            "joined" => $"{name} joined{(role is null ? "" : $" as {role}")}",
            "left" => $"{name} was taken off",
            _ => $"{name} is {role ?? "there without a part of their own"} now",
        };
    }

    private static string Labels(IEnumerable<string> fields, IEventNames names) => string.Join(", ", fields.Select(f => Lower(names.Field(f)?.Label ?? f)));

    private static string Lower(string words) => words.ToLowerInvariant();

    private static string Number(decimal value) => value.ToString("0.##", CultureInfo.InvariantCulture);

    private static string Day(DateTimeOffset moment) => moment.UtcDateTime.ToString("d MMMM yyyy", CultureInfo.InvariantCulture);

    private static string Day(DateOnly day) => day.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
}
