using System.Numerics;

namespace DapperLantern.Core.Routing.Checking;

/// <summary>A set of rules, as bits. All masks of a check have the same length.</summary>
internal readonly struct Mask(ulong[] words) : IEquatable<Mask>
{
    private readonly ulong[] _words = words;

    public static Mask None(int rules) => new(new ulong[(rules + 63) / 64]);

    public static Mask Of(int rules, IEnumerable<int> members)
    {
        var mask = None(rules);
        foreach (var member in members)
            mask._words[member / 64] |= 1UL << (member % 64);
        return mask;
    }

    public bool this[int member] => (_words[member / 64] & (1UL << (member % 64))) != 0;

    public bool IsEmpty
    {
        get
        {
            foreach (var word in _words)
                if (word != 0)
                    return false;
            return true;
        }
    }

    public int Count
    {
        get
        {
            var count = 0;
            foreach (var word in _words)
                count += BitOperations.PopCount(word);
            return count;
        }
    }

    public IEnumerable<int> Members
    {
        get
        {
            for (var i = 0; i < _words.Length; i++)
            for (var bits = _words[i]; bits != 0; bits &= bits - 1)
                yield return i * 64 + BitOperations.TrailingZeroCount(bits);
        }
    }

    /// <summary>All that is in any of some sets of one length.</summary>
    public static Mask Union(int rules, IEnumerable<Mask> masks)
    {
        var words = new ulong[(rules + 63) / 64];
        foreach (var mask in masks)
            for (var i = 0; i < words.Length; i++)
                words[i] |= mask._words[i];
        return new Mask(words);
    }

    /// <summary>What is in all of some sets of one length, of which there is at least one.</summary>
    public static Mask Common(int rules, IEnumerable<Mask> masks)
    {
        var words = new ulong[(rules + 63) / 64];
        Array.Fill(words, ~0UL);
        foreach (var mask in masks)
            for (var i = 0; i < words.Length; i++)
                words[i] &= mask._words[i];
        return new Mask(words);
    }

    public Mask With(int member)
    {
        var words = (ulong[])_words.Clone();
        words[member / 64] |= 1UL << (member % 64);
        return new Mask(words);
    }

    public static Mask operator &(Mask a, Mask b)
    {
        var words = new ulong[a._words.Length];
        for (var i = 0; i < words.Length; i++)
            words[i] = a._words[i] & b._words[i];
        return new Mask(words);
    }

    public static Mask operator |(Mask a, Mask b)
    {
        var words = new ulong[a._words.Length];
        for (var i = 0; i < words.Length; i++)
            words[i] = a._words[i] | b._words[i];
        return new Mask(words);
    }

    /// <summary>What is in the first and not in the second.</summary>
    public static Mask operator -(Mask a, Mask b)
    {
        var words = new ulong[a._words.Length];
        for (var i = 0; i < words.Length; i++)
            words[i] = a._words[i] & ~b._words[i];
        return new Mask(words);
    }

    /// <summary>True when all of another set is in this.</summary>
    public bool Has(Mask other)
    {
        for (var i = 0; i < _words.Length; i++)
            if ((other._words[i] & ~_words[i]) != 0)
                return false;
        return true;
    }

    public bool Meets(Mask other)
    {
        for (var i = 0; i < _words.Length; i++)
            if ((other._words[i] & _words[i]) != 0)
                return true;
        return false;
    }

    public bool Equals(Mask other) => _words.AsSpan().SequenceEqual(other._words);

    public override bool Equals(object? obj) => obj is Mask other && Equals(other);

    public override int GetHashCode()
    {
        var hash = new HashCode();
        foreach (var word in _words)
            hash.Add(word);
        return hash.ToHashCode();
    }
}
