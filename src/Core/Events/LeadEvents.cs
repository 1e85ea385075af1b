namespace DapperLantern.Core.Events;

/// <summary>A lead changed its state. Written by the database with the change.</summary>
/// <param name="From">See <see cref="Leads.LeadState"/>.</param>
/// <param name="Reason">Key of the reason of a disqualified lead.</param>
/// <param name="Wake">When a lead on hold wakes.</param>
/// <param name="Because">Why it is qualified though the threshold is not met.</param>
[EventKind("state")]
public sealed record StateChanged(
    string From,
    string To,
    string? Reason = null,
    DateTimeOffset? Wake = null,
    string? LostTo = null,
    Why? Why = null,
    [property: Personal] string? Because = null
) : Happening;

/// <summary>A lead or deal changed hands. Written by the database with the change.</summary>
/// <param name="From">Null for nobody.</param>
/// <param name="Due">By when the new owner of a lead is to answer; null where nobody waits for an answer.</param>
[EventKind("owner")]
public sealed record OwnerChanged(Guid? From = null, Guid? To = null, Why? Why = null, DateTimeOffset? Due = null) : Happening;

/// <summary>A change to many leads, or a list, gave a person some of them. The record is the person.</summary>
/// <param name="Due">By when the first of them is to be answered; null where that was not said.</param>
/// <param name="From">Name of the list that they came with; null for a change by hand.</param>
[EventKind("leads_given")]
public sealed record LeadsGiven(int Count, DateTimeOffset? Due = null, [property: Personal] string? From = null) : Happening;

/// <summary>A lead came in.</summary>
/// <param name="How">By which way: "Came in through Price guide".</param>
[EventKind("came_in")]
public sealed record CameIn(string How) : Happening;

/// <summary>Something came in about a lead there was already.</summary>
/// <param name="Fields">Keys of the fields it filled or changed.</param>
/// <param name="Asks">True where the person came by themselves, and waits for an answer.</param>
[EventKind("added")]
public sealed record CameInAgain(string How, string[] Fields, bool? Asks = null) : Happening;

/// <summary>A list is taken back, and with it what it added.</summary>
[EventKind("import_back")]
public sealed record ImportTakenBack : Happening;

/// <summary>Blanks were filled from the company directory.</summary>
[EventKind("filled")]
public sealed record FactsFilled(string[] Fields) : Happening;

/// <summary>A fact of a record, in stored form; null for blank.</summary>
/// <param name="Field">Key of the catalogue, or of a column of the record: name, household, kinds, segments, parent, reports_to, account, owner, kind.</param>
public sealed record ChangedFact(string Field, string? From, string? To);

/// <summary>Facts of a record were changed.</summary>
/// <param name="Fields">Keys, as in <paramref name="Changes"/>.</param>
/// <param name="Source">The way of changing, where no person did it.</param>
[EventKind("fact")]
public sealed record FactsChanged(string[] Fields, [property: Personal] ChangedFact[]? Changes = null, string? Source = null) : Happening
{
    public static FactsChanged Of(IReadOnlyCollection<ChangedFact> changes, string? source = null) => new([.. changes.Select(c => c.Field)], [.. changes], source);
}

/// <summary>A tag was put on a lead, or taken off.</summary>
[EventKind("tag")]
public sealed record Tagged(string Tag, string Name, bool On) : Happening;

/// <summary>An answer to a question of the pipeline.</summary>
public sealed record AnswerFound(string Question, string Certainty, string Evidence);

/// <summary>It was found out whether a lead qualifies.</summary>
[EventKind("found")]
public sealed record FoundOut(string[] Questions, [property: Personal] AnswerFound[]? Answers = null) : Happening;

/// <summary>The time to answer is about to run out.</summary>
/// <param name="Due">When it does.</param>
[EventKind("clock_soon")]
public sealed record ClockSoon(DateTimeOffset Due) : Happening;

/// <summary>The time to answer ran out, and the owner keeps the lead.</summary>
/// <param name="ManagerTold">True where the managers were told, false where the owner was reminded.</param>
[EventKind("clock_missed")]
public sealed record ClockMissed(bool ManagerTold) : Happening;

/// <summary>A lead was entered as having responded to a campaign.</summary>
[EventKind("response")]
public sealed record ResponseEntered(string Campaign, string Response) : Happening;

/// <summary>A consent was given or withdrawn.</summary>
/// <param name="How">"Consent given", "Consent withdrawn", "Confirmed by email", "Withdrew consent".</param>
/// <param name="Purposes">Names of the purposes.</param>
[EventKind("consent")]
public sealed record ConsentChanged(string State, string How, string[] Purposes) : Happening;

/// <summary>A letter came that is no answer of a person: it did not arrive, was answered by a machine, or is one of ours.</summary>
[EventKind("letter")]
public sealed record LetterCame(string What, [property: Personal] string? Words = null) : Happening;

/// <summary>Another record was merged into this one.</summary>
/// <param name="Gone">Its id.</param>
/// <param name="Fields">Keys of what was taken from it.</param>
/// <param name="Name">Its name, and how it came in.</param>
[EventKind("merged")]
public sealed record Merged(Guid Gone, string[] Fields, [property: Personal] string? Name = null, [property: Personal] string? Line = null) : Happening;

/// <summary>A merge was undone: there are two records again.</summary>
/// <param name="Other">The other one.</param>
[EventKind("apart")]
public sealed record TakenApart(Guid Other) : Happening;

/// <summary>A lead was handed over.</summary>
/// <param name="Found">How many of its <paramref name="Known"/> facts arrived.</param>
/// <param name="Left">Labels of facts left on purpose.</param>
/// <param name="Along">True where it went along with another lead.</param>
/// <param name="Deal">The deal it became, or joined.</param>
/// <param name="Name">Name of the deal.</param>
[EventKind("handed")]
public sealed record HandedOver(Guid Deal, Guid Contact, Guid? Account, int Found, int Known, string[] Left, bool Along, [property: Personal] string? Name = null) : Happening;

/// <summary>A handover was taken back.</summary>
/// <param name="Kept">True where what had been made is kept, because it was worked on.</param>
[EventKind("unhanded")]
public sealed record HandoverUndone(bool Kept) : Happening;

/// <summary>A lead was removed by hand; it can be put back.</summary>
[EventKind("removed")]
public sealed record Removed : Happening;

/// <summary>A removed lead was put back.</summary>
[EventKind("back")]
public sealed record PutBack : Happening;

/// <summary>Personal values of the log were blanked. Written by the function that does it.</summary>
[EventKind("blanked")]
public sealed record Blanked(int Events) : Happening;

/// <summary>A person's data was erased.</summary>
/// <param name="Counts">What was erased, by name.</param>
[EventKind("erased")]
public sealed record Erased(IReadOnlyDictionary<string, int> Counts) : Happening;
