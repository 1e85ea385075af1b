using System.Numerics;

namespace DapperLantern.Core.Intake;

/// <summary>
/// Which 64-bit keys may have been met, in a fixed 4 MB however many come: a Bloom filter (Bloom 1970) with four bits a key. A key that was added is
/// always said to be met; another is, wrongly, in under 1 of 400 with 2,000,000 keys. Not for several threads at once.
/// </summary>
public sealed class SeenKeys
{
    private const int Bits = 1 << 25;
    private readonly ulong[] _bits = new ulong[Bits / 64];

    public void Add(long key)
    {
        var (at, step) = Places(key);
        for (var i = 0; i < 4; i++, at += step)
            _bits[(at & (Bits - 1)) >> 6] |= 1UL << (int)(at & 63);
    }

    /// <summary>False only for a key that was never added.</summary>
    public bool MayHave(long key)
    {
        var (at, step) = Places(key);
        for (var i = 0; i < 4; i++, at += step)
            if ((_bits[(at & (Bits - 1)) >> 6] & (1UL << (int)(at & 63))) == 0)
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
