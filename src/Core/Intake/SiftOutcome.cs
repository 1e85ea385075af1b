using System.Collections.Immutable;

namespace DapperLantern.Core.Intake;

/// <summary>What a row of an import becomes. Every row has exactly one, so that read = the sum of the outcomes.</summary>
public static class SiftOutcome
{
    /// <summary>A new lead.</summary>
    public const string New = "new";

    /// <summary>A new lead of somebody who is a contact already.</summary>
    public const string Contact = "contact";

    /// <summary>A new lead from an account we have.</summary>
    public const string Account = "account";

    /// <summary>Adds to a lead we have.</summary>
    public const string Adds = "adds";

    /// <summary>The same person as an earlier row of the file; adds to what that row becomes.</summary>
    public const string Duplicate = "duplicate";

    /// <summary>Cannot become anything until somebody mends it.</summary>
    public const string Mend = "mend";

    /// <summary>Must not come in.</summary>
    public const string Barred = "barred";

    public static ImmutableArray<string> All { get; } = [New, Contact, Account, Adds, Duplicate, Mend, Barred];

    /// <summary>Outcomes that make a lead.</summary>
    public static ImmutableArray<string> MakeLead { get; } = [New, Contact, Account];

    /// <summary>Outcomes that add to a lead.</summary>
    public static ImmutableArray<string> AddToLead { get; } = [Adds, Duplicate];
}

/// <summary>How the rows of an import divide.</summary>
public sealed record SiftCounts(int Read, int New, int Contact, int Account, int Adds, int Duplicate, int Mend, int Barred)
{
    public static SiftCounts None { get; } = new(0, 0, 0, 0, 0, 0, 0, 0);

    /// <summary>Rows that become or add to a lead.</summary>
    public int Takeable => New + Contact + Account + Adds + Duplicate;

    /// <summary>True when every row read has an outcome.</summary>
    public bool Balances => Read == Takeable + Mend + Barred;

    /// <summary>These counts with rows of one outcome more; negative for fewer. <see cref="Read"/> follows.</summary>
    /// <exception cref="ArgumentException">There is no such outcome.</exception>
    public SiftCounts With(string outcome, int rows) =>
        (
            outcome switch
            {
                SiftOutcome.New => this with { New = New + rows },
                SiftOutcome.Contact => this with { Contact = Contact + rows },
                SiftOutcome.Account => this with { Account = Account + rows },
                SiftOutcome.Adds => this with { Adds = Adds + rows },
                SiftOutcome.Duplicate => this with { Duplicate = Duplicate + rows },
                SiftOutcome.Mend => this with { Mend = Mend + rows },
                SiftOutcome.Barred => this with { Barred = Barred + rows },
                _ => throw new ArgumentException($"no outcome \"{outcome}\"", nameof(outcome)),
            }
        ) with
        {
            Read = Read + rows,
        };
}
