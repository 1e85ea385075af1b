using System.Security.Claims;
using System.Text;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>Records one response for several leads. Exactly one of <see cref="Leads"/>, <see cref="Where"/> and <see cref="Of"/> says for whom.</summary>
/// <param name="Response">One of <see cref="CampaignResponse.All"/>.</param>
/// <param name="Leads">These.</param>
/// <param name="Where">All leads a condition holds for, as JSON in the condition language.</param>
/// <param name="Of">All members who gave this response and not yet the one recorded; "any" for whatever they gave.</param>
/// <param name="At">When it happened; now when null.</param>
/// <param name="Purpose">With <paramref name="Of"/>: only those who may be written to for this purpose.</param>
public sealed record ResponseOrder(
    [Text(100)] string Response,
    [Count(100_000)] IReadOnlyList<Guid>? Leads = null,
    [Text(20_000)] string? Where = null,
    [Text(100)] string? Of = null,
    DateTimeOffset? At = null,
    [Text(100)] string? Purpose = null
);

/// <summary>What was recorded.</summary>
/// <param name="Entry">By which it is taken back.</param>
/// <param name="Recorded">Leads that had not given this response before.</param>
public sealed record ResponsesRecorded(Guid Entry, int Recorded);

/// <summary>How many of a campaign's members may be written to for a purpose; each of the others is counted once.</summary>
public sealed record AddressCount(int May, int WithoutAddress, int Barred, int WithoutConsent);

/// <summary>Members of campaigns: who they are, what they did, and whom one may write to.</summary>
public static class MemberEndpoints
{
    /// <summary>What leads did themselves is scored in the request, so only so many at once.</summary>
    private const int MostScored = 5_000;
    private static readonly TimeSpan Ahead = TimeSpan.FromMinutes(5);

    public static void MapMembers(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("/campaigns/{key}").Requires(Act.SeeIntake).WithTags("Campaigns");
        see.MapGet("/members", Members).WithSummary("Members with their responses, a page at a time");
        see.MapGet("/addresses", Count).WithSummary("How many members may be written to");
        var run = api.MapGroup("/campaigns/{key}").Requires(Act.RunIntake).WithTags("Campaigns");
        run.MapGet("/addresses.csv", Addresses).WithSummary("The addresses of members who may be written to, as a file");
        run.MapPost("/responses", Record).TakesTurns().WithSummary("Record a response for several leads");
        run.MapDelete("/responses/{entry:guid}", TakeBack).TakesTurns().WithSummary("Take back what was recorded at once");
    }

    private static async Task<Results<Ok<MemberPage>, ProblemHttpResult>> Members(string key, string? response, bool? known, Guid? after, LanternDb db, RecordScope scope)
    {
        if (!await Exists(db, key))
            return ApiProblems.NotFound("campaign");
        return response is not null && CampaignResponse.Find(response) is null
            ? ApiProblems.Of("response-unknown", "response", response)
            : TypedResults.Ok(await CampaignQueries.Members(db, scope, key, response, known, after));
    }

    private static Task<bool> Exists(LanternDb db, string key) => db.Set<CampaignRow>().AnyAsync(c => c.Key == key);

    private static async Task<Results<Ok<ResponsesRecorded>, ProblemHttpResult>> Record(
        string key,
        ResponseOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        Workspace workspace,
        ArrivalMerger merger,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var now = clock.UtcNow();
        if (CampaignResponse.Find(body.Response) is not { } response)
            return ApiProblems.Of("response-unknown", "response", body.Response);
        if (new object?[] { body.Leads, body.Where, body.Of }.Count(o => o is not null) != 1)
            return ApiProblems.Of("for-whom", "leads");
        if (body.At is { } said && (said.UtcDateTime > now + Ahead || said.Year < 1990))
            return ApiProblems.Of("moment-range", "at");
        if (body.Purpose is not null && (body.Of is null || workspace.ConsentPurposes.All(p => p.Key != body.Purpose)))
            return ApiProblems.Of("purpose-unfit", "purpose");
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (await db.Set<CampaignRow>().Where(c => c.Key == key).Select(c => c.Name).SingleOrDefaultAsync(cancel) is not { } name)
            return ApiProblems.NotFound("campaign");
        await Admission.Lock(db);
        var (leads, wrong) = await ForWhom(db, scope, key, body, workspace, user, now);
        if (wrong is not null)
            return ApiProblems.Of(wrong);
        if (response.IsTheirs && leads.Length > MostScored)
            return ApiProblems.Of("too-many-recorded", "leads", MostScored, leads.Length);
        var entry = Guid.CreateVersion7();
        var at = body.At?.UtcDateTime ?? now;
        using var acting = Acting.Through(Acting.Entry, entry);
        await Save(db, key, response, leads, at, entry, user.Id(), cancel);
        if (response.IsTheirs)
            await Score(db, merger, workspace, (key, name), response, leads, at, entry, now, cancel);
        await db.Log(EventLog.Lead, leads, new ResponseEntered(key, response.Key));
        await transaction.CommitAsync(cancel);
        return TypedResults.Ok(new ResponsesRecorded(entry, leads.Length));
    }

    // Those the order names who have not given this response to this campaign yet.
    private static async Task<(Guid[] Leads, Problem? Wrong)> ForWhom(
        LanternDb db,
        RecordScope scope,
        string key,
        ResponseOrder body,
        Workspace workspace,
        ClaimsPrincipal user,
        DateTime now
    )
    {
        if (body.Where is null)
        {
            var may = body.Purpose is null ? null : await Writable(db, scope, workspace.Hashes, key, body.Of!, body.Purpose);
            var given = db.Set<CampaignResponseRow>().Where(r => r.CampaignKey == key);
            var (asked, of) = (body.Leads?.ToArray() ?? [], body.Of);
            var named = scope
                .Of<Lead>(db)
                .Where(l =>
                    !given.Any(r => r.Response == body.Response && r.LeadId == l.Id)
                    && (asked.Contains(l.Id) || given.Any(r => r.LeadId == l.Id && (of == "any" || r.Response == of)))
                );
            if (may is not null)
                named = named.Where(l => may.Contains(l.Id));
            return (await named.OrderBy(l => l.Id).Select(l => l.Id).ToArrayAsync(), null);
        }
        var (where, problem) = LeadAsk.Condition(body.Where, workspace.Catalogue, user);
        if (problem is not null)
            return ([], problem with { Path = "where" });
        var sql = new ConditionSql(workspace.Catalogue, now, scope);
        var leads = await db.Rows<Guid>(
            $"""
            select l.id as "Value" from lead l where {sql.Part(sql.Write(where!)):sql}
              and not exists (select 1 from campaign_response r where r.campaign_key = {key} and r.response = {body.Response} and r.lead_id = l.id) order by l.id
            """
        );
        return ([.. leads], null);
    }

    private static async Task<Guid[]> Writable(LanternDb db, RecordScope scope, PersonHash hashes, string key, string of, string purpose)
    {
        var may = new List<Guid>();
        await foreach (var member in ContactPermission.Be(db, hashes, WithResponse(db, scope, key, of == "any" ? null : of), purpose))
            if (member.Why is null)
                may.Add(member.Id);
        return [.. may];
    }

    private static Task Save(LanternDb db, string key, CampaignResponse response, Guid[] leads, DateTime at, Guid entry, Guid person, CancellationToken cancel) =>
        CampaignResponseRow.Save(
            db,
            [
                .. leads.Select(lead => new CampaignResponseRow
                {
                    Id = Guid.CreateVersion7(),
                    CampaignKey = key,
                    LeadId = lead,
                    Response = response.Key,
                    Known = true,
                    At = at,
                    Detail = "Entered by hand",
                    PersonId = person,
                    Entry = entry,
                }),
            ],
            cancel
        );

    // What they did themselves counts for their engagement and stands in their story. The entry marks it, so that it can be taken back.
    private static Task Score(
        LanternDb db,
        ArrivalMerger merger,
        Workspace workspace,
        (string Key, string Name) campaign,
        CampaignResponse response,
        Guid[] leads,
        DateTime at,
        Guid entry,
        DateTime now,
        CancellationToken cancel
    )
    {
        var nothing = new RecordValues(workspace.Catalogue);
        var happened = new LeadEvent(response.EventKind!, at.ToInstant(), campaign.Name, CampaignKind: workspace.KindOfCampaign(campaign.Key));
        return merger.Add(
            db,
            [.. leads.Select(lead => new Addition(lead, nothing, happened, $"{response.Label}: {campaign.Name}"))],
            new MergeTerms("", null, now, now.ToInstant(), _ => MergePolicy.KeepOurs, entry),
            cancel
        );
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> TakeBack(
        string key,
        Guid entry,
        LanternDb db,
        Workspace workspace,
        ArrivalMerger merger,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await Admission.Lock(db);
        Guid[] leads = [.. await db.Rows<Guid>($"""delete from campaign_response where campaign_key = {key} and entry = {entry} returning lead_id as "Value" """, cancel)];
        if (leads.Length == 0)
            return ApiProblems.NotFound("entry");
        var events = await db.Set<LeadEventRow>().Where(e => leads.Contains(e.LeadId) && e.Entry == entry).ExecuteDeleteAsync(cancel);
        if (events > 0)
        {
            await db.Set<StoryEntry>().Where(s => leads.Contains(s.LeadId!.Value) && s.Entry == entry).ExecuteDeleteAsync(cancel);
            var now = clock.UtcNow();
            var known = await LeadStore.LoadMany(db, leads, workspace.Catalogue, now);
            await merger.Rescore(db, known.Values, await LeadStore.EventsOf(db, leads), now);
            await LeadBulkUpdate.Write(db, [.. known.Values]);
        }
        using (Acting.Through(Acting.Entry, entry))
            await db.Log(EventLog.Lead, leads, new ImportTakenBack());
        await transaction.CommitAsync(cancel);
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<AddressCount>, ProblemHttpResult>> Count(
        string key,
        string purpose,
        string? response,
        LanternDb db,
        RecordScope scope,
        Workspace workspace
    )
    {
        if (await WhyNoAddresses(db, workspace, key, purpose) is { } no)
            return ApiProblems.Of(no);
        var (may, address, barred, consent) = (0, 0, 0, 0);
        await foreach (var member in ContactPermission.Be(db, workspace.Hashes, WithResponse(db, scope, key, response), purpose))
            _ = member.Why switch
            {
                null => may++,
                ContactRefusal.NoAddress => address++,
                ContactRefusal.Barred => barred++,
                _ => consent++,
            };
        return TypedResults.Ok(new AddressCount(may, address, barred, consent));
    }

    private static async Task<Problem?> WhyNoAddresses(LanternDb db, Workspace workspace, string key, string purpose) =>
        workspace.ConsentPurposes.All(p => p.Key != purpose) ? Problem.Of("purpose-unknown", "purpose", purpose)
        : !await Exists(db, key) ? Problem.NotFound("campaign")
        : null;

    // Leads that gave a response to a campaign; with any, where none is named.
    private static IQueryable<Lead> WithResponse(LanternDb db, RecordScope scope, string key, string? response) =>
        scope.Of<Lead>(db).Where(l => db.Set<CampaignResponseRow>().Any(r => r.LeadId == l.Id && r.CampaignKey == key && (response == null || r.Response == response)));

    private static async Task<Results<EmptyHttpResult, ProblemHttpResult>> Addresses(
        string key,
        string purpose,
        string? response,
        LanternDb db,
        RecordScope scope,
        Workspace workspace,
        HttpResponse answer,
        CancellationToken cancel
    )
    {
        if (await WhyNoAddresses(db, workspace, key, purpose) is { } no)
            return ApiProblems.Of(no);
        await db.Log(new Exported($"addresses of the campaign {key}"));
        answer.ContentType = "text/csv; charset=utf-8";
        answer.Headers.ContentDisposition = $"attachment; filename=\"{key}-addresses.csv\"";
        await using var text = new StreamWriter(answer.Body, new UTF8Encoding(true));
        string[] fields = ["first_name", "last_name", "email", "company", "country", "language"];
        await text.WriteAsync(Csv.Line(["Number", .. fields.Select(f => workspace.Catalogue[f].Label)]));
        await foreach (var member in ContactPermission.Be(db, workspace.Hashes, WithResponse(db, scope, key, response), purpose, cancel))
            if (member.Why is null)
                await text.WriteAsync(
                    Csv.Line([
                        $"L-{member.Number}",
                        .. fields.Zip(
                            [member.FirstName, member.LastName, member.Email, member.Company, member.Country, member.Language],
                            (field, value) => value is null ? "" : workspace.Catalogue[field].Show(value)
                        ),
                    ])
                );
        return TypedResults.Empty;
    }
}
