using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>One reason of a score. The score is the sum of the points of its contributions.</summary>
/// <param name="Key">Criterion key or event kind; <c>limit</c> for what keeps the sum within 0 to 100.</param>
/// <param name="Detail">Where it comes from, for people; empty when there is nothing to add.</param>
public sealed record Contribution(string Key, string Label, int Points, string Detail = "");

/// <summary>A question nobody has answered yet, with the range the fit would land in for its answers.</summary>
public sealed record OpenQuestion(string Key, string Label, string Field, int Low, int High);

/// <summary>Fit with its reasons.</summary>
/// <param name="Score">0 to 100, the sum of <see cref="Contributions"/>.</param>
/// <param name="Low">Lowest the fit could be once everything is known.</param>
/// <param name="High">Highest the fit could be once everything is known.</param>
/// <param name="Unknown">What is not known, the question worth most first.</param>
public sealed record FitResult(int Score, int Low, int High, ImmutableArray<Contribution> Contributions, ImmutableArray<OpenQuestion> Unknown);

/// <summary>Fit with the lowest and highest it could be once everything is known, each 0 to 100.</summary>
public readonly record struct FitRange(int Score, int Low, int High);

/// <summary>The fit part of a model, compiled for a catalogue. Safe to share between threads.</summary>
public sealed class FitScore
{
    private readonly ImmutableArray<FitCriterion> _criteria;
    private readonly (int Ordinal, (Predicate When, int Points)[] Lines)[] _compiled;
    private readonly (int Least, int Most)[] _bounds;

    public FitScore(ScoringModel model, FieldCatalogue catalogue)
    {
        _criteria = model.Fit;
        _bounds = [.. model.Fit.Select(c => (c.Least, c.Most))];
        _compiled = [.. model.Fit.Select(c => (catalogue[c.Field].Ordinal, c.Lines.Select(l => (ConditionPredicate.Compile(l.When, catalogue), l.Points)).ToArray()))];
    }

    /// <summary>Number of criteria; the length the line buffer of <see cref="Total"/> needs.</summary>
    public int Criteria => _compiled.Length;

    /// <summary>
    /// The fit alone, 0 to 100, without allocating. Fills <paramref name="hits"/> with the line that held for each criterion:
    /// its index, -1 when none held, -2 when the field is unknown. <see cref="Explain"/> words exactly these.
    /// </summary>
    public int Total(RecordValues record, Instant now, Span<int> hits)
    {
        var sum = 0;
        for (var i = 0; i < _compiled.Length; i++)
        {
            var (ordinal, lines) = _compiled[i];
            hits[i] = record[ordinal].IsKnown ? FirstHit(lines, record, now) : -2;
            if (hits[i] >= 0)
                sum += lines[hits[i]].Points;
        }
        return Math.Clamp(sum, 0, 100);
    }

    /// <summary>The fit with the range it could be in once everything is known, without allocating. Fills <paramref name="hits"/> as <see cref="Total"/> does.</summary>
    public FitRange Measure(RecordValues record, Instant now, Span<int> hits)
    {
        var score = Total(record, now, hits);
        var (sum, low, high) = (0, 0, 0);
        for (var i = 0; i < hits.Length; i++)
            if (hits[i] >= 0)
                sum += _compiled[i].Lines[hits[i]].Points;
            else if (hits[i] == -2)
                (low, high) = (low + _bounds[i].Least, high + _bounds[i].Most);
        return new FitRange(score, Math.Clamp(sum + low, 0, 100), Math.Clamp(sum + high, 0, 100));
    }

    /// <summary>The fit with its reasons, in the order of the model.</summary>
    public FitResult Explain(RecordValues record, Instant now)
    {
        var hits = new int[_compiled.Length];
        var (score, low, high) = Measure(record, now, hits);
        var reasons = new List<Contribution>();
        for (var i = 0; i < hits.Length; i++)
            if (hits[i] >= 0)
                reasons.Add(Reason(_criteria[i], _criteria[i].Lines[hits[i]], record));
        var sum = reasons.Sum(r => r.Points);
        if (sum != score)
            reasons.Add(new Contribution("limit", score == 0 ? "Fit does not go below 0" : "Fit does not go over 100", score - sum));

        var unknown = _criteria.Where((_, i) => hits[i] == -2).ToList();
        return new FitResult(score, low, high, [.. reasons], [.. unknown.Select(c => Question(c, sum)).OrderByDescending(q => q.High - q.Low)]);
    }

    private static int FirstHit((Predicate When, int Points)[] lines, RecordValues record, Instant now)
    {
        for (var line = 0; line < lines.Length; line++)
            if (lines[line].When(record, now))
                return line;
        return -1;
    }

    private static Contribution Reason(FitCriterion criterion, FitLine line, RecordValues record)
    {
        var field = record.Catalogue[criterion.Field];
        return new Contribution(criterion.Key, line.Words, line.Points, $"{field.Label}: {field.Show(record[field.Ordinal].ToString())}");
    }

    private static OpenQuestion Question(FitCriterion c, int sum) => new(c.Key, c.Label, c.Field, Math.Clamp(sum + c.Least, 0, 100), Math.Clamp(sum + c.Most, 0, 100));
}
