using System.Collections.Frozen;
using System.IO.Enumeration;

namespace DapperLantern.Core.Scoring;

/// <summary>Which signal of a model an event answers to: the first that fits.</summary>
internal sealed class SignalMatch(ScoringModel model)
{
    private readonly EngagementSignal[] _signals = [.. model.Engagement];

    private readonly FrozenDictionary<string, int[]> _byKind = model
        .Engagement.Select((s, i) => (s.Kind, i))
        .GroupBy(s => s.Kind)
        .ToFrozenDictionary(g => g.Key, g => g.Select(s => s.i).ToArray());

    /// <summary>The signal's place in the model; -1 when none fits.</summary>
    public int Of(in LeadEvent e)
    {
        if (_byKind.TryGetValue(e.Kind, out var candidates))
            foreach (var i in candidates)
                if (Fits(_signals[i], e))
                    return i;
        return -1;
    }

    private static bool Fits(EngagementSignal signal, in LeadEvent e) =>
        (signal.Direction.Length == 0 || signal.Direction == e.Direction)
        && (signal.CampaignKind.Length == 0 || signal.CampaignKind == e.CampaignKind)
        && (signal.Pattern.Length == 0 || Like(signal.Pattern, e.Detail));

    // Most patterns are the beginning of an address.
    private static bool Like(string pattern, string detail)
    {
        var star = pattern.AsSpan().IndexOfAny('*', '?', '\\');
        if (star < 0)
            return detail.Equals(pattern, StringComparison.OrdinalIgnoreCase);
        return star == pattern.Length - 1 && pattern[star] == '*'
            ? detail.AsSpan().StartsWith(pattern.AsSpan(0, star), StringComparison.OrdinalIgnoreCase)
            : FileSystemName.MatchesSimpleExpression(pattern, detail);
    }
}
