using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Desk;

/// <param name="Kind">lead, import, arrival, duplicate, message or failed: where the link goes.</param>
public sealed record DeskItem(string Kind, Guid Id, string Title, string Line, DateTime At);

/// <summary>Decisions of one kind that wait.</summary>
/// <param name="Delay">What waiting costs, for people.</param>
public sealed record DeskGroup(string Key, string Title, int Count, string Delay, IReadOnlyList<DeskItem> Items);

/// <summary>Dearest delay first.</summary>
public sealed record DeskView(IReadOnlyList<DeskGroup> Groups, int Total);

/// <summary>What waits at each stop of the line.</summary>
public sealed record LineView(int Desk, int Intake, int Leads, int Scoring, int Routing, int Handover, int Deals, int Reports);

/// <summary>The Desk over HTTP.</summary>
public static class DeskEndpoints
{
    public static void MapDesk(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("").Requires(Act.SeeDesk).WithTags("Desk");
        group.MapGet("/desk", Waiting).WithSummary("What waits for a decision");
        group.MapGet("/line", Line).WithSummary("What waits at each stop");
    }

    private static async Task<Ok<DeskView>> Waiting(ClaimsPrincipal user, RecordScope scope, DeskCounts counts) => TypedResults.Ok((await counts.Of(user, scope)).View);

    private static async Task<Ok<LineView>> Line(ClaimsPrincipal user, RecordScope scope, DeskCounts counts)
    {
        var (desk, late) = await counts.Of(user, scope);
        var groups = desk.Groups.ToDictionary(g => g.Key, g => g.Count);
        int Of(string key) => groups.GetValueOrDefault(key);
        return TypedResults.Ok(new LineView(desk.Total, Of("mend") + Of("sieve") + Of("waiting"), Of("clock") + Of("duplicates"), 0, Of("unrouted"), Of("qualified"), late, 0));
    }
}
