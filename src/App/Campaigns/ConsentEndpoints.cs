using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>How a person stands to a purpose. <see cref="State"/>: given, withdrawn, asked (to be confirmed by email) or unknown.</summary>
public sealed record ConsentView(string Purpose, string Label, string State, DateTime? At, string Wording, string Place);

/// <summary>A tag a lead carries.</summary>
public sealed record LeadTagView(string Key, string Name, string Colour);

/// <summary>A campaign a lead is a member of, with the last thing it did.</summary>
public sealed record LeadCampaignView(string Key, string Name, string Response, DateTime At);

/// <summary>What stands around a lead: its tags, what may be done with the person's data, and the campaigns that reached it.</summary>
public sealed record LeadContextView(IReadOnlyList<LeadTagView> Tags, IReadOnlyList<ConsentView> Consents, IReadOnlyList<LeadCampaignView> Campaigns);

/// <param name="State">given or withdrawn.</param>
/// <param name="Wording">In which words, for a consent given.</param>
public sealed record ConsentOrder([Text(100)] string Purpose, [Text(100)] string State, [Text(2_000)] string Wording = "");

/// <summary>A person or domain that must not come in; a person is kept as a mark only, so that only <see cref="At"/> is known of them.</summary>
public sealed record BarredView(Guid Id, string Kind, string Why, string? Shown, DateTime At);

/// <param name="Kind">person or domain.</param>
/// <param name="Value">An email address or telephone number with country code; or a web domain.</param>
/// <param name="Why">do_not_contact, competitor or blocked.</param>
public sealed record NewBarred([Text(100)] string Kind, [Text(500)] string Value, [Text(100)] string Why);

/// <summary>Consent of leads, and the do-not-contact list.</summary>
public static class ConsentEndpoints
{
    private static readonly string[] Whys = ["do_not_contact", "competitor", "blocked"];

    public static void MapConsents(this IEndpointRouteBuilder api)
    {
        api.MapGet("/leads/{id:guid}/around", Around).Requires(Act.SeeLeads).WithTags("Leads").WithSummary("Tags and consents of a lead");
        api.MapPost("/leads/{id:guid}/consents", Say).Requires(Act.WorkLeads).WithTags("Leads").WithSummary("Record a consent given or withdrawn");
        var group = api.MapGroup("/barred").Requires(Act.RunIntake).WithTags("Setup");
        group.MapGet("", Barred).WithSummary("Do not contact");
        group.MapPost("", Bar).WithSummary("Bar a person or a domain");
        group.MapDelete("/{id:guid}", Unbar).WithSummary("Bar no longer");
    }

    private static async Task<Results<Ok<LeadContextView>, ProblemHttpResult>> Around(Guid id, LanternDb db, RecordScope scope, Workspace workspace)
    {
        if (await LeadStore.Load(db, id, workspace.Catalogue, scope: scope) is not { } facts)
            return ApiProblems.NotFound("lead");
        var tags = await (
            from l in db.Set<LeadTagRow>()
            join m in db.Set<TagRow>() on l.TagKey equals m.Key
            join t in db.Set<TagRow>() on m.MergedInto ?? m.Key equals t.Key
            where l.LeadId == id
            select new
            {
                t.Key,
                t.Name,
                t.Colour,
            }
        )
            .Distinct()
            .OrderBy(t => t.Name)
            .Select(t => new LeadTagView(t.Key, t.Name, t.Colour))
            .ToListAsync();
        // The latest word for each purpose, from whichever of the person's addresses and numbers; "asked" gives way to any other.
        var keys = PersonKeys.Of(workspace.Hashes, facts).Own;
        var said = (
            await db.Rows<ConsentState>(
                $"""
                select distinct on (purpose) purpose, state, at, wording, place from consent where lead_id = {id} or person_key = any({keys})
                order by purpose, at desc, (state = 'asked')
                """
            )
        ).ToDictionary(c => c.Purpose);
        var consents = workspace.ConsentPurposes.Select(p =>
            said.TryGetValue(p.Key, out var c) ? new ConsentView(p.Key, p.Label, c.State, c.At, c.Wording, c.Place) : new ConsentView(p.Key, p.Label, "unknown", null, "", "")
        );
        // The last thing a lead did in each campaign.
        var campaigns = await db.Rows<LeadCampaignView>(
            $"""
            select c.key, c.name, r.response, r.at from (select distinct on (campaign_key) * from campaign_response where lead_id = {id} order by campaign_key, at desc, id desc) r
            join campaign c on c.key = r.campaign_key order by r.at desc
            """
        );
        return TypedResults.Ok(new LeadContextView(tags, [.. consents], [.. campaigns.Select(c => c with { Response = CampaignResponse.Find(c.Response)?.Label ?? c.Response })]));
    }

    private sealed record ConsentState(string Purpose, string State, DateTime At, string Wording, string Place);

    private static async Task<Results<NoContent, ProblemHttpResult>> Say(
        Guid id,
        ConsentOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        Workspace workspace,
        LeadRescore rescore,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (workspace.ConsentPurposes.FirstOrDefault(p => p.Key == body.Purpose) is not { } purpose)
            return ApiProblems.Of("purpose-unknown", "purpose", body.Purpose);
        if (body.State is not (ConsentRow.Given or ConsentRow.Withdrawn))
            return ApiProblems.Of("state-unknown", "state");
        if (body.State == ConsentRow.Given && body.Wording.Trim().Length is 0 or > 1000)
            return ApiProblems.Of("consent-without-words", "wording");
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (await LeadEndpoints.WhyNot(db, id, user, null) is { } no)
            return ApiProblems.Of(no);
        var facts = (await LeadStore.Load(db, id, workspace.Catalogue))!;
        var now = clock.UtcNow();
        var rows = ConsentRow.GivenBy(workspace.Hashes, id, facts, body.Purpose, now, body.Wording.Trim(), $"Said to {user.Identity?.Name}").ToList();
        foreach (var row in rows)
            row.State = body.State;
        await ConsentRow.Save(db, rows, cancel);
        await db.Log(EventLog.Lead, id, new ConsentChanged(body.State, body.State == ConsentRow.Given ? "Consent given" : "Consent withdrawn", [purpose.Label]));
        if (body.State == ConsentRow.Withdrawn)
        {
            db.Set<LeadEventRow>()
                .Add(
                    new LeadEventRow
                    {
                        Id = Guid.CreateVersion7(),
                        LeadId = id,
                        Kind = Core.Scoring.LeadEvent.Withdrew,
                        At = now,
                        Detail = purpose.Label,
                    }
                );
            await db.SaveChangesAsync(cancel);
            await rescore.Run(db, id, now);
        }
        await transaction.CommitAsync(cancel);
        return TypedResults.NoContent();
    }

    private static async Task<Ok<List<BarredView>>> Barred(LanternDb db) =>
        TypedResults.Ok(
            await db.Set<BarredRow>().OrderByDescending(b => b.At).ThenBy(b => b.Shown).Take(1000).Select(b => new BarredView(b.Id, b.Kind, b.Why, b.Shown, b.At)).ToListAsync()
        );

    private static async Task<Results<Created, ProblemHttpResult>> Bar(NewBarred body, LanternDb db, Workspace workspace, TimeProvider clock)
    {
        if (!Whys.Contains(body.Why) || (body.Kind == BarredRow.Person && body.Why != Whys[0]) || body.Kind is not (BarredRow.Person or BarredRow.Domain))
            return ApiProblems.Of("why-unknown", "why");
        var fields =
            body.Kind == BarredRow.Domain ? ["website"]
            : body.Value.Contains('@', StringComparison.Ordinal) ? new[] { "email" }
            : ["phone"];
        var read = FieldReader.Read(workspace.Catalogue[fields[0]], body.Value, default(string));
        if (read.Problem is { } problem || !read.Value.IsKnown)
            return ApiProblems.Of(read.Problem ?? new Problem("way-unknown"), "value");
        var row = BarredRow.Of(workspace.Hashes, body.Kind, read.Value.Text!, body.Why, clock.UtcNow());
        await db.Run(
            $"""
            insert into barred (id, kind, hash, hash_key, why, shown, at) values ({row.Id}, {row.Kind}, {row.Hash}, {row.HashKey}, {row.Why}, {row.Shown}, {row.At})
            on conflict (kind, hash) do update set why = excluded.why
            """
        );
        return TypedResults.Created();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Unbar(Guid id, LanternDb db) =>
        await db.Set<BarredRow>().Where(b => b.Id == id).ExecuteDeleteAsync() == 0 ? ApiProblems.NotFound("entry") : TypedResults.NoContent();
}
