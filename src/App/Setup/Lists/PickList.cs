using System.Collections.Frozen;
using System.Collections.Immutable;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;

namespace DapperLantern.App.Setup;

/// <summary>A column that holds keys of a list.</summary>
/// <param name="Many">True for an array of them.</param>
/// <param name="Id">The column that names the record.</param>
internal sealed record ListUse(string Table, string Column, bool Many = false, string Id = "id")
{
    public string Name => $"{Table}.{Column}";
}

/// <summary>A list of values that people keep.</summary>
/// <param name="Field">The field whose choices these are, by which conditions ask for them; null where none does.</param>
/// <param name="IsRead">True where files and forms name its values in words of their own.</param>
/// <param name="OfStates">True where each value belongs to a state of leads, which its key begins with.</param>
/// <param name="Merges">False where a merge would change scores: there leads are changed in the worklist instead.</param>
internal sealed record KeptList(
    string Key,
    string Name,
    string About,
    ImmutableArray<Choice> Shipped,
    ImmutableArray<ListUse> Uses,
    string? Field = null,
    bool IsRead = false,
    bool Merges = true,
    bool OfStates = false
);

/// <summary>The lists that are kept so.</summary>
public static class PickList
{
    public const string Kinds = "contact-kinds";
    public const string Roles = "deal-roles";
    public const string Segments = "segments";
    public const string LostReasons = "lost-reasons";
    public const string Competitors = "competitors";

    /// <summary>Reasons leads are disqualified for.</summary>
    public const string Reasons = "state_reason";

    /// <summary>Finer steps within a state of leads.</summary>
    public const string SubStates = LeadState.SubState;

    internal const string Industries = "industry";

    /// <summary>All of them, in the order of the page.</summary>
    internal static ImmutableArray<KeptList> All { get; } =
    [
        new(
            Reasons,
            "Reasons leads are disqualified",
            "Asked for when a lead is disqualified; rules and reports read them.",
            LeadState.Reasons,
            [new("lead", "state_reason")],
            Field: Reasons,
            IsRead: true
        ),
        new(
            SubStates,
            "Sub-states of leads",
            "Finer steps of your own within a state; a lead in that state can be in one of them.",
            [],
            [new("lead", "sub_state_set")],
            Field: LeadState.SubState,
            OfStates: true
        ),
        new(LostReasons, "Reasons deals are lost", "Asked for when a deal is lost.", LeadState.Reasons, [new("deal", "lost_reason")]),
        new(
            Competitors,
            "Competitors",
            "Who else a buyer looks at, and who got it.",
            [],
            [new("lead", "lost_to"), new("deal", "lost_to"), new("deal_competitor", "competitor", Id: "deal_id")]
        ),
        new(
            Roles,
            "Parts people have in a deal",
            "What somebody of the buyer decides or does; a stage can ask for one.",
            [new("decision_maker", "Decision maker"), new("user", "User"), new("buyer", "Buyer"), new("lawyer", "Lawyer")],
            [new("deal_person", "role")]
        ),
        new(
            Kinds,
            "Kinds of accounts and contacts",
            "What they are to you; an account may be several.",
            [new("customer", "Customer"), new("supplier", "Supplier"), new("partner", "Partner")],
            [new("contact", "kind"), new("account", "kinds", Many: true)]
        ),
        new(Segments, "Segments", "Parts of the market an account belongs to.", [], [new("account", "segments", Many: true)]),
        new(Industries, "Industries", "What a company does; scoring and rules ask for it.", [], [new("lead", "industry")], Field: Industries, IsRead: true, Merges: false),
    ];

    private static readonly FrozenDictionary<string, KeptList> ByKey = All.ToFrozenDictionary(l => l.Key);

    /// <summary>Null where there is no such list.</summary>
    internal static KeptList? Find(string list) => ByKey.GetValueOrDefault(list);

    /// <summary>What a list has before anybody adds to it; empty for an unknown one.</summary>
    public static ImmutableArray<Choice> Shipped(string list) => Find(list)?.Shipped ?? [];

    public static bool Is(string list) => ByKey.ContainsKey(list);
}
