using System.Collections.Immutable;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Routing;

/// <summary>Somebody who already owns what the lead belongs to, with the words for it: "owns the account Fjordnær Laks".</summary>
/// <param name="Kind">The guard it answers to; see <see cref="Guard"/>.</param>
public sealed record ExistingOwner(Guid Rep, string Kind, string Words);

/// <summary>A lead to be decided on.</summary>
/// <param name="Lead">Its values, scores included.</param>
public sealed record RoutingAsk(RecordValues Lead, Instant Now)
{
    /// <summary>One of <see cref="RoutingMoment"/>.</summary>
    public string Moment { get; init; } = RoutingMoment.Arrival;

    public IReadOnlyList<ExistingOwner> Standing { get; init; } = [];

    /// <summary>Who has it now; null for nobody.</summary>
    public Guid? Owner { get; init; }

    /// <summary>Who gave it back, or let its time run out, and is not to get it again; null for nobody.</summary>
    public Guid? NotAgain { get; init; }
}

/// <summary>Reps and rotations as they are at a moment.</summary>
public sealed class RoutingState(Dictionary<Guid, Rep> reps, IReadOnlyDictionary<string, Team> teams)
{
    private readonly Dictionary<string, Guid> _bySignIn = reps.Values.GroupBy(r => r.SignIn).ToDictionary(g => g.Key, g => g.First().Id);

    public IReadOnlyDictionary<Guid, Rep> Reps { get; } = reps;

    /// <summary>By key, with the rotations of those who serve a country; see <see cref="Team.ServingPrefix"/>.</summary>
    public IReadOnlyDictionary<string, Team> Teams { get; } = teams;

    public Rep? BySignIn(string name) => _bySignIn.TryGetValue(name, out var id) ? Find(id) : null;

    /// <summary>Somebody, or null when they are not known.</summary>
    public Rep? Find(Guid rep) => reps.TryGetValue(rep, out var found) ? found : null;
}

public enum TraceKind : byte
{
    Guard,
    Rule,
    Candidate,
    Outcome,
}

/// <summary>A step of a decision as it was taken; <see cref="Router.Explain"/> puts it into words.</summary>
/// <param name="Rule">Place of the rule in the sheet; -1 for none.</param>
internal readonly record struct TraceStep(TraceKind Kind, int Rule = -1, Rep? Rep = null, PassOver Why = PassOver.No, string Words = "", Team? Team = null);

/// <summary>One line of the reasons. <see cref="Hit"/> marks the line that decided.</summary>
/// <param name="Rep">The person it is about; null where it is about none.</param>
public sealed record TraceLine(string Words, bool Hit = false, TraceKind Kind = TraceKind.Outcome, Guid? Rep = null);

/// <summary>A routing result: the last step of its trace is why.</summary>
/// <param name="Owner">The rep, or null when the lead waits for the coordinator.</param>
/// <param name="Rule">Key of the rule that held; null when a guard decided or none held.</param>
/// <param name="AnswerWithin">Working time until it must be answered; null without an owner.</param>
/// <param name="Team">The team whose turn was taken, with its rotation afterwards; null when no turn was taken.</param>
public sealed record RoutingDecision(Guid? Owner, string? Rule, Duration? AnswerWithin, Team? Team)
{
    /// <summary>True where it stays with whom it was.</summary>
    public bool Kept { get; init; }

    /// <summary>Subject of the first task.</summary>
    public string Task { get; init; } = "";

    /// <summary>True where that task is to stand before the others.</summary>
    public bool Urgent { get; init; }

    public string Message { get; init; } = "";

    internal ImmutableArray<TraceStep> Steps { get; init; } = [];
}
