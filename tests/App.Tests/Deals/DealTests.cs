using System.Net;
using DapperLantern.App.Deals;

namespace DapperLantern.App.Tests.Deals;

public sealed class DealTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private async Task<(TestClient Client, DealItem Deal)> Any(int at)
    {
        var client = await fixture.Server.SignIn("ingrid.brekke");
        return (client, (await client.Read<DealsView>("/api/deals?pipeline=instruments")).Deals[at]);
    }

    [Fact]
    public async Task TotalsAreTheSumOfTheDealsShown()
    {
        var client = await fixture.Server.SignIn("ingrid.brekke");
        var view = await client.Read<DealsView>("/api/deals?pipeline=instruments");
        var stages = view.Pipelines.Single(p => p.Key == "instruments").Stages.ToDictionary(s => s.Key);
        view.Totals.Single().Open.ShouldBe(view.Deals.Sum(d => d.Amount));
        view.Totals.Single().Weighted.ShouldBe(view.Deals.Sum(d => d.Amount * stages[d.StageKey].Probability / 100));
        view.Deals.ShouldAllBe(d => d.Late == d.ExpectedClose < view.Today);
    }

    [Fact]
    public async Task AMovedDealTellsItAndAStaleMoveIsRefused()
    {
        var (client, deal) = await Any(3);
        var moved = (await client.Patch($"/api/deals/{deal.Id}", new { stage = "terms", expectedClose = "2027-05-01" }, deal.Version)).Read<DealSheet>();
        (moved.Deal.StageKey, moved.Deal.ExpectedClose).ShouldBe(("terms", new DateOnly(2027, 5, 1)));
        moved.Story[0].Text.ShouldContain("Expected close moved");
        (await client.Patch($"/api/deals/{deal.Id}", new { stage = "offer" }, deal.Version)).Status.ShouldBe(HttpStatusCode.PreconditionFailed);
    }

    [Fact]
    public async Task ALostDealNeedsItsReason()
    {
        var (client, deal) = await Any(5);
        (await client.Patch($"/api/deals/{deal.Id}", new { stage = "lost" })).Problem.ShouldBe("reason-missing");
        (await client.Patch($"/api/deals/{deal.Id}", new { stage = "lost", lostReason = "too dear" })).Read<DealSheet>().StageName.ShouldBe("Lost");
    }

    [Fact]
    public async Task AnUnknownStageIsRefused()
    {
        var (client, deal) = await Any(1);
        (await client.Patch($"/api/deals/{deal.Id}", new { stage = "nonsense" })).Problem.ShouldBe("stage-unknown");
    }
}
