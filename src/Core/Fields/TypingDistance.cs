namespace DapperLantern.Core.Fields;

/// <summary>How many slips of a typing hand lie between two texts.</summary>
public static class TypingDistance
{
    /// <summary>
    /// Fewest insertions, deletions, replacements and swaps of neighbours that turn one text into the other (optimal string alignment; Boytsov, 2011), or
    /// <paramref name="most"/> + 1 when there are more than that many. Symmetric.
    /// </summary>
    public static int Within(ReadOnlySpan<char> a, ReadOnlySpan<char> b, int most)
    {
        while (a.Length > 0 && b.Length > 0 && a[0] == b[0])
        {
            a = a[1..];
            b = b[1..];
        }
        while (a.Length > 0 && b.Length > 0 && a[^1] == b[^1])
        {
            a = a[..^1];
            b = b[..^1];
        }
        if (Math.Abs(a.Length - b.Length) > most)
            return most + 1;
        if (a.Length == 0 || b.Length == 0)
            return Math.Max(a.Length, b.Length);
        return b.Length > 200 ? most + 1 : Rows(a, b, most);
    }

    private static int Rows(ReadOnlySpan<char> a, ReadOnlySpan<char> b, int most)
    {
        Span<int> before = stackalloc int[b.Length + 1];
        Span<int> last = stackalloc int[b.Length + 1];
        Span<int> row = stackalloc int[b.Length + 1];
        for (var j = 0; j <= b.Length; j++)
            last[j] = j;
        var leastBefore = 0;
        for (var i = 1; i <= a.Length; i++)
        {
            row[0] = i;
            var least = i;
            for (var j = 1; j <= b.Length; j++)
            {
                row[j] = Math.Min(Math.Min(row[j - 1], last[j]) + 1, last[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1));
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                    row[j] = Math.Min(row[j], before[j - 2] + 1);
                least = Math.Min(least, row[j]);
            }
            // A swap reaches two rows back.
            if (least > most && leastBefore > most)
                return most + 1;
            leastBefore = least;
            var free = before;
            before = last;
            last = row;
            row = free;
        }
        return Math.Min(last[b.Length], most + 1);
    }
}
