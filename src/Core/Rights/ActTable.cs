using System.Collections.Frozen;
using System.Collections.Immutable;

namespace DapperLantern.Core.Rights;

/// <summary>An act as people choose it for a role.</summary>
/// <param name="Group">Heading it stands under.</param>
/// <param name="Words">With a verb: what somebody with the right may do.</param>
/// <param name="Needs">Acts without which this one cannot be done.</param>
public sealed record ActChoice(Act Act, string Group, string Words, ImmutableArray<Act> Needs);

/// <summary>The acts that a role is given one by one. Seeing records is not among them: it follows from whose records the role sees.</summary>
public static class ActTable
{
    private const string Leads = "Leads";
    private const string WaysIn = "Ways in";
    private const string Selling = "Selling";
    private const string Looking = "Looking at";
    private const string Company = "The company";

    public static ImmutableArray<ActChoice> All { get; } =
    [
        Of(Act.WorkLeads, Leads, "work leads: write, call, meet, change facts", Act.SeeLeads),
        Of(Act.TakeLeads, Leads, "take a lead that nobody owns", Act.WorkLeads),
        Of(Act.GiveLeads, Leads, "give leads to others", Act.SeeLeads),
        Of(Act.ExceptQualifying, Leads, "qualify a lead although an answer is missing", Act.WorkLeads),
        Of(Act.SettleDuplicates, Leads, "merge duplicates and take them apart", Act.SeeLeads),
        Of(Act.ExportLeads, Leads, "take leads along as a file", Act.SeeLeads),
        Of(Act.SeeIntake, WaysIn, "see imports, forms and campaigns"),
        Of(Act.RunIntake, WaysIn, "import lists and keep campaigns", Act.SeeIntake),
        Of(Act.CoinTags, WaysIn, "make new tags"),
        Of(Act.WorkDeals, Selling, "work accounts, contacts and deals", Act.SeeDeals),
        Of(Act.HandOver, Selling, "hand leads over, so that they become deals", Act.SeeLeads, Act.WorkDeals),
        Of(Act.KeepLists, Selling, "add values to lists while working", Act.SeeDeals),
        Of(Act.SeeScoring, Looking, "see how points are given"),
        Of(Act.SeeRouting, Looking, "see the rules and turns"),
        Of(Act.SeeReports, Looking, "see reports", Act.SeeLeads),
        Of(Act.SetUp, Company, "set up: company, fields, forms, scoring, rules, pipelines", Act.SeeLeads, Act.SeeScoring, Act.SeeRouting, Act.SeeIntake),
        Of(Act.ManagePeople, Company, "invite people, let them go, say what each role may"),
        Of(Act.KeepTokens, Company, "let other systems in"),
        Of(Act.AnswerPersons, Company, "give people what we have about them, and erase it", Act.SeeLeads),
        Of(Act.SeeLog, Company, "see the audit"),
    ];

    /// <summary>Acts that everybody who signs in may do.</summary>
    public static FrozenSet<Act> Everybody { get; } = FrozenSet.Create(Act.SeeDesk, Act.KeepOwnSignIn);

    private static readonly FrozenDictionary<Act, ActChoice> ByAct = All.ToFrozenDictionary(c => c.Act);

    /// <summary>The words of an act that can be chosen; null for another.</summary>
    public static ActChoice? Find(Act act) => ByAct.GetValueOrDefault(act);

    private static ActChoice Of(Act act, string group, string words, params ImmutableArray<Act> needs) => new(act, group, words, needs);
}
