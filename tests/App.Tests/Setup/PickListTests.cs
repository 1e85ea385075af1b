using System.Net;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Qualifying;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Setup;

/// <summary>Lists of values as a company keeps them: named, ordered, retired, merged on every record, and taken back.</summary>
public sealed class PickListTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private readonly TestServer _server = fixture.Server;
    private TestClient _ingrid = null!;

    public async ValueTask InitializeAsync() => _ingrid = await _server.SignIn("ingrid.brekke");

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private Task<KeptListsView> All() => _ingrid.Read<KeptListsView>("/api/setup/lists");

    private async Task<IReadOnlyList<KeptValue>> Values(string list) => (await All()).Lists.Single(l => l.Key == list).Values;

    private Task<Dictionary<string, Dictionary<string, int>>> Uses() => _ingrid.Read<Dictionary<string, Dictionary<string, int>>>("/api/setup/lists/uses");

    private async Task<string> Added(string list, string label) => (await _ingrid.Post($"/api/lists/{list}", new NewValue(label))).Read<PickListChoice>().Key;

    private Task<Answer> Merge(string list, string key, string into) => _ingrid.Post($"/api/setup/lists/{list}/{key}/merge", new ValueMergeOrder(into));

    private async Task Execute(string sql, object? parameters = null)
    {
        await using var connection = await _server.Connect();
        await connection.ExecuteAsync(sql, parameters);
    }

    [Fact]
    public async Task AValueIsAddedRenamedOrderedRetiredAndTakenAway()
    {
        const string list = PickList.Segments;
        var key = await Added(list, "Quay walls");
        (await _ingrid.Patch($"/api/setup/lists/{list}/{key}", new ValueChange("Quays"))).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Patch($"/api/setup/lists/{list}/{key}", new ValueChange("HARBOURS"))).Problem.ShouldBe("value-exists");
        (await _ingrid.Patch($"/api/setup/lists/{list}/{key}", new ValueChange(" "))).Problem.ShouldBe("name-missing");
        (await _ingrid.Patch($"/api/setup/lists/nothing/{key}", new ValueChange("Quays"))).Problem.ShouldBe("not-found");
        var keys = (await Values(list)).Select(v => v.Key).ToList();
        List<string> turned = [key, .. keys.Where(k => k != key)];
        (await _ingrid.Put($"/api/setup/lists/{list}/order", new ValueOrder(turned))).Status.ShouldBe(HttpStatusCode.OK);
        // Somebody added one meanwhile; one that stands twice hides another.
        (await _ingrid.Put($"/api/setup/lists/{list}/order", new ValueOrder(keys[..^1]))).Problem.ShouldBe("stale");
        (await _ingrid.Put($"/api/setup/lists/{list}/order", new ValueOrder([.. keys[..^1], keys[0]]))).Problem.ShouldBe("stale");
        (await Values(list)).Select(v => v.Key).ShouldBe(turned);
        await _ingrid.Patch($"/api/setup/lists/{list}/{key}", new ValueChange(Retired: true));
        (await _ingrid.Read<PickListView>($"/api/lists/{list}")).Values[0].ShouldBe(new PickListChoice(key, "Quays", true));
        // Added once more, it is offered again.
        (await Added(list, "quays")).ShouldBe(key);
        (await Values(list))[0].Retired.ShouldBeFalse();
        (await _ingrid.Delete($"/api/setup/lists/{list}/{key}")).Status.ShouldBe(HttpStatusCode.OK);
        (await Values(list)).ShouldNotContain(v => v.Key == key);
        var rep = await _server.SignIn("tor.vik");
        foreach (
            var answer in new[]
            {
                await rep.Get("/api/setup/lists"),
                await rep.Put($"/api/setup/lists/{list}/order", new ValueOrder(keys)),
                await rep.Delete($"/api/setup/lists/{list}/{keys[0]}"),
            }
        )
            answer.Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task UsesAreWhatStandsOnRecords()
    {
        var uses = await Uses();
        uses[PickList.Reasons].Values.Sum().ShouldBe(await _server.Scalar<int>("select count(*)::int from lead where state_reason is not null"));
        uses[PickList.Competitors]
            .GetValueOrDefault("bluefathom")
            .ShouldBe(
                await _server.Scalar<int>(
                    "select (select count(*) from lead where lost_to = 'bluefathom') + (select count(*) from deal where lost_to = 'bluefathom') + (select count(*) from deal_competitor where competitor = 'bluefathom')"
                )
            );
        uses[PickList.Segments].Values.Sum().ShouldBe(await _server.Scalar<int>("select coalesce(sum(cardinality(segments)), 0)::int from account"));
        // Each column that is named is one.
        foreach (var list in PickList.All)
        foreach (var use in list.Uses)
            (
                await _server.Scalar<int>(
                    $"select count(*)::int from information_schema.columns where table_name = '{use.Table}' and column_name = '{use.Column}' and (data_type = 'ARRAY') = {use.Many}"
                )
            ).ShouldBe(1, use.Name);
        var used = uses[PickList.Reasons].First(u => u.Value > 0).Key;
        (await _ingrid.Delete($"/api/setup/lists/{PickList.Reasons}/{used}")).Problem.ShouldBe("value-used");
    }

    [Fact]
    public async Task OneReasonStandsForAnotherOnEveryLeadAndIsTakenBack()
    {
        const string list = PickList.Reasons;
        var (from, into) = (await Added(list, "Priced out"), "too_dear");
        await Execute("update lead set state_reason = @from where id in (select id from lead where state_reason = @into order by number limit 3)", new { from, into });
        var before = await Uses();
        var order = (await Values(list)).Select(v => v.Key).ToList();
        (await Merge(list, from, from)).Problem.ShouldBe("value-merge-self");
        (await Merge(list, from, "nothing")).Problem.ShouldBe("not-found");
        var merged = (await Merge(list, from, into)).Read<KeptListsView>();
        var merge = merged.Merges[0];
        (merge.From, merge.Into, merge.Records, merge.By).ShouldBe(("Priced out", "Too dear", 3, "Ingrid Brekke"));
        var stays = merged.Lists.Single(l => l.Key == list).Values.Single(v => v.Key == into);
        stays.AlsoCalled.ShouldContain("Priced out");
        (await Uses())[list][into].ShouldBe(before[list][into] + 3);
        (await _server.Scalar<int>($"select count(*)::int from lead where state_reason = '{from}'")).ShouldBe(0);
        // One of them is given another reason meanwhile: it keeps that.
        await Execute(
            "update lead set state_reason = 'no_match' where id = (select (moved->'ids'->'lead.state_reason'->>0)::uuid from value_merge where id = @id)",
            new { id = merge.Id }
        );
        (await _ingrid.Post($"/api/setup/lists/merges/{merge.Id}/undo")).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Post($"/api/setup/lists/merges/{merge.Id}/undo")).Problem.ShouldBe("undone");
        (await Values(list)).Select(v => v.Key).ShouldBe(order);
        (await Values(list)).Single(v => v.Key == into).AlsoCalled.ShouldNotContain("Priced out");
        var after = await Uses();
        (after[list][from], after[list][into]).ShouldBe((2, before[list][into]));
    }

    [Fact]
    public async Task TwoCompetitorsOnOneDealAreOneWithBothNotes()
    {
        const string list = PickList.Competitors;
        var (from, into) = (await Added(list, "Blue Fathom"), "bluefathom");
        var deals = await Ids("select id from deal where id not in (select deal_id from deal_competitor) order by id limit 2");
        await Execute(
            "insert into deal_competitor values (@a, 'bluefathom', 'Cheaper by a tenth'), (@a, @from, 'Was here on Monday'), (@b, @from, 'Alone')",
            new
            {
                a = deals[0],
                b = deals[1],
                from,
            }
        );
        var merge = (await Merge(list, from, into)).Read<KeptListsView>().Merges[0];
        merge.Records.ShouldBe(2);
        (await Notes()).ShouldBe(["bluefathom: Alone", "bluefathom: Cheaper by a tenth\nWas here on Monday"]);
        await _ingrid.Post($"/api/setup/lists/merges/{merge.Id}/undo");
        (await Notes()).ShouldBe(["blue_fathom: Alone", "blue_fathom: Was here on Monday", "bluefathom: Cheaper by a tenth"]);

        async Task<List<string>> Notes()
        {
            await using var connection = await _server.Connect();
            return
            [
                .. await connection.QueryAsync<string>(
                    """select competitor || ': ' || note from deal_competitor where deal_id = any(@deals) order by competitor || ': ' || note collate "C" """,
                    new { deals }
                ),
            ];
        }
    }

    [Fact]
    public async Task AnAccountOfBothSegmentsHasTheOneOnceAndBothAgain()
    {
        const string list = PickList.Segments;
        var from = await Added(list, "Inland harbours");
        var accounts = await Ids("select id from account order by id limit 2");
        await Execute("update account set segments = array['inshore', @from, 'harbours'] where id = @a", new { a = accounts[0], from });
        await Execute("update account set segments = array[@from] where id = @b", new { b = accounts[1], from });
        var merge = (await Merge(list, from, "harbours")).Read<KeptListsView>().Merges[0];
        (await Segments()).ShouldBe(["inshore harbours", "harbours"]);
        await _ingrid.Post($"/api/setup/lists/merges/{merge.Id}/undo");
        (await Segments()).ShouldBe(["inshore inland_harbours harbours", "inland_harbours"], "as they were");

        async Task<List<string>> Segments()
        {
            await using var connection = await _server.Connect();
            return
            [
                .. await connection.QueryAsync<string>(
                    "select array_to_string(segments, ' ') from account where id = any(@accounts) order by array_position(@accounts, id)",
                    new { accounts }
                ),
            ];
        }
    }

    [Fact]
    public async Task WhatIsAskedForIsChangedFirstAndTheLogKeepsTheOldName()
    {
        const string list = PickList.Roles;
        var key = await Added(list, "Diver");
        await Execute("update stage set needs = needs || array['role:diver'] where name = (select name from stage order by position desc limit 1)");
        var refused = await Merge(list, key, "user");
        (refused.Problem, refused.Sentence.Contains("the stage ", StringComparison.Ordinal)).ShouldBe(("value-asked", true));
        (await _ingrid.Delete($"/api/setup/lists/{list}/{key}")).Problem.ShouldBe("value-asked");
        await Execute("update stage set needs = array_remove(needs, 'role:diver')");
        (await Merge(list, key, "user")).Status.ShouldBe(HttpStatusCode.OK);
        // A view and a rule that ask for a value.
        var reason = await Added(PickList.Reasons, "Asked for");
        await Execute(
            """update lead_view set body = jsonb_set(body, '{where}', '{"kind": "test", "field": "state_reason", "operator": "is", "values": ["asked_for"]}') where name = (select name from lead_view order by position limit 1)"""
        );
        (await Merge(PickList.Reasons, reason, "too_dear")).Sentence.ShouldContain("the view ");
        (await Merge(PickList.Industries, "fish_farming", "harbours")).Problem.ShouldBe("value-merge-elsewhere");
    }

    [Fact]
    public async Task ASubStateHoldsWhileTheLeadIsInItsState()
    {
        const string list = PickList.SubStates;
        async Task<Answer> Add(string label, string? of) => await _ingrid.Post($"/api/lists/{list}", new NewValue(label, of));
        (await Add("Tried twice", null)).Problem.ShouldBe("sub-state-of");
        (await Add("Tried twice", "handed_over")).Problem.ShouldBe("sub-state-of");
        var tried = (await Add("Tried twice", "in_work")).Read<PickListChoice>().Key;
        tried.ShouldBe("in_work:tried_twice");
        (await Add("tried  TWICE", "in_work")).Read<PickListChoice>().Key.ShouldBe(tried);
        var waiting = (await Add("Tried twice", "on_hold")).Read<PickListChoice>().Key;
        waiting.ShouldBe("on_hold:tried_twice");
        (await Merge(list, tried, waiting)).Problem.ShouldBe("sub-state-other");
        var id = await _ingrid.MakeLead("Finerstep", "NO");
        async Task<LeadSheet> Lead() => await _ingrid.Read<LeadSheet>($"/api/leads/{id}");
        async Task<Answer> Put(string? to) => await _ingrid.Put($"/api/leads/{id}/sub-state", new SubStateChange(to), (await Lead()).Version);
        async Task<LeadSheet> Move(object to) => (await _ingrid.Put($"/api/leads/{id}/state", to, (await Lead()).Version)).Read<LeadSheet>();
        (await Put(tried)).Problem.ShouldBe("sub-state-unknown");
        await Move(new { state = "in_work" });
        (await Put(waiting)).Problem.ShouldBe("sub-state-unknown");
        (await Put("in_work:nothing")).Problem.ShouldBe("sub-state-unknown");
        (await _ingrid.Put($"/api/leads/{id}/sub-state", new SubStateChange(tried), 1)).Problem.ShouldBe("stale");
        (await Put(tried)).Read<LeadSheet>().SubState.ShouldBe(tried);
        var where = Uri.EscapeDataString(Json.Write(Condition.Where(list, TestOperator.In, tried)));
        (await _ingrid.Read<LeadCount>($"/api/leads/count?where={where}")).All.ShouldBe(1);
        (await Lead()).Story.ShouldContain(s => s.Text.Contains("Tried twice", StringComparison.Ordinal));
        // Another state has other steps; with the state comes back what it was.
        var held = await Move(new { state = "on_hold", wakeAt = DateTime.UtcNow.AddDays(3) });
        (held.State, held.SubState).ShouldBe(("on_hold", null));
        (await _ingrid.Post($"/api/leads/{id}/state/undo", version: held.Version)).Read<LeadSheet>().SubState.ShouldBe(tried);
        (await Uses())[list][tried].ShouldBe(1);
        (await Put(null)).Read<LeadSheet>().SubState.ShouldBeNull();
        (await (await _server.SignIn("lucie.armand")).Put($"/api/leads/{id}/sub-state", new SubStateChange(tried), 1)).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    private async Task<List<Guid>> Ids(string sql)
    {
        await using var connection = await _server.Connect();
        return [.. await connection.QueryAsync<Guid>(sql)];
    }
}
