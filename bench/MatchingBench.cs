using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;

namespace DapperLantern.Bench;

/// <summary>How well the matcher tells duplicates on labelled sets it has not seen, and how fast it looks through a large list.</summary>
internal static class MatchingBench
{
    public static void Run(FieldCatalogue catalogue, int people, int seeds, int first)
    {
        foreach (var (seed, hard) in Enumerable.Range(first, seeds).SelectMany(s => new[] { (s, false), (s, true) }))
        {
            var set = new MatchingSet(seed, hard).Make(people);
            var records = set.Select(r => MatchingSet.Read(r, catalogue)).ToList();
            var truth = set.Select(r => r.Person).ToList();
            Console.WriteLine($"labelled set {seed}, {(hard ? "hard" : "usual")}: {people:N0} people, {set.Count:N0} records, {TruePairs(truth):N0} true pairs");
            Keys(set, catalogue);
            var shares = Pairs.Shares(records);
            Tell("  shipped odds", records, truth, new Matcher(MatchModel.Shipped, records.Count, shares));
            var estimate = MatchEstimator.Run(MatchModel.Shipped, Pairs.ByChance(records, 1_000_000, new Random(1).Next), Pairs.Looks(records));
            Tell("  odds learnt from the set itself, unlabelled", records, truth, new Matcher(estimate.Model, records.Count, shares));
        }
    }

    /// <summary>Records of which the last hundred thousand come in: each is looked for among all before it.</summary>
    public static void Large(FieldCatalogue catalogue, int people)
    {
        const int Arriving = 100_000;
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var set = new MatchingSet(9, false).Make(people);
        var records = set.Select(r => MatchingSet.Read(r, catalogue)).ToList();
        var truth = set.Select(r => r.Person).ToList();
        Console.WriteLine($"large set: {records.Count:N0} records made and read in {clock.Elapsed.TotalSeconds:0} s");
        var matcher = new Matcher(MatchModel.Shipped, records.Count, Pairs.Shares(records));
        clock.Restart();
        var found = Pairs.Find(records, matcher, records.Count - Arriving);
        var linked = found.Where(p => p.Bits >= matcher.Bars.Link).ToList();
        Console.WriteLine(
            $"  {Arriving:N0} against {records.Count - Arriving:N0} and among themselves: {clock.Elapsed.TotalSeconds:0.0} s, keys sorted and pairs weighed on one core; peak memory {Measure.PeakMemory()} MB"
        );
        Console.WriteLine(
            $"  bars {matcher.Bars.Ask} and {matcher.Bars.Link} bits: {linked.Count:N0} pairs linked, {linked.Count(p => truth[p.A] != truth[p.B]):N0} of them wrong; {found.Count - linked.Count:N0} more asked about"
        );
    }

    private static void Keys(List<Labelled> set, FieldCatalogue catalogue)
    {
        var fresh = set.Select(r => MatchingSet.Read(r, catalogue)).ToList();
        var (before, clock) = (GC.GetAllocatedBytesForCurrentThread(), System.Diagnostics.Stopwatch.StartNew());
        var keys = fresh.Sum(r => BlockKeys.Kept(r).Count());
        Console.WriteLine(
            $"  keys: {(double)keys / fresh.Count:0.0} a record, {fresh.Count / clock.Elapsed.TotalSeconds:N0} records a second, {(GC.GetAllocatedBytesForCurrentThread() - before) / fresh.Count:N0} bytes allocated a record"
        );
    }

    private static long TruePairs(List<int> truth) => truth.GroupBy(t => t).Sum(g => (long)g.Count() * (g.Count() - 1) / 2);

    private static void Tell(string name, List<Identity> records, List<int> truth, Matcher matcher)
    {
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var pairs = Pairs.Find(records, matcher);
        var took = clock.Elapsed.TotalSeconds;
        var (linked, asked) = (pairs.Where(p => p.Bits >= matcher.Bars.Link).ToList(), pairs);
        var all = TruePairs(truth);
        var blocked = Pairs.Candidates(records).Count(p => truth[p.A] == truth[p.B]);
        Console.WriteLine(
            $"{name}: bars {matcher.Bars.Ask} and {matcher.Bars.Link} bits; {(double)blocked / all:P2} of true pairs share a key; {records.Count / took:N0} records a second"
        );
        Console.WriteLine($"    linked:          {Quality(linked, truth, all)}");
        Console.WriteLine($"    as clusters:     {Quality(Closed(linked, records.Count), truth, all)}");
        Console.WriteLine($"    linked or asked: {Quality(asked, truth, all)}");
        if (Environment.GetEnvironmentVariable("LANTERN_SHOW") is not null)
            Show(pairs, records, truth, matcher);
    }

    // Who is linked to one is linked to all that one is linked to.
    private static List<WeighedPair> Closed(List<WeighedPair> linked, int records) =>
        [.. DuplicateClusters.Of(records, linked.Select(l => (l.A, l.B))).SelectMany(c => c.SelectMany((a, i) => c.Skip(i + 1).Select(b => new WeighedPair(a, b, 0))))];

    private static string Quality(List<WeighedPair> pairs, List<int> truth, long all)
    {
        var right = pairs.Count(p => truth[p.A] == truth[p.B]);
        var (precision, recall) = ((double)right / Math.Max(1, pairs.Count), (double)right / all);
        return $"precision {precision:0.0000}, recall {recall:0.0000}, F1 {2 * precision * recall / (precision + recall):0.0000} ({pairs.Count:N0} pairs, {pairs.Count - right:N0} wrong)";
    }

    private const int Shown = 60;

    // For looking at what goes wrong.
    private static void Show(List<WeighedPair> pairs, List<Identity> records, List<int> truth, Matcher matcher)
    {
        void Line(string kind, int a, int b) =>
            Console.WriteLine(
                $"      {kind} {Text(records[a])}  ~  {Text(records[b])}: {string.Join("; ", matcher.Compare(records[a], records[b]).Evidence.Select(e => $"{e.Words} {e.Bits:+0.0;-0.0}"))}"
            );
        foreach (var p in pairs.Where(p => p.Bits < matcher.Bars.Link + 3))
            Console.WriteLine(
                $"      NEAR {(truth[p.A] == truth[p.B] ? "right" : "wrong")} {p.Bits:0.0} {string.Join("; ", matcher.Compare(records[p.A], records[p.B]).Evidence.Select(e => $"{e.Of}={e.Words}"))}"
            );
        foreach (var p in pairs.Where(p => p.Bits >= matcher.Bars.Link && truth[p.A] != truth[p.B]).Take(Shown))
            Line("WRONG", p.A, p.B);
        var linked = pairs.Where(p => p.Bits >= matcher.Bars.Link).Select(p => (p.A, p.B)).ToHashSet();
        var by = truth.Select((t, i) => (t, i)).GroupBy(x => x.t).Where(g => g.Count() > 1);
        foreach (var (a, b) in by.SelectMany(g => g.SelectMany(x => g.Where(y => y.i > x.i).Select(y => (x.i, y.i)))).Where(p => !linked.Contains(p)).Take(Shown))
            Line("MISSED", a, b);
    }

    private static string Text(Identity i) => $"[{i.FirstName}|{i.LastName}|{i.Email}|{i.Phone} {i.Mobile}|{i.Company}|{i.Domain}|{i.Street}|{i.PostalCode} {i.City} {i.Country}]";
}
