using System.Collections.Immutable;
using System.Net;
using Dapper;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Scoring;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Scoring;

/// <summary>Drafts of the model, tried on the demo's leads, published, gone back from. Each test leaves no draft behind.</summary>
public sealed class EditionTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _ingrid = null!;

    public async ValueTask InitializeAsync() => _ingrid = await fixture.Server.SignIn("ingrid.brekke");

    public async ValueTask DisposeAsync() => await _ingrid.Delete("/api/scoring/draft");

    private Task<ScoringView> Now() => _ingrid.Read<ScoringView>("/api/scoring");

    // On a busy machine the map is counted anew within a minute, not at each look.
    private async Task Counted(IReadOnlyList<QuarterCount> wanted)
    {
        for (var tries = 0; tries < 300 && !(await Now()).Quarters.SequenceEqual(wanted); tries++)
            await Task.Delay(250);
        (await Now()).Quarters.ShouldBe(wanted);
    }

    // Works off what was begun, where the server's own runner has not done so already.
    private async Task Rescored()
    {
        await using var connection = await fixture.Server.Connect();
        var runner = fixture.Server.Services.GetRequiredService<RescoreRunner>();
        for (var tries = 0; tries < 100 && await connection.QuerySingleAsync<bool>("select exists (select 1 from rescore_run where ended_at is null)"); tries++)
            if (!await runner.RunOne(connection.Over(), default))
                await Task.Delay(100);
    }

    private async Task<TrialView> Tried(ScoringModel model)
    {
        for (var tries = 0; ; tries++)
            if ((await _ingrid.Post("/api/scoring/trial", model)).Read<TrialView>() is var trial && (trial.Done == trial.Leads || tries > 50))
                return trial;
    }

    [Fact]
    public async Task TheMapHoldsEveryOpenLeadOnceAndItsQuartersToo()
    {
        await using var connection = await fixture.Server.Connect();
        var open = await connection.QuerySingleAsync<int>("select count(*)::int from lead where state in ('new', 'in_work', 'on_hold', 'qualified')");
        var scoring = await Now();
        scoring.Map.Sum(c => c.Leads).ShouldBe(open);
        scoring.Quarters.Sum(q => q.Leads).ShouldBe(open);
        scoring.Map.ShouldAllBe(c => c.Fit % 5 == 0 && c.Fit <= 95 && c.Engagement <= 95);
        scoring.Live.Words.Single(w => w.Path == "fit/0/lines/0").Words.ShouldBe("industry is Fish farming");
        scoring.Live.Findings.ShouldBeEmpty();
    }

    [Fact]
    public async Task TryingTheLiveModelMovesNobodyAndCountsEverybody()
    {
        var scoring = await Now();
        var trial = await Tried(scoring.Live.Model);
        trial.Changes.ShouldBeEmpty();
        trial.Map.Sum(p => p.Leads).ShouldBe(scoring.Map.Sum(c => c.Leads));
        await Counted(trial.Quarters);
        trial.Teams.ShouldAllBe(t => t.Now == t.Then);
    }

    [Fact]
    public async Task WhatATrialForetellsIsWhatPublishingDoes()
    {
        var before = await Now();
        var model = before.Live.Model with { Bars = new Bars(45, 30, 2), Fit = [.. before.Live.Model.Fit.Skip(1)] };
        var trial = await Tried(model);
        trial.Changes.Sum(c => c.Leads).ShouldBeGreaterThan(20);
        trial.QuartersNow.ShouldBe(before.Quarters);
        var hand = trial.Changes.First();
        var movers = (await _ingrid.Post("/api/scoring/trial/movers", new MoversOrder(model, hand.From, hand.To))).Read<List<Mover>>();
        movers.Count.ShouldBe(Math.Min(100, hand.Leads));

        var draft = (await _ingrid.Put("/api/scoring/draft", new ModelOrder(model, "Lower bars"), 0)).Read<DraftModel>();
        var live = (await _ingrid.Post("/api/scoring/publish", version: draft.Version)).Read<ScoringView>();
        live.Edition.ShouldBe(draft.Number);
        live.Draft.ShouldBeNull();
        await Rescored();
        (await Now()).Quarters.ShouldBe(trial.Quarters);

        await using var connection = await fixture.Server.Connect();
        (
            await connection.QuerySingleAsync<int>(
                "select count(*)::int from lead where model_edition is distinct from (select id from edition where kind = 'scoring' and state = 'live')"
            )
        ).ShouldBe(0);
        // Those who cleared the bar by it are noted as such.
        var cleared = trial.Changes.Where(c => c.To == NextMove.HandOver).Sum(c => c.Leads);
        (
            await connection.QuerySingleAsync<int>(
                "select count(*)::int from crossing c join lead l on l.id = c.lead_id where c.kind = 'cleared' and c.by_edition and l.state in ('new', 'in_work', 'on_hold', 'qualified')"
            )
        ).ShouldBe(cleared);

        // And back, pressed six times at once: one edition more, and everybody stands where they stood, but for those within the slack.
        var backs = await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => _ingrid.Post($"/api/scoring/editions/{before.Edition}/publish")));
        var back = backs.Select(b => b.Read<ScoringView>()).DistinctBy(b => b.Edition).ShouldHaveSingleItem();
        back.Edition.ShouldBe(live.Edition + 1);
        Json(back.Live.Model).ShouldBe(Json(before.Live.Model));
        await Rescored();
        var stands = await Tried(before.Live.Model);
        await Counted(stands.Quarters);
        (await _ingrid.Read<List<EditionLine>>("/api/scoring/editions")).Select(e => e.State).ShouldBe(["live", "old", "old"]);
    }

    [Fact]
    public async Task TwoWhoDraftAtOnceDoNotOverwriteEachOther()
    {
        var model = (await Now()).Live.Model;
        var answers = await Task.WhenAll(Enumerable.Range(0, 6).Select(i => _ingrid.Put("/api/scoring/draft", new ModelOrder(model, $"Nr {i}"), 0)));
        answers.Count(a => a.Status == HttpStatusCode.OK).ShouldBe(1);
        answers.Count(a => a.Status == HttpStatusCode.PreconditionFailed).ShouldBe(5);
        var draft = (await Now()).Draft!;
        (await _ingrid.Put("/api/scoring/draft", new ModelOrder(model, "Second"), draft.Version)).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Put("/api/scoring/draft", new ModelOrder(model, "Stale"), draft.Version)).Problem.ShouldBe("stale");
        (await _ingrid.Post("/api/scoring/publish", version: draft.Version)).Problem.ShouldBe("stale");
        (await Now()).Draft!.Note.ShouldBe("Second");
    }

    [Fact]
    public async Task WhatCannotBeComputedIsKeptAsADraftAndCannotGoLive()
    {
        var model = (await Now()).Live.Model;
        var broken = model with
        {
            Engagement = [model.Engagement[0] with { HalfLifeDays = 0 }],
            Fit = [model.Fit[0] with { Lines = [new(Condition.Where("gone", TestOperator.Known), 5, "Gone")] }],
        };
        var draft = (await _ingrid.Put("/api/scoring/draft", new ModelOrder(broken), 0)).Read<DraftModel>();
        draft.Shown.Findings.Where(f => f.Blocks).Select(f => f.Problem.Path).ShouldBe(["fit/0/lines/0", "engagement/0"]);
        var refused = await _ingrid.Post("/api/scoring/publish", version: draft.Version);
        (refused.Status, refused.Problem).ShouldBe((HttpStatusCode.UnprocessableEntity, "model-unfit"));
        (await Now()).Draft.ShouldNotBeNull();
        (await Tried(broken)).Findings.Count(f => f.Blocks).ShouldBe(2);
    }

    [Fact]
    public async Task AModelGoesOutAsAFileAndComesBackAsADraft()
    {
        var scoring = await Now();
        var file = (await _ingrid.Get($"/api/scoring/editions/{scoring.Edition}/file")).Body;
        var read = (await _ingrid.PostText("/api/scoring/draft/file", file, 0)).Read<ModelImportView>();
        read.Problems.ShouldBeEmpty();
        Json(read.Draft.Shown.Model).ShouldBe(Json(scoring.Live.Model));
        var garbage = await _ingrid.PostText("/api/scoring/draft/file", "{ not json", read.Draft.Version);
        (garbage.Status, garbage.Problem).ShouldBe((HttpStatusCode.UnprocessableEntity, "file-unreadable"));
        (await Now()).Draft!.Version.ShouldBe(read.Draft.Version);
        var partly = (
            await _ingrid.PostText("/api/scoring/draft/file", file.Replace("\"halfLifeDays\": 45", "\"halfLifeDays\": \"soon\"", StringComparison.Ordinal), read.Draft.Version)
        ).Read<ModelImportView>();
        partly.Problems.Select(p => p.Path).ShouldBe(["engagement/0"]);
    }

    [Theory]
    [InlineData("tor.vik")]
    [InlineData("lucie.armand")]
    public async Task OnlyWhoSetsUpChangesTheModel(string name)
    {
        var other = await fixture.Server.SignIn(name);
        var model = (await other.Read<ScoringView>("/api/scoring")).Live.Model;
        (await other.Put("/api/scoring/draft", new ModelOrder(model), 0)).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await other.Post("/api/scoring/trial", model)).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await other.Post("/api/scoring/editions/1/publish")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await other.Get("/api/scoring/outcomes")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task WhileAllAreScoredAnewOneWhoIsChangedIsScoredOnce()
    {
        await using var connection = await fixture.Server.Connect();
        var rescorer = fixture.Server.Services.Scoped<BatchRescorer>();
        var edition = await connection.QuerySingleAsync<Guid>("select id from edition where kind = 'scoring' and state = 'live'");
        await rescorer.Begin(connection.Over(), edition, again: true);
        var leads = (await connection.QueryAsync<Guid>("select id from lead where state = 'in_work' limit 30")).ToList();
        var touches = leads.Select(id =>
            _ingrid.Post(
                $"/api/leads/{id}/touches",
                new
                {
                    kind = "call",
                    text = "Called",
                    outcome = "reached",
                }
            )
        );
        var answers = await Task.WhenAll(touches);
        answers.ShouldAllBe(a => a.Status == HttpStatusCode.OK);
        await Rescored();
        // Every stored standing is what follows from facts and events.
        var live = await fixture.Server.Services.GetRequiredService<WorkspaceConfiguration>().Current.Model(connection.Over());
        foreach (var id in leads)
        {
            var events = await App.Leads.LeadStore.Events(connection.Over(), id);
            events.ShouldContain(e => e.Kind == "call.reached");
            var decay = EngagementDecaySql.Read(await connection.QuerySingleAsync<double[]>("select decay from lead where id = @id", new { id }));
            var at = App.Data.Moments.ToInstant(DateTime.UtcNow.AddMinutes(1));
            decay.Score(at).ShouldBe(live.Engagement.Score(events, at));
        }
    }

    private static string Json(ScoringModel model) => ModelFile.Write(model);
}
