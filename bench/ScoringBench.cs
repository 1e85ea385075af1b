using System.Diagnostics;
using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.Bench;

/// <summary>Fit in Core alone, one core, by the demo's model.</summary>
internal static class ScoringBench
{
    public static void Run(FieldCatalogue catalogue, int leads)
    {
        var fit = new FitScore(Json.Read<ScoringModel>(File.ReadAllText("demo/setup/scoring-model.json")), catalogue);
        var records = Enumerable.Range(0, 10_000).Select(i => Record(catalogue, i)).ToArray();
        var now = Instant.FromUtc(2026, 11, 23, 12, 0);
        var hits = new int[fit.Criteria];
        foreach (var record in records)
            fit.Total(record, now, hits);

        var before = GC.GetAllocatedBytesForCurrentThread();
        var watch = Stopwatch.StartNew();
        long sum = 0;
        for (var i = 0; i < leads; i++)
            sum += fit.Total(records[i % records.Length], now, hits);
        Measure.Say($"fit in Core, {fit.Criteria} criteria, one core", leads, watch.Elapsed.TotalSeconds, "leads");
        Console.WriteLine($"  {(GC.GetAllocatedBytesForCurrentThread() - before) / (double)leads:0.0} bytes allocated a lead; mean fit {sum / (double)leads:0.0}");
    }

    private static RecordValues Record(FieldCatalogue catalogue, int i)
    {
        var record = new RecordValues(catalogue);
        record["industry"] = FieldValue.Of(new[] { "fish_farming", "port", "research", "private" }[i % 4]);
        record["country"] = FieldValue.Of(new[] { "NO", "DE", "US", "FR", "GB" }[i % 5]);
        record["sites"] = FieldValue.Of(i % 30);
        record["employees"] = FieldValue.Of(i % 400);
        record["job_title"] = FieldValue.Of(new[] { "Operations lead", "Student", "Buyer", "Technician" }[i % 3]);
        record["wants"] = FieldValue.Of(i % 2 == 0 ? "Skerry S4, oxygen probes" : "calibration visit");
        return record;
    }
}
