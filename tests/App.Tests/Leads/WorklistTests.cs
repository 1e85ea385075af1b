using System.Net;
using CsCheck;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Tests.Leads;

/// <summary>Orders, columns, groups and counts of the worklist, on the demo's leads.</summary>
public sealed class WorklistTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static string Asking(Condition where) => $"where={Uri.EscapeDataString(Json.Write(where))}";

    private static Condition Open => Condition.Where("state", TestOperator.In, "new", "in_work", "on_hold", "qualified");

    private async Task<List<LeadListItem>> All(TestClient who, string query)
    {
        var (seen, next) = (new List<LeadListItem>(), (string?)null);
        do
        {
            var page = await who.Read<LeadPage>($"/api/leads?{query}" + (next is null ? "" : $"&after={Uri.EscapeDataString(next)}"));
            seen.AddRange(page.Leads);
            next = page.Next;
            page.Count.ShouldBeGreaterThanOrEqualTo(seen.Count);
            if (next is null)
                page.Count.ShouldBe(seen.Count);
        } while (next is not null);
        return seen;
    }

    [Theory]
    [InlineData("-created_at")]
    [InlineData("-fit,-engagement")]
    [InlineData("clock_due_at")]
    [InlineData("-next_step_at,last_name")]
    [InlineData("country,-fit,company,-created_at")]
    [InlineData("-last_call_at,owner")]
    [InlineData("customer,-silent_days")]
    [InlineData("-consent_news,-calls")]
    [InlineData("water_body,-revenue")]
    public async Task PagesTogetherHoldEveryLeadOnceInOrder(string order)
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var columns = string.Join(',', order.Split(',').Select(k => k.TrimStart('-')));
        var seen = await All(ingrid, $"order={order}&columns={columns}");
        seen.Select(l => l.Id).Distinct().Count().ShouldBe(seen.Count);
        // What is not known comes last, whichever way the first key runs.
        var first = columns.Split(',')[0];
        seen.Select(l => l.Cells[first] is null).ShouldBe(seen.Select(l => l.Cells[first] is null).Order());
        if (first is "created_at" or "next_step_at" or "clock_due_at" or "last_call_at")
        {
            var moments = seen.Select(l => l.Cells[first]).OfType<string>().Select(m => DateTimeOffset.Parse(m, System.Globalization.CultureInfo.InvariantCulture)).ToList();
            moments.ShouldBe(order.StartsWith('-') ? moments.OrderDescending() : moments.Order());
        }
        if (first == "fit")
            seen.Zip(seen.Skip(1)).ShouldAllBe(p => p.First.Fit > p.Second.Fit || (p.First.Fit == p.Second.Fit));
    }

    [Fact]
    public async Task TheSecondKeyOrdersWithinTheFirst()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var seen = await All(ingrid, "order=country,-fit&columns=country");
        foreach (var country in seen.GroupBy(l => l.Cells["country"]))
            country.Select(l => l.Fit).ShouldBe(country.Select(l => l.Fit).OrderDescending());
    }

    [Theory]
    [InlineData("order=sideways", "order-unknown")]
    [InlineData("order=tag", "order-unknown")]
    [InlineData("order=fit,engagement,country,state,source", "too-many-keys")]
    [InlineData("columns=nothing", "field-unknown")]
    [InlineData("columns=campaign_response", "field-unknown")]
    [InlineData("group=tag", "group-unknown")]
    [InlineData("group=state:month", "group-unknown")]
    [InlineData("after=bm9wZQ==", "cursor-unreadable")]
    [InlineData("after=eyJ2YWx1ZXMiOlsieCJdLCJpZCI6IjAwMDAwMDAwLTAwMDAtMDAwMC0wMDAwLTAwMDAwMDAwMDAwMCJ9", "cursor-unreadable")]
    [InlineData("where={\"field\":\"created_at\",\"is\":\"since\",\"values\":[\"soon\"]}", "number-unreadable")]
    public async Task WhatCannotBeAskedIsRefusedWithASentence(string query, string problem)
    {
        var answer = await (await fixture.Server.SignIn("ingrid.brekke")).Get($"/api/leads?{query}");
        (answer.Status, answer.Problem).ShouldBe((HttpStatusCode.UnprocessableEntity, problem));
    }

    [Theory]
    [InlineData("source", "state", "count")]
    [InlineData("created_at:month", "source", "count")]
    [InlineData("created_at:week", "owner", "sum:revenue")]
    [InlineData("last_sign_at:day", null, "mean:fit")]
    [InlineData("fit", "engagement", "count")]
    [InlineData("revenue", "industry", "count")]
    [InlineData("country", "customer", "mean:engagement")]
    [InlineData("consent_news", "created_at:year", "count")]
    [InlineData("city", null, "count")]
    public async Task CellsAddUpToTheCountAndLeadToTheirRows(string rows, string? columns, string measure)
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var query = $"rows={rows}" + (columns is null ? "" : $"&columns={columns}") + $"&measure={measure}";
        var groups = await ingrid.Read<GroupsView>($"/api/leads/groups?{query}&{Asking(Open)}");
        var count = (await ingrid.Read<LeadCount>($"/api/leads/count?{Asking(Open)}")).All;
        (groups.Total, groups.Cells.Sum(c => c.Count)).ShouldBe((count, count));
        groups.Cells.Select(c => (c.Row, c.Column)).Distinct().Count().ShouldBe(groups.Cells.Count);
        foreach (var cell in groups.Cells.Take(40))
        {
            var parts = new[] { Open, groups.Rows[cell.Row].Where, groups.Columns.Count == 0 ? Condition.Always : groups.Columns[cell.Column].Where };
            if (parts.Contains(null))
                continue;
            (await ingrid.Read<LeadCount>($"/api/leads/count?{Asking(new AllOf([.. parts!]))}")).All.ShouldBe(cell.Count, $"{groups.Rows[cell.Row].Label}, cell {cell.Column}");
        }
    }

    [Fact]
    public async Task RowsOfAGroupStandTogetherUnderItsName()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var seen = await All(ingrid, $"group=created_at:month&order=-fit&{Asking(Open)}");
        seen.Select(l => l.Group).ShouldBe(seen.GroupBy(l => l.Group).SelectMany(g => g.Select(l => l.Group)));
        seen.ShouldAllBe(l =>
            l.GroupLabel == l.CreatedAt.ToString("MMM yyyy", System.Globalization.CultureInfo.InvariantCulture)
            || l.CreatedAt.Day == DateTime.DaysInMonth(l.CreatedAt.Year, l.CreatedAt.Month)
            || l.CreatedAt.Day == 1
        );
    }

    [Fact]
    public async Task WhoeverAsksIsMe()
    {
        var tor = await fixture.Server.SignIn("tor.vik");
        var mine = await All(tor, Asking(Condition.Where("owner", TestOperator.In, LeadAsk.Me)));
        mine.ShouldNotBeEmpty();
        mine.ShouldAllBe(l => l.OwnerId == tor.Session.Id);
    }

    [Fact]
    public async Task WhatIsKeptAtAGlanceIsWhatTheTablesSay()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var lead = await connection.QueryFirstAsync<Guid>(
            """
            select l.id from lead l join task t on t.lead_id = l.id and t.done_at is null where l.state = 'in_work' and not exists (select 1 from meeting m where m.lead_id = l.id)
            group by l.id having count(*) = 1 and max(t.repeat) is null order by max(l.number) limit 1
            """
        );
        var task = await connection.QueryFirstAsync<Guid>("select id from task where lead_id = @lead and done_at is null order by due_at limit 1", new { lead });
        await ingrid.Post($"/api/tasks/{task}/done");
        await ingrid.Post($"/api/leads/{lead}/touches", new { kind = "call", text = "Rang about the probes." });
        var differing = await connection.QueryAsync<int>(
            """
            select l.number from lead l
              left join lateral (select least((select min(due_at) from task where lead_id = l.id and done_at is null),
                (select min(starts_at) from meeting where lead_id = l.id and cancelled_at is null and result is null)) as due) t on true
              left join lateral (select max(at) as at from lead_event where lead_id = l.id) e on true
              left join lateral (select max(at) as at from lead_event where lead_id = l.id and at < e.at - interval '1 day') b on true
            where l.next_step_at is distinct from t.due or l.last_sign_at is distinct from e.at
              or l.silent_days is distinct from floor(extract(epoch from e.at - b.at) / 86400)::int
            """
        );
        differing.ShouldBeEmpty();
        (await connection.QuerySingleAsync<DateTime?>("select next_step_at from lead where id = @lead", new { lead })).ShouldBeNull();
    }

    [Fact]
    public async Task WhatStandsAroundALeadCanBeAskedAndShown()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var seen = await All(ingrid, "columns=tag,team,event,customer,calls,consent_news,responded,in_campaign");
        await Holds("tag", "expo visitor", "event-expo");
        await Holds("team", "North Sea", "north-sea");
        await Holds("customer", "Yes", "yes");
        await Holds("consent_news", "Given", "given");
        await Holds("responded", "Attended", "attended");
        async Task Holds(string field, string label, string value)
        {
            var asked = (await All(ingrid, Asking(Condition.Where(field, TestOperator.In, value)))).Select(l => l.Id).ToHashSet();
            asked.ShouldNotBeEmpty(field);
            asked
                .SetEquals(seen.Where(l => l.Cells[field]?.Split(", ").Any(v => v.Contains(label, StringComparison.Ordinal)) == true).Select(l => l.Id))
                .ShouldBeTrue($"{field}: {label}");
        }
    }

    [Fact]
    public async Task WhoIsEngagedNowIsCountedAndFoundExactlyAtEveryNumber()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        // Some of those whose bands are due to be looked at, so that what is kept is behind.
        await connection.ExecuteAsync("update lead set look_again_at = now() - interval '1 minute' where decay is not null and number % 3 = 0");
        async Task<Dictionary<Guid, int>> Engagement() =>
            (
                await connection.QueryAsync<(Guid, int)>(
                    "select id, case when decay is null then 0 else engagement_at(decay, @day) end from lead",
                    new { day = Core.Scoring.EngagementDecay.DayOf(NodaTime.SystemClock.Instance.GetCurrentInstant()) }
                )
            ).ToDictionary(e => e.Item1, e => e.Item2);
        var before = await Engagement();
        var counted = new Dictionary<int, int>();
        for (var n = 1; n <= 100; n++)
            counted[n] = (await ingrid.Read<LeadCount>($"/api/leads/count?{Asking(Condition.Where("engagement", TestOperator.AtLeast, $"{n}"))}")).All;
        var warm = await All(ingrid, $"{Asking(Condition.Where("engagement", TestOperator.AtLeast, "37"))}&order=-engagement");
        var after = await Engagement();
        // It goes down, or up after a withdrawal, while it is counted; nobody is counted who reached it neither before nor after.
        foreach (var (n, count) in counted)
            count.ShouldBeInRange(before.Count(e => e.Value >= n && after[e.Key] >= n), before.Count(e => e.Value >= n || after[e.Key] >= n), $"{n} or more");
        counted[1].ShouldBeGreaterThan(counted[50]);
        counted[50].ShouldBeGreaterThan(0);
        warm.Select(l => l.Id).ShouldBeUnique();
        before.Where(e => e.Value >= 37 && after[e.Key] >= 37).Select(e => e.Key).Except(warm.Select(l => l.Id)).ShouldBeEmpty();
        warm.ShouldAllBe(l => before[l.Id] >= 37 || after[l.Id] >= 37);
    }

    [Fact]
    public async Task ManyLeadsAreEstimatedAndCountedWhenAsked()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        await using var transaction = await connection.BeginTransactionAsync();
        await connection.ExecuteAsync(
            """
            insert into lead (id, source, state, next_move, created_at, last_touch_at, fit, fit_low, fit_high, engagement, email)
            select gen_random_uuid(), 'telephone', 'new', 'park', now(), now(), 0, 0, 0, 0, 'crowd' || n || '@crowd.example' from generate_series(1, 12000) n
            """
        );
        await transaction.CommitAsync();
        await connection.ExecuteAsync("analyze lead", commandType: System.Data.CommandType.Text);
        var crowd = Condition.Where("email", TestOperator.Contains, "@crowd.example");
        var page = await ingrid.Read<LeadPage>($"/api/leads?{Asking(crowd)}");
        page.Estimated.ShouldBeTrue();
        page.Count.ShouldBeGreaterThanOrEqualTo(Worklist.PageSize);
        (await ingrid.Read<LeadCount>($"/api/leads/count?{Asking(crowd)}")).ShouldBe(new LeadCount(12_000, false, 12_000));
        await connection.ExecuteAsync("delete from lead where email like '%@crowd.example'");
    }
}
