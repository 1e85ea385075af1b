using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.Core.Handover;

namespace DapperLantern.App.Handover;

/// <param name="CompanyKey">What it is found by, of its own name.</param>
public sealed record LockedAccount(Guid Id, Dictionary<string, string> Facts, string? CompanyKey, string? Domain);

/// <param name="AccountId">The account it is at; null for none.</param>
/// <param name="CompanyKey">What that account is found by.</param>
public sealed record LockedContact(Guid Id, Dictionary<string, string> Facts, Guid? AccountId, string? CompanyKey, string? Domain);

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
            : await db.Row<AccountFacts>($"select facts::text as facts, company_key, domain from account where id = {account} {Here:sql} {(hold ? "for update" : ""):sql}");
        var ofContact = contact is null
            ? null
            : await db.Row<ContactFacts>(
                $"""
                select c.facts::text as facts, c.account_id, a.company_key, a.domain from contact c left join account a on a.id = c.account_id
                where c.id = {contact} {Here:sql} {(hold ? "for update of c" : ""):sql}
                """
            );
        return new LockedTargets(
            ofAccount is null ? null : new LockedAccount(account!.Value, Json.Read<Dictionary<string, string>>(ofAccount.Facts), ofAccount.CompanyKey, ofAccount.Domain),
            ofContact is null
                ? null
                : new LockedContact(contact!.Value, Json.Read<Dictionary<string, string>>(ofContact.Facts), ofContact.AccountId, ofContact.CompanyKey, ofContact.Domain)
        );
    }

    // What is shown of them is seen to where it is shown.
    private static SqlText Here => RecordScope.Unscoped("a lead is laid out against what is there, whoever has it");

    private sealed record AccountFacts(string Facts, string? CompanyKey, string? Domain);

    private sealed record ContactFacts(string Facts, Guid? AccountId, string? CompanyKey, string? Domain);
}
