using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.Core.Intake;

namespace DapperLantern.App.Intake;

/// <summary>Where leads come from. The channel says how: list, form, mail, phone, http.</summary>
public sealed class SourceRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";
    public string Channel { get; set; } = "";

    /// <summary>The kind of event an arrival through this source is, for engagement.</summary>
    public string EventKind { get; set; } = "";
    public string? Campaign { get; set; }

    /// <summary>Offered no more; what came from it keeps it.</summary>
    public bool Retired { get; set; }

    /// <summary>Where it stands among the others, from 1; 0 for all while nobody has put them in order.</summary>
    public int Position { get; set; }

    /// <summary>Key of the source that stands for it: whatever comes from this one comes from that one.</summary>
    public string? MergedInto { get; set; }

    /// <summary>How much is thought of what it says when records merge: -1 less than of others, 0 as of others, 1 more.</summary>
    public int Trust { get; set; }
}

/// <summary>What is said once for all rows of an import.</summary>
/// <param name="Campaign">Key of a campaign; null leaves the source's own.</param>
/// <param name="Owner">A person who gets every new lead, in place of the rules.</param>
/// <param name="Team">Key of a team that gets every new lead in turn, in place of the rules.</param>
/// <param name="Consent">What the people agreed to; null when nothing is known of it.</param>
/// <param name="SaidAt">When the list was true, for "newest wins"; null for when it was dropped.</param>
/// <param name="Response">What the people did about the campaign, unless a row says otherwise; null for what its kind suggests.</param>
public sealed record ImportConstants(
    [Text(100)] string? Campaign = null,
    Guid? Owner = null,
    [Text(100)] string? Team = null,
    ConsentGiven? Consent = null,
    [Count(100, Each = 100)] IReadOnlyList<string>? Tags = null,
    DateTime? SaidAt = null,
    [Text(100)] string? Response = null
)
{
    public IReadOnlyList<string> Tags { get; init; } = Tags ?? [];
}

/// <summary>A consent as the people gave it: for what purpose, in which words, when.</summary>
public sealed record ConsentGiven([Text(100)] string Purpose, [Text(2_000)] string Wording, DateTime At);

/// <summary>How known leads take new values: a policy for all fields, and others for some, by key.</summary>
public sealed record ImportPolicies(MergePolicy All = MergePolicy.FillBlanks, [Count(1_000)] ImmutableDictionary<string, MergePolicy>? Fields = null)
{
    public MergePolicy Of(string field) => Fields is not null && Fields.TryGetValue(field, out var policy) ? policy : All;
}

/// <summary>One batch that came through a channel. The file as it came is in <see cref="ImportChunk"/>.</summary>
public class Import
{
    public const string Sifting = "sifting";
    public const string Sifted = "sifted";
    public const string Taking = "taking";
    public const string Taken = "taken";
    public const string TakingBack = "taking_back";
    public const string TakenBack = "taken_back";

    public Guid Id { get; set; }
    public string FileName { get; set; } = "";
    public long Size { get; set; }
    public string? Source { get; set; }

    /// <summary>One of the constants above. While it ends in -ing, a process works on it or will.</summary>
    public string State { get; set; } = Sifting;

    /// <summary>What stopped the work, for people; null while all is well.</summary>
    public string? Trouble { get; set; }
    public int Tries { get; set; }
    public DateTime CreatedAt { get; set; }
    public DateTime? TakenAt { get; set; }
    public DateTime? TakenBackAt { get; set; }
    public Guid PersonId { get; set; }

    /// <summary>SHA-256 of the content, to recognise the same file again.</summary>
    public byte[] ContentHash { get; set; } = [];

    /// <summary>SHA-256 of the headings, to remember how such files are matched.</summary>
    public byte[] HeadingsHash { get; set; } = [];

    /// <summary>JSON: <see cref="ListReading"/>.</summary>
    public string Reading { get; set; } = "{}";

    /// <summary>JSON: <see cref="SiftPlan"/>.</summary>
    public string Plan { get; set; } = "{}";

    /// <summary>JSON: <see cref="ImportConstants"/>.</summary>
    public string Constants { get; set; } = "{}";

    /// <summary>JSON: <see cref="ImportPolicies"/>.</summary>
    public string Policies { get; set; } = "{}";

    /// <summary>Counts up whenever the rows are to be sifted anew, so that a sifting under way notices.</summary>
    public int Epoch { get; set; }

    /// <summary>Rows mended after a taking in are taken by the next; each taking in has a number, from 1.</summary>
    public int Round { get; set; } = 1;

    /// <summary>The last row the work under way has committed.</summary>
    public int Through { get; set; }

    /// <summary>Rows the work under way has to do; 0 while not known.</summary>
    public int ToDo { get; set; }

    /// <summary>Rows the work under way has done.</summary>
    public int Done { get; set; }
    public DateTime? StartedAt { get; set; }

    /// <summary>Value of the sequence <c>people_change</c> up to which the sieve knows everybody.</summary>
    public long KnowsUpTo { get; set; }

    /// <summary>JSON: by team, by person, what taking in changed in the rotation's credits.</summary>
    public string Turns { get; set; } = "{}";

    /// <summary>True when taking back shall also undo what people edited since.</summary>
    public bool Force { get; set; }

    /// <summary>Rows that could come in when the last taking in ended; what can come in beyond them was mended since and waits.</summary>
    public int RowsTaken { get; set; }
    public int RowsRead { get; set; }
    public int RowsNew { get; set; }
    public int RowsContact { get; set; }
    public int RowsAccount { get; set; }
    public int RowsAdds { get; set; }
    public int RowsDuplicate { get; set; }
    public int RowsMend { get; set; }
    public int RowsBarred { get; set; }

    public bool AtWork => State is Sifting or Taking or TakingBack;

    /// <summary>Rows mended since the last taking in, which wait to be taken in.</summary>
    public int Waiting => State == Taken ? Counts.Takeable - RowsTaken : 0;

    public SiftCounts Counts
    {
        get => new(RowsRead, RowsNew, RowsContact, RowsAccount, RowsAdds, RowsDuplicate, RowsMend, RowsBarred);
        set =>
            (RowsRead, RowsNew, RowsContact, RowsAccount, RowsAdds, RowsDuplicate, RowsMend, RowsBarred) = (
                value.Read,
                value.New,
                value.Contact,
                value.Account,
                value.Adds,
                value.Duplicate,
                value.Mend,
                value.Barred
            );
    }
}

/// <summary>A piece of an import's file as it came.</summary>
public sealed class ImportChunk
{
    public Guid ImportId { get; set; }

    /// <summary>Order of the pieces, from 0.</summary>
    public int Position { get; set; }
    public byte[] Bytes { get; set; } = [];
}

/// <summary>One row of an import, kept as it came, with what was read from it and what it becomes.</summary>
public sealed class Arrival
{
    public Guid ImportId { get; set; }

    /// <summary>Position among the rows after the heading, from 1.</summary>
    public int RowNumber { get; set; }

    /// <summary>The cells as they came; for a row that could not be cut, its text as one cell.</summary>
    public string[] Cells { get; set; } = [];

    /// <summary>Why it could not be cut into cells; null when it could.</summary>
    public string? Broken { get; set; }

    /// <summary>JSON: field key to stored value.</summary>
    public string Values { get; set; } = "{}";

    /// <summary>JSON list of problems; null when there is none.</summary>
    public string? Problems { get; set; }

    /// <summary>One of <see cref="SiftOutcome"/>.</summary>
    public string Outcome { get; set; } = "";

    /// <summary>For people: why this outcome.</summary>
    public string Reason { get; set; } = "";

    /// <summary>For a duplicate, the earlier row of the same file.</summary>
    public int? SameAsRow { get; set; }

    /// <summary>The lead it adds to, or will be.</summary>
    public Guid? LeadId { get; set; }

    /// <summary>Comparison keys of email address and telephone; see <see cref="MatchKey"/>.</summary>
    public long? EmailKey { get; set; }
    public long? PhoneKey { get; set; }

    /// <summary>By which rows are found whose names are alike.</summary>
    public long? NameKey { get; set; }

    /// <summary>The taking in this row belongs to; see <see cref="Import.Round"/>.</summary>
    public int Round { get; set; } = 1;

    /// <summary>JSON list of what this row changed on a known lead, with what was there before, so that taking back restores it.</summary>
    public string? Changed { get; set; }

    /// <summary>Why taking back left this row's lead, or a part of it, as it is; null when it did not.</summary>
    public string? LeftBecause { get; set; }
}

/// <summary>Something put right in an import's rows; see <see cref="Mend"/>. Undone ones stay, marked.</summary>
public sealed class MendRow
{
    public long Id { get; set; }
    public Guid ImportId { get; set; }
    public int? RowNumber { get; set; }
    public string Field { get; set; } = "";
    public string Found { get; set; } = "";
    public string Put { get; set; } = "";
    public DateTime At { get; set; }
    public Guid PersonId { get; set; }
    public DateTime? UndoneAt { get; set; }
}

/// <summary>
/// A key by which rows of one import that share an address or number are found: 64 bits of FNV-1a (Fowler, Noll, Vo, 1991) over the import and
/// the text. One column alone finds them, so that no plan of the database can look elsewhere first; who shares a key is compared in full.
/// </summary>
public static class MatchKey
{
    /// <returns>Null for no text.</returns>
    public static long? Of(Guid import, string? text)
    {
        if (string.IsNullOrEmpty(text))
            return null;
        var hash = 14695981039346656037;
        Span<byte> bytes = stackalloc byte[16];
        import.TryWriteBytes(bytes);
        foreach (var part in bytes)
            hash = (hash ^ part) * 1099511628211;
        foreach (var letter in text)
            hash = (hash ^ letter) * 1099511628211;
        return (long)hash;
    }
}
