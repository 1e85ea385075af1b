using System.Globalization;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Matching;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Tests.Shared;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>
/// A list of 22 columns against a base of leads: sifted, taken in with every outcome, score and route, taken back; then the rows it wrote copied
/// into the same indexed tables, which is the plain limit.
/// </summary>
internal static class IntakeBench
{
    private const int WarmRows = 4000;
    private static readonly string[] Tables = ["lead", "lead_event", "story_entry", "task", "routing_decision", "campaign_response", "match_key"];

    public static async Task Run(WebApplication app, int rows, int baseLeads)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<LanternDb>();
        var connection = await db.Connection();
        // The reps' capacity is beside the point here: without room every lead would wait unrouted, which costs less.
        await connection.ExecuteAsync("update person set capacity = 100000000");
        Measure.Say(
            "base of leads, by SQL",
            baseLeads,
            await Measure.Time(() => Base(connection, baseLeads, app.Services.GetRequiredService<WorkspaceConfiguration>().Current.Catalogue)),
            "leads"
        );
        // A server that has been up has met lists before; what its first one costs more is said beside.
        var (first, _) = await Keep(app, WarmRows, baseLeads);
        Measure.Say("sifting the first list after a start", WarmRows, await Sift(app, first), "rows");
        await connection.ExecuteAsync("delete from import where id = @first", new { first });

        var (id, kept) = await Keep(app, rows, baseLeads);
        Measure.Say("reading and keeping the file", rows, kept, "rows");
        Console.WriteLine($"  memory before {Measure.PeakMemory()} MB");
        var sift = await Sift(app, id);
        var counts = await Counts(connection, id);
        Measure.Require(counts.Read == rows && counts.Balances, counts.ToString());
        Measure.Say("sifting", rows, sift, "rows");
        Console.WriteLine($"  {counts}; peak memory {Measure.PeakMemory()} MB, {Measure.Collections()}");

        await connection.ExecuteAsync("analyze", commandTimeout: 3600, commandType: System.Data.CommandType.Text);
        await connection.ExecuteAsync("update import set state = 'taking', started_at = now() where id = @id", new { id });
        var taking = await Measure.Time(() => app.Services.Scoped<TakeIn>().Run(connection.Over(), id, default));
        var made = await connection.QuerySingleAsync<int>("select count(*)::int from lead where import_id = @id", new { id });
        Measure.Require(made == counts.New + counts.Contact + counts.Account, $"{made} leads of {counts}");
        Measure.Say("taking in: match, merge, score, route, task, story", counts.Takeable, taking, "rows");
        Console.WriteLine($"  peak memory {Measure.PeakMemory()} MB");

        var written = await Export(connection, id);
        await connection.ExecuteAsync("update import set state = 'taking_back' where id = @id", new { id });
        Measure.Say("taking back", counts.Takeable, await Measure.Time(() => app.Services.Scoped<TakeBack>().Run(connection.Over(), id, DateTime.UtcNow, default)), "rows");
        Measure.Require(await connection.QuerySingleAsync<int>("select count(*)::int from lead where import_id = @id", new { id }) == 0, "leads are left");
        foreach (var table in Tables)
            await connection.ExecuteAsync($"vacuum analyze {table}", commandTimeout: 3600);

        var copy = await Measure.Time(() => Copy(connection, written));
        Measure.Say("COPY of the same rows into the same seven indexed tables, one transaction", counts.Takeable, copy, "rows");
        Console.WriteLine($"  taking in runs at {100 * copy / taking:0} % of COPY; with the sifting at {100 * copy / (taking + sift):0} %; peak memory {Measure.PeakMemory()} MB");
        foreach (var (path, _) in written.Values)
            File.Delete(path);
    }

    // Drops a list as a person would, and says how long reading and keeping it took.
    private static async Task<(Guid Import, double Seconds)> Keep(WebApplication app, int rows, int baseLeads)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<LanternDb>();
        var connection = await db.Connection();
        var file = WriteList(rows, baseLeads);
        var person = await connection.QueryFirstAsync<Guid>("select id from person");
        var id = Guid.Empty;
        var seconds = await Measure.Time(async () =>
        {
            await using var content = File.OpenRead(file);
            var (import, _) = await app.Services.Scoped<Imports>().Open(connection.Over(), "bench.csv", content, person, DateTime.UtcNow, "list-expo");
            await Imports.Save(db, import!, content, default);
            id = import!.Id;
        });
        File.Delete(file);
        return (id, seconds);
    }

    private static async Task<double> Sift(WebApplication app, Guid id)
    {
        await using var connection = await app.Services.GetRequiredService<NpgsqlDataSource>().OpenConnectionAsync();
        return await Measure.Time(() => app.Services.Scoped<Sieve>().Run(connection.Over(), id, DateTime.UtcNow, default));
    }

    private static async Task<SiftCounts> Counts(NpgsqlConnection connection, Guid id) =>
        (await connection.QuerySingleAsync<Import>("select * from import where id = @id", new { id })).Counts;

    // Leads as the list's own, so that rows find them by mail address.
    private static async Task Base(NpgsqlConnection connection, int leads, FieldCatalogue catalogue)
    {
        await connection.ExecuteAsync(
            """
            insert into lead (id, first_name, last_name, job_title, department, company, company_key, website, email, phone, mobile, street, postal_code, city, country, language, industry,
              sites, employees, revenue, interest, state, source, fit, fit_low, fit_high, engagement, next_move, created_at, last_touch_at)
            select gen_random_uuid(), translate(substr(md5('b' || i), 1, 7), '0123456789', 'ghiklnorst'), translate(substr(md5('p' || i), 1, 8), '0123456789', 'ghiklnorst'), 'Operations manager', 'Works', 'Base company ' || i / 3 || ' Ltd', 'base company ' || i / 3, 'base' || i / 3 || '.example',
              'base' || i || '@base' || i / 3 || '.example', '+4416329' || lpad(i::text, 7, '0'), null, i || ' Quay', 'AB1 2CD', 'Oldhaven', 'GB', 'en', 'port', i % 9, i % 300, i * 10, 'buoys',
              case when i % 4 = 0 then 'in_work' else 'new' end, 'list-circular', i % 100, 0, 100, i % 50, 'park', now() - i * interval '1 minute', now() - i * interval '1 minute'
            from generate_series(1, @leads) i
            """,
            new { leads },
            commandTimeout: 3600
        );
        await MatchKeys.Rebuild(connection.Over(), catalogue);
        await connection.ExecuteAsync("vacuum analyze", commandTimeout: 3600, commandType: System.Data.CommandType.Text);
    }

    // A name of its own for each number, as the database makes it for the base: letters by chance, as unlike one another as names are.
    private static string NameOf(string seed, int letters) =>
        string.Concat(
            Convert
                .ToHexStringLower(System.Security.Cryptography.MD5.HashData(System.Text.Encoding.ASCII.GetBytes(seed)))[..letters]
                .Select(c => char.IsDigit(c) ? "ghiklnorst"[c - '0'] : c)
        );

    // Of a hundred rows: 6 add to known leads, 3 are duplicates in the file, 3 cannot be reached, 1 is barred, the rest are new.
    private static string WriteList(int rows, int baseLeads)
    {
        var path = Path.Combine(Path.GetTempPath(), $"lantern-bench-{Environment.ProcessId}.csv");
        using var text = new StreamWriter(path);
        text.WriteLine(
            "First name,Last name,Job title,Department,Company,Website,Mail,Phone,Mobile,Street,Postal code,Place,State,Country,Language,Sector,Sites,Staff,Revenue,Interest,Needed by,Decides"
        );
        string[] countries = ["Norway", "UK", "Deutschland", "Sverige", "Spain", "USA", "Portugal", "Denmark"];
        string[] numbers =
        [
            "+47 22 {0:000} {1:000}",
            "+44 1632 9{0:000}{1:00}",
            "+49 30 23125 {0:000}",
            "+46 8 465 {0:000} {1:00}",
            "+34 91 {0:000} {1:0000}",
            "+1 212 555 {1:0000}",
            "+351 21 {0:000} {1:0000}",
            "+45 32 12 {0:00} {1:00}",
        ];
        for (var i = 0; i < rows; i++)
        {
            var (kind, land) = (i % 100, i % 8);
            var mail =
                kind is >= 10 and < 16 ? $"base{1 + (i * 7L % baseLeads)}@base{(1 + (i * 7L % baseLeads)) / 3}.example"
                : kind is >= 20 and < 23 && i > 100 ? $"person{i - 15}@company{(i - 15) / 3}.example"
                : kind is >= 30 and < 33 ? ""
                : kind == 40 ? $"person{i}@bluefathom-sensing.example"
                : $"person{i}@company{i / 3}.example";
            var (first, last) =
                kind is >= 10 and < 16 ? (NameOf($"b{1 + (i * 7L % baseLeads)}", 7), NameOf($"p{1 + (i * 7L % baseLeads)}", 8))
                : kind is >= 20 and < 23 && i > 100 ? (NameOf($"g{i - 15}", 7), NameOf($"f{i - 15}", 8))
                : (NameOf($"g{i}", 7), NameOf($"f{i}", 8));
            var phone = kind is >= 10 and < 16 or >= 20 and < 23 or >= 30 and < 33 ? "" : string.Format(CultureInfo.InvariantCulture, numbers[land], i / 10000 % 1000, i % 10000);
            text.WriteLine(
                $"{first},{last},Operations manager,Works,Company {i / 3} Ltd,www.company{i / 3}.example,{mail},{phone},,{i} Quay,{10000 + i % 90000},Oldhaven,,{countries[land]},English,aquaculture,{i % 20},{i % 500},\"EUR 1,{i % 900 + 100}\",oxygen probes,{1 + i % 28:00}/03/2027,{(i % 2 == 0 ? "ja" : "nein")}"
            );
        }
        return path;
    }

    private static async Task<Dictionary<string, (string Path, string Columns)>> Export(NpgsqlConnection connection, Guid id)
    {
        var written = new Dictionary<string, (string, string)>();
        foreach (var table in Tables)
        {
            var columns = string.Join(
                ", ",
                (
                    await connection.QueryAsync<string>(
                        "select column_name from information_schema.columns where table_name = @table and table_schema = 'public' and is_identity = 'NO' order by ordinal_position",
                        new { table }
                    )
                ).Select(c => $"\"{c}\"")
            );
            var mine = table is "lead" or "lead_event" or "story_entry" or "campaign_response"
                ? $"import_id = '{id}'"
                : $"{(table is "match_key" ? "record_id" : "lead_id")} in (select id from lead where import_id = '{id}')";
            var path = Path.Combine(Path.GetTempPath(), $"lantern-bench-{Environment.ProcessId}-{table}");
            await using var from = await connection.BeginRawBinaryCopyAsync($"copy (select {columns} from {table} where {mine}) to stdout (format binary)");
            await using var to = File.Create(path);
            await from.CopyToAsync(to);
            written[table] = (path, columns);
        }
        return written;
    }

    private static async Task Copy(NpgsqlConnection connection, Dictionary<string, (string Path, string Columns)> written)
    {
        await using var transaction = await connection.BeginTransactionAsync();
        foreach (var (table, (path, columns)) in written)
        {
            await using var to = await connection.BeginRawBinaryCopyAsync($"copy {table} ({columns}) from stdin (format binary)");
            await using var from = File.OpenRead(path);
            await from.CopyToAsync(to, 1 << 16);
        }
        await transaction.CommitAsync();
    }
}
