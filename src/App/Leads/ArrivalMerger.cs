using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Leads;

/// <summary>Something that came in about a lead we have.</summary>
/// <param name="Happened">What the lead did; null for what was done to it.</param>
/// <param name="Words">The line of the story, without what it added.</param>
/// <param name="Acting">By whom it came in; null for who acts now.</param>
/// <param name="Asks">True where the person came by themselves, and waits for an answer.</param>
public sealed record Addition(Guid Lead, RecordValues Facts, LeadEvent? Happened, string Words, Acting? Acting = null, bool Asks = false);

/// <summary>How additions come together with what is known.</summary>
/// <param name="From">Key of the source, for the provenance of what is written.</param>
/// <param name="SaidAt">When the additions were true.</param>
/// <param name="Entry">The responses to a campaign that were recorded by hand at once; null for what came in.</param>
public sealed record MergeTerms(string From, Guid? Import, DateTime Now, NodaTime.Instant SaidAt, Func<string, MergePolicy> PolicyOf, Guid? Entry = null);

/// <summary>One change as it is kept for taking back: stored values, empty for unknown; and the provenance before, null for the lead's own.</summary>
public sealed record KeptChange(string Field, string Before, string After, Provenance? From = null);

/// <summary>Adds arrivals to leads we have, many at once: facts by their policies, event, story, and the scores that follow, with a fixed number of statements.</summary>
public sealed class ArrivalMerger(Workspace workspace)
{
    /// <summary>Adds in order; several may concern one lead. Requires an open transaction and <see cref="Admission.Lock"/>. Gives what each changed.</summary>
    public async Task<List<List<KeptChange>>> Add(LanternDb db, IReadOnlyList<Addition> additions, MergeTerms terms, CancellationToken cancel)
    {
        var leads = await LeadStore.LoadMany(db, [.. additions.Select(a => a.Lead).Distinct()], workspace.Catalogue, terms.Now);
        var events = await LeadStore.EventsOf(db, [.. leads.Keys]);
        var kept = new List<List<KeptChange>>(additions.Count);
        var batch = new AdmissionBatch();
        foreach (var addition in additions)
        {
            var changes = leads.TryGetValue(addition.Lead, out var known) ? Merge(known, addition, terms) : [];
            kept.Add(changes);
            if (known is null)
                continue;
            if (addition.Happened is { } happened)
                (events.TryGetValue(addition.Lead, out var list) ? list : events[addition.Lead] = []).Add(happened);
            batch.AddTo(addition, terms, [.. changes.Select(c => c.Field)]);
        }
        await Rescore(db, leads.Values, events, terms.Now);
        await LeadBulkUpdate.Write(db, [.. leads.Values]);
        await batch.Write(db, cancel);
        return kept;
    }

    /// <summary>What an addition would change, without changing anything.</summary>
    public static IEnumerable<FactChange> Preview(KnownLead known, RecordValues incoming, MergeTerms terms) =>
        known.Facts.Text("state") == LeadState.HandedOver
            ? []
            : FactMerger.Changes(
                known.Facts,
                incoming,
                field => PolicyOf(known, field, terms),
                terms.SaidAt,
                field => known.Provenance.TryGetValue(field, out var from) ? from.At.ToInstant() : known.CreatedAt.ToInstant()
            );

    // What the directory filled gives way to what somebody says.
    private static MergePolicy PolicyOf(KnownLead known, string field, MergeTerms terms) =>
        terms.PolicyOf(field) is var policy && policy == MergePolicy.FillBlanks && known.Provenance.TryGetValue(field, out var from) && from.From == CompanyDirectory.From
            ? MergePolicy.TakeTheirs
            : policy;

    private static List<KeptChange> Merge(KnownLead known, Addition addition, MergeTerms terms)
    {
        var changes = Preview(known, addition.Facts, terms).ToList();
        foreach (var (field, _, after) in changes)
            known.Facts[field.Ordinal] = after;
        var kept = changes.Select(c => new KeptChange(c.Field.Key, c.Before.ToString(), c.After.ToString(), known.Provenance.GetValueOrDefault(c.Field.Key))).ToList();
        foreach (var (field, _, _) in changes)
            known.Provenance[field.Key] = new Provenance(terms.From, terms.SaidAt.ToUtc());
        known.Changed |= changes.Count > 0;
        return kept;
    }

    /// <summary>Computes the scores of leads from their facts and events at a moment.</summary>
    public async Task Rescore(LanternDb db, IEnumerable<KnownLead> leads, Dictionary<Guid, List<LeadEvent>> events, DateTime now)
    {
        var live = await workspace.Model(db);
        foreach (var lead in leads)
        {
            IReadOnlyList<LeadEvent> known = events.TryGetValue(lead.Id, out var list) ? list : [];
            lead.Scores = live.Score(lead.Facts, known, now);
        }
    }
}
