using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Setup;

/// <summary>A list whose values are added where they are needed: kinds, roles, segments, reasons, competitors.</summary>
/// <param name="MayAdd">True for who reads it, when they may add to it.</param>
public sealed record PickListView(string Key, IReadOnlyList<PickListChoice> Values, bool MayAdd);

/// <param name="Retired">True for one that is offered no more.</param>
public sealed record PickListChoice(string Key, string Label, bool Retired);

/// <param name="Of">For a sub-state: the state it belongs to.</param>
public sealed record NewValue([Text(200)] string Label, [Text(100)] string? Of = null);

/// <summary>What is null stays.</summary>
/// <param name="AlsoCalled">Other words by which files and forms name it.</param>
public sealed record ValueChange([Text(200)] string? Label = null, bool? Retired = null, [Count(50, Each = 100)] IReadOnlyList<string>? AlsoCalled = null);

/// <param name="Keys">All keys of the list, in their new order.</param>
public sealed record ValueOrder([Count(500, Each = 100)] IReadOnlyList<string> Keys);

/// <param name="Into">Key of the value that stands for both from then on.</param>
public sealed record ValueMergeOrder([Text(100)] string Into);

/// <summary>Adding a value is one act where it is needed; keeping the lists in order is one page.</summary>
public static class PickListEndpoints
{
    public static void MapKeptLists(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/lists").WithTags("Setup");
        group.MapGet("/{list}", Open).Requires(Act.SeeLeads).WithSummary("The values of a kept list");
        group.MapPost("/{list}", Add).Requires(Act.KeepLists).WithSummary("Add a value to a kept list; one that is there already is given back");
        var keep = api.MapGroup("/setup/lists").Requires(Act.SetUp).WithTags("Setup");
        keep.MapGet("", All).WithSummary("Every list of values that is kept, and the merges that can be undone");
        keep.MapGet("/uses", Uses).WithSummary("How many records have each value, by list and key");
        keep.MapPatch("/{list}/{key}", Change).WithSummary("Call a value otherwise, retire it, bring it back, or say by which other words it is read");
        keep.MapPut("/{list}/order", Order).WithSummary("Put the values into another order");
        keep.MapDelete("/{list}/{key}", Remove).WithSummary("Take a value away that nothing has and nothing asks for");
        keep.MapPost("/{list}/{key}/merge", Merge).WithSummary("Let another value stand for this one, on every record that has it");
        keep.MapPost("/merges/{id:guid}/undo", Undo).WithSummary("Take a merge back");
    }

    private static Results<Ok<PickListView>, ProblemHttpResult> Open(string list, ClaimsPrincipal user, Workspace workspace) =>
        PickList.Is(list)
            ? TypedResults.Ok(new PickListView(list, [.. workspace.List(list).Select(c => new PickListChoice(c.Key, c.Label, c.Retired))], user.May(Act.KeepLists)))
            : ApiProblems.NotFound("list");

    private static async Task<Results<Ok<ChoiceView>, ProblemHttpResult>> Add(string list, NewValue body, PickListDesk desk) => await desk.Add(list, body.Label, body.Of).Answer();

    private static async Task<Ok<KeptListsView>> All(PickListDesk desk) => TypedResults.Ok(await desk.View());

    private static async Task<Ok<IReadOnlyDictionary<string, IReadOnlyDictionary<string, int>>>> Uses(PickListDesk desk) => TypedResults.Ok(await desk.Uses());

    private static async Task<Results<Ok<KeptListsView>, ProblemHttpResult>> Change(string list, string key, ValueChange body, PickListDesk desk) =>
        await desk.Change(list, key, body).Answer();

    private static async Task<Results<Ok<KeptListsView>, ProblemHttpResult>> Order(string list, ValueOrder body, PickListDesk desk) => await desk.Order(list, body.Keys).Answer();

    private static async Task<Results<Ok<KeptListsView>, ProblemHttpResult>> Remove(string list, string key, PickListDesk desk) => await desk.Remove(list, key).Answer();

    private static async Task<Results<Ok<KeptListsView>, ProblemHttpResult>> Merge(string list, string key, ValueMergeOrder body, ClaimsPrincipal user, ValueMerger merger) =>
        await merger.Merge(list, key, body.Into, user.Id()).Answer();

    private static async Task<Results<Ok<KeptListsView>, ProblemHttpResult>> Undo(Guid id, ValueMerger merger) => await merger.Undo(id).Answer();
}
