namespace DapperLantern.Core.Matching;

/// <summary>Groups what is linked: who is linked to one belongs with all that one is linked to.</summary>
public static class DuplicateClusters
{
    /// <summary>Clusters of two and more, each in rising order, by their first member.</summary>
    /// <param name="records">How many records there are, numbered from 0.</param>
    public static List<List<int>> Of(int records, IEnumerable<(int A, int B)> links)
    {
        var parent = Enumerable.Range(0, records).ToArray();
        foreach (var (a, b) in links)
        {
            var (x, y) = (Root(parent, a), Root(parent, b));
            // The lower number stands for the cluster, so that the order of links does not matter.
            parent[Math.Max(x, y)] = Math.Min(x, y);
        }
        var clusters = new SortedDictionary<int, List<int>>();
        for (var i = 0; i < records; i++)
            if (Root(parent, i) is var root && (root != i || parent[i] != i))
                (clusters.TryGetValue(root, out var found) ? found : clusters[root] = [root]).Add(i);
        return [.. clusters.Values];
    }

    private static int Root(int[] parent, int of)
    {
        while (parent[of] != of)
            of = parent[of] = parent[parent[of]];
        return of;
    }
}
