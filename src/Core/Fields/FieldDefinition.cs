using System.Collections.Frozen;
using System.Collections.Immutable;

namespace DapperLantern.Core.Fields;

/// <summary>How a value is normalised, validated, compared and shown.</summary>
public enum FieldType
{
    Text,
    Name,
    Email,
    Phone,
    Country,
    Region,
    Domain,
    Choice,
    Number,
    Date,
    Money,
    YesNo,
}

/// <summary>
/// Who fills a field: people and files (a fact), or the program itself (a system field); or that it is said of an arrival only and not kept
/// with the lead; or that it is an answer found in qualifying; or that it is no part of the record but gathered from what stands around it: tags, campaigns, consents, events, calls.
/// </summary>
public enum FieldOrigin
{
    Fact,
    Custom,
    System,
    Arrival,
    Finding,
    Related,
}

/// <summary>The record a fact belongs to once the lead is handed over.</summary>
public enum TargetRecord
{
    Contact,
    Account,
    Deal,
}

/// <summary>One value of a choice field: what is stored, what is shown, and other spellings that mean the same.</summary>
public sealed record Choice(string Key, string Label, ImmutableArray<string> AlsoCalled = default)
{
    public ImmutableArray<string> AlsoCalled { get; init; } = AlsoCalled.IsDefault ? [] : AlsoCalled;

    /// <summary>True for one that is offered no more. It is read and found as before.</summary>
    public bool Retired { get; init; }
}

/// <summary>
/// One attribute of a record, described once. Import matching, forms, conditions, scoring, rules, exports and screens read this.
/// </summary>
/// <param name="Key">Stable name, lower case with underscores; also the column in the database for facts.</param>
/// <param name="Label">What people read.</param>
/// <param name="Personal">True when the value says something about an identifiable person.</param>
public sealed record FieldDefinition(string Key, string Label, FieldType Type, FieldOrigin Origin = FieldOrigin.Fact, bool Personal = false)
{
    /// <summary>True for a cost or a margin, which some are not shown.</summary>
    public bool Cost { get; init; }

    /// <summary>Longest text kept, in UTF-16 units.</summary>
    public int Longest { get; init; } = FieldReader.LongestText;

    /// <summary>True when a record may have several values at once, of which a test asks for any.</summary>
    public bool Many { get; init; }

    /// <summary>Position in <see cref="FieldCatalogue.Fields"/>, after which those of <see cref="FieldCatalogue.Related"/> come; set by the catalogue, -1 outside one.</summary>
    public int Ordinal { get; init; } = -1;

    /// <summary>The values allowed, for <see cref="FieldType.Choice"/>; empty otherwise or when any key is allowed.</summary>
    public ImmutableArray<Choice> Choices
    {
        get;
        init => (field, _choiceKeys) = (value, KeysOf(value));
    } = [];

    /// <summary>The choices that are offered: a retired one where it is the value already.</summary>
    public IEnumerable<Choice> Offered(string? stored = null) => Choices.Where(c => !c.Retired || c.Key == stored);

    private readonly FrozenDictionary<string, string>? _choiceKeys;

    /// <summary>The key of a choice by its key, its label or another spelling, in whatever case; null when there is none.</summary>
    public string? ChoiceOf(string written) => _choiceKeys?.GetValueOrDefault(Folding.Heading(written));

    private static FrozenDictionary<string, string> KeysOf(ImmutableArray<Choice> choices)
    {
        var keys = new Dictionary<string, string>();
        foreach (var choice in choices)
            keys.TryAdd(Folding.Heading(choice.Key), choice.Key);
        foreach (var choice in choices)
        foreach (var spelling in choice.AlsoCalled.Prepend(choice.Label))
            keys.TryAdd(Folding.Heading(spelling), choice.Key);
        return keys.ToFrozenDictionary();
    }

    /// <summary>Where the fact lands at handover.</summary>
    public TargetRecord Lands { get; init; } = TargetRecord.Deal;

    /// <summary>Headings that mean this field in lists people send, lower case, without accents or punctuation.</summary>
    public ImmutableArray<string> Headings { get; init; } = [];

    /// <summary>ISO 4217 code of the one currency a <see cref="FieldType.Money"/> field is kept in; empty otherwise.</summary>
    public string Currency { get; init; } = "";

    /// <summary>True for a number of people or things: whole, and not under 0.</summary>
    public bool Counts { get; init; }

    public bool IsNumeric => Type is FieldType.Number or FieldType.Money;

    /// <summary>The label of a stored value: a choice's label, else the value itself.</summary>
    public string Show(string stored) =>
        Type switch
        {
            FieldType.Choice or FieldType.YesNo => Choices.FirstOrDefault(c => c.Key == stored)?.Label ?? stored,
            FieldType.Country => Countries.NameOf(stored) ?? stored,
            FieldType.Phone => PhoneReader.Show(stored),
            FieldType.Region => Regions.NameOf(stored) ?? stored,
            FieldType.Money => $"{stored} {Currency}",
            FieldType.Date => stored.Replace("T00:00:00Z", "", StringComparison.Ordinal),
            _ => stored,
        };
}
