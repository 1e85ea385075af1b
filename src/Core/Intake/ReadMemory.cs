using System.Collections.Concurrent;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>
/// Reads the values of one field by the conventions of its column and remembers those that come again: lists name the same few countries, trades
/// and dates over and over. A field whose values seldom come again, or whose reading depends on the row's country, is read without. Gives what
/// <see cref="FieldReader.Read(FieldDefinition, string?, Conventions)"/> gives. Safe to share between threads.
/// </summary>
public sealed class ReadMemory(FieldDefinition field)
{
    private const int MostKept = 4096;
    private const int Trial = 512;

    private readonly ConcurrentDictionary<string, ReadResult> _known = new();
    private int _asked;
    private int _met;
    private volatile bool _useless = field.Type is FieldType.Phone or FieldType.Region or FieldType.Email;

    public ReadResult Read(string written, Conventions conventions)
    {
        if (_useless || written.Length == 0)
            return FieldReader.Read(field, written, conventions);
        Weigh();
        if (_known.TryGetValue(written, out var read))
        {
            _met++;
            return read;
        }
        read = FieldReader.Read(field, written, conventions);
        if (_asked < MostKept)
            _known.TryAdd(written, read);
        return read;
    }

    // Counted without a lock: a few lost counts change nothing but when the trial ends.
    private void Weigh()
    {
        if (++_asked != Trial || _met * 2 >= Trial)
            return;
        _useless = true;
        _known.Clear();
    }
}
