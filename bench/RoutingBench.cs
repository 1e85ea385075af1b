using System.Collections.Frozen;
using System.Collections.Immutable;
using System.Diagnostics;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using DapperLantern.Tests.Shared;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>Decisions in Core alone, on one core; the checker on a large sheet; then leads played again, and what routing adds to one capture.</summary>
internal static class RoutingBench
{
    private static readonly Instant Now = Instant.FromUtc(2026, 11, 23, 12, 0);

    public static void Core(FieldCatalogue catalogue, int leads)
    {
        var router = new Router(Sheet(catalogue, 100, 3), catalogue);
        var state = State();
        var records = Enumerable.Range(0, 10_000).Select(i => Record(catalogue, i)).ToArray();
        // As in a server that has run for a while: what is asked often has been compiled for good.
        for (var i = 0; i < 300_000; i++)
            router.Decide(new RoutingAsk(records[i % records.Length], Now), state);
        Thread.Sleep(500);
        var watch = Stopwatch.StartNew();
        var given = 0;
        for (var i = 0; i < leads; i++)
            if (router.Decide(new RoutingAsk(records[i % records.Length], Now), state).Owner is not null)
                given++;
        Measure.Say("decisions in Core, 100 rules, turns and trace, one core", leads, watch.Elapsed.TotalSeconds, "decisions");
        Console.WriteLine($"  {given / (double)leads:0.00} of them given to somebody");

        watch.Restart();
        var hits = 0;
        for (var i = 0; i < leads; i++)
            hits += router.FirstRule(records[i % records.Length], RoutingMoment.Arrival, Now);
        Measure.Say("  finding the rule alone", leads, watch.Elapsed.TotalSeconds, "decisions");

        var predicates = router.Sheet.Rules.Select(r => ConditionPredicate.Compile(r.When, catalogue)).ToArray();
        watch.Restart();
        var some = leads / 10;
        var found = 0;
        for (var i = 0; i < some; i++)
            found += Array.FindIndex(predicates, p => p(records[i % records.Length], Now));
        Measure.Say("  asking every rule in order instead, without turns or trace", some, watch.Elapsed.TotalSeconds, "decisions");

        var large = Sheet(catalogue, 200, 12);
        var times = new List<double>();
        SheetReport? report = null;
        for (var i = 0; i < 30; i++)
        {
            watch.Restart();
            report = SheetCheck.Check(large, catalogue, Staff, new Bars(60, 50));
            times.Add(watch.Elapsed.TotalMilliseconds);
        }
        Console.WriteLine(
            $"checker, 200 rules of 12 columns: first {times[0]:0} ms, then median {times.Skip(10).Order().ElementAt(10):0} ms; {report!.Findings.Length} findings, {report.Holes.Length} holes, whole {report.Whole}"
        );
    }

    private static readonly SheetStaff Staff = new(
        FrozenDictionary<string, StaffPerson>.Empty,
        new Dictionary<string, ImmutableArray<string>> { ["team"] = ["rep0"] }.ToFrozenDictionary(),
        FrozenSet<string>.Empty
    );

    private static RoutingState State()
    {
        var reps = Enumerable.Range(0, 5).Select(i => new Rep(new Guid(i + 1, 0, 0, new byte[8]), $"rep{i}", $"Rep {i}", false, 3, 60)).ToList();
        return new RoutingState(reps.ToDictionary(r => r.Id), new Dictionary<string, Team> { ["team"] = new("team", "Team", [.. reps.Select(r => new Turn(r.Id, 1, 0))]) });
    }

    // Rules of one to four cells, each of another column; always the same.
    private static RuleSheet Sheet(FieldCatalogue catalogue, int rules, int columns)
    {
        var random = new Random(7);
        var countries = Countries.All.Select(c => c.Code).Take(40).ToArray();
        var industries = catalogue["industry"].Choices.Select(c => c.Key).ToArray();
        Func<Condition>[] cells =
        [
            () => Condition.Where("country", TestOperator.In, [.. Enumerable.Range(0, 1 + random.Next(5)).Select(_ => countries[random.Next(40)]).Distinct()]),
            () => Condition.Where("industry", TestOperator.In, industries[random.Next(industries.Length)]),
            () => Condition.Where("employees", TestOperator.AtLeast, $"{random.Next(500)}"),
            () => Condition.Where("interest", TestOperator.Contains, $"word{random.Next(60)}"),
            () => Condition.Where("fit", TestOperator.AtLeast, $"{random.Next(100)}"),
            () => Condition.Where("next_move", TestOperator.In, random.Next(2) == 0 ? "hand_over" : "check"),
            () => Condition.Where("language", TestOperator.In, random.Next(2) == 0 ? "de" : "no"),
            () => Condition.Where("sites", TestOperator.Between, $"{random.Next(5)}", $"{5 + random.Next(9)}"),
            () => Condition.Where("postal_code", TestOperator.StartsWith, $"{random.Next(100):00}"),
            () => Condition.Where("campaign", TestOperator.In, $"campaign{random.Next(9)}"),
            () => Condition.Where("city", TestOperator.In, $"City {random.Next(50)}"),
            () => Condition.Where("revenue", TestOperator.AtLeast, $"{random.Next(1000)}000"),
        ];
        var made = Enumerable
            .Range(0, rules)
            .Select(i =>
            {
                var asked = Enumerable.Range(0, columns).OrderBy(_ => random.Next()).Take(1 + random.Next(Math.Min(columns, 4))).Select(c => cells[c]());
                return new Rule($"r{i}", $"rule {i}", new AllOf([.. asked]), new RuleOutcome(Team: "team"), 60 + i);
            });
        return new RuleSheet([], [.. made], 480, "Call");
    }

    private static RecordValues Record(FieldCatalogue catalogue, int i)
    {
        var random = new Random(i);
        var record = new RecordValues(catalogue);
        record["country"] = FieldValue.Of(Countries.All.ElementAt(random.Next(60)).Code);
        record["industry"] = FieldValue.Of(catalogue["industry"].Choices[random.Next(catalogue["industry"].Choices.Length)].Key);
        record["employees"] = FieldValue.Of(random.Next(300));
        record["sites"] = FieldValue.Of(random.Next(12));
        record["interest"] = FieldValue.Of($"a word{random.Next(200)} and more");
        record["fit"] = FieldValue.Of(random.Next(100));
        record["next_move"] = FieldValue.Of("park");
        return record;
    }

    public static async Task Stored(WebApplication app, int leads)
    {
        await using var connection = await app.Services.GetRequiredService<NpgsqlDataSource>().OpenConnectionAsync();
        await Fill(connection, leads);
        var (workspace, now) = (app.Services.GetRequiredService<WorkspaceConfiguration>().Current, DateTime.UtcNow);
        var live = await workspace.Rules(connection.Over());
        var watch = Stopwatch.StartNew();
        var result = await app
            .Services.Scoped<RoutingTrials>()
            .Run(connection.Over(), live.Router.Sheet, await RoutingContext.Open(connection.Over(), now, hold: false), leads, default);
        Measure.Say("leads played again through the live sheet", result.Leads, watch.Elapsed.TotalSeconds, "leads");
        watch.Restart();
        var read = await connection.QuerySingleAsync<long>(
            "select count(*) from (select l.*, d.owner_id as got from lead l left join lateral (select owner_id from routing_decision d where d.lead_id = l.id order by d.at, d.id limit 1) d on true) x where got is not null"
        );
        Console.WriteLine($"  reading them alone: {watch.Elapsed.TotalSeconds:0.00} s for {read:#,0}");

        // On the connection that captures use.
        await using var capture = await app.Services.GetRequiredKeyedService<NpgsqlDataSource>(ArrivalCapture.Source).OpenConnectionAsync();
        var (opened, found) = (new List<double>(), new List<double>());
        var times = new List<double>();
        var keys = (await connection.QueryAsync<(string? Company, string? Email)>("select company, email from lead order by id limit 300")).ToList();
        foreach (var (company, email) in keys)
        {
            var facts = new RecordValues(workspace.Catalogue);
            facts["company"] = FieldValue.Of(company);
            facts["email"] = FieldValue.Of(email);
            facts["country"] = FieldValue.Of("NO");
            watch.Restart();
            await using var transaction = await capture.BeginTransactionAsync();
            var desk = await RoutingContext.Open(capture.Over(), now);
            opened.Add(watch.Elapsed.TotalMilliseconds);
            await desk.Standing.Find(capture.Over(), [ExistingOwnerKeys.Of(facts)]);
            found.Add(watch.Elapsed.TotalMilliseconds);
            var decision = live.Router.Decide(new RoutingAsk(facts, now.ToInstant()) { Standing = desk.Standing.For(ExistingOwnerKeys.Of(facts)) }, desk.State);
            desk.Taken(decision, ExistingOwnerKeys.Of(facts).Organisation);
            await desk.Close(capture.Over());
            times.Add(watch.Elapsed.TotalMilliseconds);
            await transaction.RollbackAsync();
        }
        var (desked, owners) = (opened.Skip(50).Average(), found.Skip(50).Average());
        times = [.. times.Skip(50).Order()];
        Console.WriteLine($"routing of one capture, all its statements: median {times[times.Count / 2]:0.0} ms, p95 {times[times.Count * 95 / 100]:0.0} ms");
        Console.WriteLine($"  of it on average {desked:0.0} ms to lock and read reps and rotations, {owners - desked:0.0} ms to find who owns what is there");
    }

    // The demo's leads again and again, a minute apart, each with its first decision.
    private static async Task Fill(NpgsqlConnection connection, int leads)
    {
        await connection.ExecuteAsync(
            """
            create temp table again as
              select gen_random_uuid() as id, l.id as was, now() - (n || ' seconds')::interval as at from generate_series(1, @leads) n
              join (select id, row_number() over (order by id) - 1 as i, count(*) over () as c from lead) l on l.i = n % l.c;
            insert into lead (id, source, state, next_move, company, company_key, email, country, region, industry, city, sites, employees, interest, owner_id, fit, fit_low, fit_high, engagement, band, scored_at, created_at, last_touch_at)
              select a.id, l.source, 'in_work', l.next_move, l.company, l.company_key, 'x' || a.id || '@bench.example', l.country, l.region, l.industry, l.city, l.sites, l.employees, l.interest, l.owner_id, l.fit, l.fit_low, l.fit_high,
                l.engagement, l.band, a.at, a.at, a.at from again a join lead l on l.id = a.was;
            insert into routing_decision (id, lead_id, at, edition, rule, owner_id, trace)
              select gen_random_uuid(), a.id, a.at, (select id from edition where kind = 'rules' and state = 'live'), null, l.owner_id, '[]' from again a join lead l on l.id = a.was;
            analyze;
            """,
            new { leads },
            commandTimeout: 600
        );
    }
}
