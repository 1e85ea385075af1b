using System.Diagnostics;
using System.IO.Compression;
using System.Net;
using System.Text.Json;
using System.Text.Json.Nodes;
using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Handover;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.Matching;
using DapperLantern.Tests.Shared;
using Npgsql;

namespace DapperLantern.App.Tests.Data;

/// <summary>
/// A workspace of an older edition, in which people had worked, is brought up to date by the migrations, and all that was done in it can still be undone. The dumps stand in <c>Editions</c>;
/// <c>LANTERN_WRITE_EDITION=NAME</c> writes one of the edition at hand.
/// </summary>
public sealed class OlderEditionTests
{
    private static readonly string Folder = Path.Combine(TestServer.Root, "tests", "App.Tests", "Data", "Editions");

    // What the program works out anew when it touches a record.
    private static readonly string[] Reckoned = ["version", "scored_at", "look_again_at", "decay", "move_until", "engagement", "band", "model_edition"];

    /// <summary>Something that was done, with the way back, and what the records were before: JSON of rows.</summary>
    private sealed record Done(string What, string By, string Method, string Path, string? Body, string Records, string Was);

    public static TheoryData<string> Editions => [.. Directory.GetFiles(Folder, "*.sql.br").Select(f => Path.GetFileName(f).Replace(".sql.br", "", StringComparison.Ordinal))];

    [Theory]
    [MemberData(nameof(Editions))]
    public async Task WhatWasDoneInAnOlderEditionCanBeUndoneInThisOne(string edition)
    {
        await using var packed = File.OpenRead(Path.Combine(Folder, $"{edition}.sql.br"));
        using var sql = new StreamReader(new BrotliStream(packed, CompressionMode.Decompress));
        await using var server = await TestServer.Restore(await sql.ReadToEndAsync());
        await using var connection = await server.Connect();
        foreach (var done in Json.Read<List<Done>>(await File.ReadAllTextAsync(Path.Combine(Folder, $"{edition}.json"))))
        {
            var client = await server.SignIn(done.By);
            var answer = await client.Ask(done.Method, done.Path, done.Body is null ? null : JsonNode.Parse(done.Body));
            ((int)answer.Status).ShouldBeLessThan(300, $"{done.What}: {answer.Body}");
            if (done.Path.StartsWith("/api/bulk-edits/", StringComparison.Ordinal))
                (await client.Ended(answer.Read<BulkEditView>())).State.ShouldBe("undone", done.What);
            Wrong(done.Was, await connection.QuerySingleAsync<string>(done.Records)).ShouldBeEmpty(done.What);
        }
        (await App.Data.Records.RecordRegistry.Orphans(connection.Over())).ShouldBeEmpty();
    }

    // Columns that were there then have the values they had; others may have come.
    private static List<string> Wrong(string was, string now)
    {
        var (before, after) = (JsonNode.Parse(was)!.AsArray(), JsonNode.Parse(now)!.AsArray());
        if (before.Count != after.Count)
            return [$"{before.Count} rows were there, {after.Count} are"];
        return
        [
            .. before
                .Zip(after)
                .SelectMany(rows =>
                    rows.First!.AsObject()
                        .Where(c => !Reckoned.Contains(c.Key) && rows.Second!.AsObject().ContainsKey(c.Key) && !JsonNode.DeepEquals(c.Value, rows.Second[c.Key]))
                        .Select(c => $"{c.Key} of {rows.First["id"]} was {c.Value?.ToJsonString()}, is {rows.Second![c.Key]?.ToJsonString()}")
                ),
        ];
    }

    [Fact]
    public async Task AnEditionIsWrittenWhereThatIsAskedFor()
    {
        if (Environment.GetEnvironmentVariable("LANTERN_WRITE_EDITION") is not { Length: > 0 } name)
        {
            Editions.Count.ShouldBeGreaterThan(0);
            return;
        }
        await using var server = await TestServer.Start();
        var done = await new Worked(server).Work();
        await File.WriteAllTextAsync(Path.Combine(Folder, $"{name}.json"), JsonSerializer.Serialize(done, new JsonSerializerOptions(Json.Options) { WriteIndented = true }));
        await using var packed = File.Create(Path.Combine(Folder, $"{name}.sql.br"));
        await using var brotli = new BrotliStream(packed, CompressionLevel.SmallestSize);
        await using var text = new StreamWriter(brotli);
        await text.WriteAsync(await Dump(server.ConnectionString));
    }

    private static async Task<string> Dump(string connection)
    {
        var at = new NpgsqlConnectionStringBuilder(connection);
        var start = new ProcessStartInfo("/usr/lib/postgresql/15/bin/pg_dump") { RedirectStandardOutput = true };
        foreach (var word in new[] { "--no-owner", "--no-privileges", "--inserts", "--rows-per-insert=200", "-h", at.Host!, "-p", $"{at.Port}", "-U", at.Username!, at.Database! })
            start.ArgumentList.Add(word);
        start.Environment["PGPASSWORD"] = at.Password;
        using var process = Process.Start(start)!;
        var text = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        process.ExitCode.ShouldBe(0);
        // What is meant for psql alone.
        return string.Join('\n', text.Split('\n').Where(l => !l.StartsWith('\\')));
    }

    /// <summary>Does everything that can be undone, each with records of its own, and notes the way back.</summary>
    private sealed class Worked(TestServer server)
    {
        private readonly List<Done> _done = [];
        private TestClient _ingrid = null!;
        private TestClient _lucie = null!;
        private NpgsqlConnection _connection = null!;
        private readonly Dictionary<string, int> _taken = [];

        public async Task<List<Done>> Work()
        {
            (_ingrid, _lucie) = (await server.SignIn("ingrid.brekke"), await server.SignIn("lucie.armand"));
            _connection = await server.Connect();
            await using var connection = _connection;
            await Import();
            foreach (var kind in new[] { "lead", "contact", "account" })
                await Merge(kind);
            await HandOver();
            await Move();
            await Respond();
            await Fill();
            await Bulk(
                "a fact of many",
                new
                {
                    kind = "fact",
                    field = "industry",
                    value = "brewery",
                }
            );
            await Bulk("a tag of many", new { kind = "tag", key = await Text("select key from tag where not retired and merged_into is null order by key limit 1") });
            await Bulk("many given", new { kind = "give", to = new[] { await Text("select id::text from person where user_name = 'tor.vik'") } });
            await Bulk(
                "many moved",
                new
                {
                    kind = "state",
                    state = "disqualified",
                    reason = "no_match",
                }
            );
            await Bulk("many removed", new { kind = "remove" });
            await Bulk("many handed over", new { kind = "hand_over", key = await Text("select key from pipeline order by position limit 1") }, "qualified");
            return _done;
        }

        private Task<string> Text(string sql) => _connection.QuerySingleAsync<string>(sql);

        private static string Rows(string table, IEnumerable<Guid> ids) =>
            $"select coalesce(jsonb_agg(to_jsonb(t) order by t.id), '[]')::text from {table} t where t.id in ({string.Join(", ", ids.Select(i => $"'{i}'"))})";

        // Leads that nothing else of this is done with.
        private async Task<Guid[]> Own(int count, string state = "in_work")
        {
            var from = _taken.GetValueOrDefault(state);
            var ids = (
                await _connection.QueryAsync<Guid>(
                    "select id from lead where state = @state and owner_id <> (select id from person where user_name = 'tor.vik') order by number offset @from limit @count",
                    new
                    {
                        state,
                        from,
                        count,
                    }
                )
            ).ToArray();
            ids.Length.ShouldBe(count);
            _taken[state] = from + count;
            return ids;
        }

        private async Task Note(string what, string records, Func<Task<(string Method, string Path, object? Body)>> act, string by = "ingrid.brekke")
        {
            var was = await Text(records);
            var (method, path, body) = await act();
            (await Text(records)).ShouldNotBe(was, what);
            _done.Insert(0, new Done(what, by, method, path, body is null ? null : Json.Write(body), records, was));
        }

        private Task Import() =>
            Note(
                "a list taken in",
                "select coalesce(jsonb_agg(to_jsonb(t) order by t.id), '[]')::text from lead t where t.email like '%@edition.example'",
                async () =>
                {
                    var list =
                        "First name,Last name,Mail,Company,Country\nEdda,Ystad,edda@edition.example,Ystad Verft,Norway\nOdd,Ystad,odd@edition.example,Ystad Verft,Norway\n"u8.ToArray();
                    var sieve = (await _ingrid.Drop("edition.csv", list)).Read<SieveView>();
                    (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in")).Status.ShouldBe(HttpStatusCode.OK);
                    return ("POST", $"/api/imports/{sieve.Import.Id}/take-back", null);
                }
            );

        private async Task Merge(string kind)
        {
            var pair = kind == "lead" ? await Own(2) : [.. await _connection.QueryAsync<Guid>($"select id from {kind} order by id desc limit 2")];
            var duplicate = Guid.NewGuid();
            await _connection.ExecuteAsync(
                """
                insert into duplicate (id, kind, a, b, bits, sure, evidence, state, found_at) values (@duplicate, @kind, least(@a, @b), greatest(@a, @b), 15, false, '[]', 'open', now())
                on conflict (a, b) do update set id = @duplicate, state = 'open'
                """,
                new
                {
                    duplicate,
                    kind,
                    a = pair[0],
                    b = pair[1],
                }
            );
            await Note(
                $"two {kind}s merged",
                Rows(kind, pair),
                async () =>
                {
                    var merged = (await _ingrid.Post($"/api/duplicates/{duplicate}/merge", new MergeOrder(pair[0], []))).Read<MergeDone>();
                    return ("POST", $"/api/merges/{merged.Merge}/take-apart", null);
                }
            );
        }

        private async Task HandOver()
        {
            var lead = (await Own(1, "qualified"))[0];
            await Note(
                "a lead handed over",
                Rows("lead", [lead]),
                async () =>
                {
                    var sheet = await _ingrid.Read<HandoverPreview>($"/api/leads/{lead}/handover");
                    var proposal = sheet.Proposals[0];
                    var order = new HandoverOrder(
                        sheet.Accounts.FirstOrDefault(a => a.Same)?.Id,
                        false,
                        null,
                        [],
                        proposal.Pipeline,
                        proposal.Name,
                        1000,
                        proposal.Currency,
                        proposal.ExpectedClose
                    )
                    {
                        Role = "",
                    };
                    (await _ingrid.Post($"/api/leads/{lead}/handover", order)).Status.ShouldBe(HttpStatusCode.OK);
                    return ("POST", $"/api/leads/{lead}/handover/take-back", null);
                }
            );
        }

        private async Task Move()
        {
            var lead = (await Own(1))[0];
            await Note(
                "a state changed",
                Rows("lead", [lead]),
                async () =>
                {
                    var version = (await _ingrid.Read<LeadSheet>($"/api/leads/{lead}")).Version;
                    (await _ingrid.Put($"/api/leads/{lead}/state", new { state = "on_hold", wakeAt = DateTime.UtcNow.AddYears(5) }, version)).Status.ShouldBe(HttpStatusCode.OK);
                    return ("POST", $"/api/leads/{lead}/state/undo", null);
                }
            );
        }

        private async Task Respond()
        {
            var leads = await Own(2);
            var campaign = await Text("select key from campaign where not retired order by key limit 1");
            await Note(
                "responses recorded",
                $"select coalesce(jsonb_agg(to_jsonb(t) order by t.id), '[]')::text from campaign_response t where t.lead_id in ('{leads[0]}', '{leads[1]}')",
                async () =>
                {
                    var recorded = (await _ingrid.Post($"/api/campaigns/{campaign}/responses", new ResponseOrder("sent", leads))).Read<ResponsesRecorded>();
                    return ("DELETE", $"/api/campaigns/{campaign}/responses/{recorded.Entry}", null);
                }
            );
        }

        private async Task Fill()
        {
            var posted = (
                await _connection.QueryAsync<Guid>("select lead_id from single_arrival where form_key = 'price-guide' and lead_id is not null order by at limit 3")
            ).ToArray();
            await _connection.ExecuteAsync("update single_arrival set raw = raw || '{\"water_body\": \"Fjord\"}' where lead_id = any(@posted)", new { posted });
            await Note(
                "a field filled from earlier posts",
                Rows("lead", posted),
                async () =>
                {
                    var filled = (await _lucie.Post("/api/forms/price-guide/backfill", new { field = "water_body" })).Read<BackfillDone>();
                    return ("DELETE", $"/api/backfills/{filled.Id}", null);
                },
                "lucie.armand"
            );
        }

        private async Task Bulk(string what, object act, string state = "in_work")
        {
            var leads = await Own(2, state);
            await Note(
                what,
                Rows("lead", leads) is var records && what == "a tag of many"
                    ? $"select coalesce(jsonb_agg(to_jsonb(t) order by t.lead_id, t.tag_key), '[]')::text from lead_tag t where t.lead_id in ('{leads[0]}', '{leads[1]}')"
                    : records,
                async () =>
                {
                    var done = await _ingrid.Ended((await _ingrid.Post("/api/bulk-edits", new { act, leads })).Read<BulkEditView>());
                    (done.State, done.Changed > 0).ShouldBe(("done", true), what);
                    return ("POST", $"/api/bulk-edits/{done.Id}/undo", null);
                }
            );
        }
    }
}
