using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Scoring.Outcomes;

/// <summary>What makes outcomes say more than they know: facts learnt only afterwards, and values too rare to judge.</summary>
internal static class OutcomeWarnings
{
    // Filled afterwards for this share of those who have it: then it is likely known because of the outcome.
    private const double Later = 0.3;
    private const int Rare = 8;

    // What tells this much by itself usually is the outcome under another name.
    private const double TooGood = 0.97;

    public static IEnumerable<ModelFinding> Of(ScoringModel model, IReadOnlyList<CriterionWorth> criteria, IReadOnlyList<SignalWorth> signals, IReadOnlyList<LeadOutcome> outcomes)
    {
        for (var i = 0; i < model.Fit.Length; i++)
        {
            foreach (var finding in Leaks(model.Fit[i], $"fit/{i}", outcomes))
                yield return finding;
            for (var line = 0; line < criteria[i].Lines.Length; line++)
            {
                var share = criteria[i].Lines[line].Share;
                if (share.Count < Rare)
                    yield return Odd("line-rare", $"fit/{i}/lines/{line}", $"{share.Count}");
                else if (share.Count >= 2 * Rare && (share.Rate >= TooGood || share.Rate == 0))
                    yield return Odd(share.Rate == 0 ? "line-never" : "line-always", $"fit/{i}/lines/{line}", $"{share.Count}");
            }
        }
        for (var i = 0; i < signals.Count; i++)
            if (signals[i].Share.Count < Rare)
                yield return Odd("line-rare", $"engagement/{i}", $"{signals[i].Share.Count}");
            else if (signals[i].Share is { Count: >= 2 * Rare, Rate: >= TooGood })
                yield return Odd("line-always", $"engagement/{i}", $"{signals[i].Share.Count}");
    }

    private static IEnumerable<ModelFinding> Leaks(FitCriterion criterion, string path, IReadOnlyList<LeadOutcome> outcomes)
    {
        foreach (var field in criterion.Lines.SelectMany(l => ConditionFields.Of(l.When)).Distinct())
        {
            var definition = outcomes.Count == 0 ? null : outcomes[0].Known.Catalogue.Find(field);
            if (definition is null)
                continue;
            if (definition is { Origin: FieldOrigin.System } && field is "state" or "state_reason" or "owner" or "wake_at")
                yield return Odd("field-outcome", path, definition.Label);
            var later = outcomes.Count(o => o.LearntLater.Contains(field));
            var known = outcomes.Count(o => o.Known[definition.Ordinal].IsKnown);
            if (later >= Rare && later > Later * (later + known))
                yield return Odd("field-leaks", path, $"{definition.Label}: {later} of {later + known}");
        }
    }

    private static ModelFinding Odd(string code, string path, string found) => new(new Problem(code, path, found), false);
}
