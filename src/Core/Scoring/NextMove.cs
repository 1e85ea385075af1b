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

    public static ImmutableArray<Choice> Choices { get; } = Named(MoveNames.Usual);

    /// <summary>The four with an workspace's own names.</summary>
    public static ImmutableArray<Choice> Named(MoveNames names) => [new(HandOver, names.HandOver), new(Nurture, names.Nurture), new(Check, names.Check), new(Park, names.Park)];
}

/// <summary>The thresholds of the two scores, each 0 to 100.</summary>
/// <param name="Slack">
/// So many points a lead that cleared a bar may fall below it before it has fallen under it, so that nobody flickers; 0 to 30. Who has not cleared it must reach
/// the bar itself.
/// </param>
public sealed record Bars(int Fit, int Engagement, int Slack = 5);

/// <summary>Which of the two bars a lead has cleared. Depends on what it had cleared before: see <see cref="Bars.Slack"/>.</summary>
public readonly record struct Cleared(bool Fit, bool Engagement)
{
    public string Move =>
        (Fit, Engagement) switch
        {
            (true, true) => NextMove.HandOver,
            (true, false) => NextMove.Nurture,
            (false, true) => NextMove.Check,
            _ => NextMove.Park,
        };

    /// <summary>The sentence over the reasons of the two scores.</summary>
    public string Headline =>
        (Fit, Engagement) switch
        {
            (true, true) => "Both bars are cleared",
            (true, false) => "The fit is there, the engagement not yet",
            (false, true) => "Engaged, but does it fit?",
            _ => "Neither bar is cleared",
        };

    /// <summary>What a next move says was cleared; neither for what is none.</summary>
    public static Cleared Of(string? move) => new(move is NextMove.HandOver or NextMove.Nurture, move is NextMove.HandOver or NextMove.Check);

    /// <summary>What is cleared once engagement has fallen under its bar.</summary>
    public Cleared Fallen => this with { Engagement = false };

    /// <summary>What is cleared with these scores, after this. A score at its bar clears it.</summary>
    public Cleared Next(int fit, int engagement, Bars bars) => new(fit >= LetGo(bars.Fit, bars.Slack, Fit), engagement >= LetGo(bars.Engagement, bars.Slack, Engagement));

    // A bar of 0 holds of everyone; with slack a bar is never so low that nobody can fall under it.
    private static int LetGo(int bar, int slack, bool cleared) => cleared ? Math.Max(Math.Min(bar, 1), bar - slack) : bar;
}
