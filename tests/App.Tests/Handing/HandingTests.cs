using System.Net;
using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.App.Handing;
using DapperLantern.Core.Handing;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Handing;

/// <summary>People leave, for good or for a time, and all they hold goes to others.</summary>
public sealed class HandingTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private TestServer Server => fixture.Server;

    private Task<TestClient> Administrator() => Server.SignIn("samir.haddow");

    private Task<Guid> Id(string signIn) => Server.Scalar<Guid>($"select id from person where user_name = '{signIn}'");

    // Whose everything is, and what names people: what an undo has to bring back.
    private Task<string> World() =>
        Server.Scalar<string>(
            """
            select md5(string_agg(x, '|' order by x)) from (
              select 'lead ' || id || coalesce(owner_id::text, '-') || coalesce(clock_due_at::text, '') as x from lead union all select 'account ' || id || coalesce(owner_id::text, '-') from account
              union all select 'contact ' || id || coalesce(owner_id::text, '-') from contact union all select 'deal ' || id || coalesce(owner_id::text, '-') from deal
              union all select 'task ' || id || owner_id from task where done_at is null
              union all select 'meeting ' || id || (select string_agg(p::text, ',' order by p) from unnest(people) p) from meeting
              union all select 'view ' || id || coalesce(owner_id::text, '-') from lead_view union all select 'campaign ' || key || coalesce(owner_id::text, '-') from campaign
              union all select 'turn ' || team_key || person_id || weight || ' ' || row_number() over (partition by team_key order by position, person_id) from turn
              union all select 'person ' || id || here || coalesce(manager_id::text, '-') from person
              union all select 'sheet ' || body::text from edition where kind = 'rules' and state = 'live') y
            """
        );

    private static object Order(IEnumerable<object> kinds, bool leaves = false, DateOnly? lastDay = null, Guid? to = null, string note = "", object? singly = null) =>
        new
        {
            kinds,
            singly = singly ?? Array.Empty<object>(),
            leaves,
            lastDay,
            placesTo = to,
            rulesTo = to,
            reportsTo = to,
            note,
        };

    private static IEnumerable<object> ToOne(Guid to) =>
        HeldKind
            .All.Where(k => k.Key != HeldKind.Campaign)
            .Select(k =>
                (object)
                    new
                    {
                        kind = k.Key,
                        how = HandingWay.Person,
                        person = to,
                    }
            );

    [Fact]
    public async Task SomebodyLeavesAndNothingOfTheirsIsWithoutAnOwnerAndTheUndoBringsAllBack()
    {
        var samir = await Administrator();
        var (tor, aoife) = (await Id("tor.vik"), await Id("aoife.brannigan"));
        var before = await World();
        var held = await samir.Read<HoldingsView>($"/api/setup/people/{tor}/holdings");
        held.Kinds.Single(k => k.Kind == HeldKind.Lead).Count.ShouldBeGreaterThan(0);
        var deals = held.Kinds.Single(k => k.Kind == HeldKind.Deal);
        deals.Count.ShouldBe(await Server.Scalar<int>($"select count(*)::int from deal where owner_id = '{tor}' and closed_at is null"));
        deals.Money.Sum(m => m.Amount).ShouldBe(await Server.Scalar<decimal>($"select sum(amount) from deal where owner_id = '{tor}' and closed_at is null"));
        // Looking changes nothing, and says what the act then does.
        var order = Order(ToOne(aoife), leaves: true, to: aoife, note: "Mind the ferry.");
        var look = (await samir.Post($"/api/setup/people/{tor}/handing/look", order)).Read<HandingView>();
        (await World()).ShouldBe(before);
        look.Id.ShouldBeNull();
        var torAtWork = await Server.SignIn("tor.vik");
        var done = (await samir.Post($"/api/setup/people/{tor}/handing", order)).Read<HandingView>();
        var share = done.Shares.ShouldHaveSingleItem();
        share.Person.ShouldBe(aoife);
        Json.Write(look with { Id = done.Id }).ShouldBe(Json.Write(done));
        share.Counts.Sum(c => c.Count).ShouldBe(held.Kinds.Where(k => k.Kind != HeldKind.Campaign).Sum(k => k.Count));
        (await samir.Read<HoldingsView>($"/api/setup/people/{tor}/holdings")).Kinds.ShouldAllBe(k => k.Count == 0);
        (await Server.Scalar<int>($"select count(*)::int from turn t join team on key = team_key where person_id = '{tor}'")).ShouldBe(0);
        (await Server.Scalar<string>("select body::text from edition where kind = 'rules' and state = 'live'")).ShouldNotContain("tor.vik");
        // Their work stays under their name; they are out at once.
        (await Server.Scalar<int>($"select count(*)::int from story_entry where person_id = '{tor}'")).ShouldBeGreaterThan(0);
        (await torAtWork.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        // Who got it is told once, with the word.
        await Server.Heard();
        (
            await Server.Scalar<int>(
                $"select count(*)::int from outbox where person_id = '{aoife}' and kind = 'handed-on' and text like '%Mind the ferry.%' and subject like 'From Tor Vik: %'"
            )
        ).ShouldBe(1);
        (
            await Server.Scalar<int>(
                $"select count(*)::int from outbox where person_id = '{aoife}' and kind in ('lead-given', 'leads-given', 'deal-given') and created_at > now() - interval '1 minute'"
            )
        ).ShouldBe(0);
        var back = (await samir.Post($"/api/setup/handings/{done.Id}/undo")).Read<HandedBack>();
        (back.Left, back.Words.Count, back.Restored).ShouldBe((0, 0, share.Counts.Sum(c => c.Count)));
        (await World()).ShouldBe(before);
        (await samir.Post($"/api/setup/handings/{done.Id}/undo")).Problem.ShouldBe("handing-back");
        await Server.SignIn("tor.vik");
    }

    [Fact]
    public async Task EachKindGoesItsOwnWay()
    {
        var samir = await Administrator();
        var (tor, aoife) = (await Id("tor.vik"), await Id("aoife.brannigan"));
        var team = await Server.Scalar<string>($"select team_key from turn t join team on key = team_key where person_id = '{aoife}' order by 1 limit 1");
        var apart = await Server.Scalar<Guid>($"select id from deal where owner_id = '{tor}' and closed_at is null order by id limit 1");
        object[] kinds =
        [
            new { kind = HeldKind.Lead, how = HandingWay.Rules },
            new
            {
                kind = HeldKind.Account,
                how = HandingWay.Turn,
                team,
            },
            new
            {
                kind = HeldKind.Contact,
                how = HandingWay.Along,
                person = aoife,
            },
            new
            {
                kind = HeldKind.Deal,
                how = HandingWay.Along,
                person = aoife,
            },
            new
            {
                kind = HeldKind.Task,
                how = HandingWay.Along,
                person = aoife,
            },
            new
            {
                kind = HeldKind.Meeting,
                how = HandingWay.Along,
                person = aoife,
            },
            new
            {
                kind = HeldKind.View,
                how = HandingWay.Person,
                person = aoife,
            },
        ];
        object[] singly =
        [
            new
            {
                kind = HeldKind.Deal,
                record = apart,
                to = aoife,
            },
        ];
        var before = await World();
        var done = (await samir.Post($"/api/setup/people/{tor}/handing", Order(kinds, singly: singly))).Read<HandingView>();
        (await Server.Scalar<Guid>($"select owner_id from deal where id = '{apart}'")).ShouldBe(aoife);
        // What belongs to an account is with whoever has the account, where that is somebody here who may have it.
        (
            await Server.Scalar<int>(
                $"""
                select count(*)::int from handing_item i join deal d on d.id::text = i.record and i.kind = 'deal' join account a on a.id = d.account_id
                join person p on p.id = a.owner_id where i.handing_id = '{done.Id}' and d.id <> '{apart}' and p.here and p.roles && array['rep', 'manager', 'coordinator', 'administrator'] and d.owner_id <> a.owner_id
                """
            )
        ).ShouldBe(0);
        (await Server.Scalar<int>($"select count(*)::int from handing_item where handing_id = '{done.Id}' and to_id = '{tor}'")).ShouldBe(0);
        (await samir.Post($"/api/setup/handings/{done.Id}/undo")).Read<HandedBack>().Left.ShouldBe(0);
        (await World()).ShouldBe(before);
    }

    [Fact]
    public async Task WhatIsMissingOrUnfitIsSaidAndNothingChanges()
    {
        var samir = await Administrator();
        var (tor, lucie, me) = (await Id("tor.vik"), await Id("lucie.armand"), await Id("samir.haddow"));
        var before = await World();
        Task<Answer> Try(Guid person, object order) => samir.Post($"/api/setup/people/{person}/handing", order);
        (await Try(tor, Order([], leaves: true))).Problem.ShouldBe("handing-sheet");
        (await Try(tor, Order([], leaves: true, to: await Id("aoife.brannigan")))).Problem.ShouldBe("handing-nobody");
        (
            await Try(
                tor,
                Order([
                    new
                    {
                        kind = HeldKind.Lead,
                        how = HandingWay.Person,
                        person = lucie,
                    },
                ])
            )
        ).Sentence.ShouldBe("Lucie Armand may not have leads, by their role.");
        (
            await Try(
                tor,
                Order([
                    new
                    {
                        kind = HeldKind.Lead,
                        how = HandingWay.Person,
                        person = tor,
                    },
                ])
            )
        ).Problem.ShouldBe("owner-unknown");
        (await Try(tor, Order([new { kind = HeldKind.Account, how = HandingWay.Rules }]))).Problem.ShouldBe("handing-way");
        (
            await Try(
                tor,
                Order([
                    new
                    {
                        kind = "boat",
                        how = HandingWay.Person,
                        person = lucie,
                    },
                ])
            )
        ).Problem.ShouldBe("handing-way");
        (
            await Try(
                tor,
                Order([
                    new
                    {
                        kind = HeldKind.Deal,
                        how = HandingWay.Turn,
                        team = "nowhere",
                    },
                ])
            )
        ).Problem.ShouldBe("handing-team");
        (await Try(tor, Order([new { kind = HeldKind.Deal, how = HandingWay.Person }]))).Problem.ShouldBe("handing-nobody");
        (await Try(tor, Order(ToOne(await Id("aoife.brannigan")), lastDay: new DateOnly(2020, 1, 1)))).Problem.ShouldBe("leave-range");
        (await Try(me, Order(ToOne(await Id("ingrid.brekke")).Skip(1), leaves: true))).Problem.ShouldBe("last-administrator");
        (await Try(Guid.NewGuid(), Order([]))).Status.ShouldBe(HttpStatusCode.NotFound);
        (await World()).ShouldBe(before);
    }

    [Fact]
    public async Task ALeaveEndsByItselfAndWhatWasGivenFurtherMeanwhileStays()
    {
        var samir = await Administrator();
        var (tor, aoife) = (await Id("tor.vik"), await Id("aoife.brannigan"));
        var today = DateOnly.FromDateTime(DateTime.UtcNow);
        var done = (await samir.Post($"/api/setup/people/{tor}/handing", Order(ToOne(aoife), lastDay: today.AddDays(3)))).Read<HandingView>();
        (await Server.Scalar<int>($"select count(*)::int from absence where person_id = '{tor}' and ends > now()")).ShouldBe(1);
        // They can sign in, and their places stay.
        await Server.SignIn("tor.vik");
        var further = await Server.Scalar<Guid>($"select record::uuid from handing_item where handing_id = '{done.Id}' and kind = 'deal' limit 1");
        var harald = await Id("harald.quist");
        await Server.Scalar<int>($"with x as (update deal set owner_id = '{harald}' where id = '{further}' returning 1) select count(*)::int from x");
        await using var scope = Server.Services.CreateAsyncScope();
        var work = scope.ServiceProvider.GetServices<IDueWork>().Single(w => w.Kind == LeaveEnd.Key);
        var db = scope.ServiceProvider.GetRequiredService<LanternDb>();
        (await DueSteps.Step(db, work, DateTime.UtcNow.AddDays(2))).ShouldBe(0);
        (await DueSteps.Step(db, work, DateTime.UtcNow.AddDays(5))).ShouldBe(1);
        (await DueSteps.Step(db, work, DateTime.UtcNow.AddDays(6))).ShouldBe(0);
        (await Server.Scalar<int>($"select count(*)::int from handing_item where handing_id = '{done.Id}' and not restored")).ShouldBe(1);
        (await Server.Scalar<Guid>($"select owner_id from deal where id = '{further}'")).ShouldBe(harald);
        (await Server.Scalar<int>($"select count(*)::int from lead where owner_id = '{tor}' and state = 'new'")).ShouldBe(
            await Server.Scalar<int>(
                $"select count(*)::int from handing_item i join lead l on l.id::text = i.record where i.handing_id = '{done.Id}' and i.kind = 'lead' and l.state = 'new'"
            )
        );
        await Server.Heard();
        (
            await Server.Scalar<int>(
                $"select count(*)::int from outbox o join event e on e.id = o.event_id where o.person_id = '{tor}' and o.subject like 'Yours again: %' and e.by_id is null"
            )
        ).ShouldBe(1);
    }
}
