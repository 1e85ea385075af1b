using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake.Http;

/// <summary>A lead as another system reads it.</summary>
/// <param name="Owner">Sign-in name of its owner; null where nobody owns it.</param>
/// <param name="Facts">What is known and shown to the reader, by the keys of the fields.</param>
public sealed record ReadLead(Guid Id, int Number, int Version, string State, string? Owner, IReadOnlyDictionary<string, string> Facts);

/// <param name="Next">What to give as <c>after</c> for the leads that follow; null after the last.</param>
public sealed record ReadLeads(IReadOnlyList<ReadLead> Leads, int? Next);

/// <summary>Reading with a token: everything for a machine, what the person sees for a person's.</summary>
internal static class MachineReads
{
    private const int Most = 500;

    public static void MapMachineReads(this IEndpointRouteBuilder group)
    {
        group.MapGet("/leads", List).RequireAuthorization(TokenScopes.Read).WithSummary("Leads that a condition holds for, by their numbers");
        group.MapGet("/leads/{id:guid}", Open).RequireAuthorization(TokenScopes.Read).WithSummary("One lead");
    }

    /// <param name="where">A condition as JSON; nothing for all.</param>
    /// <param name="after">Number of the last lead that was read; 0 from the first.</param>
    private static async Task<Results<Ok<ReadLeads>, ProblemHttpResult>> List(
        string? where,
        int? after,
        int? limit,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScopes scopes,
        Workspace workspace,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var (condition, problem) = LeadAsk.Condition(where, workspace.Catalogue, user);
        if (problem is not null)
            return ApiProblems.Of(problem);
        if (after < 0 || limit is < 1 or > Most)
            return ApiProblems.Of("page-unfit", "limit", Most);
        var size = limit ?? Most;
        var leads = await Read(db, await ScopeOf(user, db, scopes, workspace), workspace, clock, condition!, $"l.number > {after ?? 0}", size + 1, cancel);
        return TypedResults.Ok(new ReadLeads([.. leads.Take(size)], leads.Count > size ? leads[size - 1].Number : null));
    }

    private static async Task<Results<Ok<ReadLead>, ProblemHttpResult>> Open(
        Guid id,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScopes scopes,
        Workspace workspace,
        TimeProvider clock,
        CancellationToken cancel
    ) =>
        await Read(db, await ScopeOf(user, db, scopes, workspace), workspace, clock, Condition.Always, $"l.id = {id}", 1, cancel) is [var lead]
            ? TypedResults.Ok(lead)
            : ApiProblems.NotFound("lead");

    // By the person's rights of this moment.
    private static async Task<RecordScope> ScopeOf(ClaimsPrincipal user, LanternDb db, RecordScopes scopes, Workspace workspace)
    {
        if (!Guid.TryParse(user.FindFirstValue(TokenSignIn.ReadsAsClaim), out var person))
            return RecordScope.Everything;
        var roles = await db.Users.Where(p => p.Id == person).Select(p => p.Roles).SingleAsync();
        return scopes.Of(person, workspace.Roles.Of(roles), workspace);
    }

    private static Task<List<ReadLead>> Read(
        LanternDb db,
        RecordScope scope,
        Workspace workspace,
        TimeProvider clock,
        Condition where,
        SqlText further,
        int most,
        CancellationToken cancel
    )
    {
        var now = clock.UtcNow();
        var sql = new ConditionSql(workspace.Catalogue, now, scope);
        return db.Read(
            $"""
            select {LeadRecord.Columns:sql}, l.id, l.number, l.version, l.state as state_now, p.user_name as owner_name, {sql.Part(sql.ShowsContactData):sql} as shows_contact_data
            from lead l left join person p on p.id = l.owner_id where {further:sql} and {sql.Part(sql.Write(where)):sql} order by l.number limit {most}
            """,
            row =>
            {
                var record = LeadRecord.Read(row, workspace.Catalogue, now);
                scope.HideIn(record, (bool)row["shows_contact_data"]);
                var facts = workspace.Catalogue.Facts.Where(f => record[f.Ordinal].IsKnown).ToDictionary(f => f.Key, f => record[f.Ordinal].ToString());
                return new ReadLead((Guid)row["id"], (int)row["number"], (int)row["version"], (string)row["state_now"], row["owner_name"] as string, facts);
            },
            cancel
        );
    }
}
