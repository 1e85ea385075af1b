using System.Collections.Immutable;
using DapperLantern.Core.Conditions;

namespace DapperLantern.Core.Scoring;

/// <summary>A scoring model as kept in an edition: data, not code.</summary>
public sealed record ScoringModel(Bars Bars, ImmutableArray<FitCriterion> Fit, ImmutableArray<EngagementSignal> Engagement, Silence? Silence = null);

/// <summary>One question of fit. The first line that holds gives the points; while <see cref="Field"/> is unknown, none does.</summary>
/// <param name="Field">The catalogue field the criterion asks about; what is unknown is shown as a range.</param>
public sealed record FitCriterion(string Key, string Label, string Field, ImmutableArray<FitLine> Lines)
{
    /// <summary>Fewest points an answer could bring; 0 when no line holds is always possible.</summary>
    public int Least => Math.Min(0, Lines.Select(l => l.Points).DefaultIfEmpty().Min());

    /// <summary>Most points an answer could bring.</summary>
    public int Most => Math.Max(0, Lines.Select(l => l.Points).DefaultIfEmpty().Max());
}

/// <param name="Points">-100 to 100.</param>
/// <param name="Words">The reason as people read it.</param>
public sealed record FitLine(Condition When, int Points, string Words);

/// <summary>What one kind of event is worth.</summary>
/// <param name="Kind">Event kind as recorded, for instance <c>form.survey</c>.</param>
/// <param name="Points">Worth at the moment of the event.</param>
/// <param name="HalfLifeDays">Days in which the worth halves; over 0.</param>
/// <param name="Cap">Most that all events of this kind together may weigh.</param>
public sealed record EngagementSignal(string Kind, string Label, double Points, double HalfLifeDays, double Cap);

/// <summary>Points, usually negative, for a lead that was active once and has been silent for the given days.</summary>
public sealed record Silence(int Days, double Points);
