using System.Collections.Frozen;
using System.Collections.Immutable;
using System.Reflection;
using System.Text.Json.Serialization;

namespace DapperLantern.Core.Events;

/// <summary>Key under which events of a kind stand in the log. It is part of what is kept, so it never changes.</summary>
[AttributeUsage(AttributeTargets.Class)]
public sealed class EventKindAttribute(string key) : Attribute
{
    public string Key { get; } = key;
}

/// <summary>A value that is about a person: it is kept apart, so that erasure can blank it. What people type is personal always.</summary>
[AttributeUsage(AttributeTargets.Property | AttributeTargets.Parameter)]
public sealed class PersonalAttribute : Attribute;

/// <summary>Something that happened. Each kind is a record type of its own, whose properties are what it says.</summary>
public abstract record Happening
{
    private static readonly FrozenDictionary<string, Type> Types = typeof(Happening)
        .Assembly.GetTypes()
        .Where(t => t.GetCustomAttribute<EventKindAttribute>() is not null)
        .ToFrozenDictionary(t => t.GetCustomAttribute<EventKindAttribute>()!.Key);

    private static readonly FrozenDictionary<Type, string> Keys = Types.ToFrozenDictionary(t => t.Value, t => t.Key);

    /// <summary>Keys of all kinds.</summary>
    public static ImmutableArray<string> Kinds { get; } = [.. Types.Keys.Order(StringComparer.Ordinal)];

    /// <summary>Key of the kind of this event.</summary>
    [JsonIgnore]
    public string Kind => Keys[GetType()];

    /// <summary>The type of a kind; null for an unknown key.</summary>
    public static Type? TypeOf(string kind) => Types.GetValueOrDefault(kind);
}

/// <summary>Why a change was made; said by the act, and kept with the event that the change itself makes.</summary>
/// <param name="How">One of the constants.</param>
/// <param name="Missing">Of an exception to the threshold: what was not met.</param>
/// <param name="Times">How often the time to answer ran out.</param>
/// <param name="Undoes">Id of the event that is taken back.</param>
/// <param name="Reason">What the person said.</param>
/// <param name="Before">JSON of what the change writes over, for taking it back.</param>
/// <param name="Message">What the rule that gave a lead tells its owner.</param>
public sealed record Why(
    string How,
    string[]? Missing = null,
    int? Times = null,
    long? Undoes = null,
    [property: Personal] string? Reason = null,
    [property: Personal] string? Before = null,
    [property: Personal] string? Message = null
)
{
    /// <summary>The rules gave it.</summary>
    public const string ByRule = "by_rule";
    public const string ByHand = "by_hand";
    public const string Taken = "taken";
    public const string GivenBack = "given_back";
    public const string ClockRanOut = "clock_ran_out";
    public const string Cleared = "cleared";
    public const string Woke = "woke";
    public const string Undone = "undone";

    /// <summary>The amount of a deal follows its products.</summary>
    public const string Products = "products";
}
