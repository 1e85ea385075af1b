using System.Collections.Immutable;
using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>Points that halve together.</summary>
/// <param name="Points">Their sum at the moment the decay is of; may be negative.</param>
/// <param name="HalfLifeDays">Over 0.</param>
public readonly record struct DecayTerm(double Points, double HalfLifeDays)
{
    public double After(double days) => Points * Math.Pow(2, -days / HalfLifeDays);
}

/// <summary>
/// What is left of everything a lead did, from which its engagement follows at every later moment until it does something more. Exponentials with
/// one half-life add up to one, so there is one decay term for each half-life, however many events there were:
/// sum(t) = terms(t) + silence from its day on, engagement(t) = <see cref="Saturation.Of"/>(sum(t)).
/// </summary>
/// <param name="Knee">See <see cref="ScoringModel.SaturatesFrom"/>.</param>
/// <param name="SilencePoints">What silence gives, usually negative.</param>
/// <param name="At">Days since 1970 began (UTC), with fractions.</param>
/// <param name="SilentAt">The day on which silence begins unless something happens, counted like <paramref name="At"/>; positive infinity for never.</param>
public sealed record EngagementDecay(double Knee, double SilencePoints, double At, double SilentAt, ImmutableArray<DecayTerm> Terms)
{
    /// <summary>Of a lead that never did anything.</summary>
    public static EngagementDecay None { get; } = new(50, 0, 0, double.PositiveInfinity, []);

    /// <summary>True when the engagement is 0 and stays so by itself.</summary>
    public bool IsOut => Terms.Sum(e => Math.Max(0, e.Points)) + Math.Max(0, SilencePoints) < Saturation.Inverse(0.5, Knee);

    public static double DayOf(Instant moment) => moment.ToUnixTimeTicks() / (double)NodaConstants.TicksPerDay;

    // To the microsecond above. A day this far from 1970 is known to a third of one, so that the next may be the first at which what was asked for holds.
    private static Instant MomentOf(double day, Func<double, bool> holds)
    {
        var microsecond = Duration.FromTicks(10);
        var moment = NodaConstants.UnixEpoch + Duration.FromTicks(Math.Ceiling(day * NodaConstants.TicksPerDay / 10) * 10);
        for (var i = 0; i < 4 && !holds(DayOf(moment)); i++)
            moment += microsecond;
        return moment;
    }

    /// <summary>The sum of points on a day not before <see cref="At"/>.</summary>
    public double Sum(double day)
    {
        var sum = day >= SilentAt ? SilencePoints : 0;
        // From the last to the first, as the database does.
        for (var i = Terms.Length - 1; i >= 0; i--)
            sum = Terms[i].After(day - At) + sum;
        return sum;
    }

    /// <summary>Engagement, 0 to 100, at a moment not before <see cref="At"/>.</summary>
    public int Score(Instant moment) => Saturation.Whole(Saturation.Of(Sum(DayOf(moment)), Knee));

    /// <summary>The same decay as it is at a later moment.</summary>
    public EngagementDecay Later(Instant moment)
    {
        var day = DayOf(moment);
        return this with { At = day, Terms = [.. Terms.Select(e => e with { Points = e.After(day - At) })] };
    }

    /// <summary>The first moment after one at which the engagement is under a score if nothing happens; null when it is under it already, or never will be.</summary>
    public Instant? FallsUnder(int score, Instant from) => score <= 0 || Score(from) < score ? null : Crossing(from, score, falling: true);

    /// <summary>The first moment after one at which the engagement has reached a score by itself, as when what counts against it wears off; null when it has already, or never will.</summary>
    public Instant? Reaches(int score, Instant from) => Score(from) >= score ? null : Crossing(from, score, falling: false);

    // The sum changes at most by ln 2 / half-life of what is left of each term a day. So from a distance d to the level there is no crossing sooner than d
    // over that speed, and the way can be gone in such steps without missing one. At the end it is halved down to the microsecond.
    private Instant? Crossing(Instant from, int score, bool falling)
    {
        var level = Saturation.Inverse(score - 0.5, Knee);
        bool Crossed(double day) => Saturation.Whole(Saturation.Of(Sum(day), Knee)) < score == falling;
        var (day, end) = (DayOf(from), End(level));
        while (day < end)
        {
            var speed = Terms.Sum(e => Math.Abs(e.After(day - At)) * Math.Log(2) / e.HalfLifeDays);
            var step = Math.Max(Math.Abs(Sum(day) - level) / Math.Max(speed, 1e-12), 1.0 / 1440);
            var next = day < SilentAt ? Math.Min(day + step, SilentAt) : day + step;
            if (Crossed(next))
                return MomentOf(Halved(day, next, Crossed), Crossed);
            day = next;
        }
        return null;
    }

    private static double Halved(double before, double after, Func<double, bool> crossed)
    {
        while (after - before > 0.25e-6 / NodaConstants.SecondsPerDay && (before + after) / 2 is var middle && middle > before && middle < after)
            if (crossed(middle))
                after = middle;
            else
                before = middle;
        return after;
    }

    // From when on what is left can no longer move the sum across a level. Before the silence there is always something to come.
    private double End(double level)
    {
        var after = double.IsPositiveInfinity(SilentAt) ? At : SilentAt;
        if (Terms.IsEmpty)
            return after + 1;
        var (most, slowest) = (Terms.Sum(e => Math.Abs(e.Points)), Terms.Max(e => e.HalfLifeDays));
        var margin = Math.Max(1e-3, Math.Min(Math.Abs(level), Math.Abs(SilencePoints - level)) / 2);
        return Math.Max(after, At) + slowest * Math.Max(1, Math.Log2(most / margin));
    }
}
