using System.Net;
using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.Core.Conditions;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.App.Tests.Leads.Bulk;

/// <summary>Many leads at once: what a preview says is what is done, and what is done can be undone.</summary>
public sealed class BulkTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private const string Path = "/api/bulk-edits";

    private async Task<Guid[]> Some(string where, int most = 12)
    {
        await using var connection = await fixture.Server.Connect();
        return [.. await connection.QueryAsync<Guid>($"select id from lead where {where} order by number limit {most}")];
    }

    // Everything that an act may touch, so that "as before" is meant. A calendar must learn of the way back too, so a task's changes are counted on.
    private async Task<string> Snapshot(Guid[] ids)
    {
        await using var connection = await fixture.Server.Connect();
        return await connection.QuerySingleAsync<string>(
            """
            select jsonb_agg(to_jsonb(l) - array['version', 'last_touch_at', 'engagement', 'next_move', 'decay', 'band', 'move_until', 'look_again_at', 'scored_at'] || jsonb_build_object(
              'tags', (select jsonb_agg(tag_key order by tag_key) from lead_tag t where t.lead_id = l.id),
              'tasks', (select jsonb_agg(to_jsonb(t) - 'changes' order by t.id) from task t where t.lead_id = l.id),
              'events', (select jsonb_agg(to_jsonb(e) order by e.id) from lead_event e where e.lead_id = l.id),
              'decisions', (select jsonb_agg(to_jsonb(d) order by d.id) from routing_decision d where d.lead_id = l.id),
              'meetings', (select jsonb_agg(to_jsonb(m) || jsonb_build_object('booked', (select jsonb_agg(to_jsonb(b)) from booking b where b.meeting_id = m.id)) order by m.id) from meeting m where m.lead_id = l.id),
              'responses', (select jsonb_agg(to_jsonb(r) order by r.id) from campaign_response r where r.lead_id = l.id),
              'keys', (select jsonb_agg(k.key order by k.key) from match_key k where k.record_id = l.id)) order by l.id)::text
            from lead l where id = any(@ids)
            """,
            new { ids }
        );
    }

    private static async Task<BulkEditView> Ended(TestClient who, Answer answer)
    {
        answer.Status.ShouldBe(HttpStatusCode.Accepted, answer.Body);
        return await who.Ended(answer.Read<BulkEditView>());
    }

    public static TheoryData<string, string> Acts =>
        new()
        {
            { """{"kind":"fact","field":"industry","value":"brewery"}""", "true" },
            { """{"kind":"fact","field":"company","value":"Loch Fathom Ltd"}""", "state = 'in_work'" },
            { """{"kind":"fact","field":"email","value":""}""", "phone is not null and email is not null" },
            { """{"kind":"tag","key":"TAG"}""", "true" },
            { """{"kind":"untag","key":"TAG"}""", "id in (select lead_id from lead_tag where tag_key = 'TAG')" },
            { """{"kind":"state","state":"on_hold","wakeAt":"2029-01-05T06:00:00Z"}""", "state in ('new', 'in_work')" },
            { """{"kind":"state","state":"in_work"}""", "state = 'new' and clock_due_at is not null" },
            { """{"kind":"state","state":"disqualified","reason":"too_dear"}""", "state in ('on_hold', 'in_work')" },
            { """{"kind":"campaign","key":"CAMPAIGN"}""", "true" },
            { """{"kind":"give","to":["PERSON"]}""", "state in ('new', 'in_work')" },
            { """{"kind":"give","to":[]}""", "owner_id is not null" },
            { """{"kind":"remove"}""", "true" },
            { """{"kind":"hand_over","key":"PIPELINE"}""", "state in ('qualified', 'new') and exists (select 1 from lead x where x.state = 'qualified')" },
        };

    [Theory]
    [MemberData(nameof(Acts))]
    public async Task APreviewSaysWhatIsDoneAndUndoingLeavesAllAsBefore(string act, string where)
    {
        await using var connection = await fixture.Server.Connect();
        var tag = await connection.QueryFirstAsync<string>("select tag_key from lead_tag group by 1 order by count(*) desc");
        var campaign = await connection.QueryFirstAsync<string>("select key from campaign order by key");
        var person = await connection.QueryFirstAsync<Guid>("select id from person where user_name = 'tor.vik'");
        var pipeline = await connection.QueryFirstAsync<string>("select key from pipeline order by key");
        string Named(string text) =>
            text.Replace("PIPELINE", pipeline, StringComparison.Ordinal)
                .Replace("TAG", tag, StringComparison.Ordinal)
                .Replace("CAMPAIGN", campaign, StringComparison.Ordinal)
                .Replace("PERSON", $"{person}", StringComparison.Ordinal);
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var ids = await Some($"state <> 'handed_over' and {Named(where)}");
        var before = await Snapshot(ids);
        var order = $$"""{"act":{{Named(act)}},"leads":{{Json.Write(ids)}}}""";

        var preview = (await ingrid.PostText($"{Path}/preview", order)).Read<BulkPreview>();
        preview.Changed.ShouldBeGreaterThan(0);
        (preview.Changed + preview.Same + preview.Left.Sum(l => l.Leads)).ShouldBe(ids.Length);
        (await Snapshot(ids)).ShouldBe(before);

        var done = await Ended(ingrid, await ingrid.PostText(Path, order));
        (done.State, done.Leads, done.Changed, done.LeftAlone).ShouldBe(("done", ids.Length, preview.Changed, preview.Left.Sum(l => l.Leads)), done.Trouble);
        (await Snapshot(ids)).ShouldNotBe(before);
        var undone = await Ended(ingrid, await ingrid.Post($"{Path}/{done.Id}/undo", new { }));
        (undone.State, undone.Restored).ShouldBe(("undone", done.Changed));
        (await Snapshot(ids)).ShouldBe(before);
        (await ingrid.Post($"{Path}/{done.Id}/undo", new { })).Problem.ShouldBe("undone");
    }

    [Fact]
    public async Task ARemovedLeadIsGoneFromEverywhereAndAnErasureFindsItStill()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var (id, number, mail) = await connection.QueryFirstAsync<(Guid, int, string)>(
            "select id, number, email from lead l where state = 'in_work' and email is not null and (select count(*) from lead o where o.email = l.email) = 1 and not exists (select 1 from contact c where c.email = l.email) order by number desc limit 1"
        );
        var done = await Ended(ingrid, await ingrid.Post(Path, new { act = new { kind = "remove" }, leads = new[] { id } }));
        done.Changed.ShouldBe(1);
        (await ingrid.Get($"/api/leads/{id}")).Status.ShouldBe(HttpStatusCode.NotFound);
        foreach (var table in new[] { "lead_event", "story_entry", "task", "lead_tag", "meeting", "routing_decision", "campaign_response" })
            (await connection.QuerySingleAsync<int>($"select count(*)::int from {table} where lead_id = @id", new { id })).ShouldBe(0, table);
        (await connection.QuerySingleAsync<int>("select count(*)::int from match_key where record_id = @id", new { id })).ShouldBe(0);
        var samir = await fixture.Server.SignIn("samir.haddow");
        (await samir.Get($"/api/persons?who={number}")).Body.ShouldContain(mail);
        (
            await samir.Post(
                "/api/persons/erase",
                new
                {
                    who = mail,
                    confirm = mail,
                    bar = false,
                }
            )
        ).Status.ShouldBe(HttpStatusCode.OK);
        (await connection.QuerySingleAsync<int>("select count(*)::int from bulk_lead where kept::text like '%' || @mail || '%'", new { mail })).ShouldBe(0);
        (await samir.Get($"/api/persons?who={mail}")).Problem.ShouldBe("nobody");
    }

    [Fact]
    public async Task WhoComesInAgainWhileBeingRemovedIsNeverLost()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var (id, mail, last) = await connection.QueryFirstAsync<(Guid, string, string)>(
            "select id, email, last_name from lead where state = 'in_work' and email is not null and last_name is not null order by md5(id::text) limit 1"
        );
        var came = Enumerable
            .Range(0, 30)
            .Select(async i =>
            {
                await Task.Delay(i * 10);
                return await ingrid.Post(
                    "/api/leads",
                    new
                    {
                        source = "telephone",
                        facts = new { email = mail, last_name = last },
                        note = $"Rang again, {i}.",
                    }
                );
            })
            .ToList();
        var removed = Task.Run(async () =>
        {
            await Task.Delay(100);
            return await Ended(ingrid, await ingrid.Post(Path, new { act = new { kind = "remove" }, leads = new[] { id } }));
        });
        (await Task.WhenAll(came)).ShouldAllBe(a => a.Status == HttpStatusCode.Created || a.Status == HttpStatusCode.OK);
        var edit = await removed;
        (edit.Changed, edit.Trouble).ShouldBe((1, null));
        foreach (var table in new[] { "lead_event", "story_entry", "task", "routing_decision" })
            (
                await connection.QuerySingleAsync<int>($"select count(*)::int from {table} t where lead_id is not null and not exists (select 1 from lead where id = t.lead_id)")
            ).ShouldBe(0, table);
        // What was said is with the lead that was removed, or with the one that came after.
        (await Ended(ingrid, await ingrid.Post($"{Path}/{edit.Id}/undo", new { }))).Restored.ShouldBe(1);
        (
            await connection.QuerySingleAsync<int>(
                "select count(distinct s.text)::int from story_entry s join lead l on l.id = s.lead_id where l.email = @mail and s.text like 'Rang again, %'",
                new { mail }
            )
        ).ShouldBe(30);
    }

    [Fact]
    public async Task AManyfoldHandoverLinksTheKnownAccountAndLeavesADealWorkedOn()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var pipeline = await connection.QueryFirstAsync<string>("select key from pipeline order by key");
        var ids = await Some("state in ('in_work', 'qualified') and company is not null and last_name is not null", 3);
        await connection.ExecuteAsync(
            "update lead set state = 'qualified', company = 'Twice Handed AS', company_key = 'twice handed', website = 'twicehanded.example', country = 'NO' where id = any(@ids)",
            new { ids }
        );
        var done = await Ended(ingrid, await ingrid.Post(Path, new { act = new { kind = "hand_over", key = pipeline }, leads = ids }));
        (done.Changed, done.LeftAlone).ShouldBe((3, 0), done.Trouble);
        (await connection.QuerySingleAsync<int>("select count(*)::int from account where company_key = 'twice handed'")).ShouldBe(1);
        (await connection.QuerySingleAsync<int>("select count(*)::int from deal where lead_id = any(@ids)", new { ids })).ShouldBe(3);
        // Once more changes nothing.
        (await Ended(ingrid, await ingrid.Post(Path, new { act = new { kind = "hand_over", key = pipeline }, leads = ids }))).LeftAlone.ShouldBe(3);
        var deal = await connection.QuerySingleAsync<Guid>("select id from deal where lead_id = @one", new { one = ids[0] });
        await connection.ExecuteAsync(
            "insert into story_entry (id, deal_id, at, kind, text) values (gen_random_uuid(), @deal, now() + interval '1 hour', 'note', 'Offer sent.')",
            new { deal }
        );
        var undone = await Ended(ingrid, await ingrid.Post($"{Path}/{done.Id}/undo", new { }));
        (undone.Restored, undone.Left.Single().Why).ShouldBe(
            (2, "Somebody has worked with it since: Offer sent. Keep the deal and take only the lead back, or close the deal as lost.")
        );
        (await connection.QuerySingleAsync<int>("select count(*)::int from account where company_key = 'twice handed'")).ShouldBe(1);
    }

    [Fact]
    public async Task WhoMayNotRemoveByRoleMayWhereAViewOfTheirTeamLetsThem()
    {
        var (ingrid, tor) = (await fixture.Server.SignIn("ingrid.brekke"), await fixture.Server.SignIn("tor.vik"));
        var ids = await Some("state = 'disqualified'", 2);
        var order = new { act = new { kind = "remove" }, leads = ids };
        (await tor.Post($"{Path}/preview", order)).Problem.ShouldBe("not-yours");
        var body = new ViewBody(Condition.Where("state", TestOperator.In, "disqualified"), "-fit", []);
        var view = (await ingrid.Post("/api/views", new ViewWrite("To clear out", "fixed", [], ["delete"], body))).Read<Guid>();
        (
            await tor.Post(
                $"{Path}/preview",
                new
                {
                    order.act,
                    order.leads,
                    view,
                }
            )
        ).Read<BulkPreview>().Changed.ShouldBe(2);
        // What the view does not hold stays out of reach.
        (
            await tor.Post(
                $"{Path}/preview",
                new
                {
                    order.act,
                    leads = await Some("state = 'new'", 2),
                    view,
                }
            )
        )
            .Read<BulkPreview>()
            .Changed.ShouldBe(0);
    }

    [Fact]
    public async Task WhatWasChangedSinceIsLeftWhenUndoingAndSaid()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var ids = await Some("state = 'in_work'", 3);
        var done = await Ended(
            ingrid,
            await ingrid.Post(
                Path,
                new
                {
                    act = new
                    {
                        kind = "fact",
                        field = "job_title",
                        value = "Buoy keeper",
                    },
                    leads = ids,
                }
            )
        );
        var one = await ingrid.Read<LeadSheet>($"/api/leads/{ids[1]}");
        (await ingrid.Patch($"/api/leads/{ids[1]}", new { facts = new { job_title = "Harbour master" } }, one.Version)).Status.ShouldBe(HttpStatusCode.OK);
        var undone = await Ended(ingrid, await ingrid.Post($"{Path}/{done.Id}/undo", new { }));
        (undone.Restored, undone.Left.Single()).ShouldBe((2, new BulkReason("changed since", 1)));
        (await ingrid.Read<LeadSheet>($"/api/leads/{ids[1]}")).Facts.Single(f => f.Key == "job_title").Value.ShouldBe("Harbour master");
    }

    [Fact]
    public async Task ManyAreGivenInTurnAndEachNewOwnerIsToldOnce()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var to = (await connection.QueryAsync<Guid>("select id from person where 'rep' = any(roles) order by id limit 2")).ToArray();
        var ids = await Some($"state = 'in_work' and owner_id is not null and owner_id <> all(array['{to[0]}', '{to[1]}']::uuid[])", 9);
        await Ended(ingrid, await ingrid.Post(Path, new { act = new { kind = "give", to }, leads = ids }));
        var owners = (await connection.QueryAsync<Guid>("select owner_id from lead where id = any(@ids) order by number", new { ids })).ToList();
        owners.Count(o => o == to[0]).ShouldBe(5);
        owners.Where((_, i) => i % 2 == 1).ShouldAllBe(o => o == to[1]);
        await fixture.Server.Heard();
        (
            await connection.QuerySingleAsync<string>(
                "select subject from outbox where kind = 'leads-given' and person_id = @to order by created_at desc limit 1",
                new { to = to[1] }
            )
        ).ShouldBe("4 leads were given to you");
        (
            await connection.QuerySingleAsync<int>(
                "select count(*)::int from lead l where id = any(@ids) and not exists (select 1 from task t where t.lead_id = l.id and t.owner_id = l.owner_id and done_at is null)",
                new { ids }
            )
        ).ShouldBe(0);
    }

    [Fact]
    public async Task ARepChangesOnlyTheirOwnAndGivesNone()
    {
        var tor = await fixture.Server.SignIn("tor.vik");
        var ids = await Some("state = 'in_work' and owner_id is not null", 40);
        var preview = (
            await tor.Post(
                $"{Path}/preview",
                new
                {
                    act = new
                    {
                        kind = "fact",
                        field = "city",
                        value = "Bergen",
                    },
                    leads = ids,
                }
            )
        ).Read<BulkPreview>();
        preview.Left.Single(l => l.Why == "not yours").Leads.ShouldBeGreaterThan(0);
        (await tor.Post(Path, new { act = new { kind = "give", to = Array.Empty<Guid>() }, leads = ids })).Status.ShouldBe(HttpStatusCode.Forbidden);
        var marketer = await fixture.Server.SignIn("lucie.armand");
        (
            await marketer.Post(
                Path,
                new
                {
                    act = new
                    {
                        kind = "fact",
                        field = "city",
                        value = "Bergen",
                    },
                    leads = ids,
                }
            )
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task AFixedViewLetsItsTeamGiveWhatItHoldsAndNoMore()
    {
        var (tor, ingrid) = (await fixture.Server.SignIn("tor.vik"), await fixture.Server.SignIn("ingrid.brekke"));
        var body = new ViewBody(Condition.Where("country", TestOperator.In, "NO"), "-fit", []);
        var view = (await ingrid.Post("/api/views", new ViewWrite("Ours to give", "fixed", ["north-sea"], ["give"], body))).Read<Guid>();
        await using var connection = await fixture.Server.Connect();
        var mixed = (await Some("country = 'NO' and state = 'new'", 2)).Concat(await Some("country = 'DE' and state = 'new'", 2)).ToArray();
        var order = new
        {
            act = new { kind = "give", to = new[] { await connection.QuerySingleAsync<Guid>("select id from person where user_name = 'tor.vik'") } },
            leads = mixed,
            view,
        };
        (await tor.Post($"{Path}/preview", order)).Read<BulkPreview>().Leads.ShouldBe(2);
        var done = await Ended(tor, await tor.Post(Path, order));
        (done.State, done.Leads).ShouldBe(("done", 2));
    }

    [Fact]
    public async Task AnOrderSentTwiceIsDoneOnce()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var ids = await Some("state = 'in_work'", 4);
        var body = new
        {
            act = new
            {
                kind = "fact",
                field = "department",
                value = "Water quality",
            },
            leads = ids,
        };
        var twice = await Task.WhenAll(ingrid.Post(Path, body, key: "one-press"), ingrid.Post(Path, body, key: "one-press"));
        twice.Select(a => a.Read<BulkEditView>().Id).Distinct().Count().ShouldBe(1);
        await Ended(ingrid, twice[0]);
        await using var connection = await fixture.Server.Connect();
        (
            await connection.QuerySingleAsync<int>(
                "select count(*)::int from event where record = @id and kind = 'fact' and cause = 'bulk' and cause_id = @bulk",
                new { id = ids[0], bulk = twice[0].Read<BulkEditView>().Id }
            )
        ).ShouldBe(1);
    }

    [Fact]
    public async Task AllOfASentenceAreFrozenWhenItIsOrdered()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var where = """{"all":[{"field":"state","is":"in","values":["in_work"]},{"field":"country","is":"in","values":["NO"]}]}""";
        var count = await ingrid.Read<LeadCount>($"/api/leads/count?where={Uri.EscapeDataString(where)}");
        var done = await Ended(
            ingrid,
            await ingrid.Post(
                Path,
                new
                {
                    act = new
                    {
                        kind = "fact",
                        field = "country",
                        value = "Sweden",
                    },
                    where,
                }
            )
        );
        (done.Leads, done.Changed).ShouldBe((count.All, count.All));
        var undone = await Ended(ingrid, await ingrid.Post($"{Path}/{done.Id}/undo", new { }));
        undone.Restored.ShouldBe(count.All);
        (await ingrid.Read<LeadCount>($"/api/leads/count?where={Uri.EscapeDataString(where)}")).All.ShouldBe(count.All);
    }

    [Fact]
    public async Task AnOrderThatMakesNoSenseIsRefused()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var leads = await Some("true", 1);
        await Refused(new { kind = "burn" }, "act-unknown");
        await Refused(
            new
            {
                kind = "fact",
                field = "fit",
                value = "90",
            },
            "fact-unfit"
        );
        await Refused(
            new
            {
                kind = "fact",
                field = "country",
                value = "Atlantis",
            },
            "country-unknown"
        );
        await Refused(new { kind = "tag", key = "no-such" }, "not-in-use");
        await Refused(new { kind = "campaign", key = "no-such" }, "not-in-use");
        await Refused(
            new
            {
                kind = "campaign",
                key = "no-such",
                response = "attended",
            },
            "response-not-ours"
        );
        await Refused(new { kind = "state", state = "handed_over" }, "state-unfit");
        await Refused(new { kind = "state", state = "on_hold" }, "wake-missing");
        await Refused(new { kind = "give", to = new[] { Guid.NewGuid() } }, "worker-unknown");
        (await ingrid.Post(Path, new { act = new { kind = "tag", key = "x" } })).Problem.ShouldBe("which-leads");
        (await ingrid.Post(Path, new { act = new { kind = "tag", key = "x" }, leads = Array.Empty<Guid>() })).Problem.ShouldBe("named-count");
        async Task Refused(object act, string problem) => (await ingrid.Post(Path, new { act, leads })).Problem.ShouldBe(problem);
    }

    [Fact]
    public async Task TwoProcessesAtOnceDoEachLeadOnce()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var beside = await fixture.Server.Beside();
        var where = """{"field":"state","is":"in","values":["new","in_work","on_hold","qualified","disqualified"]}""";
        var ordered = await ingrid.Post(
            Path,
            new
            {
                act = new
                {
                    kind = "fact",
                    field = "department",
                    value = "Estuary watch",
                },
                where,
            }
        );
        beside.Services.GetRequiredService<BulkRunner>().Wake();
        var done = await Ended(ingrid, ordered);
        done.State.ShouldBe("done");
        await using var connection = await fixture.Server.Connect();
        (
            await connection.QuerySingleAsync<int>(
                "select count(*)::int from (select record from event where cause = 'bulk' and cause_id = @Id group by 1 having count(*) > 1) x",
                new { done.Id }
            )
        ).ShouldBe(0);
        (await connection.QuerySingleAsync<int>("select count(*)::int from bulk_lead where bulk_id = @Id and outcome is null", new { done.Id })).ShouldBe(0);
    }
}
