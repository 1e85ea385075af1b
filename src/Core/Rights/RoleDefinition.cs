using System.Collections.Immutable;

namespace DapperLantern.Core.Rights;

/// <summary>What people of a role see and do.</summary>
public sealed record RoleDefinition
{
    /// <summary>Kinds of records that have an owner, and are seen by whose they are.</summary>
    public static ImmutableArray<string> Kinds { get; } = ["lead", "account", "contact", "deal"];

    private const int LongestName = 60;

    public required string Key { get; init; }

    public required string Name { get; init; }

    /// <summary>Acts of <see cref="ActTable.All"/>.</summary>
    public ImmutableArray<Act> May { get; init; } = [];

    /// <summary>Whose records are seen, by kind; none of a kind that is missing.</summary>
    public ImmutableSortedDictionary<string, Reach> Sees { get; init; } = ImmutableSortedDictionary<string, Reach>.Empty;

    /// <summary>True where only records of one's own are worked, although others may be seen.</summary>
    public bool OwnOnly { get; init; }

    /// <summary>True for those who are given leads, and so have places in teams.</summary>
    public bool GivenLeads { get; init; }

    /// <summary>True for those who are told when the time to answer a lead ran out.</summary>
    public bool ToldOfMissed { get; init; }

    /// <summary>Of whose records email addresses and telephone numbers are shown, among those that are seen.</summary>
    public Reach ContactData { get; init; }

    /// <summary>True where contact data that is shown may be changed.</summary>
    public bool ChangesContactData { get; init; } = true;

    /// <summary>True where the fields about a person, beside name and contact data, are shown.</summary>
    public bool PersonalData { get; init; } = true;

    /// <summary>True where those fields may be changed.</summary>
    public bool ChangesPersonalData { get; init; } = true;

    /// <summary>True where costs and margins are shown: fields of that kind, and the money spent on campaigns.</summary>
    public bool CostData { get; init; } = true;

    /// <summary>True where costs and margins that are shown may be changed.</summary>
    public bool ChangesCostData { get; init; } = true;

    /// <summary>Whose records of a kind are seen.</summary>
    public Reach SeesOf(string kind) => Sees.GetValueOrDefault(kind, Reach.None);

    /// <summary>True for an act that was given, that everybody may do, or that follows from whose records are seen.</summary>
    public bool IsGiven(Act act) =>
        act switch
        {
            Act.SeeLeads => SeesOf("lead") != Reach.None,
            Act.SeeDeals => Kinds.Any(k => k != "lead" && SeesOf(k) != Reach.None),
            _ => ActTable.Everybody.Contains(act) || May.Contains(act),
        };

    /// <summary>Why a role cannot be like this; null where it can.</summary>
    public Problem? Check()
    {
        if (Name.Length is 0 or > LongestName)
            return Problem.Of("name-missing", "name", LongestName);
        if (Sees.Keys.FirstOrDefault(k => !Kinds.Contains(k)) is { } kind)
            return Problem.Of("role-kind-unknown", "sees", kind);
        if (Sees.Values.Append(ContactData).Any(r => (r & ~Everything) != 0))
            return new Problem("role-reach-unknown", "sees");
        foreach (var act in May)
        {
            if (ActTable.Find(act) is not { } choice)
                return Problem.Of("role-act-unknown", "may", act);
            foreach (var needed in choice.Needs)
                if (!IsGiven(needed))
                    return Problem.Of("role-act-needs", "may", choice.Words, NeedWords(needed));
        }
        if (Key == ShippedRoles.Administrator && !May.Contains(Act.ManagePeople))
            return new Problem("role-administers", "may");
        return GivenLeads && !May.Contains(Act.WorkLeads) ? new Problem("role-works", "givenLeads") : null;
    }

    private const Reach Everything = Reach.Own | Reach.Team | Reach.Reports | Reach.Unowned | Reach.Shared | Reach.All;

    private static string NeedWords(Act act) =>
        act switch
        {
            Act.SeeLeads => "see leads",
            Act.SeeDeals => "see accounts, contacts or deals",
            _ => ActTable.Find(act)!.Words,
        };
}
