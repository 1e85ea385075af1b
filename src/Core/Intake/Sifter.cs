using DapperLantern.Core.Matching;

namespace DapperLantern.Core.Intake;

/// <summary>What a row may turn out to be.</summary>
public enum KnownKind : byte
{
    Lead,
    EarlierRow,
    Contact,
}

/// <summary>Somebody we have, who shares a mail address or telephone with a row.</summary>
/// <param name="Row">For an earlier row of the file, its number; else 0.</param>
/// <param name="Name">For people: "1204 Ragna Sollid", "row 12".</param>
public sealed record KnownPerson(KnownKind Kind, Guid Id, int Row, string Name, Identity Identity);

/// <summary>What a row would become, and why.</summary>
/// <param name="Reason">For people; empty for a plain new lead.</param>
/// <param name="Known">The lead, earlier row or contact found; null when none was.</param>
public sealed record Verdict(string Outcome, string Reason, KnownPerson? Known = null);

/// <summary>Decides what a row becomes, from what was read and who is known. Pure; the same input gives the same verdict.</summary>
public static class Sifter
{
    /// <param name="barred">Why this person must not come in; null when nothing bars them.</param>
    /// <param name="known">Those who share an address or number with the row, oldest first.</param>
    /// <param name="account">Name of the account the row's company is; null when it is none of ours.</param>
    public static Verdict Decide(RowReading row, Identity identity, string? barred, IReadOnlyList<KnownPerson> known, string? account, bool asideUnread)
    {
        // Too little for a lead may be enough to know one by: who answered a campaign often comes as a bare mail address.
        if (row.Unfit is { } unfit && (barred is not null || Same(known, KnownKind.Lead, identity) is null))
            return new Verdict(SiftOutcome.Mend, unfit.Words);
        if (barred is not null)
            return new Verdict(SiftOutcome.Barred, barred);
        if (asideUnread && row.Problems.Length > 0)
            return new Verdict(SiftOutcome.Mend, string.Join(' ', row.Problems.Select(p => p.Words)));
        if (known.Count == 0)
            return account is null ? Plain : OfAccount(account);

        if (Same(known, KnownKind.Lead, identity) is var (lead, why))
            return new Verdict(SiftOutcome.Adds, $"Already lead {lead.Name}: {why}.", lead);
        if (Same(known, KnownKind.EarlierRow, identity) is var (earlier, alike))
            return new Verdict(SiftOutcome.Twin, $"The same person as {earlier.Name}: {alike}.", earlier);
        if (Same(known, KnownKind.Contact, identity) is var (contact, evidence))
            return new Verdict(SiftOutcome.Contact, $"A new lead of the contact {contact.Name}: {evidence}.", contact);
        var doubt = Doubt(known, identity);
        return account is null ? new Verdict(SiftOutcome.New, doubt) : new Verdict(SiftOutcome.Account, $"{OfAccount(account).Reason} {doubt}".TrimEnd());
    }

    private static Verdict Plain { get; } = new(SiftOutcome.New, "");

    private static Verdict OfAccount(string account) => new(SiftOutcome.Account, $"A new lead from the account {account}.");

    private static (KnownPerson Known, string Why)? Same(IReadOnlyList<KnownPerson> known, KnownKind kind, Identity identity)
    {
        foreach (var person in known)
            if (person.Kind == kind && Matcher.Compare(identity, person.Identity) is { Same: true } match)
                return (person, string.Join(", ", match.Evidence.Select(e => e.Words)));
        return null;
    }

    private static string Doubt(IReadOnlyList<KnownPerson> known, Identity identity)
    {
        foreach (var person in known)
            if (Matcher.Compare(identity, person.Identity) is { Twin: true } match)
                return $"May be the same as {(person.Kind == KnownKind.Lead ? "lead " : "")}{person.Name}: {string.Join(", ", match.Evidence.Select(e => e.Words))}.";
        return "";
    }
}
