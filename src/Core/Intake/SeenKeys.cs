using System.Numerics;

namespace DapperLantern.Core.Intake;

/// <summary>
/// Which 64-bit keys may have been met, in a fixed room however many come: a Bloom filter (Bloom 1970) with four bits a key. A key that was added is
/// always said to be met; another is, wrongly, in under 1 of 400 while there are 16 bits a key. Not for several threads at once, but for reading.
/// </summary>
public sealed class SeenKeys
{
    private const int Fewest = 1 << 25;
    private const int Most = 1 << 28;
    private readonly int _mask;
    private readonly ulong[] _bits;

    /// <param name="keys">So many are expected; from 4 MB to 32 MB are taken.</param>
    public SeenKeys(long keys = 0)
    {
        var bits = (int)Math.Clamp(BitOperations.RoundUpToPowerOf2((ulong)Math.Max(0, keys) * 16), Fewest, Most);
        (_mask, _bits) = (bits - 1, new ulong[bits / 64]);
    }

    public void Add(long key)
    {
        var (at, step) = Places(key);
        for (var i = 0; i < 4; i++, at += step)
            _bits[(at & _mask) >> 6] |= 1UL << (int)(at & 63);
    }

    /// <summary>False only for a key that was never added.</summary>
    public bool MayHave(long key)
    {
        var (at, step) = Places(key);
        for (var i = 0; i < 4; i++, at += step)
            if ((_bits[(at & _mask) >> 6] & (1UL << (int)(at & 63))) == 0)
                return false;
        return true;
    }

    // Double hashing (Kirsch and Mitzenmacher 2006): the places are an arithmetic series, its step odd.
    private static (uint At, uint Step) Places(long key)
    {
        var mixed = BitOperations.RotateLeft((ulong)key * 0x9E3779B97F4A7C15, 32) * 0xBF58476D1CE4E5B9;
        return ((uint)mixed, (uint)(mixed >> 32) | 1);
    }
}
