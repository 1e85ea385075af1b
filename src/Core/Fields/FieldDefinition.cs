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
}

/// <summary>Who fills a field: people and files (a fact), or the program itself (a system field).</summary>
public enum FieldOrigin
{
    Fact,
    Custom,
    System,
}

/// <summary>One value of a choice field: what is stored, what is shown, and other spellings that mean the same.</summary>
public sealed record Choice(string Key, string Label, ImmutableArray<string> AlsoCalled = default)
{
    public ImmutableArray<string> AlsoCalled { get; init; } = AlsoCalled.IsDefault ? [] : AlsoCalled;
}

/// <summary>
/// One attribute of a record, described once. Import matching, forms, conditions, scoring, rules, exports and screens read this.
/// </summary>
/// <param name="Key">Stable name, lower case with underscores; also the column in the database for facts.</param>
/// <param name="Label">What people read.</param>
/// <param name="Personal">True when the value says something about an identifiable person.</param>
public sealed record FieldDefinition(string Key, string Label, FieldType Type, FieldOrigin Origin = FieldOrigin.Fact, bool Personal = false)
{
    /// <summary>Position in <see cref="FieldCatalogue.Fields"/>; set by the catalogue, -1 outside one.</summary>
    public int Ordinal { get; init; } = -1;

    /// <summary>The values allowed, for <see cref="FieldType.Choice"/>; empty otherwise or when any key is allowed.</summary>
    public ImmutableArray<Choice> Choices { get; init; } = [];

    /// <summary>Headings that mean this field in lists people send, lower case, without accents or punctuation.</summary>
    public ImmutableArray<string> Headings { get; init; } = [];

    public bool IsNumeric => Type == FieldType.Number;

    /// <summary>The label of a stored value: a choice's label, else the value itself.</summary>
    public string Show(string stored) =>
        Type switch
        {
            FieldType.Choice => Choices.FirstOrDefault(c => c.Key == stored)?.Label ?? stored,
            FieldType.Country => Countries.NameOf(stored) ?? stored,
            FieldType.Phone => FieldReader.ShowPhone(stored),
            FieldType.Region => Regions.NameOf(stored) ?? stored,
            _ => stored,
        };
}
