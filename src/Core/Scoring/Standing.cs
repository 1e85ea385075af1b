using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>Where a lead stands by a model: what is kept with it, and until when that holds if nothing happens.</summary>
/// <param name="Engagement">At the moment it was computed; <see cref="Glow"/> gives it later.</param>
/// <param name="Band">Engagement in steps of <see cref="BandWidth"/>, by which many leads are found at once: 0 to 20.</param>
/// <param name="MoveUntil">When engagement falls under its bar; null when it is under, or never falls.</param>
/// <param name="LookAgain">When band or next move change by themselves; null for never.</param>
public sealed record Standing(FitRange Fit, int Engagement, Glow Glow, int Band, Cleared Cleared, Instant? MoveUntil, Instant? LookAgain)
{
    public const int BandWidth = 5;

    public string Move => Cleared.Move;

    /// <param name="before">What was cleared up to now; neither for a lead that is new.</param>
    public static Standing Of(FitRange fit, Glow glow, Cleared before, Bars bars, Instant now)
    {
        var engagement = glow.Score(now);
        var cleared = before.Next(fit.Score, engagement, bars);
        var band = engagement / BandWidth;
        if (glow.IsOut)
            return new Standing(fit, engagement, Glow.None, band, cleared, null, null);
        var falls = cleared.Engagement ? glow.FallsUnder(LetGo(bars), now) : null;
        var soonest = Soonest(falls, glow.FallsUnder(band * BandWidth, now));
        // Only where something counts against a lead can its engagement rise by itself.
        if (glow.Embers.Any(e => e.Points < 0) || (glow.SilencePoints > 0 && double.IsFinite(glow.SilentAt)))
            soonest = Soonest(Soonest(soonest, glow.Reaches((band + 1) * BandWidth, now)), cleared.Engagement ? null : glow.Reaches(bars.Engagement, now));
        return new Standing(fit, engagement, glow, band, cleared, falls, soonest);
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
