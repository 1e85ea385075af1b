namespace DapperLantern.Core.Events;

/// <summary>Somebody asked for a record that they do not see. The record is the one that was asked for.</summary>
/// <param name="Owner">Its owner, who is told; null where nobody owns it.</param>
/// <param name="Name">What the record goes by.</param>
/// <param name="Word">What whoever asks says with it.</param>
[EventKind("asked_for")]
public sealed record AskedFor(Guid? Owner, [property: Personal] string? Name = null, [property: Personal] string? Word = null) : Happening;

/// <summary>Somebody was answered who had asked for a record.</summary>
/// <param name="To">Whoever asked, who is told.</param>
/// <param name="How">shared, given, declined, or open where an answer was taken back.</param>
/// <param name="Name">What the record goes by; null where they still do not see it.</param>
[EventKind("ask_answered")]
public sealed record AskAnswered(Guid To, string How, [property: Personal] string? Name = null, [property: Personal] string? Word = null) : Happening;
