using System.Net;
using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Leads;
using DapperLantern.App.Scoring;
using DapperLantern.Core.Scoring.Outcomes;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Scoring;

/// <summary>What happens to leads and their scores, and what became of them.</summary>
public sealed class SignsTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task TakingBackAConsentLowersEngagementAndIsNoSignOfLife()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var id = await connection.QueryFirstAsync<Guid>("select id from lead where band >= 8 and state = 'in_work' order by number limit 1");
        var before = await ingrid.Read<LeadSheet>($"/api/leads/{id}");
        var sign = await connection.QuerySingleAsync<DateTime>("select last_sign_at from lead where id = @id", new { id });
        (await ingrid.Post($"/api/leads/{id}/consents", new ConsentOrder("news", ConsentRow.Withdrawn, ""))).Status.ShouldBe(HttpStatusCode.NoContent);
        var after = await ingrid.Read<LeadSheet>($"/api/leads/{id}");
        after.Score.Engagement.ShouldBeLessThan(before.Score.Engagement);
        after.Score.EngagementReasons.ShouldContain(c => c.Key == "consent.withdrawn" && c.Points < 0);
        (await connection.QuerySingleAsync<DateTime>("select last_sign_at from lead where id = @id", new { id })).ShouldBe(sign);
    }

    [Fact]
    public async Task AShortfallIsExplainedWithWhatWouldClearTheBar()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var id = await connection.QueryFirstAsync<Guid>("select id from lead where next_move = 'nurture' and state = 'in_work' and band between 1 and 6 order by number limit 1");
        var score = (await ingrid.Read<LeadSheet>($"/api/leads/{id}")).Score;
        score.WouldClear.ShouldNotBeEmpty();
        score.Curve.Count.ShouldBeGreaterThan(10);
        score.Curve.ShouldAllBe(c => c.Engagement >= 0 && c.Engagement <= 100);
        score.EngagementReasons.Sum(c => c.Points).ShouldBe(score.Engagement);
    }

    [Fact]
    public async Task OnTheTelephoneTheFactToAskNextIsTold()
    {
        var qualifier = await fixture.Server.SignIn("ingrid.brekke");
        var nothing = (await qualifier.Post("/api/scoring/fit", new FitOrder(new Dictionary<string, string> { ["job_title"] = "Harbour master" }))).Read<FitSoFar>();
        nothing.Fit.ShouldBe(20);
        nothing.Ask!.Field.ShouldBe("industry");
        var known = (
            await qualifier.Post(
                "/api/scoring/fit",
                new FitOrder(
                    new Dictionary<string, string>
                    {
                        ["job_title"] = "Harbour master",
                        ["country"] = "Norway",
                        ["industry"] = "port",
                    }
                )
            )
        ).Read<FitSoFar>();
        known.Fit.ShouldBe(54);
        known.Ask!.Field.ShouldBeOneOf("sites", "employees");
        (known.High - known.Low).ShouldBeLessThan(nothing.High - nothing.Low);
    }

    [Fact]
    public async Task WhoComesBackToLifeIsNoted()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var id = await connection.QueryFirstAsync<Guid>("select id from lead where state = 'in_work' and last_sign_at < now() - interval '150 days' order by number limit 1");
        await ingrid.Post(
            $"/api/leads/{id}/touches",
            new
            {
                kind = "call",
                text = "They called",
                outcome = "reached",
                incoming = true,
            }
        );
        var noted = (await connection.QueryAsync<CrossingRow>("select * from crossing where lead_id = @id and kind = 'woke'", new { id })).ToList();
        noted.Count.ShouldBe(1);
        noted[0].At.ShouldBeGreaterThan(DateTime.UtcNow.AddMinutes(-1));
    }

    [Fact]
    public async Task OutcomesAreJudgedByWhatWasKnownBefore()
    {
        await using var connection = await fixture.Server.Connect();
        var reading = fixture.Server.Services.Scoped<OutcomeReader>();
        var lead = await connection.QueryFirstAsync<Guid>(
            "select h.lead_id from handover h join deal d on d.id = h.deal_id join lead l on l.id = h.lead_id where d.closed_at is not null and l.industry is not null order by h.at desc limit 1"
        );
        var before = await reading.Read(connection.Over());
        before.Count.ShouldBeGreaterThan(300);
        before.Count(o => o.LearntLater.Contains("industry")).ShouldBe(0);
        await connection.ExecuteAsync(
            """update lead set provenance = provenance || jsonb_build_object('industry', jsonb_build_object('from', 'x', 'at', now())) where id = @lead""",
            new { lead }
        );
        var after = await reading.Read(connection.Over());
        var later = after.Single(o => o.LearntLater.Contains("industry"));
        later.Known["industry"].IsKnown.ShouldBeFalse();
        after.Count.ShouldBe(before.Count);
    }

    [Fact]
    public async Task TheReportOfTheDemoAddsUp()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var report = await ingrid.Read<OutcomeReport>("/api/scoring/outcomes");
        report.Fit.Sum(b => b.Share.Count).ShouldBe(report.All.Count);
        report.Fit.Sum(b => b.Share.Won).ShouldBe(report.All.Won);
        report.FitRank.Area.ShouldBeInRange(0.5, 1);
        var model = (await ingrid.Read<ScoringView>("/api/scoring")).Live.Model;
        var suggestion = (await ingrid.Post("/api/scoring/suggestion", model)).Read<PointSuggestion>();
        suggestion.Refused.ShouldBeNull();
        suggestion.Points.Length.ShouldBe(model.Fit.Sum(c => c.Lines.Length) + model.Engagement.Length);
        // Nothing is changed by asking.
        (await ingrid.Read<ScoringView>("/api/scoring")).Draft.ShouldBeNull();
    }
}
