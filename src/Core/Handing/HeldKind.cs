using System.Collections.Immutable;
using System.Globalization;

namespace DapperLantern.Core.Handing;

/// <summary>A kind of record that somebody may hold, and hand on.</summary>
/// <param name="One">Its name for people, of one.</param>
/// <param name="Many">The same of several.</param>
/// <param name="Ways">How records of it may be handed on, of <see cref="HandingWay"/>; the first is proposed.</param>
public sealed record HeldKind(string Key, string One, string Many, ImmutableArray<string> Ways)
{
    public const string Account = "account";
    public const string Contact = "contact";
    public const string Deal = "deal";
    public const string Lead = "lead";
    public const string Task = "task";
    public const string Meeting = "meeting";
    public const string Campaign = "campaign";
    public const string View = "view";

    /// <summary>All, in the order in which they are handed on: what may go along with something else comes after it.</summary>
    public static ImmutableArray<HeldKind> All { get; } =
    [
        new(Lead, "lead", "leads", [HandingWay.Rules, HandingWay.Turn, HandingWay.Person]),
        new(Account, "account", "accounts", [HandingWay.Turn, HandingWay.Person]),
        new(Contact, "contact", "contacts", [HandingWay.Along, HandingWay.Turn, HandingWay.Person]),
        new(Deal, "deal", "deals", [HandingWay.Along, HandingWay.Turn, HandingWay.Person]),
        new(Task, "task", "tasks", [HandingWay.Along, HandingWay.Turn, HandingWay.Person]),
        new(Meeting, "meeting", "meetings", [HandingWay.Along, HandingWay.Turn, HandingWay.Person]),
        new(Campaign, "campaign", "campaigns", [HandingWay.Person]),
        new(View, "shared view", "shared views", [HandingWay.Person]),
    ];

    public static HeldKind? Find(string key) => All.FirstOrDefault(k => k.Key == key);

    /// <summary>A count in words: "3 deals".</summary>
    public static string Words(string kind, int count) => Find(kind) is { } held ? $"{count.ToString(CultureInfo.InvariantCulture)} {(count == 1 ? held.One : held.Many)}" : "";
}

/// <summary>How records of a kind are handed on.</summary>
public static class HandingWay
{
    /// <summary>Each as the live rule sheet says.</summary>
    public const string Rules = "rules";

    /// <summary>All to one person.</summary>
    public const string Person = "person";

    /// <summary>To the members of a team in turn, by their weights.</summary>
    public const string Turn = "turn";

    /// <summary>Each to the owner of the record that it belongs to: of a deal or contact its account, of a task or meeting its lead, deal or contact.</summary>
    public const string Along = "along";
}
