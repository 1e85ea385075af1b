using System.Buffers.Binary;
using System.Text;

namespace DapperLantern.App.Data;

/// <summary>
/// Values in the binary form in which PostgreSQL takes them in by COPY (PostgreSQL documentation, "COPY: Binary Format" and the receive functions
/// of the types): each is its length in bytes and then the bytes, or a length of -1 for null. All numbers are big-endian.
/// </summary>
public sealed class CopyBuffer
{
    private const int TextOid = 25;
    private const int DoubleOid = 701;
    private const int NumericGroup = 10_000;
    private static readonly DateTime Epoch = new(2000, 1, 1, 0, 0, 0, DateTimeKind.Utc);

    private byte[] _bytes = new byte[1 << 17];
    private int _length;

    /// <summary>What is written and not yet taken away.</summary>
    public ReadOnlyMemory<byte> Written => _bytes.AsMemory(0, _length);

    public void Clear() => _length = 0;

    public void Header()
    {
        Put("PGCOPY\n"u8);
        Put([0xff, (byte)'\r', (byte)'\n', 0]);
        PutInt(0);
        PutInt(0);
    }

    public void StartRow(int columns) => PutShort((short)columns);

    public void Trailer() => PutShort(-1);

    public void Null() => PutInt(-1);

    public void Int(int value)
    {
        PutInt(4);
        PutInt(value);
    }

    public void Long(long value)
    {
        PutInt(8);
        BinaryPrimitives.WriteInt64BigEndian(Take(8), value);
    }

    public void Bool(bool value)
    {
        PutInt(1);
        Take(1)[0] = value ? (byte)1 : (byte)0;
    }

    public void Uuid(Guid value)
    {
        PutInt(16);
        value.TryWriteBytes(Take(16), bigEndian: true, out _);
    }

    /// <exception cref="ArgumentException">The moment is not in UTC.</exception>
    public void Moment(DateTime value)
    {
        if (value.Kind != DateTimeKind.Utc)
            throw new ArgumentException("A moment is kept in UTC.", nameof(value));
        Long((value.Ticks - Epoch.Ticks) / TimeSpan.TicksPerMicrosecond);
    }

    public void Bytes(ReadOnlySpan<byte> value)
    {
        PutInt(value.Length);
        Put(value);
    }

    public void Text(string value) => PutText(value);

    /// <summary>Text of a jsonb value; its form is checked by PostgreSQL.</summary>
    public void Json(string value)
    {
        const byte version = 1;
        var at = Room();
        Take(1)[0] = version;
        PutUtf8(value);
        Close(at);
    }

    public void Texts(string[] values)
    {
        var at = Room();
        PutInt(values.Length == 0 ? 0 : 1);
        PutInt(0);
        PutInt(TextOid);
        if (values.Length > 0)
        {
            PutInt(values.Length);
            PutInt(1);
            foreach (var value in values)
                PutText(value);
        }
        Close(at);
    }

    /// <summary>An array of double precision; not empty.</summary>
    public void Doubles(ReadOnlySpan<double> values)
    {
        PutInt(20 + 12 * values.Length);
        PutInt(1);
        PutInt(0);
        PutInt(DoubleOid);
        PutInt(values.Length);
        PutInt(1);
        foreach (var value in values)
        {
            PutInt(8);
            BinaryPrimitives.WriteDoubleBigEndian(Take(8), value);
        }
    }

    /// <summary>Groups of four decimal digits, the first with its weight as a power of 10 000.</summary>
    public void Number(decimal value)
    {
        Span<short> groups = stackalloc short[10];
        Span<int> bits = stackalloc int[4];
        decimal.GetBits(value, bits);
        int scale = value.Scale;
        var rest = new UInt128((uint)bits[2], ((ulong)(uint)bits[1] << 32) | (uint)bits[0]);
        for (var i = scale; i % 4 != 0; i++)
            rest *= 10;
        var count = 0;
        for (; rest != 0; rest /= NumericGroup)
            groups[count++] = (short)(rest % NumericGroup);
        PutInt(8 + 2 * count);
        PutShort((short)count);
        PutShort((short)(count - (scale + 3) / 4 - 1));
        PutShort(bits[3] < 0 ? (short)0x4000 : (short)0);
        PutShort((short)scale);
        while (count > 0)
            PutShort(groups[--count]);
    }

    private void PutText(string value)
    {
        var at = Room();
        PutUtf8(value);
        Close(at);
    }

    private void PutUtf8(string value)
    {
        Reserve(Encoding.UTF8.GetMaxByteCount(value.Length));
        _length += Encoding.UTF8.GetBytes(value, _bytes.AsSpan(_length));
    }

    // Leaves room for a length that is known once the value is written.
    private int Room()
    {
        PutInt(0);
        return _length;
    }

    private void Close(int from) => BinaryPrimitives.WriteInt32BigEndian(_bytes.AsSpan(from - 4), _length - from);

    private void PutInt(int value) => BinaryPrimitives.WriteInt32BigEndian(Take(4), value);

    private void PutShort(short value) => BinaryPrimitives.WriteInt16BigEndian(Take(2), value);

    private void Put(ReadOnlySpan<byte> value) => value.CopyTo(Take(value.Length));

    private Span<byte> Take(int count)
    {
        Reserve(count);
        _length += count;
        return _bytes.AsSpan(_length - count, count);
    }

    private void Reserve(int count)
    {
        if (_bytes.Length - _length < count)
            Array.Resize(ref _bytes, Math.Max(_bytes.Length * 2, _length + count));
    }
}
