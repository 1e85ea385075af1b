using System.Security.Claims;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake.Forms;

/// <summary>A form in the list. <see cref="State"/>: draft, live or paused. <see cref="Posts"/>: in the last 30 days.</summary>
public sealed record FormListed(string Key, string Name, string State, int? Edition, int Posts, int Waiting);

/// <summary>A field a form may ask for.</summary>
public sealed record FormFieldChoice(string Key, string Label, string Type);

/// <summary>An edition that was published.</summary>
public sealed record FormEditionView(int Number, DateTime PublishedAt, bool Live);

/// <summary>What is wrong with the draft: the part (fields.email, text.title) and a sentence.</summary>
public sealed record DraftProblem(string Path, string Sentence);

/// <summary>What outlives editions: name, what a post counts as, campaign.</summary>
public sealed record FormSettings([Text(80)] string Name, [Text(60)] string EventKind, [Text(100)] string? Campaign);

/// <param name="Ahead">True when the draft says something else than the live edition.</param>
/// <param name="Page">The public address.</param>
/// <param name="Snippet">HTML without script, to put into another page.</param>
/// <param name="Inset">HTML that shows the public page inside another one.</param>
public sealed record FormView(
    string Key,
    FormSettings Settings,
    string State,
    int Version,
    FormSheet Draft,
    bool Ahead,
    IReadOnlyList<DraftProblem> Problems,
    IReadOnlyList<FormEditionView> Editions,
    string Page,
    string Snippet,
    string Inset,
    FormChoices Choices
);

/// <summary>What a form may be made of.</summary>
public sealed record FormChoices(
    IReadOnlyList<FormFieldChoice> Fields,
    IReadOnlyList<ChoiceView> Purposes,
    IReadOnlyList<ChoiceView> Languages,
    IReadOnlyList<ChoiceView> EventKinds,
    IReadOnlyList<ChoiceView> Campaigns
);

public sealed record NewForm([Text(80)] string Name);

public sealed record FormKept(int Version, IReadOnlyList<DraftProblem> Problems);

public sealed record FormPause(bool Paused);

/// <summary>Building forms: draft, preview, publish, pause, go back.</summary>
public static class FormEndpoints
{
    public static void MapForms(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("/forms").Requires(Act.SeeIntake).WithTags("Forms");
        see.MapGet("", List).WithSummary("All forms");
        see.MapGet("/{key}", Open).WithSummary("A form with its draft");
        var run = api.MapGroup("/forms").Requires(Act.RunIntake).WithTags("Forms");
        run.MapPost("", Make).WithSummary("Begin a form");
        run.MapPut("/{key}/draft", KeepDraft).WithSummary("Keep the draft (If-Match)");
        run.MapPut("/{key}/settings", KeepSettings).WithSummary("Name, what a post counts as, campaign; holds at once");
        run.MapPost("/{key}/publish", Publish).WithSummary("Make the draft the live edition");
        run.MapPut("/{key}/paused", Pause).WithSummary("Close the form, or open it again");
        run.MapPost("/{key}/editions/{number:int}/draft", GoBack).WithSummary("Make the draft what an edition said");
        run.MapPost("/preview", Preview).WithSummary("The page a draft would be, as HTML").Produces<string>(200, "text/html");
    }

    private static async Task<Ok<List<FormListed>>> List(LanternDb db, TimeProvider clock) =>
        TypedResults.Ok(
            await db.Rows<FormListed>(
                $"""
                select f.key, f.name, case when e.number is null then 'draft' when f.paused then 'paused' else 'live' end as state, e.number as edition,
                  (select count(*)::int from single_arrival a where a.form_key = f.key and a.at > {clock.UtcNow().AddDays(-30)}) as posts,
                  (select count(*)::int from single_arrival a where a.form_key = f.key and a.state = 'waiting') as waiting
                from form f left join edition e on e.kind = 'form:' || f.key and e.state = 'live' order by f.name
                """
            )
        );

    private static async Task<Results<Ok<FormView>, ProblemHttpResult>> Open(string key, LanternDb db, Workspace workspace, PublicLinks links)
    {
        return await View(db, key, workspace, links) is { } view ? TypedResults.Ok(view) : ApiProblems.NotFound("form");
    }

    private static async Task<Results<Created<FormView>, ProblemHttpResult>> Make(
        NewForm body,
        LanternDb db,
        WorkspaceConfiguration configuration,
        PublicLinks links,
        TimeProvider clock
    )
    {
        var workspace = configuration.Current;
        var name = FieldReader.Clean(body.Name);
        if (name.Length is 0 or > 80)
            return ApiProblems.Of("name-missing", "name", 80);
        var stem = Folding.Heading(name).Replace(' ', '-');
        if (stem.Length == 0)
            stem = "form";
        await using var transaction = await db.Database.BeginTransactionAsync();
        // Two who begin a form of the same name at once get two keys.
        await db.LockUntilEnd("form");
        var taken = await db.Set<FormRow>().Where(f => f.Key.StartsWith(stem)).Select(f => f.Key).ToHashSetAsync();
        taken.UnionWith(await db.Set<SourceRow>().Where(s => s.Key.StartsWith("form-" + stem)).Select(s => s.Key.Substring("form-".Length)).ToListAsync());
        var key = Enumerable.Range(1, int.MaxValue).Select(i => i == 1 ? stem : $"{stem}-{i}").First(k => !taken.Contains(k));
        var purpose = workspace.ConsentPurposes.FirstOrDefault();
        var source = $"form-{key}";
        await db.Run(
            $"""
            insert into source (key, name, channel, event_kind, retired) values ({source}, {name}, 'form', 'form.other', false);
            insert into form (key, name, source, paused, draft, created_at) values ({key}, {name}, {source}, false, {Json.Write(Blank(name, purpose))}::jsonb, {clock.UtcNow()});
            """
        );
        await transaction.CommitAsync();
        workspace = await configuration.Changed();
        return TypedResults.Created($"/api/forms/{Uri.EscapeDataString(key)}", (await View(db, key, workspace, links))!);
    }

    private static FormSheet Blank(string name, Choice? purpose) =>
        new(
            "en",
            new FormText(
                name,
                "",
                FormWords.Say("en", "send"),
                FormWords.Say("en", "thanks"),
                new Dictionary<string, string>(),
                new Dictionary<string, string>(),
                purpose is null ? new Dictionary<string, string>() : new Dictionary<string, string> { [purpose.Key] = "You may keep what I write here to answer me." }
            ),
            [new FormField("first_name"), new FormField("last_name", true), new FormField("company"), new FormField("email", true), new FormField("interest", Lines: true)],
            purpose is null ? [] : [new FormConsent(purpose.Key, true)],
            []
        );

    private static async Task<Results<Ok<FormKept>, ProblemHttpResult>> KeepDraft(string key, FormSheet draft, HttpRequest request, LanternDb db, Workspace workspace)
    {
        if (request.Version() is not { } version)
            return ApiProblems.DraftVersionMissing();
        if (draft.Fields.Count > FormCheck.MostFields || Json.Write(draft).Length > 200_000)
            return ApiProblems.Of("too-large", "", FormCheck.MostFields);
        var kept = await db.Set<FormRow>()
            .Where(x => x.Key == key && x.Version == version)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.Draft, Json.Write(draft)).SetProperty(x => x.Version, x => x.Version + 1));
        if (kept == 0)
            return await db.Set<FormRow>().AnyAsync(x => x.Key == key) ? ApiProblems.Stale() : ApiProblems.NotFound("form");
        return TypedResults.Ok(new FormKept(version + 1, ProblemsOf(draft, workspace)));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> KeepSettings(string key, FormSettings body, LanternDb db, WorkspaceConfiguration configuration)
    {
        var workspace = configuration.Current;
        var name = FieldReader.Clean(body.Name);
        if (name.Length is 0 or > 80)
            return ApiProblems.Of("name-missing", "name", 80);
        if (body.Campaign is { } campaign && workspace.Catalogue["campaign"].Choices.All(c => c.Key != campaign))
            return ApiProblems.Of("campaign-unknown", "campaign", campaign);
        if ((await KindsOf(db, workspace)).All(k => k.Key != body.EventKind))
            return ApiProblems.Of("kind-unknown", "eventKind", body.EventKind);
        var kept = await db.Run(
            $"""
            with f as (update form set name = {name} where key = {key} returning source)
            update source s set name = {name}, event_kind = {body.EventKind}, campaign = {body.Campaign} from f where s.key = f.source
            """
        );
        if (kept == 0)
            return ApiProblems.NotFound("form");
        await configuration.Changed();
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<FormView>, ProblemHttpResult>> Publish(string key, LanternDb db, Workspace workspace, PublicLinks links, TimeProvider clock)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var draft = await db.Row<string>($"""select draft::text as "Value" from form where key = {key} for update""");
        if (draft is null)
            return ApiProblems.NotFound("form");
        if (ProblemsOf(Json.Read<FormSheet>(draft), workspace) is [var first, ..])
            return ApiProblems.Of("form-unready", first.Path, new Whole(first.Sentence));
        var kind = FormRow.EditionKind(key);
        await db.Run(
            $"""
            update edition set state = 'old' where kind = {kind} and state = 'live' and body <> {draft}::jsonb;
            insert into edition (id, kind, number, state, body, published_at)
            select {Guid.CreateVersion7()}, {kind}, coalesce(max(number), 0) + 1, 'live', {draft}::jsonb, {clock.UtcNow()} from edition where kind = {kind} having count(*) filter (where state = 'live') = 0;
            update form set paused = false where key = {key};
            """
        );
        await transaction.CommitAsync();
        return TypedResults.Ok((await View(db, key, workspace, links))!);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Pause(string key, FormPause body, LanternDb db) =>
        await db.Set<FormRow>().Where(x => x.Key == key).ExecuteUpdateAsync(s => s.SetProperty(x => x.Paused, body.Paused)) == 0
            ? ApiProblems.NotFound("form")
            : TypedResults.NoContent();

    private static async Task<Results<Ok<FormView>, ProblemHttpResult>> GoBack(string key, int number, LanternDb db, Workspace workspace, PublicLinks links)
    {
        var changed = await db.Run(
            $"update form f set draft = e.body, version = f.version + 1 from edition e where f.key = {key} and e.kind = {FormRow.EditionKind(key)} and e.number = {number}"
        );
        return changed == 0 ? ApiProblems.NotFound("edition") : TypedResults.Ok((await View(db, key, workspace, links))!);
    }

    private static IResult Preview(FormSheet draft, Workspace workspace, string? language = null) =>
        new RazorComponentResult<FormPage>(
            new Dictionary<string, object?>
            {
                ["Shown"] = new ShownForm(
                    draft,
                    workspace.Catalogue,
                    FormWords.Languages.FirstOrDefault(l => l == language && draft.Languages.Contains(l)) ?? FormWords.Languages.FirstOrDefault(l => l == draft.Language) ?? "en",
                    "",
                    "",
                    draft.AsksSum ? new Sum(3, 4) : null,
                    false,
                    new Dictionary<string, string>(),
                    new Dictionary<string, string>(),
                    []
                ),
            }
        );

    private static List<DraftProblem> ProblemsOf(FormSheet draft, Workspace workspace) =>
        [.. FormCheck.Problems(draft, workspace.Catalogue, [.. workspace.ConsentPurposes.Select(p => p.Key)]).Select(p => new DraftProblem(p.Path, p.Words))];

    private static async Task<FormView?> View(LanternDb db, string key, Workspace workspace, PublicLinks links)
    {
        var row = await db.Set<FormRow>().AsNoTracking().Where(x => x.Key == key).SingleOrDefaultAsync();
        if (row is null)
            return null;
        var kind = FormRow.EditionKind(key);
        var editions = await db.Set<Edition>()
            .Where(e => e.Kind == kind)
            .OrderByDescending(e => e.Number)
            .Select(e => new FormEditionView(e.Number, e.PublishedAt!.Value, e.State == "live"))
            .ToListAsync();
        var live = await LiveForm.Find(db, key);
        var source = await db.Set<SourceRow>().AsNoTracking().Where(x => x.Key == row.Source).SingleAsync();
        var draft = Json.Read<FormSheet>(row.Draft);
        return new FormView(
            key,
            new FormSettings(row.Name, source.EventKind, source.Campaign),
            live is null ? "draft"
                : row.Paused ? "paused"
                : "live",
            row.Version,
            draft,
            live is not null && Json.Write(live.Sheet) != Json.Write(draft),
            ProblemsOf(draft, workspace),
            editions,
            links.Form(key),
            FormSnippet.Of(live?.Sheet ?? draft, workspace.Catalogue, links.Form(key)),
            FormSnippet.Inset(row.Name, links.Form(key)),
            new FormChoices(
                [.. workspace.Catalogue.Facts.Select(f => new FormFieldChoice(f.Key, f.Label, f.Type.ToString()))],
                [.. workspace.ConsentPurposes.Select(p => new ChoiceView(p.Key, p.Label))],
                [.. FormWords.Languages.Select(l => new ChoiceView(l, FormWords.Say(l, "language")))],
                await KindsOf(db, workspace),
                [.. workspace.Catalogue["campaign"].Choices.Select(c => new ChoiceView(c.Key, c.Label))]
            )
        );
    }

    // What the live model knows of forms; and the kind that counts nothing until the model says otherwise.
    private static async Task<List<ChoiceView>> KindsOf(LanternDb db, Workspace workspace) =>
        [
            .. (await workspace.Signs(db)).Where(s => s.Kind.StartsWith("form.", StringComparison.Ordinal)).Select(s => new ChoiceView(s.Kind, s.Label)),
            new ChoiceView("form.other", "A form not in the scoring model"),
        ];
}
