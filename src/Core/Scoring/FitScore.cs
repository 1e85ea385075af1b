using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>One reason of a score. The score is the sum of the points of its contributions.</summary>
/// <param name="Key">Criterion, group or veto key, or event kind; <c>limit</c> for what keeps the sum within 0 to 100.</param>
/// <param name="Detail">Where it comes from, for people; empty when there is nothing to add.</param>
public sealed record Contribution(string Key, string Label, int Points, string Detail = "");

/// <summary>A fact nobody has said yet, with the range the fit would land in for what could be answered.</summary>
/// <param name="Key">Of the first criterion that asks it.</param>
public sealed record OpenQuestion(string Key, string Label, string Field, int Low, int High);

/// <summary>Fit with its reasons.</summary>
/// <param name="Score">0 to 100, the sum of <see cref="Contributions"/>.</param>
/// <param name="Low">Lowest the fit could be once everything is known, unless a veto turns out to hold.</param>
/// <param name="High">Highest the fit could be once everything is known.</param>
/// <param name="Unknown">What is not known, the question worth most first: the fact to ask next.</param>
/// <param name="OpenVetoes">Words of the vetoes that may yet turn out to hold.</param>
public sealed record FitResult(
    int Score,
    int Low,
    int High,
    ImmutableArray<Contribution> Contributions,
    ImmutableArray<OpenQuestion> Unknown,
    ImmutableArray<string> OpenVetoes = default
);

/// <summary>Fit with the lowest and highest it could be once everything is known, each 0 to 100.</summary>
public readonly record struct FitRange(int Score, int Low, int High);

/// <summary>
/// The fit part of a model, compiled for a catalogue. Safe to share between threads. Points of criteria add up, those of a group within its bounds, the whole within 0 to 100;
/// a veto makes it 0. What is not known counts nothing, and makes a range.
/// </summary>
public sealed class FitScore
{
    private readonly FieldCatalogue _catalogue;
    private readonly ScoringModel _model;
    private readonly FitColumn[] _columns;
    private readonly (FitQuestion Question, int Place)[] _questions;

    // Criteria that cannot be asked.
    private readonly int[] _broken;
    private readonly Weighed[] _vetoes;
    private readonly Weighed[] _openVetoes;

    // The place of a criterion's group, after those with bounds the one without.
    private readonly int[] _groupOf;
    private readonly FitGroup[] _groups;

    /// <summary>Compiles a model. Criteria and vetoes on fields that are gone count nothing; <see cref="ModelCheck"/> says so.</summary>
    public FitScore(ScoringModel model, FieldCatalogue catalogue)
    {
        _catalogue = catalogue;
        _model = model = model with { Vetoes = [.. model.Vetoes.Where(v => !ConditionCheck.Check(v.When, catalogue).Any())] };
        _vetoes = [.. model.Vetoes.Select(v => ConditionTruth.CompilePart(v.When, catalogue, asItStands: true))];
        _openVetoes = [.. model.Vetoes.Select(v => ConditionTruth.CompilePart(v.When, catalogue, asItStands: false))];
        _groups = [.. model.Groups];
        _groupOf = [.. model.Fit.Select(c => Array.FindIndex(_groups, g => g.Key == c.Group) is >= 0 and var at ? at : _groups.Length)];
        var good = model.Fit.Select((c, place) => (Criterion: c, Place: place)).Where(c => !c.Criterion.Lines.Any(l => ConditionCheck.Check(l.When, catalogue).Any())).ToList();
        var alone = good.ToLookup(c => FieldCriteria.FieldOf(c.Criterion, catalogue));
        var tests = alone[null]
            .SelectMany(c => c.Criterion.Lines)
            .SelectMany(l => ConditionFields.Tests(l.When))
            .Where(t => FieldCriteria.Fits(t, catalogue))
            .Distinct()
            .ToLookup(t => catalogue.Asked(t.Field)!);
        _columns =
        [
            .. alone
                .Select(g => g.Key)
                .OfType<FieldDefinition>()
                .Concat(tests.Select(t => t.Key))
                .Distinct()
                .Select(field => FitColumn.Compile(Asking(field, [.. alone[field].Select(c => c.Place)], [.. tests[field].Take(FieldCriteria.MostTests)]), catalogue)),
        ];
        _broken = [.. Enumerable.Range(0, model.Fit.Length).Except(good.Select(c => c.Place))];
        _questions = [.. alone[null].Select(c => (new FitQuestion(c.Criterion, PlaceOf, catalogue), c.Place))];
    }

    private FieldCriteria Asking(FieldDefinition field, int[] places, Test[] tests) =>
        new(field, places, [.. places.Select(p => _model.Fit[p])], [.. places.Select(p => _groupOf[p])], tests);

    private (int Column, int Bit)? PlaceOf(Test test)
    {
        for (var column = 0; column < _columns.Length; column++)
            if (Array.IndexOf(_columns[column].Asking.Tests, test) is >= 0 and var bit)
                return (column, bit);
        return null;
    }

    // One for a thread: what the columns say of the record that is being measured.
    [ThreadStatic]
    private static FitCell[]? t_cells;

    private FitCell[] Cells(RecordValues record, Instant now)
    {
        var cells = t_cells is { } room && room.Length >= _columns.Length ? room : t_cells = new FitCell[_columns.Length];
        for (var i = 0; i < _columns.Length; i++)
            cells[i] = _columns[i].Of(record, now);
        return cells;
    }

    /// <summary>Number of criteria; the length the line buffer of <see cref="Measure"/> needs.</summary>
    public int Criteria => _groupOf.Length;

    /// <summary>
    /// The fit with the range it could be in once everything is known, without allocating. Fills <paramref name="hits"/>, where there is room for them, with the line that gives
    /// points for each criterion: its index, -1 when none does, -2 when it depends on what is not known.
    /// </summary>
    /// <exception cref="InvalidOperationException">The record is of another catalogue.</exception>
    public FitRange Measure(RecordValues record, Instant now, Span<int> hits = default)
    {
        record.Of(_catalogue);
        Span<int> sums = stackalloc int[3 * (_groups.Length + 1)];
        var cells = Cells(record, now);
        for (var i = 0; i < _columns.Length; i++)
            foreach (var (group, points, low, high) in cells[i].Sums)
                Add(sums, group, points, low, high);
        foreach (var (question, place) in _questions)
        {
            var answer = question.Ask(cells, record, now);
            if (!hits.IsEmpty)
                hits[place] = answer.Hit;
            Add(sums, _groupOf[place], answer.Points, answer.Low, answer.High);
        }
        if (!hits.IsEmpty)
            Fill(hits, cells);
        return Vetoed(record, now) >= 0 ? default : new FitRange(Sum(sums, 0), Sum(sums, 1), Sum(sums, 2));
    }

    private void Fill(Span<int> hits, FitCell[] cells)
    {
        for (var i = 0; i < _columns.Length; i++)
        for (var c = 0; c < _columns[i].Asking.Places.Length; c++)
            hits[_columns[i].Asking.Places[c]] = cells[i].Answers[c].Hit;
        foreach (var place in _broken)
            hits[place] = -1;
    }

    /// <summary>The fit with its reasons, in the order of the model.</summary>
    /// <param name="shown">Whether a reason may say the value of a field; null for every field.</param>
    public FitResult Explain(RecordValues record, Instant now, Predicate<FieldDefinition>? shown = null)
    {
        var (score, low, high) = Measure(record, now);
        var answers = Answers(record, now);
        var reasons = Reasons(answers, record, shown);
        var sum = reasons.Sum(r => r.Points);
        var veto = Vetoed(record, now);
        if (veto >= 0)
            reasons.Add(new Contribution(_model.Vetoes[veto].Key, $"Ruled out: {_model.Vetoes[veto].Words}", -sum));
        else if (sum != score)
            reasons.Add(new Contribution("limit", score == 0 ? "Fit does not go below 0" : "Fit does not go over 100", score - sum));
        return new FitResult(
            score,
            low,
            high,
            [.. reasons],
            veto >= 0 ? [] : Questions(answers, record),
            [.. _model.Vetoes.Where((_, i) => veto < 0 && _openVetoes[i](record, now) == Truth.Unsaid).Select(v => v.Words)]
        );
    }

    private static void Add(Span<int> sums, int group, int points, int low, int high)
    {
        sums[3 * group] += points;
        sums[3 * group + 1] += low;
        sums[3 * group + 2] += high;
    }

    private FitAnswer[] Answers(RecordValues record, Instant now)
    {
        var answers = new FitAnswer[Criteria];
        Array.Fill(answers, new FitAnswer(-1, 0, 0, 0));
        var cells = Cells(record, now);
        for (var i = 0; i < _columns.Length; i++)
        for (var c = 0; c < _columns[i].Asking.Places.Length; c++)
            answers[_columns[i].Asking.Places[c]] = cells[i].Answers[c];
        foreach (var (question, place) in _questions)
            answers[place] = question.Ask(cells, record, now);
        return answers;
    }

    private int Vetoed(RecordValues record, Instant now)
    {
        for (var i = 0; i < _vetoes.Length; i++)
            if (_vetoes[i](record, now) == Truth.Yes)
                return i;
        return -1;
    }

    // Every bound is a step that never falls, so the lowest sum comes of the lowest parts.
    private int Sum(ReadOnlySpan<int> sums, int which)
    {
        var sum = sums[3 * _groups.Length + which];
        for (var i = 0; i < _groups.Length; i++)
            sum += Bounded(_groups[i], sums[3 * i + which]);
        return Math.Clamp(sum, 0, 100);
    }

    private static int Bounded(FitGroup group, int sum) => Math.Max(Math.Min(sum, group.AtMost), group.AtLeast);

    private List<Contribution> Reasons(FitAnswer[] answers, RecordValues record, Predicate<FieldDefinition>? shown)
    {
        var reasons = new List<Contribution>();
        for (var i = 0; i < answers.Length; i++)
            if (answers[i] is { Line: >= 0 } answer)
                reasons.Add(Reason(_model.Fit[i], _model.Fit[i].Lines[answer.Line], record, shown));
        for (var g = 0; g < _groups.Length; g++)
        {
            var sum = answers.Where((_, i) => _groupOf[i] == g).Sum(a => a.Points);
            if (Bounded(_groups[g], sum) is var bounded && bounded != sum)
                reasons.Add(new Contribution(_groups[g].Key, $"{_groups[g].Label}: together at {(bounded < sum ? "most" : "least")} {bounded}", bounded - sum));
        }
        return reasons;
    }

    private static Contribution Reason(FitCriterion criterion, FitLine line, RecordValues record, Predicate<FieldDefinition>? shown)
    {
        var said = ConditionFields
            .Of(line.When)
            .Select(f => record.Catalogue.Asked(f)!)
            .Where(f => record[f.Ordinal].IsKnown && shown?.Invoke(f) != false)
            .Select(f => $"{f.Label}: {f.Show(record[f.Ordinal].ToString())}");
        return new Contribution(criterion.Key, line.Words, line.Points, string.Join("; ", said));
    }

    // A fact is worth what all criteria that wait for it could still move.
    private ImmutableArray<OpenQuestion> Questions(FitAnswer[] answers, RecordValues record)
    {
        var asked = _model.Fit.Select((c, i) => answers[i].Open ? Asked(c, record).ToArray() : []).ToArray();
        int With(FieldDefinition field, Func<FitAnswer, int> answered)
        {
            Span<int> sums = stackalloc int[3 * (_groups.Length + 1)];
            for (var i = 0; i < answers.Length; i++)
                sums[3 * _groupOf[i]] += asked[i].Contains(field) ? answered(answers[i]) : answers[i].Points;
            return Sum(sums, 0);
        }
        return
        [
            .. asked
                .SelectMany((fields, i) => fields.Select(f => (Field: f, _model.Fit[i].Key)))
                .DistinctBy(q => q.Field)
                .Select(q => new OpenQuestion(q.Key, q.Field.Label, q.Field.Key, With(q.Field, a => a.Low), With(q.Field, a => a.High)))
                .OrderByDescending(q => q.High - q.Low)
                .ThenByDescending(q => q.High),
        ];
    }

    private static IEnumerable<FieldDefinition> Asked(FitCriterion criterion, RecordValues record) =>
        criterion
            .Lines.SelectMany(l => ConditionFields.Of(l.When))
            .Distinct()
            .Select(f => record.Catalogue.Asked(f)!)
            .Where(f => f.Origin is FieldOrigin.Fact or FieldOrigin.Custom && !record[f.Ordinal].IsKnown);
}
