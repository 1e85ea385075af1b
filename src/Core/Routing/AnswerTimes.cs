namespace DapperLantern.Core.Routing;

/// <summary>How soon some leads were answered.</summary>
/// <param name="Leads">Whose clock ran.</param>
/// <param name="Answered">Of those, answered up to now.</param>
/// <param name="Kept">Of those whose time is over or who were answered, the share answered in time; null when there are none.</param>
/// <param name="Median">Minutes of work until the answer; null when none was answered.</param>
/// <param name="NinetiethPercentile">Nine in ten were answered within so many minutes of work.</param>
public sealed record AnswerTimes(int Leads, int Answered, double? Kept, int? Median, int? NinetiethPercentile)
{
    /// <param name="leads">Minutes of work until each was answered, null while it is not; and whether that was in time, null while its time still runs.</param>
    public static AnswerTimes Of(IEnumerable<(double? Minutes, bool? InTime)> leads)
    {
        var all = leads.ToList();
        var minutes = all.Where(l => l.Minutes is not null).Select(l => l.Minutes!.Value).Order().ToList();
        var over = all.Where(l => l.InTime is not null).ToList();
        return new AnswerTimes(all.Count, minutes.Count, over.Count == 0 ? null : over.Count(l => l.InTime == true) / (double)over.Count, At(minutes, 0.5), At(minutes, 0.9));
    }

    // The least of the times that the share of them does not exceed (nearest rank).
    private static int? At(List<double> sorted, double share) => sorted.Count == 0 ? null : (int)Math.Round(sorted[Math.Max(0, (int)Math.Ceiling(share * sorted.Count) - 1)]);
}
