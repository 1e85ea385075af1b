using System.Security.Claims;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Rights;

/// <summary>How many records of a kind we have about somebody.</summary>
public sealed record RecordCountView(string Key, string Label, int Count);

/// <summary>What we have about somebody.</summary>
/// <param name="Who">As asked for; what to type to confirm an erasure.</param>
public sealed record PersonDataView(string Who, IReadOnlyList<string> Names, IReadOnlyList<string> Addresses, IReadOnlyList<string> Numbers, IReadOnlyList<RecordCountView> Held);

/// <param name="Who">An email address, or a lead's number.</param>
/// <param name="Confirm">The same again, typed by a person.</param>
/// <param name="Bar">True when they shall not come in again.</param>
public sealed record ErasureOrder([Text(500)] string Who, [Text(500)] string Confirm, bool Bar = false);

/// <summary>An erasure that was done; it does not say of whom.</summary>
public sealed record ErasureView(DateTime At, string By, int Records);

/// <summary>A person's right to be given what we have about them, and to be forgotten.</summary>
public static class RightsEndpoints
{
    public static void MapRights(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/persons").Requires(Act.AnswerPersons).WithTags("Rights");
        group.MapGet("", Look).WithSummary("What we have about somebody");
        group.MapGet("/all.json", Give).WithSummary("All of it as one file");
        group.MapPost("/erase", Erase).TakesTurns().WithSummary("Erase somebody; this cannot be undone");
        group.MapGet("/erasures", List).WithSummary("Erasures that were done");
    }

    private static async Task<Results<Ok<PersonDataView>, ProblemHttpResult>> Look(string who, LanternDb db, Workspace workspace)
    {
        var (trail, wrong) = await Find(db, who, workspace);
        if (trail is null)
            return ApiProblems.Of(wrong!);
        var counts = await PersonRecords.Count(db, trail);
        var held = PersonRecords.All.Where(k => counts.ContainsKey(k.Key)).Select(k => new RecordCountView(k.Key, k.Label, counts[k.Key]));
        return TypedResults.Ok(new PersonDataView(who.Trim(), trail.Names, trail.Emails, trail.Numbers, [.. held]));
    }

    private static async Task<(PersonTrail?, Problem?)> Find(LanternDb db, string who, Workspace workspace) =>
        await PersonTrail.Find(db, who, workspace) switch
        {
            null => (null, Problem.Of("who-unreadable", "who")),
            { IsEmpty: true } => (null, Problem.Of("nobody", "who", who.Trim())),
            var trail => (trail, null),
        };

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Give(string who, LanternDb db, Workspace workspace, TimeProvider clock)
    {
        var (trail, wrong) = await Find(db, who, workspace);
        if (trail is null)
            return ApiProblems.Of(wrong!);
        var all = await PersonRecords.Give(db, trail, clock.UtcNow());
        // By itself, and with each of their leads.
        await db.Log(new Exported("all we have about a person"));
        await db.Log(EventLog.Lead, trail.Leads, new Exported("all we have about a person"));
        return TypedResults.File(JsonSerializer.SerializeToUtf8Bytes(all, Json.Readable), "application/json", "person.json");
    }

    private static async Task<Results<Ok<ErasureView>, ProblemHttpResult>> Erase(
        ErasureOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        Workspace workspace,
        Erasure erasure,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (!string.Equals(body.Who.Trim(), body.Confirm.Trim(), StringComparison.OrdinalIgnoreCase))
            return ApiProblems.Of("not-confirmed", "confirm");
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await Admission.Lock(db);
        var (trail, wrong) = await Find(db, body.Who, workspace);
        if (trail is null)
            return ApiProblems.Of(wrong!);
        if (await db.One<string?>(AtWork([.. trail.Rows.Select(r => r.Import).Distinct()])) is { } busy)
            return ApiProblems.Of("list-at-work", "", busy);
        var counts = await erasure.Erase(db, trail, body.Bar, user.Id(), cancel);
        await transaction.CommitAsync(cancel);
        return TypedResults.Ok(new ErasureView(clock.UtcNow(), user.Identity?.Name ?? "", counts.Values.Sum()));
    }

    // Locked, so that nothing begins to work on them meanwhile.
    private static SqlText AtWork(Guid[] ids) =>
        $"""
            with held as (select file_name, state from import where id = any({ids}) order by id for update)
            select min(file_name) filter (where state in ('sifting', 'taking', 'taking_back')) as "Value" from held
            """;

    private static async Task<Ok<List<ErasureView>>> List(LanternDb db) =>
        TypedResults.Ok(
            await db.Rows<ErasureView>(
                $"""
                select e.at, p.display_name as by, (select sum(value::int)::int from jsonb_each_text(e.counts)) as records
                from erasure e join person p on p.id = e.person_id order by e.at desc limit 200
                """
            )
        );
}
