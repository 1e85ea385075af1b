using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;

namespace DapperLantern.Core.Handover;

/// <summary>What identifies an organisation for matching, in comparison form; empty where unknown.</summary>
public sealed record Organisation(string Domain, string Name, string Country)
{
    public static Organisation Of(RecordValues lead) => new(DomainOf(lead), Folding.Company(lead.Text("company")), lead.Text("country") ?? "");

    /// <summary>The web domain is the website's, else that of a company mail address; empty when there is none.</summary>
    public static string DomainOf(RecordValues lead) => lead.Text("website") ?? MailDomains.Company(lead.Text("email")) ?? "";
}

/// <summary>Compares two organisations: the web domain is strong evidence, the name without its legal form doubtful alone.</summary>
public static class AccountMatcher
{
    public static MatchResult Compare(Organisation a, Organisation b) =>
        new([
            .. Both(a.Domain, b.Domain, $"same web domain, {a.Domain}", 90, "different web domain", -30),
            .. Both(a.Name, b.Name, "same name but for the legal form", 60, "different name", -10),
            .. Both(a.Country, b.Country, "same country", 10, "different country", -40),
        ]);

    private static IEnumerable<Evidence> Both(string a, string b, string same, int agree, string other, int differ)
    {
        if (a.Length == 0 || b.Length == 0)
            return [];
        return [a == b ? new Evidence(same, agree) : new Evidence(other, differ)];
    }
}
