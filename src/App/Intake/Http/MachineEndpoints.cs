using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.Core.Leads;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake.Http;

/// <summary>
/// For other systems: persons and events, one or up to 1,000 at a time, with a token in place of a sign-in. What is answered with 2xx is
/// committed. <c>Idempotency-Key</c> makes a call safe to repeat.
/// </summary>
public static class MachineEndpoints
{
    public const string RateLimit = "machine";
    public const int MostItems = 1000;

    public static void MapMachines(this WebApplication app)
    {
        var group = app.MapGroup("/api/v1").WithTags("For other systems").RequireRateLimiting(RateLimit);
        group.MapPost("/leads", Lead).RequireAuthorization(TokenScopes.Leads).WithSummary("Send a person: made or found, scored, routed");
        group.MapPatch("/leads/{id:guid}", Change).RequireAuthorization(TokenScopes.Leads).WithSummary("Change facts of a lead; a blank empties");
        group.MapPost("/events", Event).RequireAuthorization(TokenScopes.Events).WithSummary("Send something a person did");
        group.MapMachineReads();
        // Each item is checked by itself, so that a wrong one costs that one.
        group
            .MapPost("/batch", Batch)
            .RequireAuthorization(TokenScopes.Leads, TokenScopes.Events)
            .DisableValidation()
            .WithSummary("Up to 1,000 persons and events, with a result for each");
    }

    private static async Task<IResult> Lead(SentLead body, HttpContext http, MachineArrivals arrivals, LanternDbFactory databases, CancellationToken cancel)
    {
        var result = await arrivals.Take(await SenderOf(http, databases), body, KeyOf(http, ""), cancel);
        return Answer(result, result.Lead);
    }

    private static async Task<IResult> Event(SentEvent body, HttpContext http, MachineArrivals arrivals, LanternDbFactory databases, CancellationToken cancel)
    {
        var result = (await arrivals.Take(await SenderOf(http, databases), [(body, KeyOf(http, ""))], cancel))[0];
        return Answer(result, result.Event);
    }

    private static async Task<Results<Ok<BatchResult>, ProblemHttpResult>> Batch(
        SentBatch body,
        HttpContext http,
        MachineArrivals arrivals,
        LanternDbFactory databases,
        CancellationToken cancel
    )
    {
        if (body.Items.Count is 0 or > MostItems)
            return ApiProblems.Of("batch-size", "", MostItems, body.Items.Count);
        var sender = await SenderOf(http, databases);
        var results = new ItemResult[body.Items.Count];
        // Persons first, so that an event may be about one sent beside it.
        await Task.WhenAll(
            body.Items.Select(
                async (item, i) => results[i] = item.Lead is { } lead && item.Event is null ? await arrivals.Take(sender, lead, KeyOf(http, $"/{i}"), cancel) : Neither
            )
        );
        var events = body.Items.Select((item, i) => (item, i)).Where(x => x.item is { Event: not null, Lead: null }).ToList();
        var kept = events.Count == 0 ? [] : await arrivals.Take(sender, [.. events.Select(e => (e.item.Event!, KeyOf(http, $"/{e.i}")))], cancel);
        foreach (var ((_, i), result) in events.Zip(kept))
            results[i] = result;
        return TypedResults.Ok(new BatchResult(results));
    }

    private static ItemResult Neither { get; } = ItemResult.Of(new Problem("item-unclear"));

    private static async Task<Results<NoContent, ProblemHttpResult>> Change(Guid id, FactsChange body, HttpContext http, LanternDb db, LeadEditor editing, TimeProvider clock)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var source = http.User.FindFirstValue("source");
        var found = await db.Row<LockedLead>($"select version, state from lead where id = {id} and source = {source} for update");
        // A token reaches what its own source brought; whether there is another lead of that id it is not told.
        if (found is not { } lead)
            return ApiProblems.NotFound("lead");
        if (lead.State == LeadState.HandedOver)
            return ApiProblems.Of("handed-over");
        if (http.Request.Version() is { } version && version != lead.Version)
            return ApiProblems.Stale();
        if (await editing.Change(db, id, body.Facts, http.User.Identity!.Name!, null, clock.UtcNow()) is { } problem)
            return ApiProblems.Of(problem);
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static IResult Answer(ItemResult result, object? body) => result.Refusal is { } problem ? ApiProblems.Of(problem) : TypedResults.Json(body, statusCode: result.Status);

    private static string? KeyOf(HttpContext http, string part) => http.Request.Headers["Idempotency-Key"].ToString() is { Length: > 0 and <= 200 } key ? key + part : null;

    private static async Task<Sender> SenderOf(HttpContext http, LanternDbFactory databases)
    {
        await using var db = await databases.Open();
        var key = http.User.FindFirstValue("source");
        return new Sender(http.User.Id(), http.User.Identity!.Name!, await db.Set<SourceRow>().AsNoTracking().Where(x => x.Key == key).SingleAsync());
    }

    private sealed record LockedLead(int Version, string State);
}
