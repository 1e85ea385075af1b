namespace DapperLantern.Core.Qualifying;

/// <summary>How sure we are of one of the four questions.</summary>
public enum Certainty
{
    Unknown,
    Weak,
    Confirmed,
}

/// <summary>One of the four questions, with a line of evidence.</summary>
public sealed record Finding(Certainty Certainty, string Evidence)
{
    public static Finding Unknown { get; } = new(Certainty.Unknown, "");
}

/// <summary>Need, budget, authority and timing of a lead.</summary>
public sealed record Qualification(Finding Need, Finding Budget, Finding Authority, Finding Timing)
{
    public static Qualification Unknown { get; } = new(Finding.Unknown, Finding.Unknown, Finding.Unknown, Finding.Unknown);

    /// <summary>
    /// What still stands between the lead and "qualified": the need must be confirmed, at least two of the other three known.
    /// Empty when the threshold is met.
    /// </summary>
    public IEnumerable<string> Missing()
    {
        if (Need.Certainty != Certainty.Confirmed)
            yield return "The need is not confirmed.";
        var known = new[] { Budget, Authority, Timing }.Count(f => f.Certainty != Certainty.Unknown);
        if (known < 2)
            yield return $"Of budget, authority and timing, two must be known; {known} {(known == 1 ? "is" : "are")}.";
    }
}
