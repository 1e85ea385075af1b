using DapperLantern.Core.Routing;

namespace DapperLantern.Core.Handing;

/// <summary>The places of a rule sheet that name a person.</summary>
public static class SheetNames
{
    /// <summary>Names of the rules that send leads to a person, at first or where nobody else can take them.</summary>
    /// <param name="signIn">Sign-in name.</param>
    public static IReadOnlyList<string> Of(RuleSheet sheet, string signIn) => [.. sheet.Rules.Where(r => Names(r.To, signIn)).Select(r => r.Name)];

    /// <summary>The sheet with somebody else in each of these places.</summary>
    /// <param name="to">A person or a team; what else a rule asks (skills, language) stays.</param>
    public static RuleSheet With(RuleSheet sheet, string signIn, RuleOutcome to) =>
        sheet with
        {
            Rules = [.. sheet.Rules.Select(r => Names(r.To, signIn) ? r with { To = With(r.To, signIn, to) } : r)],
        };

    private static bool Names(RuleOutcome outcome, string signIn) => outcome.Person == signIn || (outcome.Else is { } other && Names(other, signIn));

    private static RuleOutcome With(RuleOutcome outcome, string signIn, RuleOutcome to) =>
        outcome with
        {
            Person = outcome.Person == signIn ? to.Person : outcome.Person,
            Team = outcome.Person == signIn ? to.Team : outcome.Team,
            Else = outcome.Else is { } other ? With(other, signIn, to) : null,
        };
}
