using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Leads;

/// <summary>An operator that fits a field.</summary>
/// <param name="Values">How many values it takes at least; more are alternatives, but for a range, which takes two.</param>
/// <param name="Days">True when its value is a number of days, whatever the field holds.</param>
public sealed record OperatorView(string Key, int Values, bool Days);

/// <summary>A field that may be asked for, shown, ordered and grouped by.</summary>
/// <param name="Many">True when a lead may have several values; such a field can be asked and shown only.</param>
public sealed record FieldView(string Key, string Label, string Type, string Origin, bool Many, IReadOnlyList<FieldChoice> Choices, IReadOnlyList<OperatorView> Operators);

/// <param name="Retired">True for one that is asked for and found as before, and offered no more.</param>
public sealed record FieldChoice(string Key, string Label, bool Retired);

/// <summary>The worklist over HTTP: pages, counts, groups, files.</summary>
public static class WorklistEndpoints
{
    public static void MapWorklist(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeLeads).WithTags("Leads");
        see.MapGet("/fields", Fields).WithSummary("What can be asked of leads");
        see.MapGet("/fields/regions", RegionsOf).WithSummary("The regions of some countries, by code");
        see.MapGet("/leads", List).WithSummary("Leads by conditions, a page at a time");
        see.MapGet("/leads/count", Count).WithSummary("How many leads a condition holds of, counted one by one");
        see.MapGet("/leads/groups", Groups).WithSummary("Leads counted by one or two groupings");
        see.MapGet("/leads.{format:regex(^(csv|xlsx)$)}", Export).WithSummary("Leads by conditions, as a file (csv, xlsx); for those whose role or whose view allows it");
        see.MapGet("/leads/groups.{format:regex(^(csv|xlsx)$)}", ExportGroups).WithSummary("Leads counted by one or two groupings, as a file (csv, xlsx)");
    }

    // A company that has no sub-states is not asked about them.
    private static Ok<List<FieldView>> Fields(Workspace workspace) =>
        TypedResults.Ok(workspace.Catalogue.Askable.Where(f => f.Key != LeadState.SubState || f.Choices.Length > 0).Select(View).ToList());

    private static Ok<List<ChoiceView>> RegionsOf(string countries) =>
        TypedResults.Ok(countries.Split(',').Take(20).SelectMany(Regions.Of).Select(r => new ChoiceView(r.Code, r.Name)).OrderBy(c => c.Label, StringComparer.Ordinal).ToList());

    private static FieldView View(FieldDefinition field) =>
        new(
            field.Key,
            field.Label,
            field.Type.ToString().ToLowerInvariant(),
            field.Origin.ToString().ToLowerInvariant(),
            field.Many,
            [.. ChoicesOf(field).Select(c => new FieldChoice(c.Key, c.Label, c.Retired))],
            [.. ConditionCheck.OperatorsOf(field).Select(o => new OperatorView(ConditionJson.NameOf(o), ConditionCheck.ValuesNeeded(o), ConditionCheck.IsDays(o)))]
        );

    private static IEnumerable<Choice> ChoicesOf(FieldDefinition field) =>
        field.Type == FieldType.Country ? Countries.All.Select(c => new Choice(c.Code, c.Name)).OrderBy(c => c.Label, StringComparer.Ordinal)
        : field.Key == "owner" ? field.Choices.Prepend(new Choice(LeadAsk.Me, "me"))
        : field.Choices;

    private static async Task<Results<Ok<LeadPage>, ProblemHttpResult>> List(
        string? where,
        string? order,
        string? columns,
        string? group,
        string? after,
        ClaimsPrincipal user,
        LanternDb db,
        Worklist worklist,
        Workspace workspace
    )
    {
        var (query, problem) = LeadAsk.Query(where, order, columns, group, workspace.Catalogue, user, user.Zone());
        if (problem is not null)
            return ApiProblems.Of(problem);
        var cursor = after is null ? null : Cursor.Read(after, query!.Order, workspace.Catalogue);
        if (after is not null && cursor is null)
            return ApiProblems.Of("cursor-unreadable", "after");
        return TypedResults.Ok(await worklist.Page(db, query!, cursor));
    }

    private static async Task<Results<Ok<LeadCount>, ProblemHttpResult>> Count(string? where, ClaimsPrincipal user, LanternDb db, Worklist worklist, Workspace workspace)
    {
        var (condition, problem) = LeadAsk.Condition(where, workspace.Catalogue, user);
        return problem is null ? TypedResults.Ok(await worklist.Count(db, condition!, exactly: true)) : ApiProblems.Of(problem, "where");
    }

    private static async Task<Results<Ok<GroupsView>, ProblemHttpResult>> Groups(
        string? where,
        string rows,
        string? columns,
        string? measure,
        ClaimsPrincipal user,
        LanternDb db,
        LeadGroups groups,
        Workspace workspace
    )
    {
        var (view, _, problem) = await Counted(where, rows, columns, measure, user, db, groups, workspace);
        return problem is null ? TypedResults.Ok(view!) : ApiProblems.Of(problem);
    }

    private static async Task<Results<EmptyHttpResult, ProblemHttpResult>> ExportGroups(
        string format,
        string? where,
        string rows,
        string? columns,
        string? measure,
        ClaimsPrincipal user,
        LanternDb db,
        LeadGroups groups,
        Workspace workspace,
        HttpResponse answer,
        CancellationToken cancel
    )
    {
        var (view, heading, problem) = await Counted(where, rows, columns, measure, user, db, groups, workspace);
        if (problem is not null)
            return ApiProblems.Of(problem);
        var across = view!.Columns.Count == 0 ? [view.Measure] : view.Columns.Select(c => c.Label).ToList();
        var cells = view.Cells.ToDictionary(c => (c.Row, c.Column), c => c.Value);
        var lines = view.Rows.Select((r, i) => across.Select((_, j) => (object?)FieldValue.Of((decimal?)cells.GetValueOrDefault((i, j)))).Prepend(r.Label).ToArray());
        await db.Log(new Exported("counts of leads"));
        await TableFile.Send(answer, "counts", format, [heading, .. across], lines.ToAsyncEnumerable(), null, cancel);
        return TypedResults.Empty;
    }

    private static async Task<(GroupsView? View, string Heading, Problem? Problem)> Counted(
        string? where,
        string rows,
        string? columns,
        string? measure,
        ClaimsPrincipal user,
        LanternDb db,
        LeadGroups groups,
        Workspace workspace
    )
    {
        var catalogue = workspace.Catalogue;
        var (condition, wrong) = LeadAsk.Condition(where, catalogue, user);
        var (down, wrongRows) = Grouping.Read(rows, catalogue);
        var (across, wrongColumns) = string.IsNullOrEmpty(columns) ? (null, null) : Grouping.Read(columns, catalogue);
        var (measured, wrongMeasure) = LeadAsk.MeasureOf(measure, catalogue);
        if ((wrong ?? wrongRows ?? wrongColumns ?? wrongMeasure) is { } problem)
            return (null, "", problem);
        return (await groups.Count(db, condition!, down!, across, measured!, LeadAsk.ZoneOf(user.Zone()).Id), down!.Field.Label, null);
    }

    // Who may not download by their role may download what a view of their team holds, where it says so.
    private static async Task<Results<EmptyHttpResult, ProblemHttpResult>> Export(
        string format,
        string? where,
        Guid? view,
        ClaimsPrincipal user,
        LanternDb db,
        LeadExport export,
        Workspace workspace,
        HttpResponse answer,
        CancellationToken cancel
    )
    {
        var (condition, problem) = LeadAsk.Condition(where, workspace.Catalogue, user);
        if (problem is not null)
            return ApiProblems.Of(problem, "where");
        if (!user.May(Act.ExportLeads))
        {
            if (await ViewEndpoints.Lets(db, view, ViewAct.Export, user) is not { } within)
                return ApiProblems.NotYours();
            condition = new AllOf([LeadAsk.Condition(within, workspace.Catalogue, user).Item1, condition!]);
        }
        var zone = format == TableFile.Xlsx ? LeadAsk.ZoneOf(user.Zone()) : null;
        await db.Log(new Exported("leads"));
        await TableFile.Send(answer, "leads", format, export.Headings(zone), export.Rows(db, condition!, cancel), zone, cancel);
        return TypedResults.Empty;
    }
}
