using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace DapperLantern.App.Routing;

/// <param name="Last">How many of the leads that came in last; at most 100,000.</param>
public sealed record PlayOrder(RuleSheet Sheet, [Between(1, 100_000)] int Last = 2000);

/// <param name="ExpectedOpen">Open leads they would have once all goes by this sheet, if leads come in and stay open as now; of a list, with what it would give them.</param>
public sealed record PlayShare(
    Guid Person,
    string Name,
    IReadOnlyList<string> Teams,
    int Then,
    int Now,
    int Ready,
    double MeanFit,
    double MeanEngagement,
    double ExpectedOpen,
    int Capacity
);

/// <summary>What a team's people got then, and would get.</summary>
/// <param name="Spread">How far apart its people are for their weight: the most over the least that anybody would get; 1 is even, 0 when somebody would get none.</param>
public sealed record PlayTeam(string Key, string Name, int Then, int Now, double Spread);

/// <param name="Lead">Null for a row of a list.</param>
/// <param name="Number">The lead's, or the row's.</param>
public sealed record PlayChange(Guid? Lead, int Number, string Name, string? Then, string? Now, string? Rule);

/// <param name="Hits">By rule, in the order of the sheet.</param>
/// <param name="Aside">Rows of a list that intake would set aside; 0 for leads.</param>
public sealed record PlayView(
    int Leads,
    int Aside,
    DateTime? From,
    IReadOnlyList<int> Hits,
    int Guarded,
    int NoRule,
    int Held,
    int Changed,
    IReadOnlyList<PlayShare> Shares,
    IReadOnlyList<PlayTeam> Teams,
    IReadOnlyList<PlayChange> Changes
);

/// <param name="File">A list, as for the sieve.</param>
/// <param name="Sheet">A rule sheet as JSON.</param>
public sealed record PlayedList(IFormFile File, [Text(5_000_000)] string Sheet);

/// <param name="Facts">Of a made-up lead: stored or written values by field.</param>
/// <param name="Lead">A real lead's, beneath them; null for none.</param>
public sealed record TryOrder(
    RuleSheet Sheet,
    [Count(1_000, Each = 10_000)] IReadOnlyDictionary<string, string> Facts,
    [property: OfRecord("lead")] Guid? Lead = null,
    [Text(100)] string Moment = RoutingMoment.Arrival
);

/// <param name="Owner">Name; null when it would wait.</param>
/// <param name="Verdicts">The rules in order up to the one that holds.</param>
public sealed record TryView(string? Owner, IReadOnlyList<TraceLine> Lines, IReadOnlyList<RuleVerdict> Verdicts, int? AnswerWithinMinutes, DateTime? Due, string Task);

/// <summary>Trying a rule sheet. Nothing is written.</summary>
public static class TryEndpoints
{
    private const long LargestList = 100L << 20;

    public static void MapTries(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/routing").Requires(Act.SetUp).WithTags("Routing");
        group.MapPost("/trial", Play).WithSummary("Play the last leads through a sheet: who would get what against who got it");
        // A form with a file and a text beside it is bound while it runs: made at build, its description would say nothing of the text.
#pragma warning disable RDG003
        group
            .MapPost("/trial/list", PlayList)
            .DisableAntiforgery()
            .WithMetadata(new RequestSizeLimitAttribute(LargestList + (4 << 20)), new RequestFormLimitsAttribute { MultipartBodyLengthLimit = LargestList + (4 << 20) })
            .WithSummary("Play the rows of a list through a sheet: who would get what against the live sheet; nothing is kept");
#pragma warning restore RDG003
        group.MapPost("/try", Try).WithSummary("Where one lead, real or made up, would go by a sheet, and why");
    }

    private static async Task<Results<Ok<PlayView>, ProblemHttpResult>> Play(
        PlayOrder body,
        RoutingTrials trials,
        LanternDb db,
        Workspace workspace,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var now = clock.UtcNow();
        var desk = await RoutingContext.Open(db, now, hold: false);
        if (Readable(body.Sheet, desk, workspace) is not { } sheet)
            return ApiProblems.Of(Unreadable());
        var result = await trials.Run(db, sheet, desk, body.Last, cancel);
        var days = Math.Max(1, (now - (result.From?.ToUtc() ?? now)).TotalDays);
        var open = await RoutingTrials.DaysOpen(db, now);
        var ids = result.Changes.Select(c => c.Lead).ToArray();
        var named = (await db.Rows<NamedLead>($"select id, number, {LeadRecord.NameSql:sql} as name from lead where id = any({ids})")).ToDictionary(
            n => n.Id,
            n => (n.Number, n.Name)
        );
        return TypedResults.Ok(View(result, desk, named, share => share.Now / days * open) with { From = result.From?.ToUtc() });
    }

    private static async Task<Results<Ok<PlayView>, ProblemHttpResult>> PlayList(
        [FromForm] PlayedList list,
        ClaimsPrincipal user,
        RoutingTrials trials,
        LanternDb db,
        Workspace workspace,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (list.File.Length > LargestList)
            return ApiProblems.Of("list-too-large", "", list.File.Length >> 20, LargestList >> 20);
        var now = clock.UtcNow();
        var desk = await RoutingContext.Open(db, now, hold: false);
        if (SheetFiles.Find("json")!.Read(list.Sheet, workspace.Catalogue).Sheet is not { } written || Readable(written, desk, workspace) is not { } tried)
            return ApiProblems.Of(Unreadable());
        await using var content = list.File.OpenReadStream();
        var (played, trouble) = await trials.Run(db, tried, desk, list.File.NameOr("list"), content, user.Id(), now, cancel);
        if (played is null)
            return ApiProblems.Of(trouble!);
        var view = View(played.Result, desk, played.Named, share => desk.Reps[share.Rep].Open + share.Now);
        return TypedResults.Ok(view with { Aside = played.Aside, Changes = [.. view.Changes.Select(c => c with { Lead = null })] });
    }

    private static RuleSheet? Readable(RuleSheet given, RoutingContext desk, Workspace workspace) =>
        SheetSound.Made(given) is { } sheet && !SheetCheck.Form(sheet, workspace.Catalogue, SheetWords.Staff(desk, workspace)).Any(IsUnreadable) ? sheet : null;

    // What can be read can be tried, even when it could not go live.
    private static bool IsUnreadable(SheetFinding finding) =>
        finding.Problem.Code is "field-unknown" or "field-around" or "operator-unfit" or "value-missing" or "number-unreadable";

    private static Problem Unreadable() => Problem.Of("sheet-untried");

    // Of each lead that goes elsewhere its number and name; of each person how many would be open.
    private static PlayView View(ReplayResult result, RoutingContext desk, IReadOnlyDictionary<Guid, (int Number, string Name)> named, Func<ReplayShare, double> expected)
    {
        return new PlayView(
            result.Leads,
            0,
            null,
            result.Hits,
            result.Guarded,
            result.NoRule,
            result.Held,
            result.Changed,
            [.. result.Shares.Where(s => desk.Reps.ContainsKey(s.Rep)).Select(Share).OrderByDescending(s => s.Now).ThenBy(s => s.Name)],
            [.. desk.Teams.Select(t => TeamOf(t, result))],
            [
                .. result
                    .Changes.Where(c => named.ContainsKey(c.Lead))
                    .Select(c => new PlayChange(c.Lead, named[c.Lead].Number, named[c.Lead].Name, NameOf(c.Then), NameOf(c.Now), c.Rule)),
            ]
        );

        string? NameOf(Guid? rep) => rep is { } id ? desk.Reps.GetValueOrDefault(id)?.Name : null;

        PlayShare Share(ReplayShare share)
        {
            var rep = desk.Reps[share.Rep];
            var teams = desk.Teams.Where(t => t.Turns.Any(p => p.Rep == rep.Id)).Select(t => t.Name);
            return new PlayShare(rep.Id, rep.Name, [.. teams], share.Then, share.Now, share.Ready, share.MeanFit, share.MeanEngagement, expected(share), rep.Capacity);
        }
    }

    private static PlayTeam TeamOf(Team team, ReplayResult result)
    {
        var shares = result.Shares.ToDictionary(s => s.Rep);
        var got = team.Turns.Select(t => (double)(shares.GetValueOrDefault(t.Rep)?.Now ?? 0) / t.Weight).DefaultIfEmpty(0).ToList();
        return new PlayTeam(
            team.Key,
            team.Name,
            team.Turns.Sum(t => shares.GetValueOrDefault(t.Rep)?.Then ?? 0),
            team.Turns.Sum(t => shares.GetValueOrDefault(t.Rep)?.Now ?? 0),
            got.Min() > 0 ? got.Max() / got.Min() : 0
        );
    }

    private static async Task<Results<Ok<TryView>, ProblemHttpResult>> Try(TryOrder body, LanternDb db, Workspace workspace, TimeProvider clock)
    {
        var (now, catalogue) = (clock.UtcNow(), workspace.Catalogue);
        var desk = await RoutingContext.Open(db, now, hold: false);
        if (SheetSound.Made(body.Sheet) is not { } sheet || !Router.CanRead(sheet, catalogue))
            return ApiProblems.Of(Unreadable());
        var lead = new RecordValues(catalogue);
        if (body.Lead is { } id)
        {
            if (await LeadStore.Load(db, id, catalogue, now) is not { } found)
                return ApiProblems.NotFound("lead");
            lead = found;
        }
        foreach (var (key, written) in body.Facts)
        {
            if (catalogue.Find(key) is not { Origin: not FieldOrigin.Arrival } field)
                return ApiProblems.Of("field-unknown", key, key);
            var read = FieldReader.Read(field, written, body.Facts.GetValueOrDefault("country"));
            if (read.Problem is { } problem)
                return ApiProblems.Of(problem, key);
            lead[field.Ordinal] = read.Value;
        }
        await desk.Standing.Find(db, [ExistingOwnerKeys.Of(lead)], body.Lead is { } self ? [self] : null);
        var router = new Router(sheet, catalogue);
        var decision = router.Decide(new RoutingAsk(lead, now.ToInstant()) { Standing = desk.Standing.For(ExistingOwnerKeys.Of(lead)), Moment = body.Moment }, desk.State);
        return TypedResults.Ok(
            new TryView(
                decision.Owner is { } owner ? desk.Reps[owner].Name : null,
                router.Explain(decision, lead),
                [.. decision.Rule is null && decision.Owner is not null ? [] : router.Verdicts(lead, body.Moment, now.ToInstant())],
                decision.AnswerWithin is { } within ? (int)within.TotalMinutes : null,
                decision is { Owner: { } who, AnswerWithin: { } time } ? desk.DueAt(who, now, time) : null,
                decision.Task
            )
        );
    }

    private sealed record NamedLead(Guid Id, int Number, string Name);
}
