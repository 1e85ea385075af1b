using System.Security.Claims;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Rights;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

public sealed record ReadyLead(Guid Id, int Number, string Name, string? Company, string? OwnerName, int Fit, int FitHigh, int Engagement, DateTime Since);

public sealed record PipelineChoice(string Key, string Name);

/// <summary>Another open lead of the same company, that could come along.</summary>
/// <param name="Mine">False where whoever reads may not hand it over.</param>
public sealed record AlongChoice(Guid Id, int Number, string Name, string? JobTitle, string State, string? OwnerName, bool Mine);

/// <summary>A product with its prices by currency.</summary>
public sealed record ProductChoice(string Key, string Name, string Unit, IReadOnlyDictionary<string, decimal> Prices);

/// <summary>What goes along beside the facts.</summary>
public sealed record GoesAlong(int Story, int Tasks, int Events, int Tags, int Campaigns, int Consents, int Files, int Meetings, int Findings);

/// <summary>An account or contact that is the lead's beyond doubt, and that the reader does not see.</summary>
/// <param name="Kind">account or contact.</param>
public sealed record KnownTarget(string Kind, KnownView Known);

/// <summary>Everything the handover sheet shows before the act.</summary>
/// <param name="Exception">Why it is qualified though the threshold is not met; null where it is.</param>
/// <param name="Role">The part proposed for its contact.</param>
/// <param name="OwnerName">Who would have the deal.</param>
public sealed record HandoverPreview(
    Guid LeadId,
    int Version,
    string LeadName,
    string State,
    string? Exception,
    AccountKind Makes,
    string? AccountName,
    IReadOnlyList<LandingLine> Lines,
    IReadOnlyList<FoundRecord> Accounts,
    IReadOnlyList<FoundRecord> Contacts,
    IReadOnlyList<KnownTarget> Known,
    string Pipeline,
    IReadOnlyList<DealProposal> Proposals,
    IReadOnlyList<ProductChoice> Products,
    string Role,
    string? OwnerName,
    IReadOnlyList<AlongChoice> Along,
    GoesAlong GoesAlong,
    BecameView? Became
);

/// <summary>How a lead would be handed over as its sheet proposes.</summary>
/// <param name="Account">The account linked or made; null for none.</param>
/// <param name="Doubts">What a person should look at first: somebody who may be the same, values that differ.</param>
public sealed record ReviewLine(
    Guid Id,
    int Number,
    string Name,
    string? Account,
    bool NewAccount,
    string Contact,
    bool NewContact,
    string? DealName,
    decimal? Amount,
    string? Currency,
    DateOnly? ExpectedClose,
    IReadOnlyList<string> Doubts,
    string? Refused
);

/// <param name="Leads">Up to 200.</param>
public sealed record ReviewAsk([Count(200)] IReadOnlyList<Guid> Leads, [Text(100)] string Pipeline);

/// <param name="Keep">True to keep what was made where somebody worked with it; only the lead comes back then.</param>
public sealed record TakeBackAsk(bool Keep = false);

public static class HandoverEndpoints
{
    private const int MostReviewed = 200;

    // What is there already is looked up for so many leads in one go.
    private const int FoundTogether = 50;
    private const int LongestKey = 200;

    public static void MapHandover(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("").Requires(Act.HandOver).WithTags("Handover");
        group.MapGet("/handover", Ready).WithSummary("Qualified leads that wait to be handed over");
        group.MapPost("/handover/review", Review).WithSummary("How several leads would be handed over as their sheets propose");
        api.MapGet("/pipelines", Pipelines).Requires(Act.SeeLeads).WithTags("Handover").WithSummary("What a handover can go into");
        api.MapGet("/products", Products).Requires(Act.SeeDeals).WithTags("Deals").WithSummary("What is sold, with prices by currency");
        group.MapGet("/leads/{id}/handover", Preview).WithSummary("The handover sheet of a lead");
        group.MapPost("/leads/{id}/handover", HandOver).TakesTurns().WithSummary("Make or link account and contact, make the deal (If-Match, Idempotency-Key)");
        group.MapGet("/leads/{id}/handover/take-back", Since).WithSummary("What was done since with what a handover made");
        group.MapPost("/leads/{id}/handover/take-back", TakeBack).TakesTurns().WithSummary("Take a wrong handover back");
    }

    private static async Task<Ok<List<ReadyLead>>> Ready(LanternDb db, ClaimsPrincipal user, RecordScope scope, TimeProvider clock)
    {
        var mine = user.WorksOwnOnly() ? user.Id() : (Guid?)null;
        var day = Core.Scoring.EngagementDecay.DayOf(clock.UtcNow().ToInstant());
        var leads = await db.Rows<ReadyLead>(
            $"""
            select l.id, l.number, {scope.LeadName("l"):sql} as name, l.company, p.display_name as owner_name,
              l.fit, l.fit_high, engagement_at(l.decay, {day}) as engagement, l.last_touch_at as since
            from lead l left join person p on p.id = l.owner_id where l.state = 'qualified' and ({mine}::uuid is null or l.owner_id = {mine})
              and {scope.Sees("lead", "l"):sql} order by l.last_touch_at, l.id limit 1000
            """
        );
        return TypedResults.Ok(leads.ToList());
    }

    private static Ok<List<PipelineChoice>> Pipelines(Workspace workspace) => TypedResults.Ok(workspace.Pipelines.Select(p => new PipelineChoice(p.Key, p.Name)).ToList());

    private static Ok<List<ProductChoice>> Products(Workspace workspace) => TypedResults.Ok(Sold(workspace).ToList());

    private static IEnumerable<ProductChoice> Sold(Workspace workspace) => workspace.Products.Select(p => new ProductChoice(p.Key, p.Name, p.Unit, p.Prices));

    private static async Task<Results<Ok<HandoverPreview>, ProblemHttpResult>> Preview(
        Guid id,
        [OfRecord("account")] Guid? account,
        [OfRecord("contact")] Guid? contact,
        string? makes,
        bool? newAccount,
        bool? newContact,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        KnownAnswers answers,
        LeadQueries leads,
        HandoverLookup desk,
        Rerouter rerouter,
        Workspace workspace,
        TimeProvider clock
    )
    {
        AccountKind? wanted = Enum.TryParse<AccountKind>(makes, ignoreCase: true, out var kind) && Enum.IsDefined(kind) ? kind : null;
        if (await LeadEndpoints.WhyNotLaidOut(db, id, user, scope) is { } no)
            return ApiProblems.Of(no);
        if (await desk.Look(db, id, new HandoverWish(account, contact, wanted, newAccount ?? false, newContact ?? false)) is not { } look)
            return ApiProblems.NotFound("lead");
        var head = await scope
            .Of<Lead>(db)
            .Where(x => x.Id == id)
            .Select(x => new
            {
                x.Version,
                x.State,
                Because = x.QualifiedBecause,
                x.Pipeline,
                Company = x.CompanyKey,
                Owner = x.OwnerId,
            })
            .SingleAsync();
        var owner = await rerouter.OwnerAt(db, id, look.Lead, RoutingMoment.Handover, clock.UtcNow(), await workspace.Rules(db), look: true) ?? head.Owner;
        return TypedResults.Ok(
            new HandoverPreview(
                id,
                head.Version,
                LeadRecord.NameOf(look.Lead),
                head.State,
                head.Because,
                look.Sheet.Makes,
                look.Sheet.AccountName,
                await Shown(db, look, scope, workspace),
                look.There.Accounts,
                look.There.Contacts,
                [
                    .. (await answers.Tell(db, user, "account", look.There.UnseenAccounts)).Values.Select(k => new KnownTarget("account", k)),
                    .. (await answers.Tell(db, user, "contact", look.There.UnseenContacts)).Values.Select(k => new KnownTarget("contact", k)),
                ],
                (workspace.Pipeline(head.Pipeline) ?? workspace.Pipeline(null))?.Key ?? "",
                look.Proposals,
                [.. Sold(workspace)],
                HandoverExecutor.RoleOf(look.Lead, workspace),
                owner is { } whose ? await Person.NameOf(db, whose) : null,
                head.Company is null ? [] : await Along(db, id, head.Company, user, scope),
                await Counts(db, id, look.Lead),
                await leads.Became(db, id)
            )
        );
    }

    // What stands with the contact of somebody else is told to differ, not what it is.
    private static async Task<IReadOnlyList<LandingLine>> Shown(LanternDb db, HandoverLook look, RecordScope scope, Workspace workspace)
    {
        var lines = look.Sheet.Lines.Where(l => workspace.Catalogue.Find(l.Field) is not { } field || !scope.Hides(field)).ToList();
        if (!scope.HidesContactData)
            return lines;
        var shown = (
            await db.Rows<Guid>(
                $"""
                select c.id as "Value" from contact c where c.id = {look.Held.Contact?.Id} and {scope.Sees("contact", "c"):sql} and {scope.ShowsContactData("contact", "c"):sql}
                union all select a.id from account a where a.id = {look.Held.Account?.Id} and {scope.Sees("account", "a"):sql} and {scope.ShowsContactData("account", "a"):sql}
                """
            )
        ).ToHashSet();
        bool Hides(LandingLine line) =>
            line.Existing is not null
            && (line.On == TargetRecord.Account ? look.Held.Account?.Id : look.Held.Contact?.Id) is { } target
            && !shown.Contains(target)
            && workspace.Catalogue.Find(line.Field) is { } field
            && RecordScope.IsContactData(field);
        return [.. lines.Select(l => Hides(l) ? l with { Existing = "another, of a colleague's" } : l)];
    }

    private static Task<List<AlongChoice>> Along(LanternDb db, Guid id, string company, ClaimsPrincipal user, RecordScope scope)
    {
        var own = user.WorksOwnOnly() ? user.Id() : (Guid?)null;
        return db.Rows<AlongChoice>(
            $"""
            select l.id, l.number, {scope.LeadName("l"):sql} as name, {scope.Personal("l.job_title"):sql} as job_title, l.state, p.display_name as owner_name,
              ({own} is null or l.owner_id is not distinct from {own}) as mine
            from lead l left join person p on p.id = l.owner_id
            where l.company_key = {company} and l.id <> {id} and l.state in ('new', 'in_work', 'on_hold', 'qualified') and {scope.Sees("lead", "l"):sql} order by l.number limit 50
            """
        );
    }

    private static async Task<GoesAlong> Counts(LanternDb db, Guid id, Core.Fields.RecordValues lead)
    {
        var counts = await db.Set<Lead>()
            .TagWith("unscoped: of a lead that was checked")
            .Where(l => l.Id == id)
            .Select(l => new
            {
                Story = db.Set<StoryEntry>().Count(s => s.LeadId == l.Id && s.RemovedAt == null),
                Tasks = db.Set<TaskRow>().Count(t => t.LeadId == l.Id && t.DoneAt == null),
                Events = db.Set<LeadEventRow>().Count(e => e.LeadId == l.Id),
                Tags = db.Set<LeadTagRow>().Count(t => t.LeadId == l.Id),
                Campaigns = db.Set<CampaignResponseRow>().Where(r => r.LeadId == l.Id).Select(r => r.CampaignKey).Distinct().Count(),
                Consents = db.Set<ConsentRow>().Count(c => c.LeadId == l.Id),
                Files = db.Set<LeadFileRow>().Count(f => f.LeadId == l.Id),
                Meetings = db.Set<MeetingRow>().Count(m => m.LeadId == l.Id),
            })
            .SingleAsync();
        return new GoesAlong(
            counts.Story,
            counts.Tasks,
            counts.Events,
            counts.Tags,
            counts.Campaigns,
            counts.Consents,
            counts.Files,
            counts.Meetings,
            lead.Catalogue.Findings.Count(f => lead[f.Ordinal].IsKnown)
        );
    }

    private static async Task<Results<Ok<BecameView>, ProblemHttpResult>> HandOver(
        Guid id,
        HandoverOrder order,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        LeadQueries leads,
        HandoverExecutor doing
    )
    {
        if (order.Take is null || order.Drop is null || order.Products is null || order.Along is null || order.Role is null)
            return ApiProblems.Of("order-unreadable", "take");
        await using var transaction = await db.Database.BeginTransactionAsync();
        await Admission.Lock(db);
        var key = request.Headers["Idempotency-Key"].ToString() is { Length: > 0 and <= LongestKey } given ? $"{user.Id()}/{given}" : null;
        // The same request again, as after a double click or a lost answer, is answered as the first time.
        if (key is not null && await db.Set<HandoverRow>().Where(x => x.Key == key && x.TakenBackAt == null).Select(x => (Guid?)x.LeadId).SingleOrDefaultAsync() == id)
            return TypedResults.Ok((await leads.Became(db, id))!);
        if (await LeadEndpoints.WhyNot(db, id, user, request.Version()) is { } no)
            return ApiProblems.Of(no);
        if (await doing.Do(db, id, order, user.Id(), user.WorksOwnOnly(), key) is { } trouble)
            return ApiProblems.Of(trouble);
        await transaction.CommitAsync();
        return TypedResults.Ok((await leads.Became(db, id))!);
    }

    private static async Task<Results<Ok<List<ReviewLine>>, ProblemHttpResult>> Review(
        ReviewAsk ask,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        HandoverLookup desk,
        Workspace workspace,
        TimeProvider clock
    )
    {
        if (ask.Leads is not { Count: > 0 and <= MostReviewed })
            return ApiProblems.Of("review-count", "leads", MostReviewed);
        var heads = (
            await scope.Of<Lead>(db).Where(x => ask.Leads.ToArray().Contains(x.Id)).Select(x => new ReviewHead(x.Id, x.Number, x.State, x.OwnerId)).ToListAsync()
        ).ToDictionary(h => h.Id);
        var own = user.WorksOwnOnly() ? user.Id() : (Guid?)null;
        var lines = new List<ReviewLine>();
        foreach (var some in ask.Leads.Distinct().Where(heads.ContainsKey).Chunk(FoundTogether))
        {
            var known = await LeadStore.LoadMany(db, some, workspace.Catalogue, clock.UtcNow(), hold: false);
            var leads = some.Where(known.ContainsKey).Select(id => known[id]).ToList();
            var found = await desk.Find(db, [.. leads.Select(l => l.Facts)]);
            foreach (var (lead, there) in leads.Zip(found))
                lines.Add(Line(await desk.Lay(db, lead.Facts, there, new HandoverWish(), hold: false), heads[lead.Id], ask.Pipeline, own, scope));
        }
        return TypedResults.Ok(lines);
    }

    private static ReviewLine Line(HandoverLook look, ReviewHead head, string pipeline, Guid? own, RecordScope scope)
    {
        var deal = look.Proposals.FirstOrDefault(p => p.Pipeline == pipeline);
        // Of somebody else's nothing is laid out: only that it is refused.
        if (own is { } only && head.Owner != only)
        {
            var shown = !scope.HidesContactData || head.Owner is null;
            return new ReviewLine(head.Id, head.Number, LeadRecord.NameOf(look.Lead, head.Number, shown), null, false, "", false, null, null, null, null, [], "not yours");
        }
        var name = LeadRecord.NameOf(look.Lead);
        var doubts = new List<string>();
        if (look.There.SameAccount is null && look.Sheet.Makes != AccountKind.None && look.There.Accounts is [var account, ..])
            doubts.Add($"may be the account {account.Name}");
        if (look.There.SameContact is null && look.There.Contacts is [var contact, ..])
            doubts.Add($"may be the contact {contact.Name}");
        if (look.Sheet.Lines.Count(l => l.Differs) is > 0 and var differ)
            doubts.Add(differ == 1 ? "one value differs, ours stays" : $"{differ} values differ, ours stay");
        if (deal is not null && deal.Amount is null)
            doubts.Add("no amount yet");
        var refused =
            head.State != Core.Leads.LeadState.Qualified ? "not qualified"
            : deal is null ? "the pipeline has no open stage"
            : null;
        return new ReviewLine(
            head.Id,
            head.Number,
            name,
            look.There.SameAccount?.Name ?? look.Sheet.AccountName,
            look.There.SameAccount is null && look.Sheet.Makes != AccountKind.None,
            look.There.SameContact?.Name ?? name,
            look.There.SameContact is null,
            deal?.Name,
            deal?.Amount,
            deal?.Currency,
            deal?.ExpectedClose,
            doubts,
            refused
        );
    }

    private static async Task<Results<Ok<TakeBackLook>, ProblemHttpResult>> Since(Guid id, ClaimsPrincipal user, LanternDb db, RecordScope scope, HandoverUndo undo) =>
        await LeadEndpoints.WhyNotLaidOut(db, id, user, scope) is { } no ? ApiProblems.Of(no)
        : await undo.Look(db, id) is { } look ? TypedResults.Ok(look)
        : ApiProblems.Of("not-handed-over");

    private static async Task<Results<NoContent, ProblemHttpResult>> TakeBack(Guid id, TakeBackAsk? body, ClaimsPrincipal user, LanternDb db, HandoverUndo undo)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await Admission.Lock(db);
        if (await undo.Run(db, id, user.Id(), user.WorksOwnOnly(), body?.Keep ?? false) is { } trouble)
            return ApiProblems.Of(trouble);
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private sealed record ReviewHead(Guid Id, int Number, string State, Guid? Owner);
}
