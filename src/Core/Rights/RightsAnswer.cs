using System.Collections.Immutable;

namespace DapperLantern.Core.Rights;

/// <summary>Where somebody stands to a record.</summary>
/// <param name="IsOwn">They own it.</param>
/// <param name="IsOfTeam">Its owner is in a team with them.</param>
/// <param name="IsOfReports">Its owner reports to them, also over others.</param>
/// <param name="HasOwner">False where nobody owns it.</param>
/// <param name="IsShared">It was shared with them.</param>
public readonly record struct Standing(bool IsOwn, bool IsOfTeam, bool IsOfReports, bool HasOwner, bool IsShared)
{
    /// <summary>True where a single part of a reach takes the record in.</summary>
    public bool IsIn(Reach part) =>
        part switch
        {
            Reach.All => true,
            Reach.Own => IsOwn,
            Reach.Team => IsOfTeam,
            Reach.Reports => IsOfReports,
            Reach.Unowned => !HasOwner,
            Reach.Shared => IsShared,
            _ => false,
        };
}

/// <summary>One part of a reach, asked of a record.</summary>
/// <param name="Roles">Names of the roles that give the part; empty where none does.</param>
/// <param name="IsIn">True where the record is one of these.</param>
public sealed record ReachPart(Reach Part, ImmutableArray<string> Roles, bool IsIn)
{
    /// <summary>True where the record is seen by this part.</summary>
    public bool Lets => IsIn && Roles.Length > 0;
}

/// <summary>Why somebody sees a record, or why not: each part of a reach with the roles that give it. The record is seen where one part lets them.</summary>
public sealed record RightsAnswer(ImmutableArray<ReachPart> Record, ImmutableArray<ReachPart> ContactData)
{
    private static readonly ImmutableArray<Reach> Parts = [Reach.All, Reach.Own, Reach.Team, Reach.Reports, Reach.Unowned, Reach.Shared];

    public bool Sees => Record.Any(p => p.Lets);

    /// <summary>Only of a record that is seen.</summary>
    public bool SeesContactData => Sees && ContactData.Any(p => p.Lets);

    /// <param name="kind">One of <see cref="RoleDefinition.Kinds"/>.</param>
    public static RightsAnswer Of(UserRights rights, string kind, Standing standing) => new(Ask(rights, standing, r => r.SeesOf(kind)), Ask(rights, standing, r => r.ContactData));

    private static ImmutableArray<ReachPart> Ask(UserRights rights, Standing standing, Func<RoleDefinition, Reach> reach) =>
        [.. Parts.Select(part => new ReachPart(part, [.. rights.Roles.Where(r => reach(r).HasFlag(part)).Select(r => r.Name)], standing.IsIn(part)))];
}
