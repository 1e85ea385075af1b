using CsCheck;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using DapperLantern.Core.Tests.Conditions;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Npgsql;

namespace DapperLantern.App.Tests.Conditions;

/// <summary>The two readings of the condition language give the same answer on the same record.</summary>
public sealed class ConditionSqlTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    // Far ahead, so that nothing here is due for whoever looks at leads whose engagement falls.
    private static readonly DateTime Now = new(2036, 11, 23, 12, 0, 0, DateTimeKind.Utc);
    private static readonly string[] Texts = ["Fjordnær", "LAKS", "50%", "a_b", "ÆØÅ\\", "ß", "x"];
    private static readonly string[] TextFields = ["company", "city", "interest", "water_body"];
    private static readonly string[] NumberFields = ["sites", "employees", "fit", "calls"];
    private static readonly string[] MomentFields = ["created_at", "clock_due_at", "last_call_at"];
    private static readonly string[] AroundFields = ["tag", "event"];
    private static readonly string[] AroundValues = ["event-expo", "interest-algae", "form.price", "call.reached"];

    private static readonly Gen<Condition> AnyTest = Gen.OneOf(
        Gen.Select(Gen.OneOfConst(TextFields), Gen.OneOfConst(TestOperator.In, TestOperator.Contains, TestOperator.StartsWith), Gen.OneOfConst(Texts).Array[1, 3])
            .Select((f, o, v) => Condition.Where(f, o, v)),
        Gen.Select(Gen.OneOfConst(TextFields), Gen.OneOfConst("", "a", "Fj", "fjordnæ", "L", "laks", "5", "50%", "æ", "ß", "x", "Å").Array[2])
            .Select((f, v) => Condition.Where(f, TestOperator.BeginsBetween, v)),
        Gen.Select(Gen.OneOfConst(NumberFields), Gen.OneOfConst(TestOperator.In, TestOperator.AtLeast, TestOperator.AtMost, TestOperator.Between), Gen.Int[0, 8].Array[2])
            .Select((f, o, v) => Condition.Where(f, o, [.. v.Select(n => $"{n}")])),
        Gen.Select(Gen.OneOfConst(MomentFields), Gen.OneOfConst(TestOperator.WithinDays, TestOperator.OlderThanDays, TestOperator.Past), Gen.Int[0, 5])
            .Select((f, o, v) => Condition.Where(f, o, $"{v}")),
        Gen.Select(Gen.OneOfConst(MomentFields), Gen.OneOfConst(TestOperator.Since, TestOperator.Before), Gen.Int[-2, 5])
            .Select((f, o, d) => Condition.Where(f, o, $"{Now.AddDays(-d):yyyy-MM-ddTHH:mm:ss}Z")),
        Gen.Select(Gen.OneOfConst(TestOperator.In, TestOperator.AtLeast, TestOperator.AtMost, TestOperator.Between), Gen.Int[-5, 210].Array[2])
            .Select((o, v) => Condition.Where("engagement", o, [.. v.Select(n => (n / 2m).ToString(System.Globalization.CultureInfo.InvariantCulture))])),
        Gen.OneOfConst(NextMove.Choices.Select(c => c.Key).ToArray()).Array[1, 2].Select(v => Condition.Where("next_move", TestOperator.In, v)),
        Gen.Select(Gen.OneOfConst(AroundFields), Gen.OneOfConst(AroundValues).Array[1, 2]).Select((f, v) => Condition.Where(f, TestOperator.In, v)),
        Gen.Select(Gen.OneOfConst(TestOperator.Contains, TestOperator.StartsWith), Gen.OneOfConst(Texts)).Select((o, v) => Condition.Where("said", o, v)),
        Gen.OneOfConst([.. TextFields, .. NumberFields, .. MomentFields, .. AroundFields, "said", "owner", "engagement"]).Select(f => Condition.Where(f, TestOperator.Known))
    );

    private static readonly Gen<Condition> AnyCondition = ConditionGen.Nested(AnyTest);

    [Fact]
    public async Task ThePredicateAndTheSqlAgreeOnEveryRecord()
    {
        var catalogue = fixture.Server.Services.GetRequiredService<WorkspaceConfiguration>().Current.Catalogue;
        await using var connection = await fixture.Server.Connect();
        var records = await Fill(connection, catalogue);
        AnyCondition.Sample(
            condition =>
            {
                var predicate = ConditionPredicate.Compile(condition, catalogue);
                var inMemory = records.Where(r => predicate(r.Record, Now.ToInstant())).Select(r => r.Id).ToHashSet();
                return inMemory.SetEquals(InSql(connection, condition, catalogue));
            },
            iter: 1500,
            threads: 1
        );
    }

    /// <summary>An operator that is not drawn is not compared.</summary>
    [Fact]
    public void EveryOperatorIsDrawn()
    {
        var drawn = new HashSet<TestOperator>();
        AnyTest.Sample(
            t =>
            {
                drawn.Add(((Test)t).Operator);
            },
            iter: 2000,
            threads: 1
        );
        drawn.ShouldBe(Enum.GetValues<TestOperator>(), ignoreOrder: true);
    }

    private static HashSet<Guid> InSql(NpgsqlConnection connection, Condition condition, FieldCatalogue catalogue)
    {
        var sql = new ConditionSql(catalogue, Now, RecordScope.Everything);
        using var command = new NpgsqlCommand($"select l.id from lead l where l.source = 'test' and {sql.Write(condition)}", connection);
        command.Parameters.AddRange(sql.Parameters.ToArray());
        using var reader = command.ExecuteReader();
        var found = new HashSet<Guid>();
        while (reader.Read())
            found.Add(reader.GetGuid(0));
        return found;
    }

    private static async Task<List<(Guid Id, RecordValues Record)>> Fill(NpgsqlConnection connection, FieldCatalogue catalogue)
    {
        var random = new Random(11);
        string? Text() =>
            random.Next(4) == 0 ? null : string.Concat(Enumerable.Range(0, random.Next(1, 3)).Select(_ => Texts[random.Next(Texts.Length)])) + (random.Next(2) == 0 ? "" : "laks");
        DateTime Moment() => Now.AddDays(-random.Next(-2, 6)).AddTicks(random.Next(-1, 2) * 10);
        // Kept as of some days ago, so that of many band and move have changed by now.
        LeadScoreState Stands(int fit)
        {
            var at = Now.AddDays(-random.NextDouble() * 30).ToInstant();
            var terms = Enumerable.Range(0, random.Next(4)).Select(i => new DecayTerm(random.NextDouble() * 90, 5 + 13 * i));
            var decay = new EngagementDecay(
                50,
                -10,
                EngagementDecay.DayOf(at),
                random.Next(3) == 0 ? double.PositiveInfinity : EngagementDecay.DayOf(at) + random.Next(40),
                [.. terms]
            );
            return LeadScoreState.Of(new FitRange(fit, fit, fit), decay, default, new Bars(4, 40), at);
        }
        var people = (await connection.QueryAsync<Guid>("select id from person where here order by id")).ToList();
        for (var i = 0; i < 300; i++)
        {
            var stands = Stands(random.Next(9));
            await connection.ExecuteAsync(
                """
                insert into lead (id, source, state, next_move, created_at, last_touch_at, clock_due_at, company, city, interest, sites, employees, fit, fit_low, fit_high, engagement, decay, band, move_until, look_again_at, owner_id, custom)
                values (gen_random_uuid(), 'test', 'new', @move, @created, @created, @due, @company, @city, @interest, @sites, @employees, @fit, 0, 0, @engagement, @decay, @band, @until, @again, @owner, @custom::jsonb)
                """,
                new
                {
                    move = stands.Move,
                    engagement = stands.Engagement,
                    decay = EngagementDecaySql.Write(stands.Decay),
                    band = stands.Band,
                    until = stands.MoveUntil?.ToUtc(),
                    again = stands.LookAgain?.ToUtc(),
                    created = Moment(),
                    due = random.Next(3) == 0 ? (DateTime?)null : Moment(),
                    company = Text(),
                    city = Text(),
                    interest = Text(),
                    sites = random.Next(3) == 0 ? (decimal?)null : random.Next(9),
                    employees = random.Next(3) == 0 ? (decimal?)null : random.Next(9),
                    fit = stands.Fit.Score,
                    owner = random.Next(2) == 0 ? (Guid?)null : people[random.Next(people.Count)],
                    custom = Text() is { } water ? Json.Write(new Dictionary<string, string> { ["water_body"] = water }) : "{}",
                }
            );
        }
        var around = await FillAround(connection, random, Text, Moment);
        var records = new List<(Guid, RecordValues)>();
        await using var command = new NpgsqlCommand($"select {LeadRecord.Columns}, l.id from lead l where l.source = 'test'", connection);
        await using var row = await command.ExecuteReaderAsync();
        while (await row.ReadAsync())
        {
            var (id, record) = ((Guid)row["id"], LeadRecord.Read(row, catalogue, Now));
            foreach (var (field, value) in around[id])
                record[catalogue.Asked(field)!.Ordinal] = value;
            records.Add((id, record));
        }
        return records;
    }

    // What stands around the leads, written to the tables and given back as their records would have it.
    private static async Task<Dictionary<Guid, List<(string Field, FieldValue Value)>>> FillAround(
        NpgsqlConnection connection,
        Random random,
        Func<string?> text,
        Func<DateTime> moment
    )
    {
        var leads = (await connection.QueryAsync<Guid>("select id from lead where source = 'test' order by number")).ToList();
        var around = new Dictionary<Guid, List<(string, FieldValue)>>();
        foreach (var lead in leads)
        {
            var tags = AroundValues[..2].Where(_ => random.Next(3) == 0).ToArray();
            var events = AroundValues[2..].Where(_ => random.Next(3) == 0).ToArray();
            var calls = Enumerable.Range(0, random.Next(3)).Select(_ => (Text: text() ?? "", At: moment())).ToArray();
            await connection.ExecuteAsync("insert into lead_tag (lead_id, tag_key) values (@lead, @tag)", tags.Select(tag => new { lead, tag }));
            await connection.ExecuteAsync(
                "insert into lead_event (id, lead_id, kind, at, detail) values (gen_random_uuid(), @lead, @kind, now(), '')",
                events.Select(kind => new { lead, kind })
            );
            await connection.ExecuteAsync(
                "insert into story_entry (id, lead_id, at, kind, text) values (gen_random_uuid(), @lead, @At, 'call', @Text)",
                calls.Select(c => new
                {
                    lead,
                    c.At,
                    c.Text,
                })
            );
            around[lead] =
            [
                ("tag", FieldValue.Of(tags)),
                ("event", FieldValue.Of(events)),
                ("said", FieldValue.Of(calls.Select(c => c.Text).ToArray())),
                ("calls", FieldValue.Of((decimal)calls.Length)),
                ("last_call_at", FieldValue.Of(calls.Length == 0 ? null : calls.Max(c => c.At).ToInstant())),
            ];
        }
        return around;
    }
}
