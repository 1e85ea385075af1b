using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Qualifying;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

/// <param name="Needs">Keys of what a deal needs before it enters.</param>
/// <param name="Deals">Deals that stand in it, for one that is there already.</param>
public sealed record StageSetup(
    [Text(100)] string Key,
    [Text(100)] string Name,
    [Between(0, 100)] int Probability,
    [Text(100)] string Counts,
    [Text(100)] string Colour,
    [Between(1, 3_650)] int? Days,
    [Count(50, Each = 100)] IReadOnlyList<string> Needs,
    [Between(0, 1_000_000_000)] int Deals = 0
);

/// <summary>A pipeline as it is set up.</summary>
/// <param name="Questions">Asked beyond need, budget, authority and timing.</param>
/// <param name="Threshold">The condition that makes a lead qualified, as JSON in the condition language.</param>
/// <param name="ThresholdWords">The same for people.</param>
public sealed record PipelineSetup(
    string Key,
    string Name,
    string NameForm,
    int UsualDays,
    string Currency,
    IReadOnlyList<Question> Questions,
    string Threshold,
    string ThresholdWords,
    IReadOnlyList<StageSetup> Stages,
    int Version
);

/// <param name="Needs">All that a stage may need.</param>
/// <param name="Places">Places that a convention for names may have, beside the keys of fields.</param>
public sealed record PipelineSetups(IReadOnlyList<PipelineSetup> Pipelines, IReadOnlyList<ChoiceView> Needs, IReadOnlyList<ChoiceView> Places);

/// <summary>A pipeline to be kept. Its stages are as said here: one with deals cannot be left out.</summary>
public sealed record PipelineWrite(
    [Text(100)] string Name,
    [Text(500)] string NameForm,
    [Between(0, 3_650)] int UsualDays,
    [Text(20)] string Currency,
    [Count(20)] IReadOnlyList<Question> Questions,
    [Text(20_000)] string Threshold,
    [Count(30)] IReadOnlyList<StageSetup> Stages
);

/// <summary>Setting up pipelines: stages, questions, threshold, convention for names.</summary>
public static class PipelineEndpoints
{
    private const int MostPipelines = 20;
    private const int MostStages = 30;
    private const int MostQuestions = 20;
    private static readonly string[] Colours = ["slate", "lamp", "good", "bad", "ink"];

    public static void MapPipelineSetup(this IEndpointRouteBuilder api)
    {
        api.MapGet("/setup/pipelines", List).Requires(Act.SeeDeals).WithTags("Setup").WithSummary("Pipelines as they are set up");
        var group = api.MapGroup("/setup/pipelines").Requires(Act.SetUp).WithTags("Setup");
        group.MapPost("", Add).WithSummary("Add a pipeline");
        group.MapPost("/{key}/stages", AddStage).WithSummary("Add a stage where the deals are seen, behind the open ones");
        group.MapPut("/{key}", Save).WithSummary("Change a pipeline (If-Match)");
    }

    private static async Task<Ok<PipelineSetups>> List(LanternDb db, Workspace workspace)
    {
        var counts = await db.Set<Deal>()
            .TagWith("unscoped: how many stand in a stage, for its set-up")
            .GroupBy(d => new { d.PipelineKey, d.StageKey })
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => (g.Key.PipelineKey, g.Key.StageKey), g => g.Count);
        return TypedResults.Ok(
            new PipelineSetups(
                [.. workspace.Pipelines.Select(p => View(p, counts, workspace))],
                [.. DealSnapshots.Needs(workspace).Select(n => new ChoiceView(n.Key, n.Label))],
                [.. NameConvention.Places.Select(p => new ChoiceView(p.Key, p.Label))]
            )
        );
    }

    private static PipelineSetup View(LivePipeline p, Dictionary<(string, string), int> counts, Workspace workspace) =>
        new(
            p.Key,
            p.Name,
            p.NameForm,
            p.UsualDays,
            p.Currency,
            p.Own,
            Json.Write(p.Threshold.Condition),
            ConditionWords.Sentence(p.Threshold.Condition, workspace.Catalogue),
            [.. p.Stages.Select(s => new StageSetup(s.Key, s.Name, s.Probability, s.Counts, s.Colour, s.Days, s.Needs, counts.GetValueOrDefault((p.Key, s.Key))))],
            p.Version
        );

    private static async Task<Results<Created<string>, ProblemHttpResult>> Add(NewValue body, LanternDb db, WorkspaceConfiguration configuration)
    {
        var workspace = configuration.Current;
        var name = FieldReader.Clean(body.Label ?? "");
        var key = Folding.Heading(name).Replace(' ', '-');
        if (name.Length is 0 or > 60 || key.Length == 0)
            return ApiProblems.Of("name-missing", "label", 60);
        if (workspace.Pipelines.Length >= MostPipelines)
            return ApiProblems.Of("full", "", MostPipelines, "pipelines");
        var made = await db.Run(
            $"""
            with p as (insert into pipeline (key, name, position, currency) values ({key}, {name}, (select coalesce(max(position), 0) + 1 from pipeline), {workspace.Company.Currency}) on conflict do nothing returning key)
            insert into stage (pipeline_key, key, name, position, probability, counts, colour)
              select p.key, x.key, x.name, x.position, x.probability, x.counts, x.colour from p cross join (values ('first', 'First talk', 0, 20, 'open', 'slate'), ('won', 'Won', 1, 100, 'won', 'good'),
                ('lost', 'Lost', 2, 0, 'lost', 'bad')) x(key, name, position, probability, counts, colour)
            """
        );
        if (made == 0)
            return ApiProblems.Of("pipeline-exists", "", name);
        await configuration.Changed();
        return TypedResults.Created($"/api/setup/pipelines/{Uri.EscapeDataString(key)}", key);
    }

    // Behind the last open stage, and as likely as half way from there to won.
    private static async Task<Results<Created<string>, ProblemHttpResult>> AddStage(string key, NewValue body, LanternDb db, WorkspaceConfiguration configuration)
    {
        var name = FieldReader.Clean(body.Label ?? "");
        var stage = Folding.Heading(name).Replace(' ', '_');
        if (name.Length is 0 or > 60 || stage.Length == 0)
            return ApiProblems.Of("name-missing", "label", 60);
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            if (await db.Row<int?>($"""select version as "Value" from pipeline where key = {key} for update""") is null)
                return ApiProblems.NotFound("pipeline");
            if (await db.Set<StageRow>().CountAsync(x => x.PipelineKey == key) >= MostStages)
                return ApiProblems.Of("full", "", MostStages, "stages");
            var made = await db.Run(
                $"""
                with last as (select coalesce(max(position), -1) as position, coalesce(max(probability), 0) as probability from stage where pipeline_key = {key} and counts = 'open'),
                  moved as (update stage s set position = s.position + 1 from last where s.pipeline_key = {key} and s.position > last.position and not exists (select 1 from stage where pipeline_key = {key} and key = {stage}))
                insert into stage (pipeline_key, key, name, position, probability, counts) select {key}, {stage}, {name}, last.position + 1, (last.probability + 100) / 2, 'open' from last on conflict do nothing
                """
            );
            if (made == 0)
                return ApiProblems.Of("stage-exists", "", name);
            await db.Set<PipelineRow>().Where(x => x.Key == key).ExecuteUpdateAsync(s => s.SetProperty(x => x.Version, x => x.Version + 1));
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return TypedResults.Created($"/api/setup/pipelines/{Uri.EscapeDataString(key)}", stage);
    }

    private static async Task<Results<Ok<PipelineSetup>, ProblemHttpResult>> Save(
        string key,
        PipelineWrite body,
        HttpRequest request,
        LanternDb db,
        WorkspaceConfiguration configuration
    )
    {
        var workspace = configuration.Current;
        if (Wrong(body, workspace) is { } wrong)
            return ApiProblems.Of(wrong);
        var questions = body.Questions.Select(q => q with { Key = Key(q.Key, q.Label), Label = FieldReader.Clean(q.Label), Hint = FieldReader.Clean(q.Hint) }).ToList();
        var stages = body.Stages.Select(s => s with { Key = Key(s.Key, s.Name), Name = FieldReader.Clean(s.Name) }).ToList();
        if (questions.DistinctBy(q => q.Key).Count() < questions.Count || questions.Any(q => Questions.Standard.Any(s => s.Key == q.Key)))
            return ApiProblems.Of("question-twice", "questions");
        if (stages.DistinctBy(s => s.Key).Count() < stages.Count)
            return ApiProblems.Of("stage-twice", "stages");
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            var version = await db.Row<int?>($"""select version as "Value" from pipeline where key = {key} for update""");
            if (version is null)
                return ApiProblems.NotFound("pipeline");
            if (request.Version() is { } v && v != version)
                return ApiProblems.Stale();
            if (await Write(db, key, body, questions, stages) is { } trouble)
                return ApiProblems.Of(trouble);
            await transaction.CommitAsync();
        }
        workspace = await configuration.Changed();
        return TypedResults.Ok((await List(db, workspace)).Value!.Pipelines.Single(p => p.Key == key));
    }

    private static string Key(string key, string label) => key is { Length: > 0 } ? key : Folding.Heading(label).Replace(' ', '_');

    private static Problem? Wrong(PipelineWrite body, Workspace workspace)
    {
        if (FieldReader.Clean(body.Name ?? "").Length is 0 or > 60)
            return Problem.Of("name-missing", "name", 60);
        if (NameConvention.Check(body.NameForm ?? "", workspace.Catalogue).FirstOrDefault() is { } form)
            return form with { Path = "nameForm" };
        if (!Iso4217.IsCode(body.Currency))
            return Problem.Of("currency-unfit", "currency");
        if (body.Questions is not { Count: <= MostQuestions } || body.Questions.Any(q => FieldReader.Clean(q.Label ?? "").Length is 0 or > 60 || (q.Hint ?? "").Length > 200))
            return Problem.Of("question-unfit", "questions", MostQuestions);
        return WrongThreshold(body, workspace) ?? WrongStages(body, workspace);
    }

    // Asked of the catalogue as it will be, with the questions that come along.
    private static Problem? WrongThreshold(PipelineWrite body, Workspace workspace)
    {
        try
        {
            var condition = Json.Read<Condition>(body.Threshold ?? "");
            var asked = body.Questions.Select(q => FindingFields.KeyOf(Key(q.Key, q.Label))).ToHashSet();
            var problem = ConditionCheck.Check(condition, workspace.Catalogue).FirstOrDefault(p => p.Code != "field-unknown" || !asked.Contains(p.Path));
            return problem is null ? null : problem with { Path = "threshold" };
        }
        catch (System.Text.Json.JsonException e)
        {
            return Problem.Of("condition-unreadable", "threshold", e.Message.TrimEnd('.'));
        }
    }

    private static Problem? WrongStages(PipelineWrite body, Workspace workspace)
    {
        if (
            body.Stages is not { Count: > 0 and <= MostStages }
            || body.Stages.All(s => s.Counts != "open")
            || body.Stages.All(s => s.Counts != "won")
            || body.Stages.All(s => s.Counts != "lost")
        )
            return Problem.Of("stages-missing", "stages", MostStages);
        var needs = DealSnapshots.Needs(workspace).Select(n => n.Key).ToHashSet();
        foreach (var (stage, i) in body.Stages.Select((s, i) => (s, i)))
        {
            var at = $"stages.{i}";
            if (FieldReader.Clean(stage.Name ?? "").Length is 0 or > 60)
                return Problem.Of("name-missing", at, 60);
            if (stage.Counts is not ("open" or "won" or "lost") || stage.Probability is < 0 or > 100 || stage.Days is < 1 or > 3650 || !Colours.Contains(stage.Colour))
                return Problem.Of("stage-unfit", at, stage.Name);
            if ((stage.Needs ?? []).FirstOrDefault(n => !needs.Contains(n)) is { } need)
                return Problem.Of("need-unknown", at, stage.Name, need);
        }
        return null;
    }

    private static async Task<Problem?> Write(LanternDb db, string key, PipelineWrite body, List<Question> questions, List<StageSetup> stages)
    {
        var kept = stages.Select(s => s.Key).ToArray();
        var left = await db.Row<string>(
            $"""select s.name as "Value" from stage s where s.pipeline_key = {key} and s.key <> all({kept}) and exists (select 1 from deal d where d.pipeline_key = {key} and d.stage_key = s.key) limit 1"""
        );
        if (left is not null)
            return Problem.Of("stage-used", "", left);
        var (keys, name) = (stages.Select(s => s.Key).ToArray(), FieldReader.Clean(body.Name));
        await db.Run(
            $"""
            update pipeline set name = {name}, name_form = {body.NameForm}, usual_days = {body.UsualDays}, currency = {body.Currency},
              questions = {Json.Write(questions)}::jsonb, threshold = {body.Threshold}::jsonb, version = version + 1 where key = {key};
            delete from stage where pipeline_key = {key} and key <> all({keys});
            """
        );
        foreach (var (stage, position) in stages.Select((s, i) => (s, i)))
        {
            string[] needs = [.. stage.Needs ?? []];
            await db.Run(
                $"""
                insert into stage (pipeline_key, key, name, position, probability, counts, colour, days, needs)
                values ({key}, {stage.Key}, {stage.Name}, {position}, {stage.Probability}, {stage.Counts}, {stage.Colour}, {stage.Days}, {needs})
                on conflict (pipeline_key, key) do update set name = excluded.name, position = excluded.position, probability = excluded.probability, counts = excluded.counts, colour = excluded.colour,
                  days = excluded.days, needs = excluded.needs
                """
            );
        }
        return null;
    }
}
