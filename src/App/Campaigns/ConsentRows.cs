using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Campaigns;

/// <summary>One word about what may be done with a person's data: given or withdrawn, for a purpose, when, in which words. The latest for a purpose holds.</summary>
public sealed class ConsentRow
{
    public const string Given = "given";
    public const string Withdrawn = "withdrawn";

    /// <summary>Agreed to on a form, and to be confirmed by email before it holds.</summary>
    public const string ToConfirm = "asked";

    public Guid Id { get; set; }
    public Guid? LeadId { get; set; }

    /// <summary>See <see cref="PersonHash"/>; stays when the lead goes.</summary>
    public byte[] PersonHash { get; set; } = [];

    /// <summary>The hash's first eight bytes, by which it is looked up.</summary>
    public long PersonKey { get; set; }

    /// <summary>Key of a purpose in the value list "consent-purposes".</summary>
    public string Purpose { get; set; } = "";
    public string State { get; set; } = Given;
    public DateTime At { get; set; }

    /// <summary>The words agreed to.</summary>
    public string Wording { get; set; } = "";

    /// <summary>Where it was said, for people.</summary>
    public string Place { get; set; } = "";
    public Guid? ImportId { get; set; }

    /// <summary>What the link in the mail names, for a consent to be confirmed; null for others.</summary>
    public Guid? Ask { get; set; }

    private static readonly BulkTable<ConsentRow> Table = new BulkTable<ConsentRow>("consent")
        .Uuid("id", c => c.Id)
        .Uuid("lead_id", c => c.LeadId)
        .Bytes("person_hash", c => c.PersonHash)
        .Long("person_key", c => c.PersonKey)
        .Text("purpose", c => c.Purpose)
        .Text("state", c => c.State)
        .Moment("at", c => c.At)
        .Text("wording", c => c.Wording)
        .Text("place", c => c.Place)
        .Uuid("import_id", c => c.ImportId)
        .Uuid("ask", c => c.Ask);

    /// <summary>The same, to be confirmed first.</summary>
    public ConsentRow Asked(Guid? ask)
    {
        (State, Ask) = (ToConfirm, ask);
        return this;
    }

    /// <summary>What a lead agreed to, once for each address and number it is known by.</summary>
    public static IEnumerable<ConsentRow> GivenBy(
        PersonHash hashes,
        Guid lead,
        RecordValues facts,
        string purpose,
        DateTime at,
        string wording,
        string place,
        Guid? import = null
    ) =>
        new[] { facts.Text("email"), facts.Text("phone"), facts.Text("mobile") }
            .OfType<string>()
            .Distinct()
            .Select(hashes.Of)
            .Select(hash => new ConsentRow
            {
                Id = Guid.CreateVersion7(),
                LeadId = lead,
                PersonHash = hash,
                PersonKey = Data.PersonHash.KeyOf(hash),
                Purpose = purpose,
                At = at,
                Wording = wording,
                Place = place,
                ImportId = import,
            });

    /// <summary>The same as a word that ends it.</summary>
    public ConsentRow AsWithdrawn()
    {
        State = Withdrawn;
        return this;
    }

    /// <summary>Ends what a person agreed to, for every address and number of the leads known by the one given, and says so in their stories.</summary>
    /// <returns>The leads concerned, whose scores follow.</returns>
    internal static async Task<IReadOnlyList<Guid>> Withdraw(LanternDb db, byte[] person, string[] purposes, string place, DateTime at)
    {
        var key = Data.PersonHash.KeyOf(person);
        var ended = await db.Rows<ConsentOfLead>(
            $"""
            with person as (select distinct lead_id from consent where person_key = {key} and person_hash = {person} and lead_id is not null)
            insert into consent (id, lead_id, person_hash, person_key, purpose, state, at, wording, place)
            select gen_random_uuid(), lead_id, person_hash, person_key, purpose, 'withdrawn', {at}, '', {place}
            from (select distinct on (person_hash, purpose) * from consent where purpose = any({purposes}) and state <> 'asked'
              and ((person_key = {key} and person_hash = {person}) or lead_id in (select lead_id from person)) order by person_hash, purpose, at desc) c
            where state = 'given' returning lead_id, purpose
            """
        );
        var leads = await Tell(db, ended, Withdrawn, "Withdrew consent");
        foreach (var (lead, said) in leads)
            await db.Insert(
                new LeadEventRow
                {
                    Id = Guid.CreateVersion7(),
                    LeadId = lead,
                    Kind = Core.Scoring.LeadEvent.Withdrew,
                    At = at,
                    Detail = string.Join(", ", said),
                }
            );
        return [.. leads.Keys];
    }

    /// <summary>Says in the stories of leads which consents were given or withdrawn.</summary>
    /// <param name="how">See <see cref="ConsentChanged"/>.</param>
    /// <returns>The purposes of each lead, in order.</returns>
    internal static async Task<Dictionary<Guid, string[]>> Tell(LanternDb db, IEnumerable<ConsentOfLead> consents, string state, string how)
    {
        var told = consents
            .Where(c => c.LeadId is not null)
            .GroupBy(c => c.LeadId!.Value, c => c.Purpose)
            .ToDictionary(g => g.Key, g => g.Distinct().Order(StringComparer.Ordinal).ToArray());
        await db.Log(EventLog.Lead, [.. told.Select(t => (t.Key, (Happening)new ConsentChanged(state, how, t.Value)))]);
        return told;
    }

    /// <summary>Keeps consents within the caller's transaction.</summary>
    public static Task Save(LanternDb db, IEnumerable<ConsentRow> consents, CancellationToken cancel) => Table.Write(db, consents, cancel);
}

/// <summary>A consent that was just written: whose, and for what.</summary>
internal sealed record ConsentOfLead(Guid? LeadId, string Purpose);

/// <summary>A person or domain that must not come in. Kept as a hash, so that it outlives the person's data.</summary>
public sealed class BarredRow
{
    public const string Person = "person";
    public const string Domain = "domain";

    public Guid Id { get; set; }
    public string Kind { get; set; } = "";
    public byte[] Hash { get; set; } = [];

    /// <summary>The hash's first eight bytes, by which it is looked up.</summary>
    public long HashKey { get; set; }

    /// <summary>do_not_contact, competitor or blocked.</summary>
    public string Why { get; set; } = "";

    /// <summary>The domain in clear; null for a person.</summary>
    public string? Shown { get; set; }
    public DateTime At { get; set; }

    /// <summary>What is hashed for a domain and the ones above it: a barred domain bars those under it, too. Nothing for no domain.</summary>
    public static IEnumerable<string> DomainAndAbove(string domain)
    {
        for (; domain.Contains('.', StringComparison.Ordinal); domain = domain[(domain.IndexOf('.', StringComparison.Ordinal) + 1)..])
            yield return $"domain:{domain}";
    }

    /// <summary>Bars a person by normalised email address or telephone number, or a domain.</summary>
    public static BarredRow Of(PersonHash hashes, string kind, string value, string why, DateTime at)
    {
        var hash = hashes.Of(kind == Domain ? $"domain:{value}" : value);
        return new()
        {
            Id = Guid.CreateVersion7(),
            Kind = kind,
            Hash = hash,
            HashKey = PersonHash.KeyOf(hash),
            Why = why,
            Shown = kind == Domain ? value : null,
            At = at,
        };
    }
}

/// <summary>A tag of the managed vocabulary.</summary>
public sealed class TagRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";

    /// <summary>One of the convention's groups; empty for one from before there were any.</summary>
    public string GroupName { get; set; } = "";

    /// <summary>A name of the palette.</summary>
    public string Colour { get; set; } = "slate";

    /// <summary>Who answers for it; null for one that came with the workspace.</summary>
    public Guid? OwnerId { get; set; }

    /// <summary>Cannot be given any more; who has it keeps it.</summary>
    public bool Retired { get; set; }

    /// <summary>The tag that stands for this one; null for most.</summary>
    public string? MergedInto { get; set; }
}

/// <summary>A lead's tag, with the import that brought it.</summary>
public sealed class LeadTagRow
{
    public Guid LeadId { get; set; }
    public string TagKey { get; set; } = "";
    public Guid? ImportId { get; set; }
}
