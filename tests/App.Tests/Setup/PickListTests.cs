using System.Net;
using Dapper;
using DapperLantern.App.Deals;
using DapperLantern.App.Setup;
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

    private async Task<List<Guid>> Ids(string sql)
    {
        await using var connection = await _server.Connect();
        return [.. await connection.QueryAsync<Guid>(sql)];
    }
}
