using System.Globalization;
using NodaTime;
using NodaTime.Text;

namespace DapperLantern.Core.Fields;

/// <summary>What a <see cref="FieldValue"/> holds.</summary>
public enum ValueKind : byte
{
    Unknown,
    Text,
    Number,
    Moment,
}

/// <summary>One value: unknown, a text, a number or a moment. Never an empty text: that is unknown.</summary>
public readonly record struct FieldValue
{
    private FieldValue(ValueKind kind, string? text, decimal number, Instant moment) => (Kind, Text, Number, Moment) = (kind, text, number, moment);

    public ValueKind Kind { get; }
    public string? Text { get; }
    public decimal Number { get; }
    public Instant Moment { get; }

    public static FieldValue Unknown => default;
    public bool IsKnown => Kind != ValueKind.Unknown;

    public static FieldValue Of(string? text) => string.IsNullOrEmpty(text) ? default : new(ValueKind.Text, text, 0, default);

    public static FieldValue Of(decimal? number) => number is { } n ? new(ValueKind.Number, null, n, default) : default;

    public static FieldValue Of(Instant? moment) => moment is { } m ? new(ValueKind.Moment, null, 0, m) : default;

    /// <summary>The form in which the value is kept in JSON and shown in traces; empty when unknown.</summary>
    public override string ToString() =>
        Kind switch
        {
            ValueKind.Text => Text!,
            ValueKind.Number => Number.ToString("0.############", CultureInfo.InvariantCulture),
            ValueKind.Moment => InstantPattern.ExtendedIso.Format(Moment),
            _ => "",
        };

    /// <summary>Reads the stored form back for a field's type; unknown when it does not parse.</summary>
    public static FieldValue Parse(FieldType type, string? stored) =>
        type switch
        {
            FieldType.Number => decimal.TryParse(stored, NumberStyles.Float, CultureInfo.InvariantCulture, out var n) ? Of(n) : default,
            FieldType.Date => InstantPattern.ExtendedIso.Parse(stored ?? "") is { Success: true } p ? Of(p.Value) : default,
            _ => Of(stored),
        };
}

/// <summary>The values of one record, indexed by the catalogue. What was never set is unknown.</summary>
public sealed class RecordValues(FieldCatalogue catalogue)
{
    private readonly FieldValue[] _values = new FieldValue[catalogue.Fields.Length];

    public FieldCatalogue Catalogue { get; } = catalogue;

    public FieldValue this[int ordinal] => _values[ordinal];

    /// <exception cref="KeyNotFoundException">The catalogue has no such field.</exception>
    public FieldValue this[string key]
    {
        get => _values[Catalogue[key].Ordinal];
        set => _values[Catalogue[key].Ordinal] = value;
    }

    public string? Text(string key) => this[key].Text;

    /// <summary>The known values with their fields, in catalogue order.</summary>
    public IEnumerable<(FieldDefinition Field, FieldValue Value)> Known() => Catalogue.Fields.Where(f => _values[f.Ordinal].IsKnown).Select(f => (f, _values[f.Ordinal]));

    public RecordValues Copy()
    {
        var copy = new RecordValues(Catalogue);
        _values.CopyTo(copy._values, 0);
        return copy;
    }
}
