using System.Collections.Frozen;
using System.Collections.Immutable;

namespace DapperLantern.Core.Rights;

/// <summary>What somebody sees and does by all their roles together: the most that any of them gives.</summary>
public sealed class UserRights
{
    /// <summary>Of somebody who is not signed in, or is no person.</summary>
    public static UserRights None { get; } = new([]);

    private readonly FrozenSet<Act> _may;

    public UserRights(ImmutableArray<RoleDefinition> roles)
    {
        Roles = roles;
        _may = Enum.GetValues<Act>().Where(act => roles.Any(r => r.IsGiven(act))).ToFrozenSet();
        ContactData = roles.Aggregate(Reach.None, (reach, r) => reach | r.ContactData);
        OwnOnly = !roles.Any(r => !r.OwnOnly && Working.Any(r.IsGiven));
    }

    private static readonly ImmutableArray<Act> Working = [Act.WorkLeads, Act.WorkDeals, Act.HandOver];

    public ImmutableArray<RoleDefinition> Roles { get; }

    /// <summary>Everything that may be done, in the order of <see cref="Act"/>.</summary>
    public IEnumerable<Act> Acts => _may.Order();

    /// <summary>Of whose records email addresses and telephone numbers are shown.</summary>
    public Reach ContactData { get; }

    /// <summary>True where only records of one's own are worked: no role lets others be worked. True, too, where none works records at all.</summary>
    public bool OwnOnly { get; }

    /// <summary>True for somebody who is given leads.</summary>
    public bool GivenLeads => Roles.Any(r => r.GivenLeads);

    public bool ChangesContactData => Roles.Any(r => r.ChangesContactData);

    public bool PersonalData => Roles.Any(r => r.PersonalData);

    /// <summary>False where they are not even shown.</summary>
    public bool ChangesPersonalData => Roles.Any(r => r is { PersonalData: true, ChangesPersonalData: true });

    public bool CostData => Roles.Any(r => r.CostData);

    /// <summary>False where they are not even shown.</summary>
    public bool ChangesCostData => Roles.Any(r => r is { CostData: true, ChangesCostData: true });

    public bool May(Act act) => _may.Contains(act);

    /// <summary>Whose records of a kind are seen.</summary>
    /// <param name="kind">One of <see cref="RoleDefinition.Kinds"/>.</param>
    public Reach Sees(string kind) => Roles.Aggregate(Reach.None, (reach, r) => reach | r.SeesOf(kind));

    /// <summary>The roles that give an act.</summary>
    public IEnumerable<RoleDefinition> Giving(Act act) => Roles.Where(r => r.IsGiven(act));
}
