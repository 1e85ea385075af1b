using System.Net;
using Dapper;
using DapperLantern.App.Intake.Forms;
using DapperLantern.Core.Intake.Forms;

namespace DapperLantern.App.Tests.Intake.Forms;

/// <summary>Building, publishing and changing forms.</summary>
public sealed class FormBuilderTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private readonly HttpClient _visitor = new(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = new Uri(fixture.Server.Address) };
    private TestClient _lucie = null!;

    public async ValueTask InitializeAsync() => _lucie = await fixture.Server.SignIn("lucie.armand");

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task<FormView> Make(string name) => (await _lucie.Post("/api/forms", new { name })).Read<FormView>();

    private async Task<HttpStatusCode> Page(string key) => (await _visitor.GetAsync($"/f/{key}")).StatusCode;

    private Task<T> Scalar<T>(string sql) => fixture.Server.Scalar<T>(sql);

    [Fact]
    public async Task AFormIsNotThereUntilPublishedAndClosedWhilePaused()
    {
        var form = await Make("Mooring advice");
        (form.Key, form.State, form.Problems.Count).ShouldBe(("mooring-advice", "draft", 0));
        (await Page(form.Key)).ShouldBe(HttpStatusCode.NotFound);
        (await _lucie.Post($"/api/forms/{form.Key}/publish")).Read<FormView>().State.ShouldBe("live");
        (await Page(form.Key)).ShouldBe(HttpStatusCode.OK);
        await _lucie.Put($"/api/forms/{form.Key}/paused", new { paused = true });
        (await _visitor.GetStringAsync($"/f/{form.Key}")).ShouldContain("closed at the moment");
        var answers = new Dictionary<string, string>
        {
            ["last_name"] = "Berge",
            ["email"] = "berge@moor.example",
            ["consent.answer"] = "yes",
        };
        (await _visitor.PostAsync($"/f/{form.Key}", new FormUrlEncodedContent(answers))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await Make("Mooring advice")).Key.ShouldBe("mooring-advice-2");
    }

    [Fact]
    public async Task WhatAFormCountsAsHoldsAtOnceAndADraftKeepsItsOwn()
    {
        var form = await Make("Tide tables");
        var choices = form.Choices;
        var settings = new FormSettings(" Tide  tables 2027 ", choices.EventKinds[^1].Key, choices.Campaigns[0].Key);
        (await _lucie.Put($"/api/forms/{form.Key}/settings", settings)).Status.ShouldBe(HttpStatusCode.NoContent);
        var now = await _lucie.Read<FormView>($"/api/forms/{form.Key}");
        now.Settings.ShouldBe(settings with { Name = "Tide tables 2027" });
        (now.Key, now.Version).ShouldBe((form.Key, form.Version));
        // Its source goes by the same name.
        (await Scalar<string>($"select s.name || ' ' || s.event_kind || ' ' || s.campaign from source s join form f on f.source = s.key where f.key = '{form.Key}'")).ShouldBe(
            $"Tide tables 2027 {settings.EventKind} {settings.Campaign}"
        );
        // A name without letters still makes a form.
        (await Make("***")).Key.ShouldStartWith("form");
    }

    [Fact]
    public async Task ADraftIsSeenByNobodyUntilPublishedAndEditionsCanBeGoneBackTo()
    {
        var form = await Make("Probe loan");
        await _lucie.Post($"/api/forms/{form.Key}/publish");
        var draft = form.Draft with { Text = form.Draft.Text with { Title = "Borrow a probe" } };
        (await _lucie.Put($"/api/forms/{form.Key}/draft", draft, form.Version)).Status.ShouldBe(HttpStatusCode.OK);
        (await _lucie.Put($"/api/forms/{form.Key}/draft", draft, form.Version)).Status.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await _visitor.GetStringAsync($"/f/{form.Key}")).ShouldNotContain("Borrow a probe");
        (await _lucie.Read<FormView>($"/api/forms/{form.Key}")).Ahead.ShouldBeTrue();
        (await _lucie.Post($"/api/forms/{form.Key}/publish")).Read<FormView>().Editions.Select(e => (e.Number, e.Live)).ShouldBe([(2, true), (1, false)]);
        (await _visitor.GetStringAsync($"/f/{form.Key}")).ShouldContain("Borrow a probe");
        // Publishing what is live already makes no edition.
        (await _lucie.Post($"/api/forms/{form.Key}/publish"))
            .Read<FormView>()
            .Editions.Count.ShouldBe(2);
        (await _lucie.Post($"/api/forms/{form.Key}/editions/1/draft")).Read<FormView>().Draft.Text.Title.ShouldBe("Probe loan");
    }

    [Fact]
    public async Task WhatIsWrongKeepsItFromBeingPublishedAndIsKeptAsDraft()
    {
        var form = await Make("Broken");
        var draft = form.Draft with { Fields = [new FormField("interest")] };
        var kept = (await _lucie.Put($"/api/forms/{form.Key}/draft", draft, form.Version)).Read<FormKept>();
        kept.Problems.Select(p => p.Path).ShouldBe(["fields", "fields"]);
        var refused = await _lucie.Post($"/api/forms/{form.Key}/publish");
        (refused.Problem, refused.Sentence).ShouldBe(("form-unready", "Make a name or the company required: without either there is no lead."));
    }

    [Fact]
    public async Task ThePreviewIsThePageItself()
    {
        var form = await Make("Looked at");
        var page = await _lucie.Post("/api/forms/preview", form.Draft with { Text = form.Draft.Text with { Intro = "A <line> of words" } });
        page.Body.ShouldContain("A &lt;line&gt; of words");
        page.Body.ShouldContain("name=\"last_name\"");
    }

    [Fact]
    public async Task TheSnippetNeedsNoScriptAndItsPostIsTaken()
    {
        var form = await _lucie.Read<FormView>("/api/forms/price-guide");
        form.Snippet.ShouldContain("action=\"http://127.0.0.1:5080/f/price-guide\"");
        form.Snippet.ShouldNotContain("<script");
        form.Inset.ShouldStartWith("<iframe src=");
    }

    [Fact]
    public async Task AFieldAddedLaterIsFilledFromEarlierPostsAndEmptiedAgain()
    {
        Task<int> Filled() => Scalar<int>("select count(*)::int from lead where custom ? 'water_body'");
        var before = await Filled();
        var preview = await _lucie.Read<BackfillPreview>("/api/forms/price-guide/backfill?field=water_body");
        preview.Leads.ShouldBeGreaterThan(10);
        preview.Posts.ShouldBeGreaterThanOrEqualTo(preview.Leads);
        var done = (await _lucie.Post("/api/forms/price-guide/backfill", new { field = "water_body" })).Read<BackfillDone>();
        (done.Leads, await Filled() - before).ShouldBe((preview.Leads, preview.Leads));
        (await _lucie.Read<BackfillPreview>("/api/forms/price-guide/backfill?field=water_body")).Leads.ShouldBe(0);
        (await _lucie.Delete($"/api/backfills/{done.Id}")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Filled()).ShouldBe(before);
        (await _lucie.Delete($"/api/backfills/{done.Id}")).Status.ShouldBe(HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task OnlyThoseWhoRunIntakeBuildForms()
    {
        var rep = await fixture.Server.SignIn("tor.vik");
        (await rep.Get("/api/forms")).Status.ShouldBe(HttpStatusCode.Forbidden);
        var manager = await fixture.Server.SignIn("harald.quist");
        (await manager.Get("/api/forms")).Status.ShouldBe(HttpStatusCode.OK);
        (await manager.Post("/api/forms", new { name = "No" })).Status.ShouldBe(HttpStatusCode.Forbidden);
    }
}
