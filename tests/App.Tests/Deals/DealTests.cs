using System.Net;
using Dapper;
using DapperLantern.App.Deals;
using DapperLantern.App.Handover;

namespace DapperLantern.App.Tests.Deals;

public sealed class DealTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private async Task<(TestClient Client, DealItem Deal)> Any(string where = "true", string pipeline = "instruments")
    {
        var client = await fixture.Server.SignIn("ingrid.brekke");
        var id = await fixture.Server.Scalar<Guid>(
            $"""
            select d.id from deal d join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key
            where s.counts = 'open' and d.version = 1 and d.pipeline_key = '{pipeline}' and {where} order by d.id limit 1
            """
        );
        return (client, (await client.Read<DealSheet>($"/api/deals/{id}")).Deal);
    }

    [Fact]
    public async Task TotalsAreTheSumOfTheDealsShown()
    {
        var client = await fixture.Server.SignIn("ingrid.brekke");
        var view = await client.Read<DealsView>("/api/deals?pipeline=instruments");
        view.Totals.Single().Open.ShouldBe(view.Deals.Sum(d => d.Amount));
        view.Totals.Single().Weighted.ShouldBe(view.Deals.Sum(d => d.Amount * d.Probability / 100));
        view.Deals.ShouldAllBe(d => d.Late == d.ExpectedClose < view.Today);
        var stages = view.Pipelines.Single(p => p.Key == "instruments").Stages.Where(s => s.Counts == "open").ToList();
        stages.Sum(s => s.Deals).ShouldBe(view.Deals.Count);
    }

    [Fact]
    public async Task AFullLaneShowsTheDearestOfEachWeekAndCountsTheOthersAndNoSumIsLost()
    {
        var client = await fixture.Server.SignIn("ingrid.brekke");
        var before = await client.Read<DealsView>("/api/deals?pipeline=service");
        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync(
            """
            insert into deal (id, name, pipeline_key, stage_key, amount, currency, expected_close, contact_id, source, created_at, stage_since, facts)
              select gen_random_uuid(), 'Crowd ' || i, 'service', (select key from stage where pipeline_key = 'service' and counts = 'open' order by position limit 1), i, 'EUR', current_date - 20 + i % 240,
                (select id from contact limit 1), 'list-circular', now(), now(), '{}' from generate_series(1, 900) i
            """
        );
        try
        {
            var view = await client.Read<DealsView>("/api/deals?pipeline=service");
            var lane = view.Pipelines.Single(p => p.Key == "service").Stages[0];
            var shown = view.Deals.Where(d => d.StageKey == lane.Key).ToList();
            (shown.Count + view.Beside.Sum(b => b.Deals)).ShouldBe(lane.Deals);
            lane.Deals.ShouldBe(before.Pipelines.Single(p => p.Key == "service").Stages[0].Deals + 900);
            view.Beside.ShouldAllBe(b => b.Stage == lane.Key && b.Deals > 0);
            view.Beside.Select(b => b.From).ShouldBeUnique();
            shown.Count.ShouldBeInRange(100, PipelineQueries.EachWeek * 28);
            (view.Totals.Sum(t => t.Open) - before.Totals.Sum(t => t.Open)).ShouldBe(900 * 901 / 2);
            view.Late.ShouldBe(
                await connection.QuerySingleAsync<int>(
                    "select count(*)::int from deal d join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key where d.pipeline_key = 'service' and s.counts = 'open' and d.expected_close < current_date"
                )
            );
            // Whoever stands by themselves is dearer than any other of their week.
            foreach (var week in view.Beside.Where(b => b.From is not null && b.From < view.Today.AddDays(26 * 7)))
                shown.Count(d => d.ExpectedClose >= week.From && d.ExpectedClose < week.From!.Value.AddDays(7)).ShouldBe(PipelineQueries.EachWeek);
            var dearest = await connection.QuerySingleAsync<decimal>(
                "select max(amount) from deal where pipeline_key = 'service' and name like 'Crowd %' and expected_close < current_date"
            );
            shown.Where(d => d.Late).Max(d => d.Amount).ShouldBeGreaterThanOrEqualTo(dearest);

            // As rows, piece by piece, each stands once.
            var rows = new List<DealItem>();
            for (DealRows some; rows.Count == 0 || rows.Count < (some = await Some(client, rows.Count)).All; )
                rows.AddRange((await Some(client, rows.Count)).Deals);
            rows.Count.ShouldBe(view.Pipelines.Single(p => p.Key == "service").Stages.Where(s => s.Counts == "open").Sum(s => s.Deals));
            rows.Select(r => r.Id).ShouldBeUnique();
            rows.Select(r => r.ExpectedClose).ShouldBeInOrder();
        }
        finally
        {
            await connection.ExecuteAsync("delete from deal where name like 'Crowd %'");
        }
    }

    private static Task<DealRows> Some(TestClient client, int from) => client.Read<DealRows>($"/api/deals/rows?pipeline=service&from={from}&most=200");

    [Fact]
    public async Task RowsAreOfTheStageAskedForAndOfThoseClosedLately()
    {
        var client = await fixture.Server.SignIn("ingrid.brekke");
        var all = await client.Read<DealRows>("/api/deals/rows?pipeline=instruments");
        var survey = await client.Read<DealRows>("/api/deals/rows?pipeline=instruments&stage=survey&most=3");
        survey.Deals.Count.ShouldBe(3);
        survey.Deals.ShouldAllBe(d => d.StageKey == "survey");
        survey.All.ShouldBe(all.Deals.Count(d => d.StageKey == "survey"));
        var closed = await client.Read<DealRows>("/api/deals/rows?pipeline=instruments&closed=true");
        closed.Deals.ShouldAllBe(d => d.ClosedAt != null);
        closed.Deals.Select(d => d.ClosedAt!.Value).ShouldBeInOrder(SortDirection.Descending);
        (await client.Get("/api/deals/rows?pipeline=instruments&most=5000")).Problem.ShouldBe("page-unfit");
        (await client.Get("/api/deals/rows?pipeline=nowhere")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task AMovedDealTellsItAndAStaleMoveIsRefused()
    {
        var (client, deal) = await Any("s.key = 'scoping'");
        var moved = (await client.Patch($"/api/deals/{deal.Id}", new { stage = "survey", expectedClose = "2027-05-01" }, deal.Version)).Read<DealSheet>();
        (moved.Deal.StageKey, moved.Deal.ExpectedClose).ShouldBe(("survey", new DateOnly(2027, 5, 1)));
        moved.Story[0].Text.ShouldContain("Expected close moved");
        moved.Stages[^1].Name.ShouldBe("Site survey");
        moved.Stages[^2].Until.ShouldBe(moved.Stages[^1].Since);
        (await client.Patch($"/api/deals/{deal.Id}", new { stage = "offer" }, deal.Version)).Status.ShouldBe(HttpStatusCode.PreconditionFailed);
    }

    [Fact]
    public async Task TheProbabilityFollowsTheStageUnlessSomebodySaysOneAndThatStaysVisible()
    {
        var (client, deal) = await Any("s.key = 'scoping' and d.amount > 0");
        var said = (await client.Patch($"/api/deals/{deal.Id}", new { probability = 65 })).Read<DealSheet>();
        (said.Deal.Probability, said.Deal.OwnProbability, said.StageProbability).ShouldBe((65, true, 10));
        var moved = (await client.Patch($"/api/deals/{deal.Id}", new { stage = "survey" })).Read<DealSheet>();
        (moved.Deal.Probability, moved.Deal.OwnProbability, moved.StageProbability).ShouldBe((65, true, 30));
        var back = (await client.Patch($"/api/deals/{deal.Id}", new { probability = -1 })).Read<DealSheet>();
        (back.Deal.Probability, back.Deal.OwnProbability).ShouldBe((30, false));
        (await client.Patch($"/api/deals/{deal.Id}", new { probability = 101 })).Problem.ShouldBe("number-range");
    }

    [Fact]
    public async Task AStageIsEnteredOnlyWithWhatItNeedsAndWhatIsMissingIsNamed()
    {
        var (client, deal) = await Any("s.key = 'survey' and not exists (select 1 from deal_person p where p.deal_id = d.id and p.role = 'decision_maker')");
        var refused = await client.Patch($"/api/deals/{deal.Id}", new { stage = "terms", amount = 0 });
        (refused.Problem, refused.Sentence).ShouldBe(("stage-needs", "Before a deal is in Terms, it needs: an amount over 0; somebody as decision maker."));
        (await client.Read<DealSheet>($"/api/deals/{deal.Id}")).Deal.Amount.ShouldBe(deal.Amount);
        var person = (await client.Read<DealSheet>($"/api/deals/{deal.Id}")).People[0];
        await client.Put($"/api/deals/{deal.Id}/people/{person.Id}", new { contactId = person.ContactId, role = "decision_maker" });
        (await client.Patch($"/api/deals/{deal.Id}", new { stage = "terms", amount = 12000 })).Read<DealSheet>().StageName.ShouldBe("Terms");
    }

    [Fact]
    public async Task ALostDealNeedsItsReasonIsReadOnlyAndMayBeOpenedAgain()
    {
        var (client, deal) = await Any("s.key = 'scoping'");
        (await client.Patch($"/api/deals/{deal.Id}", new { stage = "lost" })).Problem.ShouldBe("reason-missing");
        (
            await client.Patch(
                $"/api/deals/{deal.Id}",
                new
                {
                    stage = "lost",
                    lostReason = "too_dear",
                    lostTo = "nobody",
                }
            )
        ).Problem.ShouldBe("competitor-unknown");
        var lost = (
            await client.Patch(
                $"/api/deals/{deal.Id}",
                new
                {
                    stage = "lost",
                    lostReason = "too_dear",
                    lostTo = "kelpline",
                }
            )
        ).Read<DealSheet>();
        (lost.StageName, lost.LostReason, lost.LostTo, lost.Deal.ClosedAt is null).ShouldBe(("Lost", "Too dear", "Kelpline Data", false));
        (await client.Patch($"/api/deals/{deal.Id}", new { amount = 5 })).Problem.ShouldBe("deal-closed");
        (await client.Post($"/api/deals/{deal.Id}/touches", new { kind = "note", text = "x" })).Problem.ShouldBe("deal-closed");
        (await client.Put($"/api/deals/{deal.Id}/products", new { products = Array.Empty<object>(), amountFollows = false })).Problem.ShouldBe("deal-closed");
        var open = (await client.Patch($"/api/deals/{deal.Id}", new { stage = "survey" })).Read<DealSheet>();
        (open.Counts, open.LostReason, open.LostTo, open.Deal.ClosedAt).ShouldBe(("open", null, null, null));
        open.Story[0].Text.ShouldBe("Opened again, in Site survey");
    }

    [Fact]
    public async Task ProductsAreKeptInTheirOrderAndTheAmountFollowsWhereItIsWanted()
    {
        var (client, deal) = await Any("s.key = 'scoping'");
        object lines = new[]
        {
            new
            {
                product = "probe-ph",
                quantity = 3m,
                price = 800m,
            },
            new
            {
                product = "skerry-s2",
                quantity = 1m,
                price = 7900m,
            },
        };
        var kept = (await client.Put($"/api/deals/{deal.Id}/products", new { products = lines, amountFollows = true })).Read<DealSheet>();
        kept.Products.Select(p => (p.Product, p.Total)).ShouldBe([("probe-ph", 2400), ("skerry-s2", 7900)]);
        (kept.ProductTotal, kept.Deal.Amount).ShouldBe((10300, 10300));
        var wrong = new[]
        {
            new
            {
                product = "nothing",
                quantity = 1,
                price = 1,
            },
        };
        (await client.Put($"/api/deals/{deal.Id}/products", new { products = wrong, amountFollows = false })).Problem.ShouldBe("product-unfit");
        (await client.Read<DealSheet>($"/api/deals/{deal.Id}")).Products.Count.ShouldBe(2);
    }

    [Fact]
    public async Task PeopleHavePartsEachOnceAndCompetitorsAreNamed()
    {
        var (client, deal) = await Any("s.key = 'scoping'");
        var other = await fixture.Server.Scalar<Guid>($"select id from contact where id <> '{deal.ContactId}' limit 1");
        await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => client.Post($"/api/deals/{deal.Id}/people", new { contactId = other, role = "lawyer" })));
        var sheet = await client.Read<DealSheet>($"/api/deals/{deal.Id}");
        sheet.People.Where(p => p.ContactId == other).Select(p => p.RoleName).ShouldBe(["Lawyer"]);
        (await client.Post($"/api/deals/{deal.Id}/people", new { contactId = other, role = "wizard" })).Problem.ShouldBe("deal-role-unknown");
        (await client.Read<ContactSheet>($"/api/contacts/{other}")).Deals.Single(d => d.Id == deal.Id).Roles.ShouldBe(["Lawyer"]);
        (await client.Put($"/api/deals/{deal.Id}/competitors", new { competitors = new[] { new { competitor = "kelpline", note = "cheaper" } } }))
            .Read<DealSheet>()
            .Competitors.Single()
            .Name.ShouldBe("Kelpline Data");
        var left = (await client.Delete($"/api/deals/{deal.Id}/people/{sheet.People.Single(p => p.ContactId == other).Id}")).Read<DealSheet>();
        left.People.ShouldAllBe(p => p.ContactId != other);
    }

    [Fact]
    public async Task TheNextStepOfADealStandsAmongItsOwnersFollowUps()
    {
        var (client, deal) = await Any("s.key = 'scoping'");
        var planned = (await client.Post($"/api/deals/{deal.Id}/tasks", new { subject = "Send the mooring plan", dueAt = DateTime.UtcNow.AddDays(2) })).Read<DealSheet>();
        planned.Tasks.ShouldContain(t => t.Subject == "Send the mooring plan" && t.DoneAt == null);
        (await client.Post($"/api/deals/{deal.Id}/tasks", new { subject = " ", dueAt = DateTime.UtcNow.AddDays(2) })).Problem.ShouldBe("subject-missing");
    }

    [Fact]
    public async Task AMessageGoesToThePeopleWithAPartOnceAndNeverToWhomWeMustNotWrite()
    {
        var (client, deal) = await Any("s.key = 'survey'");
        var ids = new List<Guid>();
        for (var i = 0; i < 2; i++)
            ids.Add(await fixture.Server.Scalar<Guid>($"select id from contact where email is not null and id <> '{deal.ContactId}' order by id offset {20 + i} limit 1"));
        foreach (var id in ids)
            await client.Post($"/api/deals/{deal.Id}/people", new { contactId = id, role = "lawyer" });
        var barred = await fixture.Server.Scalar<string>($"select email from contact where id = '{ids[1]}'");
        (
            await client.Post(
                "/api/barred",
                new
                {
                    kind = "person",
                    value = barred,
                    why = "do_not_contact",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.Created);
        var message = new
        {
            id = Guid.NewGuid(),
            roles = new[] { "lawyer" },
            subject = "The terms",
            text = "Dear {{ first_name }}, here are the terms.",
        };
        var answers = await Task.WhenAll(Enumerable.Range(0, 3).Select(_ => client.Post($"/api/deals/{deal.Id}/messages", message)));
        var sent = answers[0].Read<DealMessageSent>();
        (sent.To.Count, sent.Left.Single().Why).ShouldBe((1, "They are on the do-not-contact list."));
        var first = await fixture.Server.Scalar<string>($"select facts->>'first_name' from contact where id = '{ids[0]}'");
        (await fixture.Server.Scalar<string>("select string_agg(text, '|') from outbox where subject = 'The terms'")).ShouldBe($"Dear {first}, here are the terms.");
        (await client.Post($"/api/deals/{deal.Id}/messages", message with { roles = ["buyer"] })).Problem.ShouldBe("nobody-reached");
    }

    [Fact]
    public async Task AnUnknownStageIsRefused()
    {
        var (client, deal) = await Any();
        (await client.Patch($"/api/deals/{deal.Id}", new { stage = "nonsense" })).Problem.ShouldBe("stage-unknown");
    }

    [Fact]
    public async Task ARepWorksOnlyTheirOwnDeals()
    {
        var tor = await fixture.Server.SignIn("tor.vik");
        var (_, deal) = await Any($"d.owner_id <> '{tor.Session.Id}'");
        (await tor.Patch($"/api/deals/{deal.Id}", new { amount = 5 })).Problem.ShouldBe("not-yours");
        (await tor.Post($"/api/deals/{deal.Id}/people", new { contactId = deal.ContactId, role = "" })).Problem.ShouldBe("not-yours");
    }
}
