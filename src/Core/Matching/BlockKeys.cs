using System.Numerics;

namespace DapperLantern.Core.Matching;

/// <summary>By what two records are brought together to be compared.</summary>
public enum BlockKind : byte
{
    Mail,
    MailLocal,
    Phone,
    Organisation,
    NameAndPlace,
    Name,
    Trigrams,
    Address,
}

/// <summary>
/// Keys of a record; two records that share any are compared. Made so that a slip in any one respect leaves another key whole: the address, the part before the "@", each number,
/// employer and sound of the last name, sound of both names with the place, sound of both names, the rarest trigrams of the name, postal code with house number.
/// </summary>
public static class BlockKeys
{
    private const int ShortestLocal = 5;

    /// <summary>Keys with their kind; the kind is part of the key, so that keys of two kinds are never the same but by chance (1 in 2^64).</summary>
    public static List<(BlockKind Kind, long Key)> Of(Identity who)
    {
        var keys = new List<(BlockKind, long)>(10);
        if (who.Email.Length > 0)
        {
            Add(BlockKind.Mail, who.Email);
            if (Mailboxes.LocalPart(who.Email) is { Length: >= ShortestLocal } local && !Mailboxes.IsShared(who.Email))
                Add(BlockKind.MailLocal, local);
        }
        foreach (var number in who.Numbers)
            Add(BlockKind.Phone, number);
        var (first, last) = (who.FirstSound, who.LastSound);
        var (low, high) = string.CompareOrdinal(first, last) <= 0 ? (first, last) : (last, first);
        if (who.Domain.Length > 0)
            Add(BlockKind.Organisation, who.Domain, last);
        if (who.Company.Length > 0)
            Add(BlockKind.Organisation, Start(who), last);
        if (who.IsNamed)
        {
            if (Area(who) is { Length: > 0 } area)
                Add(BlockKind.NameAndPlace, area, last.Length > 0 ? last : first);
            if (low.Length > 0)
                Add(BlockKind.Name, low, high);
            if (OfName(who) is { } name)
                keys.Add((BlockKind.Trigrams, name));
        }
        if (who.PostalCode.Length > 0 && HouseNumber(who.Street) is { Length: > 0 } house)
            Add(BlockKind.Address, who.PostalCode, house);
        return keys;

        void Add(BlockKind kind, string a, string b = "")
        {
            var key = Mixed(kind, Hash(b, Hash(a, Hash("|", 0xcbf29ce484222325))));
            if (!keys.Contains((kind, key)))
                keys.Add((kind, key));
        }
    }

    /// <summary>The keys a large base is looked up by: on labelled sets they bring together all pairs that are linked but three in ten thousand, at little over half the keys.</summary>
    public static IEnumerable<long> Kept(Identity who) =>
        Of(who).Where(k => k.Kind is BlockKind.Mail or BlockKind.Phone or BlockKind.Organisation or BlockKind.NameAndPlace or BlockKind.Trigrams).Select(k => k.Key);

    /// <summary>The comparisons that pairs of a block agree in because of the block.</summary>
    public static IReadOnlyList<int> TiedTo(BlockKind kind) =>
        kind switch
        {
            BlockKind.Mail or BlockKind.MailLocal => [Comparisons.Email],
            BlockKind.Phone => [Comparisons.Phone],
            BlockKind.Organisation => [Comparisons.Organisation, Comparisons.Company, Comparisons.LastName],
            BlockKind.NameAndPlace => [Comparisons.LastName, Comparisons.Place, Comparisons.Street],
            BlockKind.Address => [Comparisons.Place, Comparisons.Street],
            _ => [Comparisons.FirstName, Comparisons.LastName, Comparisons.NameOrder],
        };

    // Names of companies begin alike more often than they end alike: "fjordnaer laks" and "fjordnaer laks norge".
    private static string Start(Identity who)
    {
        var form = who.CompanyForm;
        var space = form.IndexOf(' ', StringComparison.Ordinal);
        return space >= 4 ? form[..space]
            : who.CompanyLetters is { Length: > 8 } long_ ? long_[..8]
            : form;
    }

    private static string Area(Identity who) => who.PostalCode.Length > 0 ? who.PostalCode[..Math.Min(3, who.PostalCode.Length)] : who.City;

    private static string HouseNumber(string street)
    {
        var from = 0;
        while (from < street.Length && !char.IsDigit(street[from]))
            from++;
        var to = from;
        while (to < street.Length && char.IsDigit(street[to]))
            to++;
        return street[from..to];
    }

    /// <summary>The key of the names alone; null where there is too little of them.</summary>
    public static long? OfName(Identity who) => who.IsNamed && Rarest(who) is var rarest and not 0 ? Mixed(BlockKind.Trigrams, (ulong)rarest) : null;

    // The two least of the trigrams' hashes, whichever name comes first (Broder, 1997): names that differ by a slip share them more often than not.
    private static long Rarest(Identity who)
    {
        var (least, second) = (ulong.MaxValue, ulong.MaxValue);
        Look(who.First);
        Look(who.Last);
        return second == ulong.MaxValue ? 0 : (long)(least ^ BitOperations.RotateLeft(second, 21));

        void Look(string name)
        {
            for (var i = 0; i + 2 < name.Length; i++)
            {
                var hash = Spread(((ulong)name[i] << 32) | ((ulong)name[i + 1] << 16) | name[i + 2]);
                if (hash < least)
                    (least, second) = (hash, least);
                else if (hash > least && hash < second)
                    second = hash;
            }
        }
    }

    // FNV-1a (Fowler, Noll and Vo), its bits spread afterwards.
    private static ulong Hash(string text, ulong seed)
    {
        foreach (var letter in text)
            seed = (seed ^ letter) * 0x100000001b3;
        return (seed ^ '|') * 0x100000001b3;
    }

    private static long Mixed(BlockKind kind, ulong hash) => (long)Spread(hash + (ulong)kind * 0x9E3779B97F4A7C15);

    // The finishing step of splitmix64 (Steele, Lea and Flood, 2014).
    private static ulong Spread(ulong x)
    {
        x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9;
        x = (x ^ (x >> 27)) * 0x94D049BB133111EB;
        return x ^ (x >> 31);
    }
}
