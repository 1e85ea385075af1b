using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>
/// What a person may see, over a million leads: the first page with its count for several reaches, against the same rows and count by SQL written by hand with the same condition, on the same
/// connection, turn by turn. Needs the base of <see cref="WorklistBench"/>.
/// </summary>
internal static class ScopeBench
{
    private const int Warm = 5;
    private const int Turns = 60;
    private const string Open = "l.state in ('new', 'in_work', 'on_hold', 'qualified')";
    private const string Newest = "l.created_at desc, l.id desc";

    private sealed record Case(string Name, Reach Records, Reach ContactData, Condition Where, string Order, string Hand, string HandOrder, bool Few = false);

    private static readonly Condition OpenLeads = Condition.Where("state", TestOperator.In, "new", "in_work", "on_hold", "qualified");

    private static readonly Case[] Cases =
    [
        new("everybody's, contact data of all", Reach.All, Reach.All, OpenLeads, "-created_at", Open, Newest),
        new("everybody's, contact data of one's own", Reach.All, Reach.Own | Reach.Unowned, OpenLeads, "-created_at", Open, Newest),
        new("own and nobody's", Reach.Own | Reach.Unowned, Reach.All, OpenLeads, "-created_at", $"{Open} and (l.owner_id = @me or l.owner_id is null)", Newest),
        new(
            "own, team's, shared",
            Reach.Own | Reach.Team | Reach.Shared,
            Reach.All,
            OpenLeads,
            "-created_at",
            $"{Open} and (l.owner_id = any(@team) or l.id = any(@shared))",
            Newest
        ),
        new("own, of somebody with twenty", Reach.Own, Reach.All, OpenLeads, "-created_at", $"{Open} and l.owner_id = @me", Newest, Few: true),
        new(
            "own, by clock",
            Reach.Own,
            Reach.All,
            Condition.Where("state", TestOperator.In, "new"),
            "clock_due_at",
            "l.state = 'new' and l.owner_id = @me",
            "l.clock_due_at nulls last, l.id"
        ),
        new(
            "one address, contact data of one's own",
            Reach.All,
            Reach.Own | Reach.Unowned,
            Condition.Where("email", TestOperator.In, "base170@base56.example"),
            "-created_at",
            "l.email = 'base170@base56.example' and (l.owner_id = @me or l.owner_id is null)",
            Newest
        ),
        new(
            "by address, contact data of one's own",
            Reach.All,
            Reach.Own | Reach.Unowned,
            OpenLeads,
            "email",
            Open,
            "case when l.owner_id = @me or l.owner_id is null then l.email end nulls last, l.id"
        ),
        new("by address, contact data of all", Reach.All, Reach.All, OpenLeads, "email", Open, "l.email nulls last, l.id"),
    ];

    public static async Task Run(WebApplication app)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var connection = await scope.ServiceProvider.GetRequiredService<LanternDb>().Connection();
        var people = (await connection.QueryAsync<Guid>("select id from person where 'rep' = any(roles) order by user_name")).ToArray();
        var few = await connection.QueryFirstAsync<Guid>("select id from person where 'qualifier' = any(roles) order by user_name limit 1");
        await connection.ExecuteAsync(
            "update lead set owner_id = @few where number in (select number from lead where email like 'base%' order by number desc limit 20)",
            new { few }
        );
        await connection.ExecuteAsync(
            "insert into record_share (id, person_id, lead_id, at) select gen_random_uuid(), @me, id, now() from lead order by number limit 500",
            new { me = people[0] }
        );
        var shared = (await connection.QueryAsync<Guid>("select lead_id from record_share where person_id = @me", new { me = people[0] })).ToArray();
        foreach (var one in Cases)
            await Measured(app, connection, one, one.Few ? few : people[0], people[1..4], shared);
    }

    private static async Task Measured(WebApplication app, NpgsqlConnection connection, Case one, Guid me, Guid[] team, Guid[] shared)
    {
        var workspace = app.Services.GetRequiredService<WorkspaceConfiguration>().Current;
        var seen = new RecordScope(me, _ => one.Records, one.ContactData, team, []);
        var worklist = new Worklist(workspace, seen, app.Services.GetRequiredService<Patience>(), TimeProvider.System);
        var query = new WorklistQuery(one.Where, ListOrder.Read(one.Order, workspace.Catalogue).Keys, [workspace.Catalogue["email"]], null, "Europe/London");
        var (ours, hand) = (new List<double>(), new List<double>());
        LeadPage? page = null;
        for (var i = 0; i < Warm + Turns; i++)
        {
            var taken = await Measure.Time(async () => page = await worklist.Page(connection.Over(), query, null));
            var ids = new List<Guid>();
            var byHand = await Measure.Time(async () => ids = await Hand(connection, one, me, [me, .. team], shared));
            Measure.Require(page!.Leads.Select(l => l.Id).SequenceEqual(ids), $"other rows for {one.Name}");
            if (i < Warm)
                continue;
            ours.Add(taken * 1000);
            hand.Add(byHand * 1000);
        }
        Console.WriteLine(
            $"{one.Name}: {(page!.Estimated ? "about " : "")}{page.Count:#,0} leads; page and count median {Measure.At(ours, 0.5):0.0} ms, p95 {Measure.At(ours, 0.95):0.0} ms; by hand {Measure.At(hand, 0.5):0.0} and {Measure.At(hand, 0.95):0.0} ms; ratio of medians {Measure.At(ours, 0.5) / Measure.At(hand, 0.5):0.00}"
        );
    }

    private static async Task<List<Guid>> Hand(NpgsqlConnection connection, Case one, Guid me, Guid[] team, Guid[] shared)
    {
        var values = new
        {
            me,
            team,
            shared,
        };
        await connection.QueryAsync<(int, int)>(
            $"select count(*)::int, (count(*) filter (where owner_id is null))::int from (select l.owner_id from lead l where {one.Hand} limit {Worklist.CountedExactly + 1}) x",
            values
        );
        return
        [
            .. (
                await connection.QueryAsync(
                    $"select {LeadRecord.Columns}, l.id, l.number, s.name as source_name, p.display_name from lead l join source s on s.key = l.source left join person p on p.id = l.owner_id where {one.Hand} order by {one.HandOrder} limit 50",
                    values
                )
            ).Select(r => (Guid)r.id),
        ];
    }
}
