using System.Collections.Immutable;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Setup;

/// <summary>A list whose values are added where they are needed: kinds, roles, segments, reasons, competitors.</summary>
/// <param name="MayAdd">True for who reads it, when they may add to it.</param>
public sealed record PickListView(string Key, IReadOnlyList<ChoiceView> Values, bool MayAdd);

public sealed record NewValue([Text(200)] string Label);

/// <summary>The lists that are kept so.</summary>
public static class PickList
{
    public const string Kinds = "contact-kinds";
    public const string Roles = "deal-roles";
    public const string Segments = "segments";
    public const string LostReasons = "lost-reasons";
    public const string Competitors = "competitors";

    /// <summary>Reasons leads are disqualified for.</summary>
    public const string Reasons = "state_reason";

    private static readonly Dictionary<string, ImmutableArray<Choice>> All = new()
    {
        [Kinds] = [new("customer", "Customer"), new("supplier", "Supplier"), new("partner", "Partner")],
        [Roles] = [new("decision_maker", "Decision maker"), new("user", "User"), new("buyer", "Buyer"), new("lawyer", "Lawyer")],
        [Segments] = [],
        [LostReasons] = LeadState.Reasons,
        [Competitors] = [],
        [Reasons] = LeadState.Reasons,
    };

    /// <summary>What a list has before anybody adds to it; empty for an unknown one.</summary>
    public static ImmutableArray<Choice> Shipped(string list) => All.GetValueOrDefault(list, []);

    public static bool Is(string list) => All.ContainsKey(list);
}

/// <summary>Adding a value is one act where it is needed.</summary>
public static class PickListEndpoints
{
    private const int MostValues = 200;
    private const int LongestLabel = 60;

    public static void MapKeptLists(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/lists").WithTags("Setup");
        group.MapGet("/{list}", Open).Requires(Act.SeeLeads).WithSummary("The values of a kept list");
        group.MapPost("/{list}", Add).Requires(Act.KeepLists).WithSummary("Add a value to a kept list; one that is there already is given back");
        group.MapPatch("/{list}/{key}", Rename).Requires(Act.KeepLists).WithSummary("Call a value otherwise");
    }

    private static Results<Ok<PickListView>, ProblemHttpResult> Open(string list, ClaimsPrincipal user, Workspace workspace) =>
        PickList.Is(list)
            ? TypedResults.Ok(new PickListView(list, [.. workspace.List(list).Select(c => new ChoiceView(c.Key, c.Label))], user.May(Act.KeepLists)))
            : ApiProblems.NotFound("list");

    private static async Task<Results<Ok<ChoiceView>, ProblemHttpResult>> Add(string list, NewValue body, LanternDb db, WorkspaceConfiguration configuration)
    {
        var (label, wrong) = Read(list, body);
        if (wrong is not null)
            return ApiProblems.Of(wrong);
        var key = Folding.Heading(label).Replace(' ', '_');
        if (key.Length == 0)
            return ApiProblems.Of("name-without-letters", "label");
        Choice? known = null;
        var trouble = await Change(
            db,
            configuration,
            list,
            values =>
            {
                known = values.FirstOrDefault(v => v.Key == key || Folding.Heading(v.Label) == Folding.Heading(label));
                if (known is null && values.Count >= MostValues)
                    return Problem.Of("full", "", MostValues, "values");
                if (known is null)
                    values.Add(new Choice(key, label));
                return null;
            }
        );
        return trouble is not null ? ApiProblems.Of(trouble) : TypedResults.Ok(new ChoiceView(known?.Key ?? key, known?.Label ?? label));
    }

    private static async Task<Results<Ok<ChoiceView>, ProblemHttpResult>> Rename(string list, string key, NewValue body, LanternDb db, WorkspaceConfiguration configuration)
    {
        var (label, wrong) = Read(list, body);
        if (wrong is not null)
            return ApiProblems.Of(wrong);
        var trouble = await Change(
            db,
            configuration,
            list,
            values =>
            {
                var at = values.FindIndex(v => v.Key == key);
                if (at < 0)
                    return Problem.NotFound("value");
                if (values.Where((_, i) => i != at).Any(v => Folding.Heading(v.Label) == Folding.Heading(label)))
                    return Problem.Of("value-exists", "", label);
                values[at] = values[at] with { Label = label };
                return null;
            }
        );
        return trouble is not null ? ApiProblems.Of(trouble) : TypedResults.Ok(new ChoiceView(key, label));
    }

    private static (string Label, Problem? Wrong) Read(string list, NewValue body)
    {
        var label = FieldReader.Clean(body.Label ?? "");
        return !PickList.Is(list) ? (label, Problem.NotFound("list"))
            : label.Length is 0 or > LongestLabel ? (label, Problem.Of("name-missing", "label", LongestLabel))
            : (label, null);
    }

    // The row is held, so that two who add at once both find their value.
    private static async Task<Problem?> Change(LanternDb db, WorkspaceConfiguration configuration, string list, Func<List<Choice>, Problem?> change)
    {
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            var held = await db.One<string>(
                $$"""insert into setup_entry (key, body) values ('value-lists', '{}') on conflict do nothing; select body::text as "Value" from setup_entry where key = 'value-lists' for update"""
            );
            var values = Json.Read<Dictionary<string, List<Choice>>>(held).GetValueOrDefault(list) ?? [.. PickList.Shipped(list)];
            if (change(values) is { } trouble)
                return trouble;
            await db.Run($"update setup_entry set body = body || jsonb_build_object({list}, {Json.Write(values)}::jsonb) where key = 'value-lists'");
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return null;
    }
}
