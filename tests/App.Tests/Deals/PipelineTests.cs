using System.Net;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Leads;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Qualifying;

namespace DapperLantern.App.Tests.Deals;

public sealed class PipelineTests : IAsyncLifetime
{
    private TestServer _server = null!;
    private TestClient _ingrid = null!;

    public async ValueTask InitializeAsync()
    {
        _server = await TestServer.Start();
        _ingrid = await _server.SignIn("ingrid.brekke");
    }

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    private async Task<PipelineSetup> Instruments() => (await _ingrid.Read<PipelineSetups>("/api/setup/pipelines")).Pipelines.Single(p => p.Key == "instruments");

    private static PipelineWrite Same(PipelineSetup p) => new(p.Name, p.NameForm, p.UsualDays, p.Currency, p.Questions, p.Threshold, p.Stages);

    private Task<Answer> Keep(PipelineWrite body, int? version = null) => _ingrid.Put("/api/setup/pipelines/instruments", body, version);

    [Fact]
    public async Task AQuestionOfOnesOwnIsAskedInTheThresholdAndInViewsAndItsAnswerCounts()
    {
        var before = await Instruments();
        var threshold = Json.Write<Condition>(
            new AllOf([Condition.Where("finding_water_rights", TestOperator.In, "confirmed"), Condition.Where("fit", TestOperator.AtLeast, "0")])
        );
        var kept = (
            await Keep(Same(before) with { Questions = [.. before.Questions, new Question("", "Water rights", "Who owns the water")], Threshold = threshold }, before.Version)
        ).Read<PipelineSetup>();
        kept.ThresholdWords.ShouldBe("water rights is Confirmed, fit is 0 or more");
        var id = await _server.Scalar<Guid>("select id from lead where state = 'in_work' and owner_id is not null limit 1");
        var lead = await _ingrid.Read<LeadSheet>($"/api/leads/{id}");
        lead.Qualifying.Questions.Select(q => q.Key).ShouldBe(["need", "budget", "authority", "timing", "site", "water_rights"]);
        lead.Qualifying.Missing.ShouldBe(["Water rights is not known; it must be confirmed."]);
        (await _ingrid.Put($"/api/leads/{id}/state", new { state = "qualified" })).Sentence.ShouldBe("Water rights is not known; it must be confirmed.");
        var findings = new
        {
            water_rights = new
            {
                certainty = "confirmed",
                evidence = "showed the deed",
                saidBy = "Ragna",
                saidOn = "2026-11-20",
            },
        };
        var found = (await _ingrid.Put($"/api/leads/{id}/qualification", new { findings })).Read<LeadSheet>();
        found.Qualifying.Missing.ShouldBeEmpty();
        var answer = found.Qualifying.Questions.Single(q => q.Key == "water_rights").Finding;
        (answer.SaidBy, answer.SaidOn, answer.By).ShouldBe(("Ragna", new DateOnly(2026, 11, 20), "Ingrid Brekke"));
        var where = Uri.EscapeDataString("""{"field":"finding_water_rights","is":"in","values":["confirmed"]}""");
        (await _ingrid.Read<LeadPage>($"/api/leads?where={where}")).Leads.Select(l => l.Id).ShouldBe([id]);
        (await _ingrid.Put($"/api/leads/{id}/state", new { state = "qualified" })).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task WhatCannotWorkIsRefusedByNameAndNothingIsChanged()
    {
        var now = await Instruments();
        var same = Same(now);
        (await Keep(same with { NameForm = "{acount}" })).Problem.ShouldBe("name-form-place");
        (await Keep(same with { Threshold = """{"field":"nonsense","is":"known","values":[]}""" })).Problem.ShouldBe("field-unknown");
        (await Keep(same with { Threshold = "nonsense" })).Problem.ShouldBe("condition-unreadable");
        (await Keep(same with { Stages = [.. now.Stages.Where(s => s.Counts != "won")] })).Problem.ShouldBe("stages-missing");
        (await Keep(same with { Stages = [.. now.Stages.Where(s => s.Key != "scoping")] })).Problem.ShouldBe("stage-used");
        (await Keep(same with { Stages = [now.Stages[0] with { Needs = ["wings"] }, .. now.Stages.Skip(1)] })).Problem.ShouldBe("need-unknown");
        (await Keep(same with { Stages = [now.Stages[0] with { Probability = 120 }, .. now.Stages.Skip(1)] })).Problem.ShouldBe("at-place");
        (await Keep(same with { Stages = [now.Stages[0], now.Stages[0], .. now.Stages.Skip(1)] })).Problem.ShouldBe("stage-twice");
        (await Keep(same with { Questions = [new Question("need", "Need")] })).Problem.ShouldBe("question-twice");
        (await Keep(same, now.Version + 5)).Status.ShouldBe(HttpStatusCode.PreconditionFailed);
        Json.Write(await Instruments()).ShouldBe(Json.Write(now));
    }

    [Fact]
    public async Task StagesAreRenamedReorderedAndAdded()
    {
        var now = await Instruments();
        var stages = now.Stages.ToList();
        stages.Insert(1, new StageSetup("", "Second look", 20, "open", "ink", 10, ["next_step"]));
        stages[0] = stages[0] with { Name = "First look" };
        var kept = (await Keep(Same(now) with { Stages = stages })).Read<PipelineSetup>();
        kept.Stages.Select(s => s.Name).ShouldBe(["First look", "Second look", "Site survey", "Offer out", "Terms", "Won", "Lost"]);
        (kept.Stages[0].Key, kept.Stages[0].Deals).ShouldBe((now.Stages[0].Key, now.Stages[0].Deals));
    }

    [Fact]
    public async Task AStageIsAddedInOneActBehindTheOpenOnesAndOnce()
    {
        var answers = await Task.WhenAll(Enumerable.Range(0, 3).Select(_ => _ingrid.Post("/api/setup/pipelines/instruments/stages", new { label = "Signing" })));
        answers.Select(a => a.Problem).Order().ShouldBe([null, "stage-exists", "stage-exists"]);
        var stages = (await Instruments()).Stages;
        stages.Select(s => s.Name).ShouldBe(["Scoping", "Site survey", "Offer out", "Terms", "Signing", "Won", "Lost"]);
        (stages[4].Probability, stages[4].Counts).ShouldBe((90, "open"));
        (await _ingrid.Post("/api/setup/pipelines/nonsense/stages", new { label = "Signing" })).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task ANewPipelineBeginsWithThreeStagesAndWorks()
    {
        (await _ingrid.Post("/api/setup/pipelines", new { label = "Rentals" })).Status.ShouldBe(HttpStatusCode.Created);
        (await _ingrid.Post("/api/setup/pipelines", new { label = "Rentals" })).Problem.ShouldBe("pipeline-exists");
        (await _ingrid.Read<DealsView>("/api/deals?pipeline=rentals")).Pipelines.Single(p => p.Key == "rentals").Stages.Select(s => s.Counts).ShouldBe(["open", "won", "lost"]);
    }

    [Fact]
    public async Task AnExceptionIsMadeByWhoMayAndLeavesItsReason()
    {
        var tor = await _server.SignIn("tor.vik");
        var id = await _server.Scalar<Guid>($"select id from lead where state = 'in_work' and owner_id = '{tor.Session.Id}' and qualification = '{{}}' limit 1");
        (await tor.Put($"/api/leads/{id}/state", new { state = "qualified", because = "I know them" })).Problem.ShouldBe("not-qualified");
        (await _ingrid.Put($"/api/leads/{id}/state", new { state = "qualified" })).Problem.ShouldBe("not-qualified");
        var lead = (await _ingrid.Put($"/api/leads/{id}/state", new { state = "qualified", because = "Framework contract" })).Read<LeadSheet>();
        (lead.State, lead.Qualifying.Because).ShouldBe(("qualified", "Framework contract"));
        lead.Story[0].Text.ShouldContain("as an exception: Framework contract (not met: Need is not known");
        (await _ingrid.Put($"/api/leads/{id}/state", new { state = "in_work" })).Read<LeadSheet>().Qualifying.Because.ShouldBeNull();
    }

    [Fact]
    public async Task DisqualifiedTellsWhyAndToWhomAndIsOpenedAgainWithItsHistory()
    {
        var id = await _server.Scalar<Guid>("select id from lead where state = 'in_work' limit 1");
        (
            await _ingrid.Put(
                $"/api/leads/{id}/state",
                new
                {
                    state = "disqualified",
                    reason = "chose_another",
                    lostTo = "nonsense",
                }
            )
        ).Problem.ShouldBe("competitor-unknown");
        var gone = (
            await _ingrid.Put(
                $"/api/leads/{id}/state",
                new
                {
                    state = "disqualified",
                    reason = "chose_another",
                    lostTo = "bluefathom",
                }
            )
        ).Read<LeadSheet>();
        (gone.Qualifying.LostTo, gone.Story[0].Text).ShouldBe(("Bluefathom Sensing", "State is now disqualified: chose another, Bluefathom Sensing got it"));
        var back = (await _ingrid.Put($"/api/leads/{id}/state", new { state = "in_work" })).Read<LeadSheet>();
        (back.Qualifying.LostTo, back.Story[0].Text).ShouldBe((null, "State is now in work, opened again"));
    }

    [Theory]
    [InlineData("confirmed", "", "evidence-missing")]
    [InlineData("weak", "", null)]
    public async Task ConfirmedNeedsALineThatSaysByWhat(string certainty, string evidence, string? problem)
    {
        var id = await _server.Scalar<Guid>("select id from lead where state = 'in_work' limit 1");
        (await _ingrid.Put($"/api/leads/{id}/qualification", new { findings = new { need = new { certainty, evidence } } })).Problem.ShouldBe(problem);
        (await _ingrid.Put($"/api/leads/{id}/qualification", new { findings = new { nonsense = new { certainty = "weak", evidence = "x" } } })).Problem.ShouldBe(
            "question-unknown"
        );
    }
}
