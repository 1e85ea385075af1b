using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Scoring;

/// <summary>Something about a model, next to the line concerned.</summary>
/// <param name="Problem">Its path is <c>fit/2/lines/0</c>, <c>engagement/3</c>, <c>groups/0</c>, <c>vetoes/1</c>, <c>bars</c>, <c>silence</c>, <c>names</c> or empty.</param>
/// <param name="Blocks">True when the model cannot be published before it is mended; false for what is allowed but likely not meant.</param>
public sealed record ModelFinding(Problem Problem, bool Blocks)
{
    public string Words => Problem.Words;
}

/// <summary>Holds a model against the catalogue and against itself: what cannot be computed, and lines that can never count.</summary>
public static class ModelCheck
{
    /// <summary>Most different half-lives of a model: what is left of a lead's events is kept by half-life.</summary>
    public const int MostHalfLives = 12;

    private const int MostLines = 200;

    // A score that asks itself, or what follows from it, has no answer.
    private static readonly string[] Circular = ["fit", "engagement", "next_move"];

    public static ImmutableArray<ModelFinding> Check(ScoringModel model, FieldCatalogue catalogue) =>
        [.. Whole(model), .. Fit(model, catalogue), .. Groups(model), .. Vetoes(model, catalogue), .. Signals(model)];

    /// <summary>The first thing that keeps a model from being computed or published; null when there is none.</summary>
    public static ModelFinding? Blocking(ScoringModel model, FieldCatalogue catalogue) => Check(model, catalogue).FirstOrDefault(f => f.Blocks);

    private static ModelFinding Wrong(string code, string path, string found = "") => new(new Problem(code, path, found), true);

    private static ModelFinding Odd(string code, string path, string found = "") => new(new Problem(code, path, found), false);

    private static IEnumerable<ModelFinding> Whole(ScoringModel model)
    {
        if (model.Bars is not { Fit: >= 0 and <= 100, Engagement: >= 0 and <= 100 })
            yield return Wrong("bar-range", "bars", $"{model.Bars.Fit}, {model.Bars.Engagement}");
        if (model.Bars.Slack is < 0 or > 30)
            yield return Wrong("slack-range", "bars", Text(model.Bars.Slack));
        if (model.SaturatesFrom is not (>= 0 and <= 100))
            yield return Wrong("knee-range", "bars", Text(model.SaturatesFrom));
        if (model.Silence is { Days: < 1 or > 3650 } or { Points: not (>= -100 and <= 100) })
            yield return Wrong("silence-range", "silence");
        string[] names = [model.Names.HandOver, model.Names.Nurture, model.Names.Check, model.Names.Park];
        if (names.Any(n => string.IsNullOrWhiteSpace(n) || n.Length > 30) || names.Distinct(StringComparer.OrdinalIgnoreCase).Count() < 4)
            yield return Wrong("names-unfit", "names");
        if (model.Fit.Length + model.Engagement.Length == 0)
            yield return Odd("model-empty", "");
        if (model.Fit.Length > MostLines || model.Engagement.Length > MostLines)
            yield return Wrong("too-many-lines", "", Text(MostLines));
        if (model.Engagement.Select(s => s.HalfLifeDays).Distinct().Count() is > MostHalfLives and var many)
            yield return Wrong("too-many-half-lives", "", Text(many));
    }

    private static IEnumerable<ModelFinding> Fit(ScoringModel model, FieldCatalogue catalogue)
    {
        for (var i = 0; i < model.Fit.Length; i++)
        {
            var (criterion, path) = (model.Fit[i], $"fit/{i}");
            if (string.IsNullOrWhiteSpace(criterion.Label) || criterion.Label.Length > 60)
                yield return Wrong("label-unfit", path);
            if (string.IsNullOrEmpty(criterion.Key) || model.Fit.Take(i).Any(c => c.Key == criterion.Key))
                yield return Wrong("key-twice", path, criterion.Key ?? "");
            if (criterion.Group.Length > 0 && model.Groups.All(g => g.Key != criterion.Group))
                yield return Wrong("group-missing", path, criterion.Group);
            if (criterion.Lines.Length > MostLines)
                yield return Wrong("too-many-lines", path, Text(MostLines));
            if (criterion.Lines.Length == 0)
                yield return Odd("lines-missing", path);
            foreach (var finding in criterion.Lines.SelectMany((l, at) => Line(l, $"{path}/lines/{at}", catalogue)))
                yield return finding;
            foreach (var finding in LineOverlap.Check(criterion, path))
                yield return finding;
        }
    }

    private static IEnumerable<ModelFinding> Line(FitLine line, string path, FieldCatalogue catalogue)
    {
        if (line.Points is < -100 or > 100)
            yield return Wrong("points-range", path, Text(line.Points));
        if (line.Points == 0)
            yield return Odd("points-none", path);
        if (string.IsNullOrWhiteSpace(line.Words) || line.Words.Length > 120)
            yield return Wrong("words-unfit", path);
        foreach (var finding in Asked(line.When, path, catalogue))
            yield return finding;
    }

    private static IEnumerable<ModelFinding> Asked(Condition? when, string path, FieldCatalogue catalogue)
    {
        if (when is null)
            return [Wrong("value-missing", path)];
        return ConditionCheck
            .Check(when, catalogue)
            .Select(p => new ModelFinding(p with { Path = path }, true))
            .Concat(ConditionFields.Of(when).Where(Circular.Contains).Select(f => Wrong("field-circular", path, catalogue.Find(f)?.Label ?? f)))
            .Concat(ConditionFields.Of(when).Any() ? [] : [Odd("condition-always", path)])
            .Concat(ValuesGone(when, path, catalogue));
    }

    private static IEnumerable<ModelFinding> ValuesGone(Condition when, string path, FieldCatalogue catalogue) =>
        ConditionFields
            .Tests(when)
            .Where(t => t.Operator == TestOperator.In)
            .SelectMany(t => catalogue.Find(t.Field) is { Type: FieldType.Choice, Choices.Length: > 0 } field ? t.Values.Where(v => field.Choices.All(c => c.Key != v)) : [])
            .Select(v => Odd("value-gone", path, v));

    private static IEnumerable<ModelFinding> Groups(ScoringModel model)
    {
        for (var i = 0; i < model.Groups.Length; i++)
        {
            var (group, path) = (model.Groups[i], $"groups/{i}");
            if (string.IsNullOrWhiteSpace(group.Label) || group.Label.Length > 60)
                yield return Wrong("label-unfit", path);
            if (string.IsNullOrEmpty(group.Key) || model.Groups.Take(i).Any(g => g.Key == group.Key))
                yield return Wrong("key-twice", path, group.Key ?? "");
            if (group.AtMost is < 0 or > 100 || group.AtLeast is > 0 or < -100)
                yield return Wrong("group-bounds", path, $"{group.AtLeast} to {group.AtMost}");
            if (model.Fit.All(c => c.Group != group.Key))
                yield return Odd("group-empty", path);
        }
    }

    private static IEnumerable<ModelFinding> Vetoes(ScoringModel model, FieldCatalogue catalogue) =>
        model.Vetoes.SelectMany(
            (veto, i) =>
                Asked(veto.When, $"vetoes/{i}", catalogue)
                    .Concat(string.IsNullOrWhiteSpace(veto.Words) || veto.Words.Length > 120 ? [Wrong("words-unfit", $"vetoes/{i}")] : [])
                    .Concat(model.Vetoes.Take(i).Any(v => v.Key == veto.Key) ? [Wrong("key-twice", $"vetoes/{i}", veto.Key)] : [])
        );

    private static IEnumerable<ModelFinding> Signals(ScoringModel model)
    {
        for (var i = 0; i < model.Engagement.Length; i++)
        {
            var (signal, path) = (model.Engagement[i], $"engagement/{i}");
            if (string.IsNullOrWhiteSpace(signal.Kind) || string.IsNullOrWhiteSpace(signal.Label) || signal.Label.Length > 60)
                yield return Wrong("label-unfit", path);
            if (signal.Points is not (>= -100 and <= 100))
                yield return Wrong("points-range", path, Text(signal.Points));
            if (signal.HalfLifeDays is not (>= 0.01 and <= 3650))
                yield return Wrong("half-life-range", path, Text(signal.HalfLifeDays));
            if (signal.WindowDays is not (> 0 and <= 3650))
                yield return Wrong("window-range", path, Text(signal.WindowDays));
            if (signal.Cap is not (> 0 and <= 1000))
                yield return Wrong("cap-range", path, Text(signal.Cap));
            else if (signal.Cap < Math.Abs(signal.Points))
                yield return Odd("cap-under-points", path, Text(signal.Cap));
            if (signal.Direction is not ("" or LeadEvent.In or LeadEvent.Out))
                yield return Wrong("direction-unknown", path, signal.Direction);
            if (signal.Pattern.Length > 200)
                yield return Wrong("words-unfit", path);
            if (signal.Points == 0)
                yield return Odd("points-none", path);
            if (model.Engagement.Take(i).FirstOrDefault(s => Covers(s, signal)) is { } earlier)
                yield return Odd("signal-covered", path, earlier.Label);
        }
    }

    private static bool Covers(EngagementSignal earlier, EngagementSignal later) =>
        earlier.Kind == later.Kind
        && (earlier.Pattern.Length == 0 || earlier.Pattern == later.Pattern)
        && (earlier.Direction.Length == 0 || earlier.Direction == later.Direction)
        && (earlier.CampaignKind.Length == 0 || earlier.CampaignKind == later.CampaignKind);

    private static string Text(double number) => number.ToString("0.####", System.Globalization.CultureInfo.InvariantCulture);
}
