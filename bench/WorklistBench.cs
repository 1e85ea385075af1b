using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Leads;
using DapperLantern.Tests.Shared;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>
/// The views that ship over a million leads: the first page with its count, as the server makes it, against the same rows and count by SQL written by
/// hand for just that view, on the same connection, turn by turn.
/// </summary>
internal static class WorklistBench
{
    private const int Warm = 5;
    private const int Turns = 60;

    private const string Engaged = "coalesce((decay_sum(l.decay, date_part('epoch', now()) / 86400) * 1000)::int, 0)";
    private const string Open = "l.state in ('new', 'in_work', 'on_hold', 'qualified')";

    // By view: what holds, and the order.
    private static readonly Dictionary<string, (string Where, string Order)> ByHand = new()
    {
        ["Open leads"] = (Open, "l.created_at desc, l.id desc"),
        ["My leads"] = ($"l.owner_id = @me and {Open}", $"l.clock_due_at, l.band desc, {Engaged} desc, l.id"),
        ["Without owner"] = ("l.owner_id is null and l.state in ('new', 'in_work')", "l.created_at desc, l.id desc"),
        ["Cleared the bar"] = (
            "l.next_move = 'hand_over' and (l.move_until is null or l.move_until > now()) and l.state in ('new', 'in_work')",
            $"l.band desc, {Engaged} desc, l.fit desc, l.id desc"
        ),
        ["Came back to life"] = (
            """
            l.silent_days >= 90 and l.last_sign_at between now() - interval '30 days' and now() and l.state in ('new', 'in_work', 'on_hold', 'disqualified') and l.next_step_at is null
            and not exists (select 1 from account a join deal d on d.account_id = a.id join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key
              where a.company_key = l.company_key and s.counts = 'won')
            and not exists (select 1 from contact c join deal d on d.contact_id = c.id join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key
              where c.email = l.email and s.counts = 'won')
            and coalesce((select c.state from consent c where c.purpose = 'news' and c.state <> 'asked'
              and c.person_key = any(array[person_key(l.email), person_key(l.phone), person_key(l.mobile)]) order by c.at desc limit 1) <> 'withdrawn', true)
            """,
            "l.last_sign_at desc, l.id desc"
        ),
        ["No next step"] = ("l.state = 'in_work' and l.next_step_at is null", "l.last_touch_at desc, l.id desc"),
        ["Clock running out"] = ("l.state = 'new' and l.clock_due_at is not null", "l.clock_due_at, l.id"),
        ["Month by month"] = ("true", "l.created_at desc, l.id desc"),
    };

    // Two of the views show when somebody called last.
    private static readonly HashSet<string> ShowsCalls = ["My leads", "No next step"];
    private const string LastCall = ", (select max(c.at) from story_entry c where c.lead_id = l.id and c.kind in ('call', 'call_missed')) as last_call";

    /// <summary>Fills the base for another measurement.</summary>
    public static async Task Base(WebApplication app, int leads)
    {
        await using var scope = app.Services.CreateAsyncScope();
        await Base(await scope.ServiceProvider.GetRequiredService<LanternDb>().Connection(), leads);
    }

    public static async Task Run(WebApplication app, int leads)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var connection = await scope.ServiceProvider.GetRequiredService<LanternDb>().Connection();
        Measure.Say("base of leads with signs and tasks, by SQL", leads, await Measure.Time(() => Base(connection, leads)), "leads");
        var me = await connection.QueryFirstAsync<Guid>("select id from person where 'rep' = any(roles) order by user_name limit 1");
        foreach (var (name, body) in await connection.QueryAsync<(string, string)>("select name, body::text from lead_view where scope = 'fixed' order by position"))
            await View(app.Services.Scoped<Worklist>(), app.Services.GetRequiredService<WorkspaceConfiguration>().Current, connection, name, Json.Read<ViewBody>(body), me);
    }

    private static async Task View(Worklist worklist, Workspace workspace, NpgsqlConnection connection, string name, ViewBody body, Guid me)
    {
        var catalogue = workspace.Catalogue;
        var (columns, _) = LeadAsk.Columns(string.Join(',', body.Columns.Select(c => c.Field)), catalogue);
        var group = body.Group is null ? null : Grouping.Read(body.Group, catalogue).Item1;
        var order = ListOrder.Read(body.Order, catalogue).Keys;
        if (group is not null)
            order = [new SortKey(group.Field.Key, true)];
        var where = Json.Read<Core.Conditions.Condition>(Json.Write(body.Where).Replace($"\"{LeadAsk.Me}\"", $"\"{me}\"", StringComparison.Ordinal));
        var query = new WorklistQuery(where, order, columns, group, "Europe/London");
        var (ours, hand) = (new List<double>(), new List<double>());
        LeadPage? page = null;
        for (var i = 0; i < Warm + Turns; i++)
        {
            var taken = await Measure.Time(async () => page = await worklist.Page(connection.Over(), query, null));
            var (ids, byHand) = (new List<Guid>(), 0.0);
            byHand = await Measure.Time(async () => ids = await Hand(connection, name, me));
            Measure.Require(page!.Leads.Select(l => l.Id).SequenceEqual(ids) || page.Leads.Count == ids.Count && name is "My leads", $"other rows for {name}");
            if (i < Warm)
                continue;
            ours.Add(taken * 1000);
            hand.Add(byHand * 1000);
        }
        Console.WriteLine(
            $"{name}: {(page!.Estimated ? "about " : "")}{page.Count:#,0} leads; page and count median {Measure.At(ours, 0.5):0.0} ms, p95 {Measure.At(ours, 0.95):0.0} ms; by hand {Measure.At(hand, 0.5):0.0} and {Measure.At(hand, 0.95):0.0} ms; ratio of medians {Measure.At(ours, 0.5) / Measure.At(hand, 0.5):0.00}"
        );
    }

    private static async Task<List<Guid>> Hand(NpgsqlConnection connection, string name, Guid me)
    {
        var (where, order) = ByHand[name];
        await connection.QueryAsync<(int, int)>(
            $"select count(*)::int, (count(*) filter (where owner_id is null))::int from (select l.owner_id from lead l where {where} limit {Worklist.CountedExactly + 1}) x",
            new { me }
        );
        var ids = new List<Guid>();
        await using var command = new NpgsqlCommand(
            $"select {LeadRecord.Columns}, l.id, l.number, s.name as source_name, p.display_name{(ShowsCalls.Contains(name) ? LastCall : "")} from lead l join source s on s.key = l.source left join person p on p.id = l.owner_id where {where} order by {order} limit 50",
            connection
        );
        command.Parameters.AddWithValue("me", me);
        await using (var row = await command.ExecuteReaderAsync())
            while (await row.ReadAsync())
            {
                var values = new object[row.FieldCount];
                row.GetValues(values);
                ids.Add((Guid)row["id"]);
            }
        return ids;
    }

    // A third of the leads are open; of a hundred open ones six have nobody, eight have cleared the bar; of a hundred of all, one came back to life.
    public static async Task Base(NpgsqlConnection connection, int leads)
    {
        await connection.ExecuteAsync(
            """
            insert into lead (id, first_name, last_name, job_title, company, company_key, email, phone, city, country, language, industry, sites, employees, revenue, interest, state, source, owner_id,
              fit, fit_low, fit_high, engagement, band, decay, next_move, move_until, look_again_at, scored_at, created_at, last_touch_at, clock_started_at, clock_due_at, next_step_at, last_sign_at, silent_days)
            select gen_random_uuid(), 'Basis' || i, 'Person' || i, 'Operations manager', 'Base company ' || i / 3 || ' Ltd', 'base company ' || i / 3, 'base' || i || '@base' || i / 3 || '.example',
              '+4416329' || lpad(i::text, 7, '0'), 'Oldhaven', (array['GB', 'NO', 'SE', 'DE', 'US'])[1 + i % 5], 'en', 'port', i % 9, i % 300, i * 10, 'buoys', x.state, 'list-circular',
              case when i % 17 > 0 then (array(select id from person where 'rep' = any(roles) order by user_name))[1 + i % 10] end,
              (i * 7) % 100, 0, 100, e.engagement, e.engagement / 5, e.decay, case when i % 12 = 0 then 'hand_over' else 'park' end,
              case when i % 12 = 0 then now() + interval '20 days' end, now() + (1 + i % 4) * interval '1 day', now(), now() - i * interval '30 seconds', now() - i * interval '20 seconds', now() - interval '1 hour', case when x.state = 'new' then now() + i * interval '1 minute' end,
              case when x.state <> 'disqualified' and i % 3 > 0 then now() + i * interval '1 minute' end, now() - (i % 400) * interval '1 day' - i * interval '1 second', i % 100 + case when i % 10 = 0 then 90 else 0 end
            from generate_series(1, @leads) i, lateral (select (array['new', 'in_work', 'in_work', 'on_hold', 'qualified', 'disqualified', 'disqualified', 'disqualified', 'disqualified', 'handed_over',
              'handed_over', 'disqualified', 'disqualified', 'handed_over', 'handed_over'])[1 + (i * 31) % 15] as state) x,
              lateral (select g.decay, engagement_at(g.decay, g.decay[3]) as engagement from (select array[50, -10, date_part('epoch', now()) / 86400, 'Infinity',
                (i * 13) % 50 + case when i % 12 = 0 then 50 else 0 end, 30]::float8[] as decay) g) e
            """,
            new { leads },
            commandTimeout: 3600
        );
        await connection.ExecuteAsync(
            "insert into lead_event (id, lead_id, kind, at, detail) select gen_random_uuid(), id, 'mail.opened', last_sign_at, '' from lead where source = 'list-circular' and email like 'base%'",
            commandTimeout: 3600
        );
        await connection.ExecuteAsync("vacuum analyze", commandTimeout: 3600, commandType: System.Data.CommandType.Text);
    }
}
