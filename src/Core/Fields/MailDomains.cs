using System.Collections.Frozen;

namespace DapperLantern.Core.Fields;

/// <summary>The domain behind an email address, where it says something about the employer.</summary>
public static class MailDomains
{
    private static readonly FrozenSet<string> Free = EmbeddedTable.Lines("free-mail.tsv").ToFrozenSet();

    /// <summary>The domain of an address, or null when it is a free-mail provider's or there is none.</summary>
    public static string? Company(string? email)
    {
        var at = email?.LastIndexOf('@') ?? -1;
        var domain = at < 0 ? null : email![(at + 1)..].ToLowerInvariant();
        return domain is null || Free.Contains(domain) ? null : domain;
    }
}
