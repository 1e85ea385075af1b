using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Qualifying;

/// <summary>How sure we are of the answer to one question.</summary>
public enum Certainty
{
    Unknown,
    Weak,
    Confirmed,
}

/// <summary>The answer to one question of qualifying.</summary>
/// <param name="Evidence">What says so, in up to 500 letters.</param>
/// <param name="SaidBy">Who said it, in up to 120 letters; empty where that is not known.</param>
/// <param name="SaidOn">The day it was said.</param>
/// <param name="By">Who of us wrote it down, and when; set by the server.</param>
public sealed record Finding(Certainty Certainty, string Evidence, string SaidBy = "", DateOnly? SaidOn = null, string? By = null, DateTime? At = null)
{
    public const int LongestEvidence = 500;
    public const int LongestName = 120;

    public static Finding Unknown { get; } = new(Certainty.Unknown, "");

    /// <summary>The same answer, whoever wrote it down.</summary>
    public bool Says(Finding other) => (Certainty, Evidence, SaidBy, SaidOn) == (other.Certainty, other.Evidence, other.SaidBy, other.SaidOn);

    /// <summary>The surer of two; the first where both are as sure.</summary>
    public static Finding Surer(Finding a, Finding b) => b.Certainty > a.Certainty ? b : a;
}

/// <summary>A question that a pipeline asks before a lead is qualified.</summary>
/// <param name="Hint">What a good answer says, for whoever asks.</param>
public sealed record Question(string Key, string Label, string Hint = "");

/// <summary>What was found out about a lead, by the key of the question. A question that is not here is unknown.</summary>
public sealed class Findings() : SortedDictionary<string, Finding>(StringComparer.Ordinal)
{
    public Finding Of(string question) => TryGetValue(question, out var found) ? found : Finding.Unknown;

    /// <summary>Of each question the surer answer of the two.</summary>
    public static Findings Surer(Findings a, Findings b)
    {
        var both = new Findings();
        foreach (var key in a.Keys.Union(b.Keys))
            both[key] = Finding.Surer(a.Of(key), b.Of(key));
        return both;
    }
}

/// <summary>What is asked of every lead, whatever the pipeline, and how the answers stand in the catalogue.</summary>
public static class Questions
{
    private static readonly ImmutableArray<string> Hints =
    [
        "What they have to solve, and what happens if they do not",
        "Money set aside, or who would have to",
        "Who decides, who signs, who can stop it",
        "By when, and what drives that date",
    ];

    /// <summary>Need, budget, authority, timing.</summary>
    public static ImmutableArray<Question> Standard { get; } = [.. FindingFields.Standard.Zip(Hints, (q, hint) => new Question(q.Key, q.Label, hint))];

    /// <summary>The answer as a value of its catalogue field.</summary>
    public static FieldValue Value(Finding finding) =>
        finding.Certainty == Certainty.Unknown ? FieldValue.Unknown : FieldValue.Of(finding.Certainty == Certainty.Weak ? "weak" : "confirmed");
}
