using Dapper;
using DapperLantern.App.Due;
using DapperLantern.App.Leads;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Leads;

public sealed class StateTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private async Task<LeadSheet> Some(TestClient who, string where = "state = 'in_work' and owner_id is not null")
    {
        await using var connection = await fixture.Server.Connect();
        return await who.Read<LeadSheet>($"/api/leads/{await connection.QueryFirstAsync<Guid>($"select id from lead where {where} order by number limit 1")}");
    }

    [Fact]
    public async Task OnHoldNeedsADayAndWakesOnItWithATaskForItsOwner()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = await Some(ingrid);
        var path = $"/api/leads/{lead.Id}/state";
        (await ingrid.Put(path, new { state = "on_hold" }, lead.Version)).Problem.ShouldBe("wake-missing");
        (await ingrid.Put(path, new { state = "on_hold", wakeAt = DateTime.UtcNow.AddDays(-1) }, lead.Version)).Problem.ShouldBe("wake-missing");
        (await ingrid.Put(path, new { state = "on_hold", wakeAt = DateTime.UtcNow.AddYears(9) }, lead.Version)).Problem.ShouldBe("wake-far");
        var held = (await ingrid.Put(path, new { state = "on_hold", wakeAt = DateTime.UtcNow.AddDays(2) }, lead.Version)).Read<LeadSheet>();
        held.State.ShouldBe("on_hold");
        held.WakeAt.ShouldNotBeNull();

        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync("update task set done_at = now() where lead_id = @Id and done_at is null", new { lead.Id });
        // Two processes at once wake it once.
        await using var other = await fixture.Server.Connect();
        var then = DateTime.UtcNow.AddDays(3);
        await Task.WhenAll(DueSteps.Step(connection.Over(), new LeadWaker(), then), DueSteps.Step(other.Over(), new LeadWaker(), then));
        var woken = await ingrid.Read<LeadSheet>($"/api/leads/{lead.Id}");
        (woken.State, woken.WakeAt).ShouldBe(("in_work", null));
        woken.Story.Count(s => s.Text.StartsWith("Woke as planned", StringComparison.Ordinal)).ShouldBe(1);
        woken.Tasks.Count(t => t.Subject == "Take up again" && t.DoneAt == null).ShouldBe(1);
        await fixture.Server.Heard();
        (
            await connection.QuerySingleAsync<int>(
                "select count(*)::int from outbox where kind = 'lead-woke' and person_id = @OwnerId and lead_id = @Id",
                new { lead.OwnerId, lead.Id }
            )
        ).ShouldBe(1);
    }

    [Fact]
    public async Task DisqualifiedNeedsOneOfTheReasonsWhichAreCounted()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = await Some(ingrid);
        var path = $"/api/leads/{lead.Id}/state";
        (await ingrid.Put(path, new { state = "disqualified" }, lead.Version)).Problem.ShouldBe("reason-missing");
        (await ingrid.Put(path, new { state = "disqualified", reason = "whim" }, lead.Version)).Problem.ShouldBe("reason-missing");
        var over = (await ingrid.Put(path, new { state = "disqualified", reason = "too_dear" }, lead.Version)).Read<LeadSheet>();
        over.StateReason.ShouldBe("too_dear");
        over.Story[0].Text.ShouldBe("State is now disqualified: too dear");
        var groups = await ingrid.Read<GroupsView>("/api/leads/groups?rows=state_reason");
        groups.Rows.ShouldContain(r => r.Label == "Too dear");
        var back = (await ingrid.Put(path, new { state = "in_work" }, over.Version)).Read<LeadSheet>();
        back.StateReason.ShouldBeNull();
    }

    [Fact]
    public async Task EveryLeadOnHoldHasADayToWake()
    {
        await using var connection = await fixture.Server.Connect();
        (await connection.QuerySingleAsync<int>("select count(*)::int from lead where state = 'on_hold'")).ShouldBeGreaterThan(0);
        (await connection.QuerySingleAsync<int>("select count(*)::int from lead where (state = 'on_hold') <> (wake_at is not null)")).ShouldBe(0);
    }
}
