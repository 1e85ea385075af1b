using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace DapperLantern.Core.Conditions;

/// <summary>How a field is tested. A test on an unknown value is false, whatever the operator; <see cref="Known"/> asks just that.</summary>
public enum TestOperator
{
    /// <summary>Equal to one of the values, after normalisation; a number equals a number.</summary>
    In,

    /// <summary>Contains one of the values, without regard to case. Texts only.</summary>
    Contains,

    /// <summary>Begins with one of the values, without regard to case. Texts only.</summary>
    StartsWith,

    /// <summary>
    /// Begins from the first value to the second, without regard to case, by the order of their letters: 80 to 87 takes 80331 and 87999, not 880. Texts only, such
    /// as postal codes.
    /// </summary>
    BeginsBetween,

    /// <summary>From the first value up, inclusive. Numbers.</summary>
    AtLeast,

    /// <summary>Up to the first value, inclusive. Numbers.</summary>
    AtMost,

    /// <summary>From the first to the second value, both inclusive. Numbers.</summary>
    Between,

    /// <summary>The value is known. Takes no values.</summary>
    Known,

    /// <summary>Not earlier than N days of 24 hours before the moment of asking, and not after it. Moments.</summary>
    WithinDays,

    /// <summary>Earlier than N days of 24 hours before the moment of asking. Moments.</summary>
    OlderThanDays,

    /// <summary>Before the moment of asking. Moments; takes no values.</summary>
    Past,

    /// <summary>At a moment or after it. Moments.</summary>
    Since,

    /// <summary>Before a moment. Moments.</summary>
    Before,
}

/// <summary>
/// A condition over the field catalogue. Views, rules, scoring lines and exports all use this one language. Written as JSON:
/// <c>{"all":[...]}</c>, <c>{"any":[...]}</c>, <c>{"not":{...}}</c>, <c>{"field":"country","is":"in","values":["NO"]}</c>.
/// An empty <c>all</c> is true, an empty <c>any</c> false.
/// </summary>
[JsonConverter(typeof(ConditionJson))]
public abstract record Condition
{
    /// <summary>True of everything.</summary>
    public static Condition Always { get; } = new AllOf([]);

    public static Condition Where(string field, TestOperator @operator, params string[] values) => new Test(field, @operator, [.. values]);
}

public sealed record AllOf(ImmutableArray<Condition> Parts) : Condition;

public sealed record AnyOf(ImmutableArray<Condition> Parts) : Condition;

public sealed record Not(Condition Part) : Condition;

/// <param name="Field">Key of a catalogue field.</param>
/// <param name="Values">In stored form: choice keys, country codes, numbers with a decimal point.</param>
public sealed record Test(string Field, TestOperator Operator, ImmutableArray<string> Values) : Condition;
