using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Leads.Bulk;

/// <summary>Many leads at once, over HTTP. What an act needs beside seeing leads is decided with the act: see <see cref="BulkOrders"/>.</summary>
public static class BulkEndpoints
{
    private const int LongestKey = 200;

    public static void MapBulk(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/bulk-edits").Requires(Act.SeeLeads).WithTags("Leads");
        group.MapGet("", List).WithSummary("What was done to many leads lately");
        group.MapGet("/{id:guid}", One).WithSummary("How far one is");
        group.MapPost("/preview", Preview).WithSummary("What an order would do");
        group.MapPost("", Order).WithSummary("Do something to many leads (Idempotency-Key)");
        group.MapPost("/{id:guid}/undo", Undo).WithSummary("Take back what was done");
    }

    private static async Task<Ok<List<BulkEditView>>> List(ClaimsPrincipal user, LanternDb db) => TypedResults.Ok(await BulkEdits.List(db, user));

    private static async Task<Results<Ok<BulkEditView>, ProblemHttpResult>> One(Guid id, ClaimsPrincipal user, LanternDb db) =>
        (await BulkEdits.List(db, user, id)).FirstOrDefault() is { } found ? TypedResults.Ok(found) : ApiProblems.NotFound("order");

    private static async Task<Results<Ok<BulkPreview>, ProblemHttpResult>> Preview(BulkOrder body, ClaimsPrincipal user, LanternDb db, BulkOrders orders, BulkEdits edits)
    {
        var (order, wrong) = await orders.Check(db, body, user);
        return wrong is not null ? ApiProblems.Of(wrong) : TypedResults.Ok(await edits.Preview(db, order!, user));
    }

    private static async Task<Results<Accepted<BulkEditView>, ProblemHttpResult>> Order(
        BulkOrder body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        BulkOrders orders,
        BulkEdits edits,
        BulkRunner runner
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (order, wrong) = await orders.Check(db, body, user);
        if (wrong is not null)
            return ApiProblems.Of(wrong);
        var key = request.Headers["Idempotency-Key"].ToString() is { Length: > 0 and <= LongestKey } given ? given : null;
        var id = await edits.Open(db, order!, user, key);
        await transaction.CommitAsync();
        runner.Wake();
        return TypedResults.Accepted($"/api/bulk-edits/{id}", (await BulkEdits.List(db, user, id))[0]);
    }

    private static async Task<Results<Accepted<BulkEditView>, ProblemHttpResult>> Undo(Guid id, ClaimsPrincipal user, LanternDb db, BulkRunner runner)
    {
        if ((await BulkEdits.List(db, user, id)).FirstOrDefault() is not { } found)
            return ApiProblems.NotFound("order");
        if (!found.Mine && !user.May(Act.SetUp))
            return ApiProblems.NotYours();
        if (!await BulkEdits.Undo(db, id))
            return ApiProblems.Of(found.State == BulkEdit.Undone ? "undone" : "still-working");
        runner.Wake();
        return TypedResults.Accepted($"/api/bulk-edits/{id}", (await BulkEdits.List(db, user, id))[0]);
    }
}
