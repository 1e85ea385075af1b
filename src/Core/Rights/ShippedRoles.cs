using System.Collections.Immutable;

namespace DapperLantern.Core.Rights;

/// <summary>The roles that every workspace begins with. Each can be changed, copied, and put back to this.</summary>
public static class ShippedRoles
{
    public const string Administrator = "administrator";
    public const string Coordinator = "coordinator";
    public const string Manager = "manager";
    public const string Rep = "rep";
    public const string Qualifier = "qualifier";
    public const string Marketer = "marketer";

    private static readonly ImmutableArray<Act> Looking = [Act.SeeScoring, Act.SeeRouting, Act.SeeReports];

    private static readonly ImmutableArray<Act> Coordinating =
    [
        Act.WorkLeads,
        Act.GiveLeads,
        Act.ExceptQualifying,
        Act.SettleDuplicates,
        Act.ExportLeads,
        Act.SeeIntake,
        Act.RunIntake,
        Act.CoinTags,
        Act.WorkDeals,
        Act.HandOver,
        Act.KeepLists,
        .. Looking,
        Act.SetUp,
    ];

    /// <summary>In the order in which they are shown.</summary>
    public static ImmutableArray<RoleDefinition> All { get; } =
    [
        Of(Administrator, "Administrator", [.. Coordinating, Act.ManagePeople, Act.KeepTokens, Act.AnswerPersons, Act.SeeLog], Seeing(RoleDefinition.Kinds), Reach.All),
        Of(Coordinator, "Coordinator", Coordinating, Seeing(RoleDefinition.Kinds), Reach.All),
        Of(
            Manager,
            "Manager",
            [Act.WorkLeads, Act.GiveLeads, Act.ExceptQualifying, Act.SettleDuplicates, Act.ExportLeads, Act.SeeIntake, Act.WorkDeals, Act.HandOver, Act.KeepLists, .. Looking],
            Seeing(RoleDefinition.Kinds),
            Reach.All
        ) with
        {
            ToldOfMissed = true,
        },
        Of(Rep, "Rep", [Act.WorkLeads, Act.TakeLeads, Act.WorkDeals, Act.HandOver, .. Looking], Seeing(RoleDefinition.Kinds), Reach.Own | Reach.Unowned) with
        {
            OwnOnly = true,
            GivenLeads = true,
        },
        Of(Qualifier, "Qualifier", [Act.WorkLeads, Act.TakeLeads, .. Looking], Seeing(["lead"]), Reach.Own | Reach.Unowned) with
        {
            OwnOnly = true,
            GivenLeads = true,
        },
        Of(Marketer, "Marketer", [Act.SeeIntake, Act.RunIntake, Act.CoinTags, Act.ExportLeads, .. Looking], Seeing(["lead"]), Reach.All),
    ];

    /// <summary>A role as it is shipped; null for one of a company's own.</summary>
    public static RoleDefinition? Find(string key) => All.FirstOrDefault(r => r.Key == key);

    private static ImmutableSortedDictionary<string, Reach> Seeing(ImmutableArray<string> kinds) => kinds.ToImmutableSortedDictionary(k => k, _ => Reach.All);

    private static RoleDefinition Of(string key, string name, ImmutableArray<Act> may, ImmutableSortedDictionary<string, Reach> sees, Reach contactData) =>
        new()
        {
            Key = key,
            Name = name,
            May = may,
            Sees = sees,
            ContactData = contactData,
        };
}
