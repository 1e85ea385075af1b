using System.Collections.Frozen;
using DapperLantern.App.Events;
using DapperLantern.App.Rights;

namespace DapperLantern.App.Setup;

public enum Role
{
    Administrator,
    Coordinator,
    Manager,
    Rep,
    Qualifier,
    Marketer,
}

/// <summary>What a signed-in person may see or do. Every endpoint names one.</summary>
public enum Act
{
    SeeDesk,
    SeeLeads,
    WorkLeads,
    GiveLeads,

    /// <summary>Take a lead that nobody owns.</summary>
    TakeLeads,
    SeeIntake,
    RunIntake,
    SeeScoring,
    SeeRouting,
    HandOver,
    SeeDeals,
    WorkDeals,
    SeeReports,
    SetUp,
    CoinTags,
    AnswerPersons,
    ExportLeads,
    SettleDuplicates,
    KeepLists,
    ExceptQualifying,
    SeeLog,

    /// <summary>Keep one's own codes and passkeys. All else waits for the second step that a role asks for.</summary>
    KeepOwnSignIn,

    /// <summary>Invite people, change what they may, let them go.</summary>
    ManagePeople,
}

/// <summary>The one table of rights, held by a test.</summary>
public static class Permissions
{
    private static readonly Role[] Everyone = Enum.GetValues<Role>();
    private static readonly Role[] Leads = [Role.Administrator, Role.Coordinator];

    private static readonly FrozenDictionary<Act, FrozenSet<Role>> Table = new Dictionary<Act, Role[]>
    {
        [Act.SeeDesk] = Everyone,
        [Act.SeeLeads] = Everyone,
        [Act.WorkLeads] = [.. Leads, Role.Manager, Role.Rep, Role.Qualifier],
        [Act.GiveLeads] = [.. Leads, Role.Manager],
        [Act.TakeLeads] = [Role.Rep, Role.Qualifier],
        [Act.SeeIntake] = [.. Leads, Role.Manager, Role.Marketer],
        [Act.RunIntake] = [.. Leads, Role.Marketer],
        [Act.SeeScoring] = Everyone,
        [Act.SeeRouting] = Everyone,
        [Act.HandOver] = [.. Leads, Role.Manager, Role.Rep],
        [Act.SeeDeals] = [.. Leads, Role.Manager, Role.Rep],
        [Act.WorkDeals] = [.. Leads, Role.Manager, Role.Rep],
        [Act.SeeReports] = Everyone,
        [Act.SetUp] = Leads,
        [Act.CoinTags] = [.. Leads, Role.Marketer],
        [Act.AnswerPersons] = Leads,
        [Act.SettleDuplicates] = [.. Leads, Role.Manager],
        [Act.KeepLists] = [.. Leads, Role.Manager],
        [Act.ExceptQualifying] = [.. Leads, Role.Manager],
        [Act.KeepOwnSignIn] = Everyone,
        [Act.SeeLog] = [Role.Administrator],
        [Act.ManagePeople] = [Role.Administrator],
        [Act.ExportLeads] = [.. Leads, Role.Manager, Role.Marketer],
    }.ToFrozenDictionary(p => p.Key, p => p.Value.ToFrozenSet());

    /// <summary>Whose records of a kind a role sees.</summary>
    /// <param name="kind">One of <see cref="RecordScope.Kinds"/>.</param>
    public static Reach Sees(Role role, string kind) => May(role, kind == EventLog.Lead ? Act.SeeLeads : Act.SeeDeals) ? Reach.All : Reach.None;

    /// <summary>Whose contact data a role sees: everybody's where it may take it along anyway.</summary>
    public static Reach SeesContactData(Role role) => May(role, Act.ExportLeads) ? Reach.All : Reach.Own | Reach.Unowned;

    public static bool May(Role role, Act act) => Table[act].Contains(role);

    public static IEnumerable<Act> Of(Role role) => Enum.GetValues<Act>().Where(a => May(role, a));

    /// <summary>True for roles that work only the leads and deals they own.</summary>
    public static bool OwnOnly(Role role) => role is Role.Rep or Role.Qualifier;
}
