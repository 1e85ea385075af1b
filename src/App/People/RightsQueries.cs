using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.People;

/// <summary>What somebody sees, asked by somebody else, who is shown only records that they see themselves.</summary>
/// <param name="mine">What the reader sees.</param>
public sealed class RightsQueries(RecordScopes scopes, RecordScope mine, Workspace workspace)
{
    /// <summary>Most records that are counted.</summary>
    public const int Most = 10_001;

    /// <summary>What somebody sees and does; null where there is nobody.</summary>
    public async Task<PersonRights?> Of(LanternDb db, Guid id)
    {
        if (await db.Users.AsNoTracking().SingleOrDefaultAsync(p => p.Id == id) is not { } person)
            return null;
        var (rights, scope) = Held(person);
        var names = await Person.Names(db);
        var sees = new List<KindSight>();
        foreach (var kind in RoleDefinition.Kinds)
        {
            var (seen, all) = await db.One<Counted>(
                $"""
                select (select count(*)::int from (select 1 from {kind:sql} r where {scope.Sees(kind, "r"):sql} limit {Most}) x) as seen,
                  (select count(*)::int from (select 1 from {kind:sql} r {RecordScope.Unscoped("how many there are, for those who keep people"):sql} limit {Most}) x) as "all"
                """
            );
            sees.Add(new KindSight(kind, Given(rights, r => r.SeesOf(kind)), seen, all));
        }
        return new PersonRights(
            id,
            person.DisplayName,
            workspace.Roles.Names(person.Roles),
            person.Here,
            rights.OwnOnly,
            Named(workspace.Circles.TeamOf(id), names),
            Named(workspace.Circles.ReportsTo(id), names),
            [.. ActTable.All.Select(a => new GivenAct(a.Act, a.Group, a.Words, [.. rights.Giving(a.Act).Select(r => r.Name)]))],
            sees,
            Given(rights, r => r.ContactData),
            [.. Labels(scope.Hides), .. scope.HidesCosts ? [RoleEndpoints.SpentLabel] : Array.Empty<string>()],
            [.. Labels(f => scope.Keeps(f) && !scope.Hides(f)), .. scope is { LocksCosts: true, HidesCosts: false } ? [RoleEndpoints.SpentLabel] : Array.Empty<string>()]
        );
    }

    private (UserRights Rights, RecordScope Scope) Held(Person person)
    {
        var rights = workspace.Roles.Of(person.Roles);
        return (rights, scopes.Of(person.Id, rights, workspace));
    }

    private List<string> Labels(Func<FieldDefinition, bool> which) => RoleEndpoints.Labels(workspace.Catalogue, which);

    private static List<string> Named(IEnumerable<Guid> ids, Dictionary<Guid, string> names) =>
        [.. ids.Select(i => names.GetValueOrDefault(i, "")).Where(n => n.Length > 0).Order()];

    private static List<GivenReach> Given(UserRights rights, Func<RoleDefinition, Reach> reach) =>
        [
            .. RoleSight
                .Parts(rights.Roles.Aggregate(Reach.None, (all, r) => all | reach(r)))
                .Select(part => new GivenReach(part, [.. rights.Roles.Where(r => reach(r).HasFlag(part)).Select(r => r.Name)])),
        ];

    /// <summary>Why somebody sees a record, or why not.</summary>
    /// <param name="kind">One of <see cref="RoleDefinition.Kinds"/>.</param>
    public async Task<Outcome<RecordRights>> OfRecord(LanternDb db, Guid id, string kind, Guid record)
    {
        if (!RoleDefinition.Kinds.Contains(kind))
            return Problem.NotFound("kind of record");
        if (await db.Users.AsNoTracking().SingleOrDefaultAsync(p => p.Id == id) is not { } person)
            return Problem.NotFound("person");
        var name =
            kind == EventLog.Lead ? mine.LeadName("r")
            : kind == EventLog.Contact ? mine.ContactName("r")
            : (SqlText)$"r.name";
        var found = await db.Row<Found>(
            $"""
            select {name:sql} as name, r.owner_id as owner, p.display_name as owner_name, exists (select 1 from record_share s where s.person_id = {id} and s.{kind:sql}_id = r.id) as shared
            from {kind:sql} r left join person p on p.id = r.owner_id where r.id = {record} and {mine.Sees(kind, "r"):sql}
            """
        );
        if (found is not var (called, owner, ownerName, shared))
            return Problem.NotFound(kind);
        var (rights, _) = Held(person);
        var circles = workspace.Circles;
        var standing = new Standing(
            owner == id,
            owner is { } mate && circles.TeamOf(id).Contains(mate),
            owner is { } report && circles.ReportsTo(id).Contains(report),
            owner is not null,
            shared
        );
        var answer = RightsAnswer.Of(rights, kind, standing);
        var worksNot = WorksNot(rights, kind, standing);
        return new RecordRights(
            kind,
            record,
            called ?? "",
            ownerName,
            answer.Sees,
            answer.SeesContactData,
            Parts(answer.Record),
            Parts(answer.ContactData),
            answer.Sees && worksNot is null,
            answer.Sees ? worksNot : null
        );
    }

    private static List<GivenReach> Parts(IEnumerable<ReachPart> parts) => [.. parts.Select(p => new GivenReach(p.Part, p.Roles, p.IsIn))];

    private static string? WorksNot(UserRights rights, string kind, Standing standing)
    {
        var act = kind == EventLog.Lead ? Act.WorkLeads : Act.WorkDeals;
        if (!rights.May(act))
            return $"No role of theirs lets them {ActTable.Find(act)!.Words}.";
        return rights.OwnOnly && !standing.IsOwn ? "They work only records of their own." : null;
    }

    private sealed record Counted(int Seen, int All);

    private sealed record Found(string? Name, Guid? Owner, string? OwnerName, bool Shared);
}
