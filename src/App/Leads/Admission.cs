using DapperLantern.App.Data;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.App.Leads;

/// <summary>Somebody who is to become a lead.</summary>
/// <param name="Facts">Catalogue values; source and campaign are set from the arguments beside it.</param>
/// <param name="Events">What the lead did, the arrival itself included.</param>
/// <param name="CameIn">The first line of the story.</param>
/// <param name="Acting">By whom it came in; null for who acts now.</param>
public sealed record Newcomer(
    Guid Id,
    RecordValues Facts,
    string Source,
    string? Campaign,
    Guid? Import,
    DateTime At,
    IReadOnlyList<LeadEvent> Events,
    string CameIn,
    Acting? Acting = null
);

/// <summary>What holds for a batch of newcomers beside themselves.</summary>
/// <param name="Owner">A person who gets them all, in place of the rules.</param>
/// <param name="Team">Key of a team that gets them in turn, in place of the rules.</param>
/// <param name="Words">Why, where owner or team is given.</param>
/// <param name="Quiet">True when the new owners are not told of each lead by itself.</param>
public sealed record AdmissionTerms(Guid? Owner = null, string? Team = null, string Words = "", bool Quiet = false)
{
    public static AdmissionTerms Usual { get; } = new();
}

/// <summary>A newcomer with its scores.</summary>
public sealed record Scored(Newcomer Newcomer, LeadRow Row);

/// <summary>
/// The one way in. Scores and routes newcomers and writes lead, events, story, routing reasons, first task, turns and outbox with set
/// operations in the caller's transaction: all of it commits together or not at all.
/// </summary>
public sealed class Admission(Workspace workspace, CompanyDirectory directory)
{
    /// <summary>Key of the transaction lock that lets one admission match and write at a time, so that two cannot make the same person twice.</summary>
    public const long LockKey = 0x4C414E5445524E;

    public static Task Lock(LanternDb db) => db.LockUntilEnd(LockKey);

    /// <summary>Scores and admits a batch, in order. Requires an open transaction and <see cref="Lock"/>.</summary>
    public async Task Admit(LanternDb db, IReadOnlyList<Newcomer> newcomers, RoutingContext desk, CancellationToken cancel) =>
        await Admit(db, await Score(db, newcomers), desk, AdmissionTerms.Usual, cancel);

    /// <summary>Scores newcomers by the live model. Needs no lock, so that it can be done ahead.</summary>
    public async Task<List<Scored>> Score(LanternDb db, IEnumerable<Newcomer> newcomers)
    {
        var scoring = new Scoring(await workspace.Model(db), directory);
        return [.. newcomers.Select(n => new Scored(n, scoring.Of(n)))];
    }

    /// <summary>Routes and writes scored newcomers, in order. Requires an open transaction and <see cref="Lock"/>.</summary>
    /// <returns>The sequence <c>people_change</c> before and after, by which others see that people came in.</returns>
    public async Task<(long Before, long After)> Admit(LanternDb db, IReadOnlyList<Scored> newcomers, RoutingContext desk, AdmissionTerms terms, CancellationToken cancel)
    {
        var rules = await workspace.Rules(db);
        await desk.Standing.Find(db, [.. newcomers.Select(n => ExistingOwnerKeys.Of(n.Row.Facts))]);
        var batch = new AdmissionBatch();
        foreach (var (newcomer, row) in newcomers)
        {
            Route(batch, row, Decide(row, rules, desk, terms), rules, desk, terms.Quiet);
            batch.Add(newcomer, row);
        }
        await batch.Write(db, cancel);
        var (before, after) = await db.One<Change>($"select last_value as before, nextval('people_change') as after from people_change");
        return (before, after);
    }

    private static RoutingDecision Decide(LeadRow row, LiveRules rules, RoutingContext desk, AdmissionTerms terms) =>
        terms.Owner is null && terms.Team is null
            ? rules.Router.Decide(new RoutingAsk(row.Facts, row.CreatedAt.ToInstant()) { Standing = desk.Standing.For(ExistingOwnerKeys.Of(row.Facts)) }, desk.State)
            : rules.Router.Assign(terms.Words, terms.Owner, terms.Team, desk.State);

    // Scores newcomers; a batch that came in by one and the same event has its engagement computed once.
    private sealed class Scoring(LiveModel live, CompanyDirectory directory)
    {
        private (IReadOnlyList<LeadEvent> Events, DateTime At, EngagementDecay Decay)? _last;

        public LeadRow Of(Newcomer newcomer)
        {
            var (facts, now) = (newcomer.Facts, newcomer.At.ToInstant());
            var filled = directory.Fill(facts);
            facts["source"] = FieldValue.Of(newcomer.Source);
            facts["campaign"] = FieldValue.Of(newcomer.Campaign);
            facts["state"] = FieldValue.Of("new");
            facts["created_at"] = FieldValue.Of(now);
            facts["last_touch_at"] = FieldValue.Of(now);
            var standing = LeadScoreState.Of(live.Fit.Measure(facts, now), DecayOf(newcomer), default, live.Model.Bars, now);
            facts["fit"] = FieldValue.Of(standing.Fit.Score);
            facts["engagement"] = FieldValue.Of(standing.Engagement);
            facts["next_move"] = FieldValue.Of(standing.Move);
            return new LeadRow(newcomer.Id, facts)
            {
                Source = newcomer.Source,
                Campaign = newcomer.Campaign,
                ImportId = newcomer.Import,
                Scores = new StoredScores(standing, live.Edition, Signs.Of(newcomer.Events), newcomer.At),
                Provenance = filled.Count == 0 ? "{}" : Json.Write(filled.ToDictionary(k => k, _ => new Provenance(CompanyDirectory.From, newcomer.At))),
                CreatedAt = newcomer.At,
            };
        }

        private EngagementDecay DecayOf(Newcomer newcomer)
        {
            if (_last is not { } last || !ReferenceEquals(last.Events, newcomer.Events) || last.At != newcomer.At)
                _last = last = (newcomer.Events, newcomer.At, live.Engagement.At(newcomer.Events, newcomer.At.ToInstant()));
            return last.Decay;
        }
    }

    private static void Route(AdmissionBatch batch, LeadRow row, RoutingDecision decision, LiveRules rules, RoutingContext desk, bool quiet)
    {
        if (decision.Owner is { } owner)
        {
            row.OwnerId = owner;
            row.ClockStartedAt = row.CreatedAt;
            row.ClockDueAt = row.NextStepAt = desk.DueAt(owner, row.CreatedAt, decision.AnswerWithin!.Value);
            batch.Add(
                new TaskRow
                {
                    Id = Guid.CreateVersion7(),
                    LeadId = row.Id,
                    OwnerId = owner,
                    Subject = decision.Task,
                    Urgent = decision.Urgent,
                    DueAt = row.ClockDueAt.Value,
                }
            );
            if (!quiet)
                batch.Add(Message(row, owner, decision.Message));
        }
        desk.Taken(decision, row.Organisation);
        batch.Add(
            new RoutingDecisionRow
            {
                Id = Guid.CreateVersion7(),
                LeadId = row.Id,
                At = row.CreatedAt,
                Edition = rules.Edition,
                Rule = decision.Rule,
                OwnerId = decision.Owner,
                Trace = Json.Write(rules.Router.Explain(decision, row.Facts)),
                Asked = rules.Snapshot(row.Facts),
            }
        );
    }

    private static OutboxRow Message(LeadRow row, Guid owner, string message) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            Kind = NoticeWords.OneKind,
            PersonId = owner,
            LeadId = row.Id,
            Subject = NoticeWords.NewLead(LeadRecord.NameOf(row.Facts)),
            Text = NoticeWords.GivenText(row.ClockDueAt, message),
            CreatedAt = row.CreatedAt,
        };

    private sealed record Change(long Before, long After);
}
