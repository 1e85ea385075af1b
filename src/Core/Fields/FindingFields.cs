using System.Collections.Immutable;

namespace DapperLantern.Core.Fields;

/// <summary>The fields of the catalogue that hold answers found in qualifying.</summary>
public static class FindingFields
{
    /// <summary>Begins their keys.</summary>
    public const string Prefix = "finding_";

    /// <summary>What every pipeline asks: key and label of the question.</summary>
    public static ImmutableArray<Choice> Standard { get; } = [new("need", "Need"), new("budget", "Budget"), new("authority", "Authority"), new("timing", "Timing")];

    /// <summary>Values of an answer that is known; an unknown one is an unknown value.</summary>
    public static ImmutableArray<Choice> Certainties { get; } = [new("weak", "Weak"), new("confirmed", "Confirmed")];

    /// <summary>Key of the field that holds the answer to a question.</summary>
    public static string KeyOf(string question) => Prefix + question;
}
