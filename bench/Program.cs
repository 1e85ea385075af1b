using System.Diagnostics;
using System.Text;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Npgsql;
using NpgsqlTypes;

namespace DapperLantern.Bench;

/// <summary>
/// Measures on this machine, against the plain limit in the same run. Arguments: rows of the list (default 10000), leads to score
/// (default 1000000). Needs <c>LANTERN_TEST_SERVER</c>; <c>./lantern bench</c> sets it.
/// </summary>
public static class Program
{
    private const string Database = "lantern_bench";

    public static async Task Main(string[] args)
    {
        var rows = args.Length > 0 ? int.Parse(args[0], null) : 10_000;
        var leads = args.Length > 1 ? int.Parse(args[1], null) : 1_000_000;
        var server = Environment.GetEnvironmentVariable("LANTERN_TEST_SERVER") ?? throw new InvalidOperationException("run ./lantern bench");
        await using (var connection = new NpgsqlConnection($"{server};Database=postgres"))
            await connection.ExecuteAsync($"create database {Database}");
        await using var app = Build($"{server};Database={Database}");
        await App.Program.Prepare(app);

        Console.WriteLine($"{Environment.ProcessorCount} cores, {rows} rows, {leads} leads");
        await TakingIn(app, rows);
        Scoring(app, leads);
    }

    private static WebApplication Build(string connection) =>
        App.Program.Build([$"--ConnectionStrings:Lantern={connection}", "--Demo:Enabled=true", "--Demo:Folder=demo", "--Serilog:MinimumLevel:Default=Error"]);

    // Sieve and taking in of a list, against COPY of the same leads into the same indexed table.
    private static async Task TakingIn(WebApplication app, int rows)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<LanternDb>();
        var installation = app.Services.GetRequiredService<Installation>();
        var connection = await db.Connection();
        // The reps' capacity is beside the point here: without room every lead would wait unrouted, which costs less.
        await connection.ExecuteAsync("update person set capacity = 100000000");
        var content = List(rows);
        var reading = ListFile.Detect(content).Reading!;
        var (headings, sample) = ListFile.Open(content, reading);
        var matching = ColumnMatcher.Match(installation.Catalogue, headings, [.. sample.Take(50).Select(r => r.Cells)]);
        var person = await connection.QueryFirstAsync<Guid>("select id from person");
        var delivery = Delivery.Of("bench.csv", content, reading, matching, "list-expo", person, DateTime.UtcNow);
        db.Add(delivery);
        await db.SaveChangesAsync();

        var sieve = await Time(async () =>
        {
            await using var transaction = await db.Database.BeginTransactionAsync();
            var counts = await app.Services.GetRequiredService<Sieve>().Sift(connection, delivery.Id, content, reading, matching, default);
            await transaction.CommitAsync();
            Require(counts.New == rows, $"{counts} of {rows}");
        });
        Say("sieve", rows, sieve, "rows");

        var taking = await Time(async () =>
        {
            await using var transaction = await db.Database.BeginTransactionAsync();
            var counts = await app.Services.GetRequiredService<TakeIn>().Run(connection, delivery, DateTime.UtcNow, default);
            await transaction.CommitAsync();
            Require(counts.New == rows, $"{counts} of {rows}");
        });
        Say("take in (match, score, route, task, story, outbox)", rows, taking, "rows");

        var copy = await CopyAlone(connection, delivery.Id);
        Say("COPY of the same leads into the same indexed table", rows, copy, "rows");
        Console.WriteLine($"  taking in runs at {100 * copy / taking:0} % of COPY; sieve and taking in together at {100 * copy / (taking + sieve):0} %");
    }

    // The plain limit: the same rows, without anything else, into the table with its indexes, in one transaction.
    private static async Task<double> CopyAlone(NpgsqlConnection connection, Guid delivery)
    {
        var columns = AdmissionBatch.LeadTable.Columns;
        var data = new List<object?[]>();
        await using (
            var command = new NpgsqlCommand(
                $"select {string.Join(", ", columns.Select(c => c is "custom" or "provenance" ? $"{c}::text" : c))} from lead where delivery_id = '{delivery}'",
                connection
            )
        )
        await using (var row = await command.ExecuteReaderAsync())
            while (await row.ReadAsync())
                data.Add([.. Enumerable.Range(0, columns.Length).Select(i => row.IsDBNull(i) ? null : row.GetValue(i))]);
        foreach (var row in data)
            row[0] = Guid.CreateVersion7();
        var table = new BulkTable<object?[]>("lead");
        for (var i = 0; i < columns.Length; i++)
        {
            var at = i;
            table.Column(columns[i], TypeOf(columns[i], data[0][i]), r => r[at]);
        }
        return await Time(async () =>
        {
            await using var transaction = await connection.BeginTransactionAsync();
            await table.Write(connection, data);
            await transaction.CommitAsync();
        });
    }

    private static NpgsqlDbType TypeOf(string column, object? sample) =>
        column switch
        {
            "id" or "owner_id" or "delivery_id" or "model_edition" => NpgsqlDbType.Uuid,
            "custom" or "provenance" => NpgsqlDbType.Jsonb,
            "sites" or "employees" => NpgsqlDbType.Numeric,
            "fit" or "fit_low" or "fit_high" or "engagement" => NpgsqlDbType.Integer,
            _ when column.EndsWith("_at", StringComparison.Ordinal) => NpgsqlDbType.TimestampTz,
            _ => NpgsqlDbType.Text,
        };

    // Fit in Core alone, one core, by the demo's model.
    private static void Scoring(WebApplication app, int leads)
    {
        var catalogue = app.Services.GetRequiredService<Installation>().Catalogue;
        var model = Json.Read<ScoringModel>(File.ReadAllText("demo/setup/scoring-model.json"));
        var fit = new FitScore(model, catalogue);
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
        var seconds = watch.Elapsed.TotalSeconds;
        Say($"fit in Core, {fit.Criteria} criteria, one core", leads, seconds, "leads");
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

    private static byte[] List(int rows)
    {
        var text = new StringBuilder("Name,Title,Company,Mail,Phone,Country,Sector,Sites,Interest\n");
        string[] countries = ["Norway", "UK", "Deutschland", "Sverige", "Spain", "USA", "Portugal", "Denmark"];
        for (var i = 0; i < rows; i++)
            text.Append(
                null,
                $"Person{i} Bench{i},Operations manager,Company {i / 3} Ltd,person{i}@company{i / 3}.example,+44 1632 9{i % 100000:00000},{countries[i % 8]},aquaculture,{i % 20},oxygen probes\n"
            );
        return Encoding.UTF8.GetBytes(text.ToString());
    }

    private static async Task<double> Time(Func<Task> work)
    {
        var watch = Stopwatch.StartNew();
        await work();
        return watch.Elapsed.TotalSeconds;
    }

    private static void Say(string what, int count, double seconds, string unit) => Console.WriteLine($"{what}: {seconds:0.00} s, {count / seconds:#,0} {unit} a second");

    private static void Require(bool holds, string found)
    {
        if (!holds)
            throw new InvalidOperationException($"the measurement is void: {found}");
    }
}
