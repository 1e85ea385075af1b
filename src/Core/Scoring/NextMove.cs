using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Scoring;

/// <summary>What the two scores together advise.</summary>
public static class NextMove
{
    public const string HandOver = "hand_over";
    public const string Nurture = "nurture";
    public const string Check = "check";
    public const string Park = "park";

    public static ImmutableArray<Choice> Choices { get; } = [new(HandOver, "Hand over"), new(Nurture, "Nurture"), new(Check, "Check"), new(Park, "Park")];

    /// <summary>A score at its bar clears it.</summary>
    public static string For(int fit, int engagement, Bars bars) =>
        (fit >= bars.Fit, engagement >= bars.Engagement) switch
        {
            (true, true) => HandOver,
            (true, false) => Nurture,
            (false, true) => Check,
            _ => Park,
        };
}

/// <summary>The thresholds of the two scores, each 0 to 100.</summary>
public sealed record Bars(int Fit, int Engagement);
