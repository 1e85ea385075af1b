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

/// <summary>One value: unknown, a text, a number or a moment. Never an empty text: that is unknown. As large as a reference, since records hold dozens of them.</summary>
public readonly record struct FieldValue
{
    private readonly object? _value;

    private FieldValue(object value) => _value = value;

    public ValueKind Kind =>
        _value switch
        {
            null => ValueKind.Unknown,
            string => ValueKind.Text,
            decimal => ValueKind.Number,
            _ => ValueKind.Moment,
        };

    /// <summary>The text; null when the value is none.</summary>
    public string? Text => _value as string;

    /// <summary>The number; 0 when the value is none.</summary>
    public decimal Number => _value is decimal number ? number : 0;

    /// <summary>The moment; the epoch when the value is none.</summary>
    public Instant Moment => _value is Instant moment ? moment : default;

    public static FieldValue Unknown => default;
    public bool IsKnown => _value is not null;

    public static FieldValue Of(string? text) => string.IsNullOrEmpty(text) ? default : new(text);

    public static FieldValue Of(decimal? number) => number is { } n ? new(n) : default;

    public static FieldValue Of(Instant? moment) => moment is { } m ? new(m) : default;

    /// <summary>The form in which the value is kept in JSON and shown in traces; empty when unknown.</summary>
    public override string ToString() =>
        Kind switch
        {
            ValueKind.Text => Text!,
            // Most numbers are whole, and a custom format costs ten times as much.
            ValueKind.Number when Number.Scale == 0 && Number is > -1e18m and < 1e18m => ((long)Number).ToString(CultureInfo.InvariantCulture),
            ValueKind.Number => Number.ToString("0.############", CultureInfo.InvariantCulture),
            ValueKind.Moment => InstantPattern.ExtendedIso.Format(Moment),
            _ => "",
        };

    /// <summary>Reads the stored form back for a field's type; unknown when it does not parse.</summary>
    public static FieldValue Parse(FieldType type, string? stored) =>
        type switch
        {
            FieldType.Number or FieldType.Money => decimal.TryParse(stored, NumberStyles.Float, CultureInfo.InvariantCulture, out var n) ? Of(n) : default,
            FieldType.Date => InstantPattern.ExtendedIso.Parse(stored ?? "") is { Success: true } p ? Of(p.Value) : default,
            _ => Of(stored),
        };
}

/// <summary>The values of one record, indexed by the catalogue. What was never set is unknown.</summary>
public sealed class RecordValues(FieldCatalogue catalogue)
{
    private readonly FieldValue[] _values = new FieldValue[catalogue.Fields.Length];

    public FieldCatalogue Catalogue { get; } = catalogue;

    public FieldValue this[int ordinal]
    {
        get => _values[ordinal];
        set => _values[ordinal] = value;
    }

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
