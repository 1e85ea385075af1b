using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>Where a lead stands by a model: what is kept with it, and until when that holds if nothing happens.</summary>
/// <param name="Engagement">At the moment it was computed; <see cref="Decay"/> gives it later.</param>
/// <param name="Band">Engagement in steps of <see cref="BandWidth"/>, by which many leads are found at once: 0 to 20.</param>
/// <param name="MoveUntil">When engagement falls under its bar; null when it is under, or never falls.</param>
/// <param name="LookAgain">When band or next move change by themselves; null for never.</param>
public sealed record LeadScoreState(FitRange Fit, int Engagement, EngagementDecay Decay, int Band, Cleared Cleared, Instant? MoveUntil, Instant? LookAgain)
{
    public const int BandWidth = 5;

    public string Move => Cleared.Move;

    /// <param name="before">What was cleared up to now; neither for a lead that is new.</param>
    public static LeadScoreState Of(FitRange fit, EngagementDecay decay, Cleared before, Bars bars, Instant now)
    {
        var engagement = decay.Score(now);
        var cleared = before.Next(fit.Score, engagement, bars);
        var band = engagement / BandWidth;
        if (decay.IsOut)
            return new LeadScoreState(fit, engagement, EngagementDecay.None, band, cleared, null, null);
        var falls = cleared.Engagement ? decay.FallsUnder(LetGo(bars), now) : null;
        var soonest = Soonest(falls, decay.FallsUnder(band * BandWidth, now));
        // Only where something counts against a lead can its engagement rise by itself.
        if (decay.Terms.Any(e => e.Points < 0) || (decay.SilencePoints > 0 && double.IsFinite(decay.SilentAt)))
            soonest = Soonest(Soonest(soonest, decay.Reaches((band + 1) * BandWidth, now)), cleared.Engagement ? null : decay.Reaches(bars.Engagement, now));
        return new LeadScoreState(fit, engagement, decay, band, cleared, falls, soonest);
    }

    // The score under which a cleared engagement has fallen.
    private static int LetGo(Bars bars)
    {
        var least = bars.Engagement;
        while (least > 0 && new Cleared(false, true).Next(0, least - 1, bars).Engagement)
            least--;
        return least;
    }

    private static Instant? Soonest(Instant? a, Instant? b) =>
        a is null ? b
        : b is null || a < b ? a
        : b;
}
