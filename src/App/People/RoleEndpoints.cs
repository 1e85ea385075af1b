using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.People;

/// <summary>A role as it holds now.</summary>
/// <param name="IsShipped">True for a role that every workspace begins with.</param>
/// <param name="Version">Row version; 0 for a shipped role that was never changed.</param>
/// <param name="People">Names of those who have it, and are here or invited.</param>
public sealed record RoleView(string Key, bool IsShipped, int Version, IReadOnlyList<string> People, RoleOrder Role);

/// <summary>An act that a role can be given.</summary>
/// <param name="Needs">Acts that have to be given with it.</param>
public sealed record ActView(Act Act, string Group, string Words, IReadOnlyList<Act> Needs);

/// <param name="ContactFields">Labels of the fields that are contact data.</param>
/// <param name="PersonalFields">Labels of the fields about a person, beside name and contact data.</param>
public sealed record RolesView(
    IReadOnlyList<RoleView> Roles,
    IReadOnlyList<ActView> Acts,
    IReadOnlyList<string> ContactFields,
    IReadOnlyList<string> PersonalFields,
    IReadOnlyList<string> CostFields
);

/// <summary>An act, and which of a person's roles give it.</summary>
/// <param name="Roles">Names of the roles; empty where none does.</param>
public sealed record GivenAct(Act Act, string Group, string Words, IReadOnlyList<string> Roles);

/// <summary>Whose records somebody sees, with the roles that say so.</summary>
/// <param name="IsIn">Of one record: that it is one of these. Null where no record is asked about.</param>
public sealed record GivenReach(Reach Part, IReadOnlyList<string> Roles, bool? IsIn = null);

/// <summary>What somebody sees of a kind of record.</summary>
/// <param name="Seen">How many they see; at most <see cref="RightsQueries.Most"/> are counted.</param>
/// <param name="All">How many there are, counted alike.</param>
public sealed record KindSight(string Kind, IReadOnlyList<GivenReach> Parts, int Seen, int All);

/// <summary>What somebody sees and does, and by which role.</summary>
/// <param name="Role">Names of their roles.</param>
/// <param name="Colleagues">Names of those in a team with them.</param>
/// <param name="Reports">Names of those who report to them, also over others.</param>
/// <param name="HiddenFields">Labels of fields that they are not shown of any record.</param>
/// <param name="LockedFields">Labels of fields that they see and cannot change.</param>
public sealed record PersonRights(
    Guid Id,
    string Name,
    string Role,
    bool Here,
    bool OwnOnly,
    IReadOnlyList<string> Colleagues,
    IReadOnlyList<string> Reports,
    IReadOnlyList<GivenAct> Acts,
    IReadOnlyList<KindSight> Sees,
    IReadOnlyList<GivenReach> ContactData,
    IReadOnlyList<string> HiddenFields,
    IReadOnlyList<string> LockedFields
);

/// <summary>Why somebody sees a record, or why not.</summary>
/// <param name="Owner">Name of its owner; null where nobody owns it.</param>
/// <param name="Works">True where they may change it.</param>
/// <param name="WorksNot">Why they may not; null where they may, or do not see it.</param>
public sealed record RecordRights(
    string Kind,
    Guid Id,
    string Name,
    string? Owner,
    bool Sees,
    bool SeesContactData,
    IReadOnlyList<GivenReach> Parts,
    IReadOnlyList<GivenReach> ContactData,
    bool Works,
    string? WorksNot
);

/// <summary>Roles, and what somebody sees by them, for those who keep people.</summary>
internal static class RoleEndpoints
{
    public static void MapRoles(this IEndpointRouteBuilder api)
    {
        var roles = api.MapGroup("/setup/roles").Requires(Act.ManagePeople).WithTags("People");
        roles.MapGet("", List).WithSummary("The roles, with what can be given");
        roles.MapPost("", Make).WithSummary("Make a role of one's own");
        roles.MapPut("/{key}", Change).WithSummary("Change what a role may (If-Match)");
        roles.MapDelete("/{key}", Drop).WithSummary("Put a shipped role back, or take one of one's own away");
        var rights = api.MapGroup("/setup/rights/{id:guid}").Requires(Act.ManagePeople).WithTags("People");
        rights.MapGet("", Of).WithSummary("What somebody sees and does, and by which role");
        rights.MapGet("/{kind}/{record:guid}", OfRecord).WithSummary("Why somebody sees a record, or why not");
    }

    private static async Task<Ok<RolesView>> List(LanternDb db, Workspace workspace) => TypedResults.Ok(await View(db, workspace));

    private static async Task<RolesView> View(LanternDb db, Workspace workspace)
    {
        var people = await db.Users.Where(p => p.Here || p.PasswordHash == null).OrderBy(p => p.DisplayName).Select(p => new { p.DisplayName, p.Roles }).ToListAsync();
        var having = people.SelectMany(p => p.Roles.Select(role => (role, p.DisplayName))).ToLookup(x => x.role, x => x.DisplayName);
        return new RolesView(
            [
                .. workspace.Roles.All.Select(r => new RoleView(
                    r.Definition.Key,
                    ShippedRoles.Find(r.Definition.Key) is not null,
                    r.Version,
                    [.. having[r.Definition.Key]],
                    OrderOf(r.Definition)
                )),
            ],
            [.. ActTable.All.Select(a => new ActView(a.Act, a.Group, a.Words, a.Needs))],
            Labels(workspace.Catalogue, RecordScope.IsContactData),
            Labels(workspace.Catalogue, RecordScope.IsPersonalData),
            [SpentLabel, .. Labels(workspace.Catalogue, f => f.Cost)]
        );
    }

    /// <summary>What is not a field, and is shown and kept like one.</summary>
    internal const string SpentLabel = "money spent on campaigns";

    internal static List<string> Labels(FieldCatalogue catalogue, Func<FieldDefinition, bool> which) =>
        [.. catalogue.Facts.Concat(catalogue.RecordOnly).Where(which).Select(f => f.Label)];

    private static RoleOrder OrderOf(RoleDefinition r) =>
        new(
            r.Name,
            r.May,
            RoleSight.Of(r),
            r.OwnOnly,
            r.GivenLeads,
            r.ToldOfMissed,
            RoleSight.Parts(r.ContactData),
            r.ChangesContactData,
            r.PersonalData,
            r.ChangesPersonalData,
            r.CostData,
            r.ChangesCostData
        );

    private static async Task<Results<Ok<RolesView>, ProblemHttpResult>> Make(
        RoleOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        RolesDesk desk,
        WorkspaceConfiguration configuration
    ) => await After((await desk.Make(user, body)).Problem, db, configuration);

    private static async Task<Results<Ok<RolesView>, ProblemHttpResult>> Change(
        string key,
        RoleOrder body,
        HttpRequest request,
        ClaimsPrincipal user,
        LanternDb db,
        RolesDesk desk,
        WorkspaceConfiguration configuration
    ) => request.Version() is { } version ? await After(await desk.Change(user, key, body, version), db, configuration) : ApiProblems.DraftVersionMissing();

    private static async Task<Results<Ok<RolesView>, ProblemHttpResult>> Drop(
        string key,
        ClaimsPrincipal user,
        LanternDb db,
        RolesDesk desk,
        WorkspaceConfiguration configuration
    ) => await After(await desk.Drop(user, key), db, configuration);

    // The roles as they are after an act, or why it was not done.
    private static async Task<Results<Ok<RolesView>, ProblemHttpResult>> After(Problem? problem, LanternDb db, WorkspaceConfiguration configuration) =>
        problem is null ? TypedResults.Ok(await View(db, configuration.Current)) : ApiProblems.Of(problem);

    private static async Task<Results<Ok<PersonRights>, ProblemHttpResult>> Of(Guid id, LanternDb db, RightsQueries queries) =>
        await queries.Of(db, id) is { } rights ? TypedResults.Ok(rights) : ApiProblems.NotFound("person");

    private static async Task<Results<Ok<RecordRights>, ProblemHttpResult>> OfRecord(Guid id, string kind, Guid record, LanternDb db, RightsQueries queries) =>
        await queries.OfRecord(db, id, kind, record).Answer();
}
