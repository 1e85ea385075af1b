using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Routing;

/// <summary>A rule sheet compiled for a catalogue. Safe to share between threads; the rotations come in with each call.</summary>
public sealed partial class Router
{
    // The rule, and whom it is given to.
    private const int UsualSteps = 2;

    private readonly RuleIndex _index;
    private readonly int _country;
    private readonly int _region;
    private readonly int _language;

    /// <exception cref="KeyNotFoundException">A rule asks a field that the catalogue does not have.</exception>
    public Router(RuleSheet sheet, FieldCatalogue catalogue)
    {
        (Sheet, Catalogue) = (sheet, catalogue);
        _index = new RuleIndex(sheet.Rules, catalogue);
        (_country, _region, _language) = (catalogue["country"].Ordinal, catalogue["region"].Ordinal, catalogue["language"].Ordinal);
    }

    /// <summary>True when a sheet can be compiled for a catalogue: all that its rules ask is there, and asked as it can be.</summary>
    public static bool CanRead(RuleSheet sheet, FieldCatalogue catalogue) => !sheet.Rules.Any(r => ConditionCheck.Check(r.When, catalogue).Any());

    public RuleSheet Sheet { get; }
    public FieldCatalogue Catalogue { get; }

    /// <summary>True when the sheet is to be asked at a moment.</summary>
    public bool AskedAt(string moment) => moment == RoutingMoment.Arrival || Sheet.Moments.Contains(moment);

    /// <summary>Place of the first rule that holds at a moment; -1 when none does.</summary>
    /// <exception cref="InvalidOperationException">The lead is a record of another catalogue.</exception>
    public int FirstRule(RecordValues lead, string moment, Instant now)
    {
        lead.Of(Catalogue);
        for (var rule = _index.First(lead, now); ; rule = _index.First(lead, now, rule))
            if (rule < 0 || Sheet.Rules[rule].HoldsAt(moment))
                return rule;
    }

    /// <summary>Decides for one lead: standing owners first, then the rules in order. The same input always gives the same answer.</summary>
    public RoutingDecision Decide(RoutingAsk ask, RoutingState state)
    {
        var steps = ImmutableArray.CreateBuilder<TraceStep>(UsualSteps);
        // Who has a lead and works it is not asked away by what else one owns.
        if (ask.Owner is null || ask.Moment is RoutingMoment.Handover or RoutingMoment.GivenBack)
            if (Guarded(ask, state, steps) is { } owner)
                return Given(owner, null, null, steps);
        var at = FirstRule(ask.Lead, ask.Moment, ask.Now);
        if (at < 0)
        {
            if (RoutingMoment.Stays(ask.Moment) && ask.Owner is not null)
                return PreserveOwner(null, ask, state, steps);
            steps.Add(new TraceStep(TraceKind.Outcome, Words: "No rule fits, so it waits on the Desk."));
            return Waits(null, steps);
        }
        steps.Add(new TraceStep(TraceKind.Rule, at));
        return Follow(Sheet.Rules[at], Sheet.Rules[at].To, ask, state, steps);
    }

    /// <summary>Gives a lead to a named person, or to a team in turn, in place of the rules; the words say who decided that.</summary>
    public RoutingDecision Assign(string words, Guid? person, string? team, RoutingState state)
    {
        var steps = ImmutableArray.CreateBuilder<TraceStep>();
        steps.Add(new TraceStep(TraceKind.Rule, Words: words + "."));
        if (person is { } id && state.Reps.TryGetValue(id, out var rep))
            return ToPerson(rep, LeadNeeds.None, state, steps) is { } taker ? Given(taker, null, null, steps) : Waits(null, steps);
        if (team is not null && state.Teams.TryGetValue(team, out var found))
            return InTurn(found, LeadNeeds.None, state, steps) is var (pick, after) && pick is { } next ? Given(next, null, after, steps) : Waits(null, steps);
        steps.Add(new TraceStep(TraceKind.Outcome, Words: "Who is named no longer exists. It waits on the Desk."));
        return Waits(null, steps);
    }

    private Guid? Guarded(RoutingAsk ask, RoutingState state, ImmutableArray<TraceStep>.Builder steps)
    {
        if (ask.Standing.Count == 0)
            return null;
        foreach (var guard in Sheet.Guards)
        foreach (var standing in ask.Standing)
            if (guard.On && standing.Kind == guard.Kind && Standing(guard, standing, ask, state, steps) is { } taker)
                return taker;
        return null;
    }

    private static Guid? Standing(Guard guard, ExistingOwner standing, RoutingAsk ask, RoutingState state, ImmutableArray<TraceStep>.Builder steps)
    {
        if (!state.Reps.TryGetValue(standing.Rep, out var rep))
            return null;
        var why =
            !rep.Here ? PassOver.Gone
            : rep.Id == ask.NotAgain ? PassOver.HadIt
            : rep.Away && TooLong(guard, rep, ask.Now) ? PassOver.Away
            : PassOver.No;
        steps.Add(new TraceStep(TraceKind.Guard, Rep: rep, Why: why, Words: standing.Words));
        return why == PassOver.No ? rep.Id
            : why == PassOver.Away ? StandIn(rep, LeadNeeds.None with { NotAgain = ask.NotAgain }, state, steps)
            : null;
    }

    private static bool TooLong(Guard guard, Rep rep, Instant now) => guard.AwayDays is { } days && (rep.AwayUntil is not { } until || until - now > Duration.FromDays(days));

    private RoutingDecision Follow(Rule rule, RuleOutcome to, RoutingAsk ask, RoutingState state, ImmutableArray<TraceStep>.Builder steps)
    {
        for (var outcome = to; outcome is not null; outcome = outcome.Else)
        {
            if (outcome.Hold is { } reason)
            {
                steps.Add(new TraceStep(TraceKind.Outcome, Words: $"Held for the coordinator: {reason}. It waits on the Desk."));
                return Waits(rule, steps);
            }
            if (outcome.Keep)
                return PreserveOwner(rule, ask, state, steps);
            var (taker, team) = Take(outcome, ask, state, steps);
            if (taker is { } owner)
                return Given(owner, rule, team, steps);
        }
        if (RoutingMoment.Stays(ask.Moment) && ask.Owner is not null)
            return PreserveOwner(rule, ask, state, steps);
        steps.Add(new TraceStep(TraceKind.Outcome, Words: "Nobody else is named, so it waits on the Desk."));
        return Waits(rule, steps);
    }

    private (Guid? Taker, Team? Team) Take(RuleOutcome outcome, RoutingAsk ask, RoutingState state, ImmutableArray<TraceStep>.Builder steps)
    {
        var needs = new LeadNeeds(outcome.Speaking ? ask.Lead[_language].Text : null, outcome.Skills, null, null, false, ask.NotAgain);
        if (outcome.Person is { } name)
            return (state.BySignIn(name) is { } person ? ToPerson(person, needs, state, steps) : Missing(name, steps), null);
        if (outcome.Team is { } key)
            return state.Teams.TryGetValue(key, out var team) ? InTurn(team, needs with { InHours = team.OnlyInHours }, state, steps) : (Missing(key, steps), null);
        if (!outcome.Serving)
            return default;
        if (ask.Lead[_country].Text is not { } country)
        {
            steps.Add(new TraceStep(TraceKind.Outcome, Words: "Its country is not known, so nobody can be said to serve it."));
            return default;
        }
        if (!state.Teams.TryGetValue(Team.ServingPrefix + country, out var serving))
        {
            steps.Add(new TraceStep(TraceKind.Outcome, Words: $"Nobody serves {Countries.NameOf(country) ?? country}."));
            return default;
        }
        return InTurn(serving, needs with { Country = country, Region = ask.Lead[_region].Text }, state, steps);
    }

    private static Guid? Missing(string named, ImmutableArray<TraceStep>.Builder steps)
    {
        steps.Add(new TraceStep(TraceKind.Outcome, Words: $"\u201c{named}\u201d is no longer here."));
        return null;
    }

    private RoutingDecision PreserveOwner(Rule? rule, RoutingAsk ask, RoutingState state, ImmutableArray<TraceStep>.Builder steps)
    {
        var owner = ask.Owner is { } id && id != ask.NotAgain ? state.Find(id) : null;
        steps.Add(
            new TraceStep(
                TraceKind.Outcome,
                Rep: owner,
                Words: owner is null ? "It is to stay with whom it is, and it is with nobody. It waits on the Desk." : $"It stays with {owner.Name}."
            )
        );
        return Waits(rule, steps) with { Owner = owner?.Id, Kept = owner is not null };
    }

    private static Guid? ToPerson(Rep person, LeadNeeds needs, RoutingState state, ImmutableArray<TraceStep>.Builder steps)
    {
        var why = needs.RefusesNamed(person);
        steps.Add(new TraceStep(why == PassOver.No ? TraceKind.Outcome : TraceKind.Candidate, Rep: person, Why: why));
        return why == PassOver.No ? person.Id
            : why is PassOver.Away or PassOver.Gone ? StandIn(person, needs, state, steps)
            : null;
    }

    // From one who is away to who stands in, and so on; a circle ends where it closes.
    private static Guid? StandIn(Rep away, LeadNeeds needs, RoutingState state, ImmutableArray<TraceStep>.Builder steps)
    {
        var seen = new HashSet<Guid> { away.Id };
        for (var rep = away; rep.StandIn is { } id && seen.Add(id) && state.Reps.TryGetValue(id, out var next); rep = next)
        {
            var why = needs.RefusesNamed(next);
            steps.Add(new TraceStep(TraceKind.Candidate, Rep: next, Why: why, Words: $"stands in for {rep.Name}"));
            if (why == PassOver.No)
                return next.Id;
            if (why != PassOver.Away)
                return null;
        }
        return null;
    }

    private static (Guid? Pick, Team? After) InTurn(Team team, LeadNeeds needs, RoutingState state, ImmutableArray<TraceStep>.Builder steps)
    {
        Span<bool> there = team.Turns.Length <= Turns.Few ? stackalloc bool[team.Turns.Length] : new bool[team.Turns.Length];
        for (var i = 0; i < there.Length; i++)
        {
            var rep = state.Find(team.Turns[i].Rep);
            var why = needs.Refuses(rep);
            there[i] = why == PassOver.No;
            if (rep is not null && why != PassOver.No)
                steps.Add(new TraceStep(TraceKind.Candidate, Rep: rep, Why: why, Team: team));
        }
        var (pick, after) = Turns.Next(team.Turns, there);
        steps.Add(new TraceStep(TraceKind.Outcome, Rep: pick is { } id ? state.Find(id) : null, Team: team));
        return pick is null ? default : (pick, team with { Turns = after });
    }

    private RoutingDecision Given(Guid owner, Rule? rule, Team? team, ImmutableArray<TraceStep>.Builder steps) =>
        new(owner, rule?.Key, Duration.FromMinutes(rule?.AnswerWithinMinutes ?? Sheet.AnswerWithinMinutes), team)
        {
            Task = rule is { Task.Length: > 0 } ? rule.Task : Sheet.Task,
            Urgent = rule is { Urgent: true },
            Message = rule?.Message ?? "",
            Steps = steps.DrainToImmutable(),
        };

    private static RoutingDecision Waits(Rule? rule, ImmutableArray<TraceStep>.Builder steps) => new(null, rule?.Key, null, null) { Steps = steps.DrainToImmutable() };
}
