using System.Security.Claims;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Handover;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace DapperLantern.App.Handover;

public sealed record ReadyLead(Guid Id, int Number, string Name, string? Company, string? OwnerName, int Fit, int FitHigh, int Engagement, DateTime Since);

/// <summary>An account or contact that is already there, with the evidence for it.</summary>
public sealed record FoundRecord(Guid Id, string Name, double Bits, bool Same, IReadOnlyList<string> Evidence);

public sealed record PipelineChoice(string Key, string Name);

/// <summary>Everything the handover sheet shows before the act.</summary>
/// <param name="GoesAlong">Notes and other story lines, open tasks, and events that go along.</param>
public sealed record HandoverPreview(
    Guid LeadId,
    int Version,
    string LeadName,
    string State,
    string DealName,
    bool MakesAccount,
    IReadOnlyList<LandingLine> Lines,
    IReadOnlyList<FoundRecord> Accounts,
    IReadOnlyList<FoundRecord> Contacts,
    IReadOnlyList<PipelineChoice> Pipelines,
    DateOnly ExpectedClose,
    GoesAlong GoesAlong,
    BecameView? Became
);

public sealed record GoesAlong(int Story, int Tasks, int Events);

/// <summary>The act. No account id with <see cref="NewAccount"/> makes a new account even where one may be the same.</summary>
/// <param name="Take">Keys of facts where the lead's value replaces that of the existing record.</param>
public sealed record HandoverOrder(
    Guid? AccountId,
    bool NewAccount,
    Guid? ContactId,
    IReadOnlyList<string> Take,
    string Pipeline,
    string DealName,
    decimal Amount,
    string Currency,
    DateOnly ExpectedClose
);

public static class HandoverEndpoints
{
    public static void MapHandover(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("").Requires(Act.HandOver).WithTags("Handover");
        group.MapGet("/handover", Ready).WithSummary("Qualified leads that wait to be handed over");
        api.MapGet("/pipelines", Pipelines).Requires(Act.SeeLeads).WithTags("Handover").WithSummary("What a handover can go into");
        group.MapGet("/leads/{id}/handover", Preview).WithSummary("The handover sheet of a lead");
        group.MapPost("/leads/{id}/handover", HandOver).WithSummary("Make or link account and contact, make the deal");
        group.MapPost("/leads/{id}/handover/take-back", TakeBack).WithSummary("Take a wrong handover back");
    }

    private static async Task<Ok<List<ReadyLead>>> Ready(LanternDb db, ClaimsPrincipal user, TimeProvider clock)
    {
        var connection = await db.Connection();
        var mine = Permissions.OwnOnly(user.Role()) ? user.Id() : (Guid?)null;
        var leads = await connection.QueryAsync<ReadyLead>(
            """
            select l.id, l.number, coalesce(nullif(trim(concat_ws(' ', l.first_name, l.last_name)), ''), l.company, l.email) as name, l.company, p.display_name as owner_name,
              l.fit, l.fit_high, engagement_at(l.glow, @day) as engagement, l.last_touch_at as since
            from lead l left join person p on p.id = l.owner_id where l.state = 'qualified' and (@mine::uuid is null or l.owner_id = @mine) order by l.last_touch_at, l.id
            """,
            new { mine, day = Core.Scoring.Glow.DayOf(clock.UtcNow().ToInstant()) }
        );
        return TypedResults.Ok(leads.ToList());
    }

    private static async Task<List<PipelineChoice>> PipelinesOf(NpgsqlConnection connection) =>
        (await connection.QueryAsync<PipelineChoice>("select key, name from pipeline order by name")).ToList();

    private static async Task<Ok<List<PipelineChoice>>> Pipelines(LanternDb db) => TypedResults.Ok(await PipelinesOf(await db.Connection()));

    private static async Task<Results<Ok<HandoverPreview>, ProblemHttpResult>> Preview(Guid id, Guid? account, Guid? contact, LanternDb db, HandoverDesk desk, LeadQueries queries)
    {
        var connection = await db.Connection();
        if (await queries.Sheet(connection, id) is not { } lead)
            return Trouble.NotFound("lead");
        var found = await desk.Look(connection, id, account, contact);
        var pipelines = await PipelinesOf(connection);
        var along = new GoesAlong(
            lead.Story.Count,
            lead.Tasks.Count(t => t.DoneAt is null),
            await connection.QuerySingleAsync<int>("select count(*)::int from lead_event where lead_id = @id", new { id })
        );
        return TypedResults.Ok(
            new HandoverPreview(
                id,
                lead.Version,
                lead.Name,
                lead.State,
                found.Sheet.DealName,
                found.Sheet.MakesAccount,
                found.Sheet.Lines,
                found.Accounts,
                found.Contacts,
                pipelines,
                found.Closes,
                along,
                lead.Became
            )
        );
    }

    private static async Task<Results<Ok<BecameView>, ProblemHttpResult>> HandOver(
        Guid id,
        HandoverOrder order,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        HandoverDesk desk,
        LeadQueries queries
    )
    {
        if (order.Amount is < 0 or > 1_000_000_000_000m)
            return Trouble.Invalid("amount-unfit", "The amount is a number from 0 to a million million.", "amount");
        if (order.Currency is not { Length: 3 } || !order.Currency.All(char.IsAsciiLetterUpper))
            return Trouble.Invalid("currency-unfit", "The currency is three capital letters, for instance EUR.", "currency");
        if (string.IsNullOrWhiteSpace(order.DealName) || order.DealName.Length > 200)
            return Trouble.Invalid("deal-name-unfit", "The deal needs a name of at most 200 letters.", "dealName");
        await using var transaction = await db.Database.BeginTransactionAsync();
        var connection = await db.Connection();
        await Admission.Lock(connection);
        if (await LeadEndpoints.WhyNot(connection, id, user, request.Version()) is { } no)
            return no;
        if (await desk.Do(connection, id, order, user.Id()) is { } trouble)
            return trouble;
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(connection, id))!.Became!);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> TakeBack(Guid id, ClaimsPrincipal user, LanternDb db, HandoverUndo undo)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var connection = await db.Connection();
        await Admission.Lock(connection);
        if (await undo.Run(connection, id, user.Id(), Permissions.OwnOnly(user.Role())) is { } trouble)
            return trouble;
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }
}
