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
    Texts,
}

/// <summary>One value: unknown, a text, a number, a moment, or several texts. Never an empty text, nor none of several: that is unknown. As large as a reference, since records hold dozens of them.</summary>
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
            string[] => ValueKind.Texts,
            _ => ValueKind.Moment,
        };

    /// <summary>The text; null when the value is none.</summary>
    public string? Text => _value as string;

    /// <summary>The number; 0 when the value is none.</summary>
    public decimal Number => _value is decimal number ? number : 0;

    /// <summary>The moment; the epoch when the value is none.</summary>
    public Instant Moment => _value is Instant moment ? moment : default;

    /// <summary>Does it hold of the text, or of any of several texts? False when the value is no text.</summary>
    public bool AnyText<TState>(TState state, Func<TState, string, bool> holds)
    {
        if (_value is string text)
            return holds(state, text);
        if (_value is string[] texts)
            foreach (var one in texts)
                if (holds(state, one))
                    return true;
        return false;
    }

    public static FieldValue Unknown => default;
    public bool IsKnown => _value is not null;

    public static FieldValue Of(string? text) => string.IsNullOrEmpty(text) ? default : new(text);

    /// <summary>Several texts; unknown when there are none.</summary>
    public static FieldValue Of(string[] texts) => texts.Length == 0 ? default : new(texts);

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
            ValueKind.Texts => string.Join(", ", (string[])_value!),
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

    // Few records carry what stands around them, so most have no room for it.
    private FieldValue[]? _around;

    public FieldCatalogue Catalogue { get; } = catalogue;

    /// <summary>The record itself, for a reader that was compiled for a catalogue: ordinals of one catalogue mean other fields in another.</summary>
    /// <exception cref="InvalidOperationException">The record is of another catalogue. It is a bug of the caller, which mixed two snapshots of the set-up.</exception>
    public RecordValues Of(FieldCatalogue catalogue) =>
        ReferenceEquals(catalogue, Catalogue) ? this : throw new InvalidOperationException("The record is of another catalogue than its reader.");

    public FieldValue this[int ordinal]
    {
        get =>
            ordinal < _values.Length ? _values[ordinal]
            : _around is null ? default
            : _around[ordinal - _values.Length];
        set
        {
            if (ordinal < _values.Length)
                _values[ordinal] = value;
            else
                (_around ??= new FieldValue[Catalogue.Related.Length])[ordinal - _values.Length] = value;
        }
    }

    /// <exception cref="KeyNotFoundException">The catalogue has no such field.</exception>
    public FieldValue this[string key]
    {
        get => this[Catalogue[key].Ordinal];
        set => this[Catalogue[key].Ordinal] = value;
    }

    public string? Text(string key) => this[key].Text;

    /// <summary>The known values with their fields, in catalogue order.</summary>
    public IEnumerable<(FieldDefinition Field, FieldValue Value)> Known() => Catalogue.Fields.Where(f => _values[f.Ordinal].IsKnown).Select(f => (f, _values[f.Ordinal]));

    /// <summary>The same values as a record of another catalogue, field by field; this record itself where it is of that one. A value whose field is not there, or has another type, is left out.</summary>
    public RecordValues On(FieldCatalogue catalogue)
    {
        if (ReferenceEquals(catalogue, Catalogue))
            return this;
        var record = new RecordValues(catalogue);
        foreach (var (field, value) in Known())
            if (catalogue.Find(field.Key) is { } there && there.Type == field.Type)
                record[there.Ordinal] = value;
        foreach (var field in Catalogue.Related)
            if (this[field.Ordinal].IsKnown && catalogue.Related.FirstOrDefault(f => f.Key == field.Key) is { } there)
                record[there.Ordinal] = this[field.Ordinal];
        return record;
    }

    public RecordValues Copy()
    {
        var copy = new RecordValues(Catalogue);
        _values.CopyTo(copy._values, 0);
        copy._around = (FieldValue[]?)_around?.Clone();
        return copy;
    }
}
