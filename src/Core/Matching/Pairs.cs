namespace DapperLantern.Core.Matching;

/// <summary>Two records that may be one: their places in the list, and the weight.</summary>
public readonly record struct WeighedPair(int A, int B, double Bits);

/// <summary>Finds pairs in a list held in memory: those that share a key, weighed.</summary>
public static class Pairs
{
    /// <summary>A key that more records share says too little to compare them all.</summary>
    public const int LargestBlock = 120;

    /// <summary>
    /// Pairs at or over the matcher's lower bar, each once, in the order of the list.
    /// </summary>
    /// <param name="from">Only pairs whose second record stands at or after this place: what is new against what was there and among itself.</param>
    public static List<WeighedPair> Find(IReadOnlyList<Identity> records, Matcher matcher, int from = 0)
    {
        var found = new List<WeighedPair>();
        foreach (var (a, b) in Candidates(records, from))
            if (matcher.Weigh(records[a], records[b]) is var bits && bits >= matcher.Bars.Ask)
                found.Add(new WeighedPair(a, b, bits));
        return found;
    }

    /// <summary>Pairs that share a key, each once.</summary>
    public static IEnumerable<(int A, int B)> Candidates(IReadOnlyList<Identity> records, int from = 0)
    {
        var keyed = Sorted(records);
        var met = new HashSet<long>();
        for (var start = 0; start < keyed.Length; )
        {
            var end = start + 1;
            while (end < keyed.Length && keyed[end].Key == keyed[start].Key)
                end++;
            if (end - start is > 1 and <= LargestBlock)
                for (var i = start; i < end; i++)
                for (var j = start; j < i; j++)
                    if (keyed[i].At >= from && keyed[i].At != keyed[j].At && met.Add(((long)keyed[i].At << 32) | (uint)keyed[j].At))
                        yield return (keyed[j].At, keyed[i].At);
            start = end;
        }
    }

    /// <summary>The looks of pairs that share a key of one kind, counted; of a large block only neighbours.</summary>
    public static List<PairCounts> Looks(IReadOnlyList<Identity> records)
    {
        var counts = Enum.GetValues<BlockKind>().ToDictionary(k => k, _ => new Dictionary<Levels, long>());
        foreach (var kind in counts.Keys)
        {
            var keyed = records.SelectMany((r, i) => BlockKeys.Of(r).Where(k => k.Kind == kind).Select(k => (k.Key, At: i))).Order().ToArray();
            for (var i = 0; i < keyed.Length; i++)
            for (var j = i + 1; j < keyed.Length && j - i <= 20 && keyed[j].Key == keyed[i].Key; j++)
                if (keyed[i].At != keyed[j].At)
                    Count(counts[kind], ComparisonVector.Of(records[keyed[i].At], records[keyed[j].At]));
        }
        return [.. counts.Select(c => new PairCounts(c.Key, c.Value))];
    }

    /// <summary>The looks of pairs drawn by chance, counted.</summary>
    /// <param name="draw">Draws a number from 0 to under the one given.</param>
    public static Dictionary<Levels, long> ByChance(IReadOnlyList<Identity> records, int pairs, Func<int, int> draw)
    {
        var counts = new Dictionary<Levels, long>();
        for (var i = 0; i < pairs && records.Count > 1; i++)
        {
            var (a, b) = (draw(records.Count), draw(records.Count - 1));
            Count(counts, ComparisonVector.Of(records[a], records[b < a ? b : b + 1]));
        }
        return counts;
    }

    /// <summary>A number under so many last names is an office's.</summary>
    public const int ManyNames = 3;

    /// <summary>How common names, companies and places are, where a value is at least as common as one in a thousand and stands at least ten times, a last name one in four thousand and five; and telephone numbers that many names share.</summary>
    public static ValueShares Shares(IReadOnlyCollection<Identity> records)
    {
        var shares = new Dictionary<(string, string), double>();
        Add("first_name", records.Select(r => r.First));
        Add("last_name", records.Select(r => r.Last), ValueShares.FewestOfLastName, ValueShares.LastNamesOver);
        Add("organisation", records.Select(r => r.Company));
        Add("company", records.Where(r => !r.IsNamed).Select(r => r.Company));
        Add("place", records.Select(r => r.City));
        foreach (var number in records.SelectMany(r => r.Numbers.Select(n => (Number: n, r.Last))).Where(n => n.Last.Length > 0).GroupBy(n => n.Number))
            if (number.Select(n => n.Last).Distinct().Count() >= ManyNames)
                shares[("phone", number.Key)] = (double)number.Count() / records.Count;
        return new ValueShares(shares, RareLastName(records.Count(r => r.Last.Length > 0)));

        void Add(string comparison, IEnumerable<string> values, int fewest = 10, int over = 1000)
        {
            var known = values.Where(v => v.Length > 0).ToList();
            foreach (var group in known.GroupBy(v => v))
                if (group.Count() is var count && count >= fewest && count * (long)over >= known.Count)
                    shares[(comparison, group.Key)] = (double)count / known.Count;
        }
    }

    /// <summary>The share under which a last name lies that is not among the counted ones, of so many.</summary>
    public static double RareLastName(long known) => known == 0 ? 0 : Math.Max((double)ValueShares.FewestOfLastName / known, 1.0 / ValueShares.LastNamesOver);

    private static void Count(Dictionary<Levels, long> counts, Levels look) => counts[look] = counts.GetValueOrDefault(look) + 1;

    private static (long Key, int At)[] Sorted(IReadOnlyList<Identity> records)
    {
        var keyed = new List<(long Key, int At)>(records.Count * 8);
        for (var i = 0; i < records.Count; i++)
            foreach (var (_, key) in BlockKeys.Of(records[i]))
                keyed.Add((key, i));
        var sorted = keyed.ToArray();
        Array.Sort(sorted);
        return sorted;
    }
}
