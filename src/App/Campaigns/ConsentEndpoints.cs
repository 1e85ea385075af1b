using System.Security.Claims;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Fields;
using Microsoft.AspNetCore.Http.HttpResults;

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
public sealed record ConsentOrder(string Purpose, string State, string Wording = "");

/// <summary>A person or domain that must not come in; a person is kept as a mark only, so that only <see cref="At"/> is known of them.</summary>
public sealed record BarredView(Guid Id, string Kind, string Why, string? Shown, DateTime At);

/// <param name="Kind">person or domain.</param>
/// <param name="Value">An email address or telephone number with country code; or a web domain.</param>
/// <param name="Why">do_not_contact, competitor or blocked.</param>
public sealed record NewBarred(string Kind, string Value, string Why);

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

    private static async Task<Results<Ok<LeadContextView>, ProblemHttpResult>> Around(Guid id, LanternDb db, WorkspaceConfiguration workspace)
    {
        var connection = await db.Connection();
        if (await LeadStore.Load(connection, id, workspace.Catalogue) is not { } facts)
            return ApiProblems.NotFound("lead");
        var tags = await connection.QueryAsync<LeadTagView>(
            """
            select distinct t.key, t.name, t.colour from lead_tag l join tag m on m.key = l.tag_key join tag t on t.key = coalesce(m.merged_into, m.key)
            where l.lead_id = @id order by t.name
            """,
            new { id }
        );
        // The latest word for each purpose, from whichever of the person's addresses and numbers; "asked" gives way to any other.
        var said = (
            await connection.QueryAsync<ConsentRow>(
                """
                select distinct on (purpose) purpose, state, at, wording, place from consent where lead_id = @id or person_key = any(@keys)
                order by purpose, at desc, (state = 'asked')
                """,
                new { id, keys = PersonKeys.Of(workspace.Hashes, facts).Own }
            )
        ).ToDictionary(c => c.Purpose);
        var consents = workspace.ConsentPurposes.Select(p =>
            said.TryGetValue(p.Key, out var c) ? new ConsentView(p.Key, p.Label, c.State, c.At, c.Wording, c.Place) : new ConsentView(p.Key, p.Label, "unknown", null, "", "")
        );
        var campaigns = await connection.QueryAsync<LeadCampaignView>(
            """
            select c.key, c.name, r.response, r.at from (select distinct on (campaign_key) * from campaign_response where lead_id = @id order by campaign_key, at desc, id desc) r
            join campaign c on c.key = r.campaign_key order by r.at desc
            """,
            new { id }
        );
        return TypedResults.Ok(
            new LeadContextView([.. tags], [.. consents], [.. campaigns.Select(c => c with { Response = CampaignResponse.Find(c.Response)?.Label ?? c.Response })])
        );
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Say(
        Guid id,
        ConsentOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        WorkspaceConfiguration workspace,
        LeadRescore rescore,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (workspace.ConsentPurposes.FirstOrDefault(p => p.Key == body.Purpose) is not { } purpose)
            return ApiProblems.Invalid("purpose-unknown", $"There is no purpose \u201c{body.Purpose}\u201d.", "purpose");
        if (body.State is not (ConsentRow.Given or ConsentRow.Withdrawn))
            return ApiProblems.Invalid("state-unknown", "A consent is given or withdrawn.", "state");
        if (body.State == ConsentRow.Given && body.Wording.Trim().Length is 0 or > 1000)
            return ApiProblems.Invalid("consent-without-words", "Say in which words they agreed.", "wording");
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var connection = await db.Connection();
        if (await LeadEndpoints.WhyNot(connection, id, user, null) is { } no)
            return no;
        var facts = (await LeadStore.Load(connection, id, workspace.Catalogue))!;
        var now = clock.UtcNow();
        var rows = ConsentRow.GivenBy(workspace.Hashes, id, facts, body.Purpose, now, body.Wording.Trim(), $"Said to {user.Identity?.Name}").ToList();
        foreach (var row in rows)
            row.State = body.State;
        await ConsentRow.Save(connection, rows, cancel);
        var words = body.State == ConsentRow.Given ? "Consent given" : "Consent withdrawn";
        await LeadEndpoints.AppendActivity(connection, id, "consent", $"{words}: {purpose.Label}", user, now);
        if (body.State == ConsentRow.Withdrawn)
        {
            await connection.ExecuteAsync(
                "insert into lead_event (id, lead_id, kind, at, detail) values (gen_random_uuid(), @id, @Withdrew, @now, @label)",
                new
                {
                    id,
                    Core.Scoring.LeadEvent.Withdrew,
                    now,
                    label = purpose.Label,
                }
            );
            await rescore.Run(connection, id, now);
        }
        await transaction.CommitAsync(cancel);
        return TypedResults.NoContent();
    }

    private static async Task<Ok<List<BarredView>>> Barred(LanternDb db) =>
        TypedResults.Ok((await (await db.Connection()).QueryAsync<BarredView>("select id, kind, why, shown, at from barred order by at desc, shown limit 1000")).ToList());

    private static async Task<Results<Created, ProblemHttpResult>> Bar(NewBarred body, LanternDb db, WorkspaceConfiguration workspace, TimeProvider clock)
    {
        if (!Whys.Contains(body.Why) || (body.Kind == BarredRow.Person && body.Why != Whys[0]) || body.Kind is not (BarredRow.Person or BarredRow.Domain))
            return ApiProblems.Invalid("why-unknown", "A person is on the do-not-contact list; a domain may be a competitor's or blocked, too.", "why");
        var fields =
            body.Kind == BarredRow.Domain ? ["website"]
            : body.Value.Contains('@', StringComparison.Ordinal) ? new[] { "email" }
            : ["phone"];
        var read = FieldReader.Read(workspace.Catalogue[fields[0]], body.Value, default(string));
        if (read.Problem is { } problem || !read.Value.IsKnown)
            return ApiProblems.Invalid("value-unreadable", read.Problem?.Words ?? "Give an email address, a telephone number or a domain.", "value");
        var row = BarredRow.Of(workspace.Hashes, body.Kind, read.Value.Text!, body.Why, clock.UtcNow());
        await (await db.Connection()).ExecuteAsync(
            "insert into barred (id, kind, hash, hash_key, why, shown, at) values (@Id, @Kind, @Hash, @HashKey, @Why, @Shown, @At) on conflict (kind, hash) do update set why = excluded.why",
            row
        );
        return TypedResults.Created();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Unbar(Guid id, LanternDb db) =>
        await (await db.Connection()).ExecuteAsync("delete from barred where id = @id", new { id }) == 0 ? ApiProblems.NotFound("entry") : TypedResults.NoContent();
}
