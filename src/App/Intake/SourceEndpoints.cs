using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>A source of the managed list. <see cref="Leads"/>: all that ever came from it. Where <see cref="Form"/> is named, its name is the form's.</summary>
public sealed record ManagedSource(string Key, string Name, string Channel, string EventKind, string? Campaign, bool Retired, string? Form, int Leads, int Trust);

/// <param name="Keys">All keys of the list, in their new order.</param>
public sealed record SourceOrder([Count(2_000, Each = 100)] IReadOnlyList<string> Keys);

/// <summary>The list in its order, and what a source may be given.</summary>
/// <param name="Merges">Merges of two sources that can be taken back.</param>
public sealed record SourcesView(
    IReadOnlyList<ManagedSource> Sources,
    IReadOnlyList<ChoiceView> EventKinds,
    IReadOnlyList<ChoiceView> Campaigns,
    IReadOnlyList<ValueMergeView> Merges
);

/// <param name="Channel">list, mail, phone or http; a form's source comes with the form.</param>
/// <param name="EventKind">What an arrival counts as for engagement.</param>
public sealed record NewSource([Text(80)] string Name, [Text(100)] string Channel, [Text(60)] string EventKind, [Text(100)] string? Campaign = null);

/// <summary>All of it, as it shall be.</summary>
/// <param name="Trust">-1, 0 or 1; see <see cref="SourceRow.Trust"/>.</param>
public sealed record SourceChange([Text(80)] string Name, [Text(60)] string EventKind, [Text(100)] string? Campaign, bool Retired, [Between(-1, 1)] int Trust = 0);

/// <summary>The managed list of sources. A retired one is offered no more; what came from it keeps it.</summary>
public static class SourceEndpoints
{
    private static readonly string[] Channels = ["list", "mail", "phone", "http"];

    public static void MapSources(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/sources").Requires(Act.SetUp).WithTags("Setup");
        group.MapGet("", List).WithSummary("The managed list of sources");
        group.MapPost("", Add).WithSummary("Add a source");
        group.MapPut("/{key}", Change).WithSummary("Change or retire a source");
        group.MapPut("/order", Order).WithSummary("Put the sources into another order");
        group.MapPost("/{key}/merge", Merge).WithSummary("Let another source stand for this one, on everything that came from it");
        group.MapPost("/merges/{id:guid}/undo", Undo).WithSummary("Take a merge of sources back");
    }

    private static async Task<Ok<SourcesView>> List(LanternDb db, Workspace workspace)
    {
        var sources = await db.Rows<ManagedSource>(
            $"""
            select s.key, s.name, s.channel, s.event_kind, s.campaign, s.retired, f.key as form, coalesce(l.count, 0)::int as leads, s.trust
            from source s left join form f on f.source = s.key {RecordScope.Unscoped("how often a source is used"):sql}
              left join (select source, count(*) from lead group by source) l on l.source = s.key
            where s.merged_into is null order by s.position, s.channel, s.name
            """
        );
        return TypedResults.Ok(
            new SourcesView(
                [.. sources],
                await KindsOf(db, workspace),
                [.. workspace.Catalogue["campaign"].Choices.Select(c => new ChoiceView(c.Key, c.Label))],
                await ValueMergeRow.Views(db, [SourceMerger.List], workspace.NameOf)
            )
        );
    }

    // Every kind the live model knows, and one that counts nothing.
    private static async Task<List<ChoiceView>> KindsOf(LanternDb db, Workspace workspace) =>
        [.. (await workspace.Signs(db)).Select(s => new ChoiceView(s.Kind, s.Label)), new ChoiceView("other", "Counts nothing")];

    private static async Task<Results<Created<string>, ProblemHttpResult>> Add(NewSource body, LanternDb db, WorkspaceConfiguration configuration)
    {
        var workspace = configuration.Current;
        if (!Channels.Contains(body.Channel))
            return ApiProblems.Of("channel-unknown", "channel");
        if (await Wrong(db, workspace, body.Name, body.EventKind, body.Campaign, null) is { } wrong)
            return ApiProblems.Of(wrong);
        var key = $"{body.Channel}-{Folding.Heading(body.Name).Replace(' ', '-')}";
        var made = await db.Run(
            $"insert into source (key, name, channel, event_kind, campaign, retired, position) select {key}, {FieldReader.Clean(body.Name)}, {body.Channel}, {body.EventKind}, {body.Campaign}, false, case when max(position) > 0 then max(position) + 1 else 0 end from source on conflict (key) do nothing"
        );
        if (made == 0)
            return ApiProblems.Of("source-exists", "", body.Name);
        await configuration.Changed();
        return TypedResults.Created($"/api/sources/{Uri.EscapeDataString(key)}", key);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Change(string key, SourceChange body, LanternDb db, WorkspaceConfiguration configuration)
    {
        var workspace = configuration.Current;
        if (await Wrong(db, workspace, body.Name, body.EventKind, body.Campaign, key) is { } wrong)
            return ApiProblems.Of(wrong);
        if (body.Retired && await db.Set<FormRow>().AnyAsync(x => x.Source == key && !x.Paused))
            return ApiProblems.Of("source-in-use");
        var changed = await db.Set<SourceRow>()
            .Where(x => x.Key == key && x.MergedInto == null)
            .ExecuteUpdateAsync(s =>
                s.SetProperty(x => x.Name, FieldReader.Clean(body.Name))
                    .SetProperty(x => x.EventKind, body.EventKind)
                    .SetProperty(x => x.Campaign, body.Campaign)
                    .SetProperty(x => x.Retired, body.Retired)
                    .SetProperty(x => x.Trust, body.Trust)
            );
        if (changed == 0)
            return ApiProblems.NotFound("source");
        await configuration.Changed();
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Order(SourceOrder body, SourceMerger merger) =>
        await merger.Order(body.Keys) is { } problem ? ApiProblems.Of(problem) : TypedResults.NoContent();

    private static async Task<Results<NoContent, ProblemHttpResult>> Merge(string key, ValueMergeOrder body, ClaimsPrincipal user, SourceMerger merger) =>
        await merger.Merge(key, body.Into, user.Id()) is { } problem ? ApiProblems.Of(problem) : TypedResults.NoContent();

    private static async Task<Results<NoContent, ProblemHttpResult>> Undo(Guid id, SourceMerger merger) =>
        await merger.Undo(id) is { } problem ? ApiProblems.Of(problem) : TypedResults.NoContent();

    private static async Task<Problem?> Wrong(LanternDb db, Workspace workspace, string name, string kind, string? campaign, string? self)
    {
        var clean = FieldReader.Clean(name);
        if (clean.Length is 0 or > 80 || Folding.Heading(clean).Length == 0)
            return Problem.Of("name-missing", "name", 80);
        if (await db.Set<SourceRow>().AnyAsync(s => s.Name.ToLower() == clean.ToLower() && s.Key != self && s.MergedInto == null))
            return Problem.Of("source-exists", "name", clean);
        if (kind.Length > 60 || ((await KindsOf(db, workspace)).All(k => k.Key != kind) && kind != "form.other"))
            return Problem.Of("kind-unknown", "eventKind", kind);
        return campaign is not null && workspace.Catalogue["campaign"].Choices.All(c => c.Key != campaign) ? Problem.Of("campaign-unknown", "campaign", campaign) : null;
    }
}
