using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;

namespace DapperLantern.Core.Handover;

/// <summary>What identifies an organisation for matching, in comparison form; empty where unknown.</summary>
public sealed record Organisation(string Domain, string Name, string Country)
{
    public static Organisation Of(RecordValues lead) => new(DomainOf(lead), Folding.Company(lead.Text("company")), lead.Text("country") ?? "");

    /// <summary>The web domain is the website's, else that of a company email address; empty when there is none.</summary>
    public static string DomainOf(RecordValues lead) => lead.Text("website") ?? MailDomains.Company(lead.Text("email")) ?? "";
}

/// <summary>Compares two organisations: the web domain is strong evidence, the name without its legal form doubtful alone.</summary>
public static class AccountMatcher
{
    private static readonly MatchBars Bars = new(10, 18);

    public static MatchResult Compare(Organisation a, Organisation b) =>
        new(
            [
                .. Both("domain", a.Domain, b.Domain, $"same web domain, {a.Domain}", 18, "different web domain", -6),
                .. Both("name", a.Name, b.Name, "same name but for the legal form", 12, "different name", -2),
                .. Both("country", a.Country, b.Country, "same country", 2, "different country", -8),
            ],
            Bars
        );

    private static IEnumerable<Evidence> Both(string of, string a, string b, string same, double agree, string other, double differ)
    {
        if (a.Length == 0 || b.Length == 0)
            return [];
        return [a == b ? new Evidence(of, same, agree) : new Evidence(of, other, differ)];
    }
}
