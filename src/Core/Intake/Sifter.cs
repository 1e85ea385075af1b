using DapperLantern.Core.Matching;

namespace DapperLantern.Core.Intake;

/// <summary>What a row may turn out to be.</summary>
public enum KnownKind : byte
{
    Lead,
    EarlierRow,
    Contact,
}

/// <summary>Somebody we have, who shares an email address or telephone with a row.</summary>
/// <param name="Row">For an earlier row of the file, its number; else 0.</param>
/// <param name="Name">For people: "1204 Ragna Sollid", "row 12".</param>
public sealed record KnownPerson(KnownKind Kind, Guid Id, int Row, string Name, Identity Identity);

/// <summary>What a row would become, and why.</summary>
/// <param name="Reason">For people; empty for a plain new lead.</param>
/// <param name="Known">The lead, earlier row or contact found; null when none was.</param>
public sealed record SiftVerdict(string Outcome, string Reason, KnownPerson? Known = null);

/// <summary>Decides what a row becomes, from what was read and who is known. Pure; the same input gives the same verdict.</summary>
public static class Sifter
{
    /// <param name="barred">Why this person must not come in; null when nothing bars them.</param>
    /// <param name="known">Those who share an address or number with the row, oldest first.</param>
    /// <param name="account">Name of the account the row's company is; null when it is none of ours.</param>
    public static SiftVerdict Decide(RowReading row, Identity identity, string? barred, IReadOnlyList<KnownPerson> known, string? account, bool asideUnread, Matcher matcher)
    {
        var matches = known.Count == 0 ? [] : Weigh(known, identity, matcher);
        // Too little for a lead may be enough to know one by: who answered a campaign often comes as a bare email address.
        if (row.Unfit is { } unfit && (barred is not null || Same(matches, KnownKind.Lead) is null))
            return new SiftVerdict(SiftOutcome.Mend, unfit.Words);
        if (barred is not null)
            return new SiftVerdict(SiftOutcome.Barred, barred);
        if (asideUnread && row.Problems.Length > 0)
            return new SiftVerdict(SiftOutcome.Mend, string.Join(' ', row.Problems.Select(p => p.Words)));
        if (known.Count == 0)
            return account is null ? Plain : OfAccount(account);

        if (Same(matches, KnownKind.Lead) is var (lead, why))
            return new SiftVerdict(SiftOutcome.Adds, $"Already lead {lead.Name}: {why}.", lead);
        if (Same(matches, KnownKind.EarlierRow) is var (earlier, alike))
            return new SiftVerdict(SiftOutcome.Duplicate, $"The same person as {earlier.Name}: {alike}.", earlier);
        if (Same(matches, KnownKind.Contact) is var (contact, evidence))
            return new SiftVerdict(SiftOutcome.Contact, $"A new lead of the contact {contact.Name}: {evidence}.", contact);
        var doubt = Words(Doubt(matches));
        return account is null ? new SiftVerdict(SiftOutcome.New, doubt) : new SiftVerdict(SiftOutcome.Account, $"{OfAccount(account).Reason} {doubt}".TrimEnd());
    }

    private static SiftVerdict Plain { get; } = new(SiftOutcome.New, "");

    private static SiftVerdict OfAccount(string account) => new(SiftOutcome.Account, $"A new lead from the account {account}.");

    private static (KnownPerson Person, MatchResult Match)[] Weigh(IReadOnlyList<KnownPerson> known, Identity identity, Matcher matcher)
    {
        // Most who share a number or a company are somebody else: words are only made for who may be the same.
        var matches = new List<(KnownPerson, MatchResult)>();
        foreach (var person in known)
            if (matcher.Weigh(identity, person.Identity) >= matcher.Bars.Ask)
                matches.Add((person, matcher.Compare(identity, person.Identity)));
        return [.. matches];
    }

    // The one with most evidence; of equals the one known longest.
    private static (KnownPerson Known, string Why)? Same((KnownPerson Person, MatchResult Match)[] matches, KnownKind kind)
    {
        var best = -1;
        for (var i = 0; i < matches.Length; i++)
            if (matches[i].Person.Kind == kind && matches[i].Match.Same && (best < 0 || matches[i].Match.Bits > matches[best].Match.Bits))
                best = i;
        return best < 0 ? null : (matches[best].Person, matches[best].Match.Words);
    }

    private static (KnownPerson Person, MatchResult Match)? Doubt((KnownPerson Person, MatchResult Match)[] matches) =>
        matches.Where(m => m.Match.Duplicate).OrderByDescending(m => m.Match.Bits).Select(m => ((KnownPerson, MatchResult)?)m).FirstOrDefault();

    private static string Words((KnownPerson Person, MatchResult Match)? doubt) =>
        doubt is var (person, match) ? $"May be the same as {(person.Kind == KnownKind.Lead ? "lead " : "")}{person.Name}: {match.Words}." : "";
}
