using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Routing;

/// <summary>A rep as routing sees one at a moment.</summary>
/// <param name="Open">Open leads the rep has now.</param>
/// <param name="Capacity">Most open leads; at or over it the rep is full.</param>
public sealed record Rep(Guid Id, string SignIn, string Name, bool Away, int Open, int Capacity)
{
    public bool Full => Open >= Capacity;
    public bool Available => !Away && !Full;
}

/// <summary>A team with its rotation.</summary>
public sealed record Team(string Key, string Name, ImmutableArray<Turn> Turns);

/// <summary>Somebody who already owns what the lead belongs to, with the words for it: "owns the account Fjordnær Laks".</summary>
public sealed record StandingOwner(Guid Rep, string Words);

/// <summary>One line of the reasons. <see cref="Hit"/> marks the line that decided.</summary>
public sealed record TraceLine(string Words, bool Hit = false);

/// <summary>A routing result: its last line is why.</summary>
/// <param name="Owner">The rep, or null when the lead waits for the coordinator.</param>
/// <param name="Rule">Key of the rule that held; null when a guard decided or none held.</param>
/// <param name="AnswerWithin">Working time until it must be answered; null without an owner.</param>
/// <param name="Team">The team whose turn was taken, with its rotation afterwards; null when no turn was taken.</param>
public sealed record RoutingDecision(Guid? Owner, string? Rule, Duration? AnswerWithin, Team? Team, ImmutableArray<TraceLine> Trace);

/// <summary>A rule sheet compiled for a catalogue. Safe to share between threads; the rotations come in with each call.</summary>
public sealed class Router(RuleSheet sheet, FieldCatalogue catalogue)
{
    private readonly Predicate[] _compiled = [.. sheet.Rules.Select(r => ConditionPredicate.Compile(r.When, catalogue))];

    private readonly Func<RecordValues, Instant, string?>[] _failures = [.. sheet.Rules.Select(r => ConditionWords.FirstFailure(r.When, catalogue))];

    public RuleSheet Sheet { get; } = sheet;

    /// <summary>Decides for one lead: standing owners first, then the rules in order. The same input always gives the same answer.</summary>
    public RoutingDecision Route(RecordValues lead, IReadOnlyDictionary<Guid, Rep> reps, IReadOnlyDictionary<string, Team> teams, StandingOwner? standing, Instant now)
    {
        var trace = ImmutableArray.CreateBuilder<TraceLine>();
        if (standing is not null && TakeStanding(standing, reps, trace) is { } owner)
            return new RoutingDecision(owner, null, Answer(null), null, trace.ToImmutable());

        for (var i = 0; i < _compiled.Length; i++)
        {
            var rule = Sheet.Rules[i];
            if (!_compiled[i](lead, now))
            {
                trace.Add(new TraceLine($"Rule {i + 1}, {rule.Name}: {_failures[i](lead, now)}"));
                continue;
            }
            return Apply(rule, i, reps, teams, trace);
        }
        trace.Add(new TraceLine("No rule fits, so it waits on the Desk.", true));
        return new RoutingDecision(null, null, null, null, trace.ToImmutable());
    }

    /// <summary>Gives a lead to a named person, or to a team in turn, in place of the rules; the words say who decided that.</summary>
    public RoutingDecision Assign(string words, Guid? person, string? team, IReadOnlyDictionary<Guid, Rep> reps, IReadOnlyDictionary<string, Team> teams)
    {
        var trace = ImmutableArray.CreateBuilder<TraceLine>();
        if (person is { } id && reps.TryGetValue(id, out var rep))
            return ToPerson(null, rep, words, trace);
        if (team is not null && teams.TryGetValue(team, out var found))
            return InTurn(null, found, words, reps, trace);
        trace.Add(new TraceLine($"{words}, but who is named no longer exists. It waits on the Desk.", true));
        return new RoutingDecision(null, null, null, null, trace.ToImmutable());
    }

    private static Guid? TakeStanding(StandingOwner standing, IReadOnlyDictionary<Guid, Rep> reps, ImmutableArray<TraceLine>.Builder trace)
    {
        if (!reps.TryGetValue(standing.Rep, out var rep))
            return null;
        if (rep.Away)
        {
            trace.Add(new TraceLine($"{rep.Name} {standing.Words}, but is away."));
            return null;
        }
        trace.Add(new TraceLine($"{rep.Name} {standing.Words}.", true));
        return rep.Id;
    }

    private RoutingDecision Apply(Rule rule, int at, IReadOnlyDictionary<Guid, Rep> reps, IReadOnlyDictionary<string, Team> teams, ImmutableArray<TraceLine>.Builder trace)
    {
        var fits = $"Rule {at + 1}, {rule.Name}, fits";
        if (rule.To.Person is { } signIn && reps.Values.FirstOrDefault(r => r.SignIn == signIn) is { } person)
            return ToPerson(rule, person, fits, trace);
        if (rule.To.Team is { } key && teams.TryGetValue(key, out var team))
            return InTurn(rule, team, fits, reps, trace);
        trace.Add(new TraceLine($"{fits}: {rule.To.Hold ?? "its person or team no longer exists"}. It waits on the Desk.", true));
        return new RoutingDecision(null, rule.Key, null, null, trace.ToImmutable());
    }

    private RoutingDecision ToPerson(Rule? rule, Rep person, string fits, ImmutableArray<TraceLine>.Builder trace)
    {
        if (person.Away)
        {
            trace.Add(new TraceLine($"{fits}, but {person.Name} is away. It waits on the Desk.", true));
            return new RoutingDecision(null, rule?.Key, null, null, trace.ToImmutable());
        }
        trace.Add(new TraceLine($"{fits}: to {person.Name}.", true));
        return new RoutingDecision(person.Id, rule?.Key, Answer(rule), null, trace.ToImmutable());
    }

    private RoutingDecision InTurn(Rule? rule, Team team, string fits, IReadOnlyDictionary<Guid, Rep> reps, ImmutableArray<TraceLine>.Builder trace)
    {
        foreach (var turn in team.Turns)
            if (reps.TryGetValue(turn.Rep, out var member) && !member.Available)
                trace.Add(
                    new TraceLine(member.Away ? $"{member.Name} is away and is passed over." : $"{member.Name} has {member.Open} of {member.Capacity} leads and is passed over.")
                );
        var (pick, after) = Turns.Next(team.Turns, id => reps.TryGetValue(id, out var r) && r.Available);
        if (pick is not { } id)
        {
            trace.Add(new TraceLine($"{fits}, but nobody in {team.Name} is available. It waits on the Desk.", true));
            return new RoutingDecision(null, rule?.Key, null, null, trace.ToImmutable());
        }
        trace.Add(new TraceLine($"{fits}: {team.Name} in turn, and it is {reps[id].Name}'s turn.", true));
        return new RoutingDecision(id, rule?.Key, Answer(rule), team with { Turns = after }, trace.ToImmutable());
    }

    private Duration Answer(Rule? rule) => Duration.FromMinutes(rule?.AnswerWithinMinutes ?? Sheet.AnswerWithinMinutes);
}
