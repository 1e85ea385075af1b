using System.Collections.Immutable;
using System.Diagnostics;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Scoring;
using DapperLantern.Tests.Shared;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>Scores in Core alone, on one core; then of stored leads: all anew, one event, and who is engaged now.</summary>
internal static class ScoringBench
{
    private static readonly Instant Now = Instant.FromUtc(2026, 11, 23, 12, 0);
    private static readonly string[] Texts = ["job_title", "interest", "company", "city"];
    private static readonly string[] Numbers = ["sites", "employees", "revenue"];

    public static void Core(FieldCatalogue catalogue, int leads)
    {
        var model = Forty(catalogue);
        var fit = new FitScore(model, catalogue);
        var records = Enumerable.Range(0, 10_000).Select(i => Record(catalogue, i)).ToArray();
        foreach (var record in records)
            fit.Measure(record, Now);
        var before = GC.GetAllocatedBytesForCurrentThread();
        var watch = Stopwatch.StartNew();
        long sum = 0;
        for (var i = 0; i < leads; i++)
            sum += fit.Measure(records[i % records.Length], Now).Score;
        Measure.Say($"fit with its range in Core, {fit.Criteria} criteria, one core", leads, watch.Elapsed.TotalSeconds, "leads");
        Console.WriteLine($"  {(GC.GetAllocatedBytesForCurrentThread() - before) / (double)leads:0.0} bytes allocated a lead; mean fit {sum / (double)leads:0.0}");

        var engagement = new EngagementScore(Demo());
        var events = Enumerable.Range(0, 20_000).Select(Events).ToArray();
        foreach (var list in events)
            engagement.Score(list, Now);
        before = GC.GetAllocatedBytesForCurrentThread();
        watch.Restart();
        sum = 0;
        for (var i = 0; i < leads; i++)
            sum += engagement.Score(events[i % events.Length], Now);
        Measure.Say($"engagement in Core from {10 * leads:#,0} events, one core", 10L * leads, watch.Elapsed.TotalSeconds, "events");
        Console.WriteLine($"  {(GC.GetAllocatedBytesForCurrentThread() - before) / (double)leads:0.0} bytes allocated a lead; mean engagement {sum / (double)leads:0.0}");
    }

    private static ScoringModel Demo() => ModelFile.Read(File.ReadAllText("demo/setup/scoring-model.json")).Model!;

    // Of each ten: four tables of values, three tables of ranges, two of words in free text, one of conditions over several fields.
    private static ScoringModel Forty(FieldCatalogue catalogue)
    {
        var industries = catalogue["industry"].Choices.Select(c => c.Key).ToArray();
        string[] countries = ["NO", "DE", "US", "FR", "GB", "SE", "DK", "ES"];
        FitCriterion One(int i) =>
            (i % 10) switch
            {
                < 2 => new($"c{i}", $"C{i}", "industry", [.. industries.Select((v, at) => new FitLine(Condition.Where("industry", TestOperator.In, v), at - 3, v))]),
                < 4 => new($"c{i}", $"C{i}", "country", [.. countries.Select((v, at) => new FitLine(Condition.Where("country", TestOperator.In, v), at - 2, v))]),
                < 7 => new(
                    $"c{i}",
                    $"C{i}",
                    Numbers[i % 3],
                    [.. Enumerable.Range(0, 5).Select(at => new FitLine(Condition.Where(Numbers[i % 3], TestOperator.Between, $"{at * 50}", $"{at * 50 + 49}"), at, "range"))]
                ),
                < 9 => new(
                    $"c{i}",
                    $"C{i}",
                    Texts[i % 2],
                    [
                        new(Condition.Where(Texts[i % 2], TestOperator.Contains, "student", "intern"), -9, "words"),
                        new(Condition.Where(Texts[i % 2], TestOperator.Contains, "operations", "probe", "director"), 6, "words"),
                        new(Condition.Where(Texts[i % 2], TestOperator.Contains, "buyer", "calibration"), 3, "words"),
                    ]
                ),
                _ => new(
                    $"c{i}",
                    $"C{i}",
                    "country",
                    [new(new AllOf([Condition.Where("country", TestOperator.In, "NO", "GB"), new Not(Condition.Where("sites", TestOperator.AtLeast, "10"))]), 4, "both")]
                ),
            };
        return new ScoringModel(new Bars(60, 50), [.. Enumerable.Range(0, 40).Select(One)], [], [new FitGroup("g", "G", 30)], [], MoveNames.Usual);
    }

    private static RecordValues Record(FieldCatalogue catalogue, int i)
    {
        var record = new RecordValues(catalogue);
        record["industry"] = FieldValue.Of(new[] { "fish_farming", "port", "research", "private" }[i % 4]);
        record["country"] = FieldValue.Of(new[] { "NO", "DE", "US", "FR", "GB" }[i % 5]);
        record["sites"] = FieldValue.Of(i % 30);
        record["employees"] = FieldValue.Of(i % 400);
        if (i % 3 > 0)
            record["revenue"] = FieldValue.Of(i % 900);
        record["job_title"] = FieldValue.Of($"{new[] { "Operations lead", "Student", "Buyer", "Technician" }[i % 4]}, hall {i % 60}");
        record["interest"] = FieldValue.Of(i % 2 == 0 ? $"Skerry S4, oxygen probes, {i % 20} of them" : "calibration visit");
        return record;
    }

    private static LeadEvent[] Events(int i)
    {
        string[] kinds =
        [
            "form.price_guide",
            "page.viewed",
            "page.viewed",
            "note.opened",
            "call.reached",
            "webinar.attended",
            "page.viewed",
            "note.opened",
            "enquiry",
            "something.else",
        ];
        return [.. kinds.Select((kind, at) => new LeadEvent(kind, Now - Duration.FromHours(13 * (10 - at) + i % 700), kind == "page.viewed" ? $"/prices/{i % 9}" : ""))];
    }

    public static async Task Stored(WebApplication app, int leads)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var connection = await scope.ServiceProvider.GetRequiredService<LanternDb>().Connection();
        await WorklistBench.Base(connection, leads);
        await connection.ExecuteAsync(
            """
            insert into lead_event (id, lead_id, kind, at, detail)
            select gen_random_uuid(), l.id, (array['form.price_guide', 'page.viewed', 'call.reached'])[k], now() - (l.number * k % 200) * interval '1 day', '/prices' from lead l, generate_series(1, 3) k where l.email like 'base%'
            """,
            commandTimeout: 3600
        );
        await connection.ExecuteAsync("vacuum analyze", commandTimeout: 3600, commandType: System.Data.CommandType.Text);
        await Rescore(app, connection, leads);
        await One(app, connection);
        await Engaged(app, connection);
        await Map(app, connection);
    }

    private static async Task Rescore(WebApplication app, NpgsqlConnection connection, int leads)
    {
        var rescorer = app.Services.Scoped<BatchRescorer>();
        var edition = await connection.QuerySingleAsync<Guid>("select id from edition where kind = 'scoring' and state = 'live'");
        var run = await rescorer.Begin(connection.Over(), edition, again: true);
        var ours = await Measure.Time(() => rescorer.Run(connection.Over(), run, default));
        Measure.Require(await connection.QuerySingleAsync<int>("select done from rescore_run where id = @run", new { run }) >= leads, "not all were scored");
        await connection.ExecuteAsync("vacuum analyze lead", commandTimeout: 3600, commandType: System.Data.CommandType.Text);
        var bare = await Measure.Time(() =>
            connection.ExecuteAsync(
                """
                update lead set fit = (fit + 1) % 101, fit_low = (fit_low + 1) % 101, fit_high = (fit_high + 1) % 101, engagement = (engagement + 1) % 101, next_move = case next_move when 'park' then 'nurture' else 'park' end,
                  decay = decay, band = (band + 1) % 21, move_until = move_until, look_again_at = look_again_at + interval '1 minute', scored_at = now(), model_edition = model_edition, last_sign_at = last_sign_at, silent_days = silent_days
                """,
                commandTimeout: 3600
            )
        );
        Measure.Say("all leads scored anew by the live model", leads, ours, "leads");
        Measure.Say("a bare UPDATE of the same columns", leads, bare, "leads");
        Console.WriteLine($"  ratio {ours / bare:0.00}; peak memory {Measure.PeakMemory()} MB");
        // What the bare UPDATE wrote is nonsense; scored anew.
        run = await rescorer.Begin(connection.Over(), edition, again: true);
        await rescorer.Run(connection.Over(), run, default);
        await connection.ExecuteAsync("vacuum analyze lead", commandTimeout: 3600, commandType: System.Data.CommandType.Text);
    }

    private static async Task One(WebApplication app, NpgsqlConnection connection)
    {
        var rescore = app.Services.Scoped<LeadRescore>();
        var ids = (await connection.QueryAsync<Guid>("select id from lead where number % 97 = 0 limit 320")).ToList();
        var times = new List<double>();
        foreach (var (id, i) in ids.Select((id, i) => (id, i)))
        {
            var taken = await Measure.Time(async () =>
            {
                await using var transaction = await connection.BeginTransactionAsync();
                var now = DateTime.UtcNow;
                await connection.ExecuteAsync("insert into lead_event (id, lead_id, kind, at, detail) values (gen_random_uuid(), @id, 'call.reached', @now, '')", new { id, now });
                await rescore.Run(connection.Over(), id, now);
                await transaction.CommitAsync();
            });
            if (i >= 20)
                times.Add(taken * 1000);
        }
        Console.WriteLine($"one event on a lead, written and rescored, committed: median {Measure.At(times, 0.5):0.0} ms, p95 {Measure.At(times, 0.95):0.0} ms");
    }

    private static async Task Engaged(WebApplication app, NpgsqlConnection connection)
    {
        var (worklist, catalogue) = (app.Services.Scoped<Worklist>(), app.Services.GetRequiredService<WorkspaceConfiguration>().Current.Catalogue);
        foreach (var bar in new[] { 60, 63, 20 })
        foreach (var order in new[] { "-engagement", "-created_at" })
        {
            var query = new WorklistQuery(Condition.Where("engagement", TestOperator.AtLeast, $"{bar}"), ListOrder.Read(order, catalogue).Keys, [], null, "Europe/London");
            var (ours, hand) = (new List<double>(), new List<double>());
            LeadPage? page = null;
            for (var i = 0; i < 35; i++)
            {
                var taken = await Measure.Time(async () => page = await worklist.Page(connection.Over(), query, null));
                var byHand = await Measure.Time(() =>
                    connection.QueryAsync<int>(
                        "select count(*)::int from lead where band >= @band and engagement_at(decay, @day) >= @bar",
                        new
                        {
                            band = bar / 5,
                            bar,
                            day = EngagementDecay.DayOf(DateTime.UtcNow.ToInstant()),
                        }
                    )
                );
                if (i < 5)
                    continue;
                ours.Add(taken * 1000);
                hand.Add(byHand * 1000);
            }
            Measure.Require(page!.Leads.All(l => l.Engagement >= bar), "somebody under the bar");
            Console.WriteLine(
                $"engagement of {bar} or more now, by {order}: {(page.Estimated ? "about " : "")}{page.Count:#,0} leads; page and count median {Measure.At(ours, 0.5):0.0} ms, p95 {Measure.At(ours, 0.95):0.0} ms; counting them all by hand {Measure.At(hand, 0.5):0.0} ms"
            );
        }
    }

    private static async Task Map(WebApplication app, NpgsqlConnection connection)
    {
        var maps = app.Services.GetRequiredService<ScoreMaps>();
        Console.WriteLine(
            $"the score map: {1000 * await Measure.Time(() => maps.Of(connection.Over(), RecordScope.Everything)):0} ms the first time, {1000 * await Measure.Time(() => maps.Of(connection.Over(), RecordScope.Everything)):0.0} ms after"
        );
        var trials = app.Services.GetRequiredService<ModelTrials>();
        var model = Demo();
        ModelTrial? trial = null;
        var tried = await Measure.Time(async () =>
        {
            while (!(trial = await trials.Of(model)).IsDone) { }
        });
        Measure.Say("a draft tried on all open leads", trial!.Leads.Count, tried, "leads");
        Console.WriteLine($"  its bars moved: {1000 * await Measure.Time(() => trials.Of(model with { Bars = new Bars(50, 40) })):0.0} ms; peak memory {Measure.PeakMemory()} MB");
    }
}
