using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Routing;

public sealed record GiveBackOrder([Text(300)] string Reason);

/// <param name="Verdicts">The rules in order up to the one that held, as they were asked; empty where none was.</param>
public sealed record DecisionView(DateTime At, int Edition, string Moment, string? Owner, IReadOnlyList<TraceLine> Lines, IReadOnlyList<RuleVerdict> Verdicts);

public sealed record WhyNotView(string Name, IReadOnlyList<string> Lines);

/// <summary>Leads given, taken and given back by hand, and the reasons they went where they are.</summary>
public static class HandEndpoints
{
    private const int MostDecisions = 20;

    public static void MapHands(this IEndpointRouteBuilder api)
    {
        api.MapPost("/leads/{id:guid}/give-back", GiveBack)
            .TakesTurns()
            .Requires(Act.WorkLeads)
            .WithTags("Leads")
            .WithSummary("Give one's lead back, with a reason; it goes on by the rules");
        api.MapPost("/leads/{id:guid}/take", Take).Requires(Act.WorkLeads).WithTags("Leads").WithSummary("Take a lead that nobody has");
        api.MapGet("/leads/{id:guid}/routing", Decisions).Requires(Act.SeeLeads).WithTags("Leads").WithSummary("How a lead came to whom it is: every decision, newest first");
        api.MapGet("/leads/{id:guid}/routing/why-not", WhyNot).Requires(Act.SeeLeads).WithTags("Leads").WithSummary("Why somebody did not get a lead");
    }

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> GiveBack(
        Guid id,
        GiveBackOrder body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries queries,
        Workspace workspace,
        Rerouter rerouter,
        TimeProvider clock
    )
    {
        if (FieldReader.Clean(body.Reason) is not { Length: > 0 and <= 300 } reason)
            return ApiProblems.Of("give-back-reason", "reason", 300);
        await using var transaction = await db.Database.BeginTransactionAsync();
        await Admission.Lock(db);
        if (await LeadEndpoints.WhyNot(db, id, user, request.Version()) is { } no)
            return ApiProblems.Of(no);
        if (await db.Set<Lead>().Where(x => x.Id == id).Select(x => x.OwnerId).SingleAsync() is null)
            return ApiProblems.Of("owner-none");
        var now = clock.UtcNow();
        var router = (await workspace.Rules(db)).Router;
        var why = new Why(Why.GivenBack, Reason: reason);
        if (router.AskedAt(RoutingMoment.GivenBack))
            await rerouter.Run(db, [id], RoutingMoment.GivenBack, again: false, now, why: why);
        else
            await OwnerAssigner.Give(db, [new OwnerAssignment(id, null, null)], now, why);
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Take(
        Guid id,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries queries,
        Workspace workspace,
        TimeProvider clock
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var lead = await db.Row<LockedLead>($"select owner_id as owner, state, version from lead where id = {id} for update");
        if (lead is not var (owner, state, version))
            return ApiProblems.NotFound("lead");
        if (request.Version() is { } asked && asked != version)
            return ApiProblems.Stale();
        if (owner is not null)
            return ApiProblems.Of("owner-other");
        if (state is "handed_over")
            return ApiProblems.Of("handed-over");
        if (!user.May(Act.TakeLeads))
            return ApiProblems.Of("takes-no-leads");
        var now = clock.UtcNow();
        var sheet = (await workspace.Rules(db)).Router.Sheet;
        var due = workspace.AnswerDue(user.Id(), sheet, now);
        await OwnerAssigner.Give(db, [new OwnerAssignment(id, user.Id(), due, sheet.Task)], now, new Why(Why.Taken));
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    private static async Task<Results<Ok<List<DecisionView>>, ProblemHttpResult>> Decisions(Guid id, LanternDb db, RecordScope scope, Workspace workspace)
    {
        if (!await scope.Of<Lead>(db).AnyAsync(l => l.Id == id))
            return ApiProblems.NotFound("lead");
        var decisions = new List<DecisionView>();
        foreach (var made in await Made(db, id, MostDecisions))
            decisions.Add(new DecisionView(made.At, made.Number, made.Moment, made.Owner, Json.Read<List<TraceLine>>(made.Trace), Verdicts(made, workspace.Catalogue)));
        return TypedResults.Ok(decisions);
    }

    private static async Task<IEnumerable<MadeDecision>> Made(LanternDb db, Guid lead, int most) =>
        await db.Rows<MadeDecision>(
            $"""
            select d.at, e.number, e.body::text as body, d.moment, d.rule, p.display_name as owner, d.trace::text as trace, d.asked::text as asked
              from routing_decision d join edition e on e.id = d.edition left join person p on p.id = d.owner_id where d.lead_id = {lead} order by d.at desc, d.id desc limit {most}
            """
        );

    // The sheet of then, asked with what it asked then.
    private static List<RuleVerdict> Verdicts(MadeDecision made, FieldCatalogue catalogue)
    {
        var sheet = Json.Read<RuleSheet>(made.Body);
        if (made.Asked == "{}" || (made.Rule is null && made.Owner is not null) || !Router.CanRead(sheet, catalogue))
            return [];
        return [.. new Router(sheet, catalogue).Verdicts(Asked(made, catalogue), made.Moment, made.At.ToInstant())];
    }

    private static RecordValues Asked(MadeDecision made, FieldCatalogue catalogue)
    {
        var record = new RecordValues(catalogue);
        foreach (var (key, value) in Json.Read<Dictionary<string, string>>(made.Asked))
            if (catalogue.Find(key) is { } field)
                record[field.Ordinal] = FieldValue.Parse(field.Type, value);
        return record;
    }

    private static async Task<Results<Ok<WhyNotView>, ProblemHttpResult>> WhyNot(Guid id, Guid person, LanternDb db, RecordScope scope, Workspace workspace, TimeProvider clock)
    {
        if (!await scope.Of<Lead>(db).AnyAsync(l => l.Id == id) || (await Made(db, id, 1)).FirstOrDefault() is not { } made)
            return ApiProblems.NotFound("routing decision");
        var desk = await RoutingContext.Open(db, clock.UtcNow(), hold: false);
        if (desk.Reps.GetValueOrDefault(person) is not { } rep)
            return ApiProblems.NotFound("person");
        var sheet = Json.Read<RuleSheet>(made.Body);
        var teams = desk.Teams.Where(t => t.Turns.Any(p => p.Rep == person)).ToList();
        var lines = Core.Routing.RoutingWhyNot.Of(rep, sheet, made.Rule, Json.Read<List<TraceLine>>(made.Trace), Verdicts(made, workspace.Catalogue), [.. teams]);
        return TypedResults.Ok(new WhyNotView(rep.Name, [.. lines]));
    }

    private sealed record MadeDecision
    {
        public DateTime At { get; init; }
        public int Number { get; init; }
        public string Body { get; init; } = "";
        public string Moment { get; init; } = "";
        public string? Rule { get; init; }
        public string? Owner { get; init; }
        public string Trace { get; init; } = "[]";
        public string Asked { get; init; } = "{}";
    }

    private sealed record LockedLead(Guid? Owner, string State, int Version);
}
