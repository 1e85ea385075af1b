using DapperLantern.App.Data;
using DapperLantern.Core.Handover;

namespace DapperLantern.App.Handover;

/// <param name="CompanyKey">What it is found by, of its own name.</param>
public sealed record LockedAccount(Dictionary<string, string> Facts, string? CompanyKey, string? Domain);

/// <param name="AccountId">The account it is at; null for none.</param>
/// <param name="CompanyKey">What that account is found by.</param>
public sealed record LockedContact(Dictionary<string, string> Facts, Guid? AccountId, string? CompanyKey, string? Domain);

/// <summary>The account and contact a lead is laid out against, as they stand; null where none is meant, or it is gone.</summary>
public sealed record LockedTargets(LockedAccount? Account, LockedContact? Contact)
{
    public static LockedTargets None { get; } = new(null, null);

    /// <summary>Their facts, to lay a lead out against.</summary>
    public HandoverTargets Targets => new(Contact?.Facts, Account?.Facts);

    /// <param name="hold">True to lock them, which requires a transaction; the account first.</param>
    public static async Task<LockedTargets> Read(LanternDb db, Guid? account, Guid? contact, bool hold)
    {
        if (account is null && contact is null)
            return None;
        var ofAccount = account is null
            ? null
            : await db.Row<AccountFacts>($"select facts::text as facts, company_key, domain from account where id = {account} {(hold ? "for update" : ""):sql}");
        var ofContact = contact is null
            ? null
            : await db.Row<ContactFacts>(
                $"""
                select c.facts::text as facts, c.account_id, a.company_key, a.domain from contact c left join account a on a.id = c.account_id
                where c.id = {contact} {(hold ? "for update of c" : ""):sql}
                """
            );
        return new LockedTargets(
            ofAccount is null ? null : new LockedAccount(Json.Read<Dictionary<string, string>>(ofAccount.Facts), ofAccount.CompanyKey, ofAccount.Domain),
            ofContact is null ? null : new LockedContact(Json.Read<Dictionary<string, string>>(ofContact.Facts), ofContact.AccountId, ofContact.CompanyKey, ofContact.Domain)
        );
    }

    private sealed record AccountFacts(string Facts, string? CompanyKey, string? Domain);

    private sealed record ContactFacts(string Facts, Guid? AccountId, string? CompanyKey, string? Domain);
}
