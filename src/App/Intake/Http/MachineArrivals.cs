using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake.Http;

/// <summary>Who sends: the token's name, and its source.</summary>
public sealed record Sender(Guid Token, string Name, SourceRow Source);

/// <summary>Reads what other systems send and keeps it. Each item is kept once for each key its sender gives it.</summary>
public sealed class MachineArrivals(LanternDbFactory databases, Workspace workspace, ArrivalCapture capture, AdmissionGate gate, ArrivalMerger merger, TimeProvider clock)
{
    private const int LongestDetail = 500;
    private const int MostLabels = 40;
    private static readonly TimeSpan Oldest = TimeSpan.FromDays(3653);
    private static readonly TimeSpan Ahead = TimeSpan.FromMinutes(5);

    /// <param name="key">The same key sent again gives the same answer and keeps nothing.</param>
    public async Task<ItemResult> Take(Sender sender, SentLead sent, string? key, CancellationToken cancel)
    {
        var (facts, problem) = WrittenFacts.Read(new Dictionary<string, string>(sent.Facts), workspace.Catalogue);
        if ((problem ?? Check(sent, facts)) is { } wrong)
            return ItemResult.Of(wrong);
        var captured = await capture.Take(Arriving(sender, sent, facts, key), cancel);
        if (captured.OtherContent)
            return KeyUsed;
        var result = new SentResult(captured.Arrival, captured.State, captured.Outcome, captured.Reason, captured.Lead, captured.Lead is null ? null : captured.Number);
        var status =
            captured.State != SingleArrival.Taken ? 202
            : captured.Again || SiftOutcome.AddToLead.Contains(captured.Outcome) ? 200
            : 201;
        return new ItemResult(status, result);
    }

    /// <summary>Several events, in one transaction; the results stand in the order of the events.</summary>
    public async Task<IReadOnlyList<ItemResult>> Take(Sender sender, IReadOnlyList<(SentEvent Event, string? Key)> events, CancellationToken cancel)
    {
        var results = new ItemResult[events.Count];
        using var turn = await gate.Enter(cancel);
        await using var db = await databases.Open(cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await Admission.Lock(db);
        var now = clock.UtcNow();
        var keys = events.Select(e => e.Key is null ? (Guid?)null : KeyOf(sender, e.Key)).ToList();
        var kept = (
            await db.Set<SingleArrival>()
                .Where(x => keys.OfType<Guid>().ToArray().Contains(x.Key!.Value) && x.LeadId != null)
                .Select(x => new
                {
                    Key = x.Key!.Value,
                    Lead = x.LeadId!.Value,
                    x.Raw,
                })
                .ToListAsync()
        ).ToDictionary(k => k.Key, k => (k.Lead, k.Raw));
        var responses = new List<CampaignResponseRow>();
        var known = await Known(db, [.. events.Select(e => e.Event)]);
        var (additions, arrivals) = (new List<Addition>(), new List<SingleArrival>());
        for (var i = 0; i < events.Count; i++)
        {
            var sent = events[i].Event;
            if (keys[i] is { } key && kept.TryGetValue(key, out var before))
                results[i] = Json.Same(before.Raw, Json.Write(sent)) ? new ItemResult(200, Event: new EventKept(before.Lead, true)) : KeyUsed;
            else if (Check(sent, now, workspace.Catalogue) is { } wrong)
                results[i] = ItemResult.Of(wrong);
            else if (LeadOf(sent, known) is not { } lead)
                results[i] = ItemResult.Of(new Problem("lead-unknown"));
            else
            {
                results[i] = new ItemResult(201, Event: new EventKept(lead, false));
                var at = sent.At?.UtcDateTime ?? now;
                var detail = FieldReader.Clean(sent.Detail) is { Length: > 0 } said ? said : sender.Source.Name;
                var kind = sent.Kind ?? CampaignResponse.Find(sent.Response)!.EventKind;
                additions.Add(
                    new Addition(
                        lead,
                        new RecordValues(workspace.Catalogue),
                        kind is null ? null : new LeadEvent(kind, at.ToInstant(), detail, CampaignKind: KindOf(sent)),
                        $"{kind ?? sent.Response}, {detail}"
                    )
                );
                if (ResponseOf(sender, sent, lead, at) is { } response)
                    responses.Add(response);
                arrivals.Add(Raw(sender, Json.Write(sent), now, keys[i], lead));
                if (keys[i] is { } fresh)
                    kept[fresh] = (lead, Json.Write(sent));
            }
        }
        await merger.Add(db, additions, new MergeTerms(sender.Source.Key, null, now, now.ToInstant(), _ => MergePolicy.KeepOurs), cancel);
        await SingleArrival.Save(db, arrivals, cancel);
        await CampaignResponseRow.Save(db, responses, cancel);
        await transaction.CommitAsync(cancel);
        return results;
    }

    private string KindOf(SentEvent sent) => workspace.KindOfCampaign(sent.Campaign is { } campaign ? workspace.Catalogue["campaign"].ChoiceOf(campaign) : null);

    /// <summary>A person sent who waited, read again to be taken in on somebody's word.</summary>
    public async Task<NewArrival?> OfWaiting(LanternDb db, SingleArrival raw)
    {
        var from = await db.Set<SourceRow>().AsNoTracking().Where(x => x.Key == raw.Source).SingleAsync();
        var sent = Json.Read<SentLead>(raw.Raw);
        var (facts, problem) = WrittenFacts.Read(new Dictionary<string, string>(sent.Facts), workspace.Catalogue);
        return problem is null ? Arriving(new Sender(Guid.Empty, from.Name, from), sent, facts, null) with { Raw = raw } : null;
    }

    private NewArrival Arriving(Sender sender, SentLead sent, RecordValues facts, string? key)
    {
        var now = clock.UtcNow();
        var detail = FieldReader.Clean(sent.Detail) is { Length: > 0 } said ? said : sender.Source.Name;
        var raw = Raw(sender, Json.Write(sent), now, key is null ? null : KeyOf(sender, key), null);
        raw.Labels = Json.Write(sent.Labels ?? new Dictionary<string, string>());
        raw.Campaign =
            (sent.Campaign is { } c ? workspace.Catalogue["campaign"].ChoiceOf(c) : FormReader.CampaignOf(sent.Labels ?? new Dictionary<string, string>(), workspace.Catalogue))
            ?? sender.Source.Campaign;
        return new NewArrival(
            raw,
            facts,
            [new LeadEvent(sender.Source.EventKind, now.ToInstant(), detail, CampaignKind: workspace.KindOfCampaign(raw.Campaign))],
            $"Came in through {sender.Source.Name}"
        )
        {
            Consents = [.. (sent.Consents ?? []).Select(s => new ConsentSaid(s.Purpose, s.Wording, false))],
            Place = $"{sender.Source.Name}, over HTTP by {sender.Name}",
            Response = sent.Response,
        };
    }

    private static SingleArrival Raw(Sender sender, string raw, DateTime now, Guid? key, Guid? lead) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            Channel = "http",
            Source = sender.Source.Key,
            At = now,
            Raw = raw.Replace("\\u0000", "\ufffd", StringComparison.Ordinal),
            Outcome = lead is null ? "" : SiftOutcome.Adds,
            LeadId = lead,
            Key = key,
        };

    private static ItemResult KeyUsed { get; } = ItemResult.Of(new Problem("key-used"));

    private static Guid KeyOf(Sender sender, string key) => FormPost.KeyOf(sender.Token.ToString(), key, []);

    private Problem? Check(SentLead sent, RecordValues facts)
    {
        if (sent.Campaign is { } campaign && workspace.Catalogue["campaign"].ChoiceOf(campaign) is null)
            return new Problem("campaign-unknown", "campaign", campaign);
        if (sent.Response is not null && CampaignResponse.Find(sent.Response) is not { IsTheirs: true })
            return new Problem("response-unknown", "response", sent.Response);
        if ((sent.Consents ?? []).FirstOrDefault(c => workspace.ConsentPurposes.All(p => p.Key != c.Purpose)) is { } consent)
            return new Problem("purpose-unknown", "consents", consent.Purpose);
        if ((sent.Consents ?? []).Any(c => c.Wording.Trim().Length == 0))
            return new Problem("consent-without-words", "consents");
        if (sent.Labels?.Count > MostLabels || sent.Labels?.Any(l => l.Value.Length > FormReader.LongestLabel) == true || sent.Detail?.Length > LongestDetail)
            return new Problem("text-too-long", "labels");
        return RowReader.WhyUnfit(facts);
    }

    private CampaignResponseRow? ResponseOf(Sender sender, SentEvent sent, Guid lead, DateTime at) =>
        sent.Campaign is null || workspace.Catalogue["campaign"].ChoiceOf(sent.Campaign) is not { } campaign
            ? null
            : new CampaignResponseRow
            {
                Id = Guid.CreateVersion7(),
                CampaignKey = campaign,
                LeadId = lead,
                Response = sent.Response ?? workspace.UsualResponse(campaign),
                Known = true,
                At = at,
                Detail = $"{sender.Source.Name}, over HTTP by {sender.Name}",
            };

    private static Problem? Check(SentEvent sent, DateTime now, FieldCatalogue catalogue)
    {
        if (sent.Campaign is { } campaign && catalogue["campaign"].ChoiceOf(campaign) is null)
            return new Problem("campaign-unknown", "campaign", campaign);
        if (sent.Response is not null && (sent.Campaign is null || CampaignResponse.Find(sent.Response) is null))
            return new Problem("response-unfit", "response");
        if (sent.Kind is null)
            return sent.Response is null ? new Problem("kind-missing", "kind") : CheckRest(sent, now);
        if (CampaignResponse.Find(sent.Response) is { IsTheirs: false })
            return Problem.Of("response-not-theirs", "kind", sent.Response);
        if (sent.Kind.Length is 0 or > 60 || sent.Kind.Any(c => c is not ((>= 'a' and <= 'z') or (>= '0' and <= '9') or '.' or '_')))
            return new Problem("kind-unreadable", "kind");
        return CheckRest(sent, now);
    }

    private static Problem? CheckRest(SentEvent sent, DateTime now)
    {
        if (sent.At is { } at && (at.UtcDateTime > now + Ahead || at.UtcDateTime < now - Oldest))
            return new Problem("event-moment-range", "at");
        return sent.Detail?.Length > LongestDetail ? Problem.Of("too-long", "detail", LongestDetail) : null;
    }

    private static async Task<Dictionary<string, Guid>> Known(LanternDb db, IReadOnlyList<SentEvent> events)
    {
        var ids = events.Select(e => e.Lead).OfType<Guid>().Distinct().ToArray();
        var emails = events.Select(e => Mail(e)).OfType<string>().Distinct().ToArray();
        var phones = events.Select(e => e.Phone?.Trim()).OfType<string>().Distinct().ToArray();
        var found = await db.Rows<FoundLead>(
            $"""
            select k as key, l.id from unnest({ids}) i join lead l on l.id = i cross join lateral (select i::text as k) x
            union all select k, l.id from unnest({emails}) k cross join lateral (select id from lead where email = k order by (state = 'handed_over'), last_touch_at desc limit 1) l
            union all select k, l.id from unnest({phones}) k cross join lateral (select id from lead where phone = k order by (state = 'handed_over'), last_touch_at desc limit 1) l
            """
        );
        return found.ToDictionary(f => f.Key, f => f.Id);
    }

    private static string? Mail(SentEvent sent) => sent.Email?.Trim().ToLowerInvariant();

    private static Guid? LeadOf(SentEvent sent, Dictionary<string, Guid> known) =>
        new[] { sent.Lead?.ToString(), Mail(sent), sent.Phone?.Trim() }
            .OfType<string>()
            .Select(k => known.TryGetValue(k, out var id) ? id : (Guid?)null)
            .FirstOrDefault(id => id is not null);

    private sealed record FoundLead(string Key, Guid Id);
}
