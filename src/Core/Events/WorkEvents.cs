namespace DapperLantern.Core.Events;

/// <summary>Somebody wrote a note, called, or wrote a message. The words stand in the story.</summary>
/// <param name="Entry">Id of the story entry.</param>
/// <param name="What">Kind of the entry: note, call, call_missed, message, meeting.</param>
/// <param name="Outcome">How a call ended.</param>
[EventKind("noted")]
public sealed record Noted(Guid Entry, string What, string? Outcome = null) : Happening;

/// <summary>A note was corrected.</summary>
[EventKind("note_changed")]
public sealed record NoteChanged(Guid Entry, [property: Personal] string? From = null, [property: Personal] string? To = null) : Happening;

/// <summary>A note was pinned or let go.</summary>
[EventKind("note_pinned")]
public sealed record NotePinned(Guid Entry, bool Pinned) : Happening;

/// <summary>A note was removed, or brought back.</summary>
[EventKind("note_removed")]
public sealed record NoteRemoved(Guid Entry, bool Back) : Happening;

/// <summary>A task was planned.</summary>
[EventKind("task_set")]
public sealed record TaskPlanned(Guid Task, DateTimeOffset Due, Guid Owner, [property: Personal] string? Subject = null) : Happening;

/// <summary>A task was changed.</summary>
[EventKind("task_changed")]
public sealed record TaskChanged(Guid Task, DateTimeOffset Due, Guid Owner, [property: Personal] string? Subject = null) : Happening;

/// <summary>A task was done, or set open again.</summary>
[EventKind("task_done")]
public sealed record TaskFinished(Guid Task, bool Done, [property: Personal] string? Subject = null) : Happening;

/// <summary>A task was deleted.</summary>
[EventKind("task_removed")]
public sealed record TaskRemoved(Guid Task, [property: Personal] string? Subject = null) : Happening;

/// <summary>A meeting was planned.</summary>
[EventKind("meeting_set")]
public sealed record MeetingPlanned(Guid Meeting, DateTimeOffset Starts, [property: Personal] string? Subject = null) : Happening;

/// <summary>A meeting was moved or changed.</summary>
[EventKind("meeting_changed")]
public sealed record MeetingChanged(Guid Meeting, DateTimeOffset Starts, [property: Personal] string? Subject = null) : Happening;

/// <summary>A meeting was called off.</summary>
[EventKind("meeting_off")]
public sealed record MeetingCalledOff(Guid Meeting, [property: Personal] string? Subject = null) : Happening;

/// <summary>Files were added to a record, removed, or brought back.</summary>
/// <param name="What">added, removed or back.</param>
[EventKind("file")]
public sealed record FilesChanged(string What, [property: Personal] string[]? Names = null) : Happening;

/// <summary>Somebody's records were handed on to a person, or came back to them. The record is the receiver.</summary>
/// <param name="Person">Whose they were.</param>
/// <param name="Counts">How many, by kind; see <see cref="Handing.HeldKind"/>.</param>
/// <param name="Money">What the deals among them are worth, by currency (ISO 4217).</param>
/// <param name="Until">When they go back, of a leave; null for good.</param>
/// <param name="Back">True where they came back.</param>
[EventKind("handed_on")]
public sealed record HandedOn(
    Guid Person,
    IReadOnlyDictionary<string, int> Counts,
    IReadOnlyDictionary<string, decimal>? Money = null,
    DateTimeOffset? Until = null,
    [property: Personal] string? Note = null,
    bool Back = false
) : Happening;
