using System.Diagnostics;
using System.Net.Http.Json;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.Matching;
using DapperLantern.App.Setup;
using DapperLantern.Bench.Fuzz;
using DapperLantern.Core.Leads.Bulk;
using DapperLantern.Tests.Shared;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>
/// Handing over among a million leads, two hundred thousand accounts and as many contacts, as a signed-in person does it over HTTP: how soon the sheet is there, how soon a handover is
/// done, how long a thousand take at once; against the bare statements that write the same rows.
/// </summary>
internal static class HandoverBench
{
    private const int Turns = 250;
    private const int AtOnce = 1000;

    /// <summary>Makes the base, before anything works on it.</summary>
    public static async Task Fill(WebApplication app, int leads, int accounts)
    {
        await using var connection = await app.Services.GetRequiredService<NpgsqlDataSource>().OpenConnectionAsync();
        Measure.Say("base of leads, by SQL", leads, await Measure.Time(() => WorklistBench.Base(connection, leads)), "leads");
        Measure.Say("base of accounts and contacts with their keys", accounts, await Measure.Time(() => Directory(app, connection, accounts)), "accounts");
    }

    public static async Task Run(WebApplication app)
    {
        await using var connection = await app.Services.GetRequiredService<NpgsqlDataSource>().OpenConnectionAsync();
        using var http = await Served.SignIn(Served.Address(app), "ingrid.brekke", TimeSpan.FromMinutes(5));
        var ready = (
            await connection.QueryAsync<Guid>(
                "select id from lead where state = 'qualified' and email like 'base%' order by md5(id::text) limit @most",
                new { most = Turns * 2 + AtOnce }
            )
        ).ToList();
        await Sheets(http, [.. ready.Take(Turns)]);
        await Handovers(http, [.. ready.Take(Turns)]);
        await ByHand(connection, [.. ready.Skip(Turns).Take(Turns)]);
        await Together(http, [.. ready.Skip(Turns * 2)]);
        await Lanes(http, connection);
    }

    private static async Task Directory(WebApplication app, NpgsqlConnection connection, int accounts)
    {
        await connection.ExecuteAsync(
            """
            create temp table made as select gen_random_uuid() as account, gen_random_uuid() as contact, i from generate_series(1, @accounts) i;
            insert into account (id, name, company_key, domain, country, created_at, facts)
              select account, 'Base company ' || i * 2 || ' Ltd', 'base company ' || i * 2, 'base' || i * 2 || '.example', 'GB', now(),
                jsonb_build_object('company', 'Base company ' || i * 2 || ' Ltd', 'country', 'GB', 'industry', 'port', 'city', 'Oldhaven') from made;
            insert into contact (id, account_id, name, email, created_at, facts)
              select contact, account, 'Basis' || i * 6 + 1 || ' Person' || i * 6 + 1, 'base' || i * 6 + 1 || '@base' || i * 2 || '.example', now(),
                jsonb_build_object('first_name', 'Basis' || i * 6 + 1, 'last_name', 'Person' || i * 6 + 1, 'email', 'base' || i * 6 + 1 || '@base' || i * 2 || '.example') from made;
            """,
            new { accounts },
            commandTimeout: 3600
        );
        var catalogue = app.Services.GetRequiredService<WorkspaceConfiguration>().Current.Catalogue;
        foreach (var some in (await connection.QueryAsync<Guid>("select contact from made")).Chunk(2000))
            await MatchKeys.WriteContacts(connection.Over(), some, catalogue);
        // As a base stands that has been worked with for a while, not as one that was filled this minute.
        await connection.ExecuteAsync("vacuum analyze", commandTimeout: 3600, commandType: System.Data.CommandType.Text);
        await connection.ExecuteAsync("checkpoint", commandTimeout: 3600, commandType: System.Data.CommandType.Text);
    }

    private static void Say(string what, List<double> times) => Console.WriteLine($"{what}: median {Measure.At(times, 0.5):0.0} ms, p95 {Measure.At(times, 0.95):0.0} ms");

    private static async Task Sheets(HttpClient http, Guid[] leads)
    {
        var times = new List<double>();
        foreach (var lead in leads)
            times.Add(await Measure.Time(async () => await http.GetStringAsync($"/api/leads/{lead}/handover")) * 1000);
        Say($"the handover sheet of a lead, over HTTP ({leads.Length - 20} leads, after 20)", [.. times.Skip(20)]);
    }

    private static async Task Handovers(HttpClient http, Guid[] leads)
    {
        var (times, linked) = (new List<double>(), 0);
        foreach (var lead in leads)
        {
            var sheet = (await http.GetFromJsonAsync<HandoverPreview>($"/api/leads/{lead}/handover", Json.Options))!;
            var proposal = sheet.Proposals[0];
            var account = sheet.Accounts.FirstOrDefault(a => a.Same)?.Id;
            linked += account is null ? 0 : 1;
            var order = new HandoverOrder(
                account,
                sheet.Accounts.Count > 0,
                sheet.Contacts.FirstOrDefault(c => c.Same)?.Id,
                [],
                proposal.Pipeline,
                proposal.Name,
                1000,
                "EUR",
                proposal.ExpectedClose
            )
            {
                NewContact = true,
            };
            times.Add(
                await Measure.Time(async () =>
                {
                    var answer = await http.PostAsJsonAsync($"/api/leads/{lead}/handover", order, Json.Options);
                    Measure.Require(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
                }) * 1000
            );
        }
        Say($"a handover, over HTTP, committed ({leads.Length - 20} leads, {linked} of all to a known account)", [.. times.Skip(20)]);
    }

    // The same rows by plain statements in one transaction, with nothing looked up and nothing checked.
    private static async Task ByHand(NpgsqlConnection connection, Guid[] leads)
    {
        var times = new List<double>();
        foreach (var lead in leads)
        {
            var watch = Stopwatch.StartNew();
            await using var transaction = await connection.BeginTransactionAsync();
            await connection.ExecuteAsync(
                """
                insert into account (id, name, company_key, created_at, facts) values (@account, 'By hand', 'by hand', now(), '{"company": "By hand", "country": "GB", "industry": "port"}');
                insert into contact (id, account_id, name, email, created_at, facts) values (@contact, @account, 'By Hand', 'by@hand.example', now(), '{"first_name": "By", "last_name": "Hand"}');
                insert into deal (id, name, pipeline_key, stage_key, amount, currency, expected_close, account_id, contact_id, lead_id, source, created_at, stage_since, facts)
                  values (@deal, 'By hand', 'instruments', 'scoping', 1, 'EUR', current_date, @account, @contact, @lead, 'list-circular', now(), now(), '{}');
                insert into deal_stage (id, deal_id, stage_key, since) values (gen_random_uuid(), @deal, 'scoping', now());
                insert into deal_person (id, deal_id, contact_id, role, at) values (gen_random_uuid(), @deal, @contact, '', now());
                insert into handover (id, lead_id, account_id, contact_id, deal_id, made_account, made_contact, at, person_id) values (gen_random_uuid(), @lead, @account, @contact, @deal, true, true, now(), @account);
                insert into story_entry (id, lead_id, deal_id, contact_id, account_id, at, kind, text) values (gen_random_uuid(), @lead, @deal, @contact, @account, now(), 'handed_over', 'By hand');
                update lead set state = 'handed_over', version = version + 1 where id = @lead;
                """,
                new
                {
                    lead,
                    account = Guid.CreateVersion7(),
                    contact = Guid.CreateVersion7(),
                    deal = Guid.CreateVersion7(),
                }
            );
            await transaction.CommitAsync();
            times.Add(watch.Elapsed.TotalMilliseconds);
        }
        Say("  the bare statements that write the same rows", [.. times.Skip(20)]);
    }

    private static async Task Together(HttpClient http, Guid[] leads)
    {
        var watch = Stopwatch.StartNew();
        var answer = await http.PostAsJsonAsync("/api/bulk-edits", new { act = new { kind = BulkAct.HandOver, key = "instruments" }, leads }, Json.Options);
        Measure.Require(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        var edit = (await answer.Content.ReadFromJsonAsync<BulkEditView>(Json.Options))!;
        while (edit.State == "doing")
        {
            await Task.Delay(200);
            edit = (await http.GetFromJsonAsync<BulkEditView>($"/api/bulk-edits/{edit.Id}", Json.Options))!;
        }
        Measure.Say($"handed over at once ({edit.Changed} done, {edit.LeftAlone} left)", leads.Length, watch.Elapsed.TotalSeconds, "leads");
    }

    private static async Task Lanes(HttpClient http, NpgsqlConnection connection)
    {
        await connection.ExecuteAsync(
            """
            insert into deal (id, name, pipeline_key, stage_key, amount, currency, expected_close, contact_id, source, created_at, stage_since, facts)
              select gen_random_uuid(), 'Deal ' || i, 'instruments', (array['scoping', 'survey', 'offer', 'terms'])[1 + i % 4], i, 'EUR', current_date + i % 180, (select id from contact limit 1), 'list-circular', now(), now(), '{}'
              from generate_series(1, 10000) i
            """
        );
        foreach (
            var (what, path) in new[]
            {
                ("10,000 open deals of a pipeline as lanes with their sums, over HTTP", ""),
                ("  as a table, the first 100 rows", "/rows?most=100&pipeline=instruments"),
                ("  as a table, 100 rows near the end", "/rows?from=9800&most=100&pipeline=instruments"),
            }
        )
        {
            var times = new List<double>();
            for (var i = 0; i < 45; i++)
                times.Add(await Measure.Time(async () => await http.GetStringAsync("/api/deals" + (path.Length > 0 ? path : "?pipeline=instruments"))) * 1000);
            Say(what, [.. times.Skip(5)]);
        }
    }
}
