using System.Text.Json;
using DapperLantern.Core.Events;

namespace DapperLantern.App.Events;

/// <summary>Words for the log as administrators read it: what an event is, and what changed from what to what.</summary>
internal static class AuditWords
{
    /// <summary>The groups by which the log is narrowed, each with its kinds.</summary>
    public static IReadOnlyList<(string Key, string Label, string[] Kinds)> Groups { get; } =
    [
        ("signin", "Sign-in", ["signin", "signout", "signin_failed", "password", "second_step", "way_in", "provider", "provider_forgotten"]),
        ("rights", "People, rights and tokens", ["rights", "token"]),
        ("setup", "Set-up", ["setup", "published"]),
        ("exported", "Exports and reading", ["exported", "read_much", "asked_for", "ask_answered"]),
        ("record", "Leads come and go", ["came_in", "added", "import_back", "merged", "apart", "removed", "back", "erased", "blanked", "handed", "unhanded", "made"]),
        ("state", "States and owners", ["state", "owner", "leads_given", "handed_on", "clock_soon", "clock_missed"]),
        ("fact", "Facts, tags and consents", ["fact", "filled", "tag", "found", "response", "consent", "address"]),
        ("deal", "Deals", ["stage", "won", "lost", "amount", "close", "deal_named", "probability", "people", "product", "competitor"]),
        (
            "work",
            "Notes, tasks, meetings and files",
            [
                "noted",
                "note_changed",
                "note_pinned",
                "note_removed",
                "task_set",
                "task_changed",
                "task_done",
                "task_removed",
                "meeting_set",
                "meeting_changed",
                "meeting_off",
                "file",
                "letter",
                "failed_work",
            ]
        ),
    ];

    /// <summary>Groups whose events concern no lead.</summary>
    public static IReadOnlySet<string> BesideLeads { get; } = new HashSet<string> { "signin", "rights", "setup", "exported", "deal" };

    /// <summary>What happened, in one line.</summary>
    /// <param name="of">See <see cref="EventWords.Of"/>.</param>
    public static string Of(Happening happening, string? recordKind, string? of, IEventNames names) =>
        EventWords.Of(happening, recordKind, of, names)?.Text ?? Plain(happening, names);

    private static string Plain(Happening happening, IEventNames names) =>
        happening switch
        {
            StateChanged e => $"State changed from {Words(e.From)} to {Words(e.To)}",
            OwnerChanged e => e.To is { } to ? $"Given to {names.Person(to)}" : "Has no owner now",
            LeadsGiven e => $"{NoticeWords.LeadsWere(e.Count)} given to them{(e.From is { } from ? $", from {from}" : "")}",
            HandedOn e => $"{NoticeWords.HandedWhat(e)} {(e.Back ? "came back to them" : $"handed on to them from {names.Person(e.Person)}")}",
            ClockSoon => "The time to answer is about to run out; its owner was reminded",
            AskedFor e => e.Owner is { } owner ? $"Asked {names.Person(owner)} for it" : "Asked for it",
            AskAnswered e => e.How switch
            {
                "shared" => $"Shared it with {names.Person(e.To)}",
                "given" => $"Gave it to {names.Person(e.To)}, who asked for it",
                "declined" => $"Declined to share it with {names.Person(e.To)}",
                _ => $"Took the answer to {names.Person(e.To)} back",
            },
            MuchRead e => $"Asked for {e.People} people of colleagues within an hour; more was not told",
            ImportTakenBack => "What came in here was taken back",
            Removed => "Removed",
            PutBack => "Put back",
            Erased => "A person's data was erased",
            Blanked e => $"Personal values of {e.Events} entries of the log were blanked",
            ResponseEntered e => $"Response to a campaign: {e.Response}",
            Noted e => e.What switch
            {
                "call" => "Wrote down a call",
                "call_missed" => "Wrote down a call that reached nobody",
                "message" => "Wrote a message",
                "meeting" => "Wrote down what came of a meeting",
                "mail" => "A letter was kept",
                _ => "Wrote a note",
            },
            NoteChanged => "Corrected a note",
            NotePinned e => e.Pinned ? "Pinned a note" : "Let go of a pinned note",
            NoteRemoved e => e.Back ? "Brought a note back" : "Removed a note",
            TaskPlanned e => $"Planned: {e.Subject}",
            TaskChanged e => $"Changed the task: {e.Subject}",
            TaskFinished e => e.Done ? $"Done: {e.Subject}" : $"Open again: {e.Subject}",
            TaskRemoved e => $"Deleted the task: {e.Subject}",
            MeetingChanged e => $"Changed the meeting: {e.Subject}",
            Made => "Made",
            SignedIn e => $"Signed in{From(e.Address)}",
            SignedOut e => e.Because switch
            {
                "signed-out" => "Signed out",
                "password" => "Session ended: the password was changed",
                "role" => "Session ended: the role was changed",
                "left" => "Session ended: the person left",
                "provider" => "Session ended: by the identity provider",
                _ => "Session was ended",
            },
            SignInFailed e => $"Sign-in failed: {e.Name}{From(e.Address)}",
            PasswordChanged => "Took another password",
            SecondStepChanged e => e.What switch
            {
                "codes" => e.On ? "Signs in with a code from now on" : "Signs in without a code from now on",
                "recovery" => "Took new codes for the day the device is lost",
                "passkey" => e.On ? "Made a passkey" : "Ended a passkey",
                _ => "Their codes and passkeys were taken away",
            },
            ProviderLinked e => $"Signs in by {e.Issuer} from now on",
            ProviderForgotten => "Their account at the identity provider was forgotten",
            WayInMade e => e.For == "Invitation" ? "Was given an address to come in by" : "Was given an address for another password",
            Exported e => $"Exported {e.What}",
            FailedWorkSettled e => $"{(e.Again ? "To be tried again" : "Left out")}: {e.Work}",
            Published e => $"Published {Words(e.Key)}",
            SetupChanged e => $"{Table(e.What)} {e.Key} {e.Done}",
            _ => happening.Kind,
        };

    private static string From(string? address) => string.IsNullOrEmpty(address) ? "" : $", from {address}";

    private static string Words(string key) => key.Replace('_', ' ').Replace(':', ' ');

    private static string Table(string name) => char.ToUpperInvariant(name[0]) + Words(name[1..]);

    /// <summary>What changed, each with what it was and what it is; empty where the line says it all.</summary>
    public static IReadOnlyList<LogChange> Changes(Happening happening, IEventNames names) =>
        happening switch
        {
            SetupChanged e => [.. Keys(e).Select(k => new LogChange(Words(k), Show(e.From, k), Show(e.To, k)))],
            FactsChanged { Changes: { } changes } =>
            [
                .. changes.Select(c => new LogChange(names.Field(c.Field)?.Label ?? Words(c.Field), Shown(c.Field, c.From, names), Shown(c.Field, c.To, names))),
            ],
            NoteChanged e => [new LogChange("Text", e.From, e.To)],
            OwnerChanged e => [new LogChange("Owner", e.From is { } from ? names.Person(from) : null, e.To is { } to ? names.Person(to) : null)],
            StateChanged e => [new LogChange("State", Words(e.From), Words(e.To))],
            _ => [],
        };

    private static IEnumerable<string> Keys(SetupChanged e) => (e.From?.Keys ?? []).Union(e.To?.Keys ?? []).Where(k => k is not ("id" or "key")).Order(StringComparer.Ordinal);

    private static string? Show(IReadOnlyDictionary<string, JsonElement>? values, string key) =>
        values is not null && values.TryGetValue(key, out var value) ? (value.ValueKind == JsonValueKind.String ? value.GetString() : value.GetRawText()) : null;

    private static string? Shown(string key, string? stored, IEventNames names) =>
        stored is null ? null
        : names.Field(key) is { } field ? field.Show(stored)
        : Guid.TryParse(stored, out var id) ? (key == "owner" ? names.Person(id) : names.Record(id))
        : stored;
}

/// <summary>A value that changed.</summary>
/// <param name="From">Null for blank.</param>
public sealed record LogChange(string What, string? From, string? To);
