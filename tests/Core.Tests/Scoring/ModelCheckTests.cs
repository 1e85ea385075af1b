using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;

namespace DapperLantern.Core.Tests.Scoring;

public sealed class ModelCheckTests
{
    private static IEnumerable<(string Path, string Code)> Found(ScoringModel model) => ModelCheck.Check(model, Sample.Catalogue).Select(f => (f.Problem.Path, f.Problem.Code));

    private static ScoringModel With(params FitLine[] lines) => ScoringSample.Model with { Fit = [new("one", "One", "sites", [.. lines], "company")] };

    private static FitLine Line(Condition when, int points = 5) => new(when, points, "Some words");

    private static Condition Sites(TestOperator test, params string[] values) => Condition.Where("sites", test, values);

    [Fact]
    public void AGoodModelHasNothingAgainstIt() => ModelCheck.Check(ScoringSample.Model, Sample.Catalogue).Where(f => f.Blocks).ShouldBeEmpty();

    [Fact]
    public void ACriterionOnADeletedFieldIsSaidAtItsLine() =>
        Found(With(Line(Condition.Where("long_gone", TestOperator.In, "x")))).ShouldContain(("fit/0/lines/0", "field-unknown"));

    [Fact]
    public void TheSameConditionWithOtherPointsContradicts() =>
        Found(With(Line(Sites(TestOperator.In, "3", "4"), 5), Line(Sites(TestOperator.In, "4", "3"), 9))).ShouldBe([("fit/0/lines/1", "lines-contradict")]);

    [Theory]
    [InlineData("between", "2", "8", "between", "6", "9", "ranges-overlap")]
    [InlineData("between", "2", "8", "between", "3", "7", "line-covered")]
    [InlineData("at-least", "5", "", "between", "6", "9", "line-covered")]
    [InlineData("between", "2", "4", "between", "5", "9", null)]
    [InlineData("between", "9", "2", "between", "20", "30", null)]
    public void RangesAreHeldAgainstThoseAbove(string first, string from, string to, string second, string from2, string to2, string? code)
    {
        TestOperator Of(string name) => Enum.GetValues<TestOperator>().Single(o => ConditionJson.NameOf(o) == name);
        string[] Values(params string[] values) => [.. values.Where(v => v.Length > 0)];
        var found = Found(With(Line(Sites(Of(first), Values(from, to))), Line(Sites(Of(second), Values(from2, to2))))).Where(f => f.Path == "fit/0/lines/1").ToList();
        if (code is null)
            found.ShouldBeEmpty();
        else
            found.ShouldBe([("fit/0/lines/1", code)]);
    }

    // Whatever the check calls covered is never the line that counts, on any number of sites.
    [Fact]
    public void ALineCalledCoveredNeverCounts()
    {
        var line = Gen.Select(Gen.OneOfConst(TestOperator.AtLeast, TestOperator.AtMost, TestOperator.Between, TestOperator.In), Gen.Int[0, 9], Gen.Int[0, 9])
            .Select((o, a, b) => Line(o == TestOperator.Between ? Sites(o, $"{Math.Min(a, b)}", $"{Math.Max(a, b)}") : Sites(o, $"{a}")));
        line.Array[1, 5]
            .Sample(lines =>
            {
                var model = With(lines);
                var fit = new FitScore(model, Sample.Catalogue);
                var covered = ModelCheck
                    .Check(model, Sample.Catalogue)
                    .Where(f => f.Problem.Code is "line-covered" or "lines-contradict")
                    .Select(f => int.Parse(f.Problem.Path.Split('/')[3]))
                    .ToList();
                var hits = new int[1];
                for (var sites = 0; sites <= 20; sites++)
                {
                    var record = Sample.Record();
                    record["sites"] = FieldValue.Of(sites / 2m);
                    fit.Measure(record, Sample.Now, hits);
                    if (covered.Contains(hits[0]))
                        return false;
                }
                return true;
            });
    }

    [Fact]
    public void WhatContainsMoreIsTakenByWhatContainsLess() =>
        Found(
                With(
                    Line(Condition.Where("job_title", TestOperator.Contains, "manager")),
                    Line(Condition.Where("job_title", TestOperator.Contains, "plant manager", "Site Manager"))
                )
            )
            .ShouldBe([("fit/0/lines/1", "line-covered")]);

    [Fact]
    public void AValueThatStandsTwiceIsNamed() =>
        Found(With(Line(Condition.Where("industry", TestOperator.In, "port")), Line(Condition.Where("industry", TestOperator.In, "port", "fish_farming"))))
            .ShouldBe([("fit/0/lines/1", "value-twice")]);

    [Fact]
    public void AScoreCannotAskItself() => Found(With(Line(Condition.Where("engagement", TestOperator.AtLeast, "50")))).ShouldContain(("fit/0/lines/0", "field-circular"));

    [Fact]
    public void SignalsThatCannotBeComputedAreSaidEachAtItsLine() =>
        Found(
                ScoringSample.Model with
                {
                    Engagement =
                    [
                        new("a", "A", 10, 0, 30),
                        new("b", "B", 1000, 5, 30),
                        new("c", "C", 10, 5, 0),
                        new("d", "D", 10, 5, 30, 0),
                        new("e", "E", 10, 5, 30, Direction: "up"),
                        new("f", "F", 40, 5, 30),
                        new("f", "F again", 40, 5, 40, Pattern: "/x*"),
                    ],
                }
            )
            .Where(f => f.Path.StartsWith("engagement", StringComparison.Ordinal))
            .ShouldBe(
                [
                    ("engagement/0", "half-life-range"),
                    ("engagement/1", "points-range"),
                    ("engagement/1", "cap-under-points"),
                    ("engagement/2", "cap-range"),
                    ("engagement/3", "window-range"),
                    ("engagement/4", "direction-unknown"),
                    ("engagement/5", "cap-under-points"),
                    ("engagement/6", "signal-covered"),
                ],
                ignoreOrder: true
            );

    [Fact]
    public void BarsNamesAndKneeHaveBounds() =>
        Found(ScoringSample.Model with { Bars = new Bars(120, 50, 40), SaturatesFrom = double.NaN, Names = new MoveNames("A", "a", "", "D") })
            .Select(f => f.Code)
            .Where(c => c != "ranges-overlap")
            .ShouldBe(["bar-range", "slack-range", "knee-range", "names-unfit"]);

    private static readonly string Long = new('x', 201);

    private static readonly EngagementSignal Guide = new("form.guide", "Price guide taken", 40, 21, 60);

    private static readonly FitCriterion Sized = new("one", "One", "sites", [Line(Sites(TestOperator.In, "3"))]);

    private static ScoringModel Fit(params FitCriterion[] criteria) => ScoringSample.Model with { Fit = [.. criteria], Groups = [] };

    private static ScoringModel Engagement(params EngagementSignal[] signals) => ScoringSample.Model with { Engagement = [.. signals] };

    private static ScoringModel Groups(params FitGroup[] groups) => Fit(Sized with { Group = "company" }) with { Groups = [.. groups] };

    private static ScoringModel Vetoes(params Veto[] vetoes) => ScoringSample.Model with { Vetoes = [.. vetoes] };

    /// <summary>A fault of its own kind each, where it stands, the code it is known by, and whether the model could go live with it.</summary>
    public static TheoryData<string, string, bool, ScoringModel> Faults =>
        new()
        {
            { "silence-range", "silence", true, ScoringSample.Model with { Silence = new Silence(0, -10) } },
            { "silence-range", "silence", true, ScoringSample.Model with { Silence = new Silence(90, double.NaN) } },
            { "model-empty", "", false, Fit() with { Engagement = [] } },
            { "too-many-lines", "", true, Fit([.. Enumerable.Range(0, 201).Select(i => Sized with { Key = $"c{i}" })]) },
            { "too-many-half-lives", "", true, Engagement([.. Enumerable.Range(1, ModelCheck.MostHalfLives + 1).Select(i => Guide with { Kind = $"k{i}", HalfLifeDays = i })]) },
            { "label-unfit", "fit/0", true, Fit(Sized with { Label = " " }) },
            { "label-unfit", "engagement/0", true, Engagement(Guide with { Kind = "" }) },
            { "label-unfit", "groups/0", true, Groups(new FitGroup("company", "", 50)) },
            { "key-twice", "fit/1", true, Fit(Sized, Sized) },
            { "key-twice", "fit/0", true, Fit(Sized with { Key = "" }) },
            { "key-twice", "groups/1", true, Groups(new FitGroup("company", "Company", 50), new FitGroup("company", "Again", 50)) },
            { "key-twice", "vetoes/1", true, Vetoes(ScoringSample.Model.Vetoes[0], ScoringSample.Model.Vetoes[0]) },
            { "group-missing", "fit/0", true, Fit(Sized with { Group = "gone" }) },
            { "group-bounds", "groups/0", true, Groups(new FitGroup("company", "Company", -1)) },
            { "group-bounds", "groups/0", true, Groups(new FitGroup("company", "Company", 50, 1)) },
            { "group-empty", "groups/1", false, Groups(new FitGroup("company", "Company", 50), new FitGroup("other", "Other", 50)) },
            { "too-many-lines", "fit/0", true, With([.. Enumerable.Range(0, 201).Select(i => Line(Sites(TestOperator.In, $"{i}")))]) },
            { "lines-missing", "fit/0", false, Fit(Sized with { Lines = [] }) },
            { "points-range", "fit/0/lines/0", true, With(Line(Sites(TestOperator.In, "3"), 101)) },
            { "points-none", "fit/0/lines/0", false, With(Line(Sites(TestOperator.In, "3"), 0)) },
            { "points-none", "engagement/0", false, Engagement(Guide with { Points = 0 }) },
            { "words-unfit", "fit/0/lines/0", true, With(new FitLine(Sites(TestOperator.In, "3"), 5, " ")) },
            { "words-unfit", "vetoes/0", true, Vetoes(new Veto("v", Sites(TestOperator.In, "3"), Long)) },
            { "words-unfit", "engagement/0", true, Engagement(Guide with { Pattern = Long }) },
            { "value-missing", "fit/0/lines/0", true, With(new FitLine(null!, 5, "Words")) },
            { "value-gone", "fit/0/lines/0", false, With(Line(Condition.Where("industry", TestOperator.In, "sealing"))) },
            { "condition-always", "vetoes/0", false, Vetoes(new Veto("v", Condition.Always, "Always")) },
            { "field-circular", "vetoes/0", true, Vetoes(new Veto("v", Condition.Where("fit", TestOperator.AtMost, "10"), "Asks itself")) },
        };

    [Theory]
    [MemberData(nameof(Faults), DisableDiscoveryEnumeration = true)]
    public void EachFaultIsSaidAtItsLine(string code, string path, bool blocks, ScoringModel model)
    {
        var found = ModelCheck.Check(model, Sample.Catalogue);
        found.Where(f => f.Problem.Code == code && f.Problem.Path == path).ShouldHaveSingleItem().Blocks.ShouldBe(blocks);
        found.ShouldAllBe(f => f.Words.EndsWith('.') && !f.Words.Contains("{0}", StringComparison.Ordinal));
        (ModelCheck.Blocking(model, Sample.Catalogue) is null).ShouldBe(!found.Any(f => f.Blocks));
    }

    [Fact]
    public void EveryFindingSaysASentence() =>
        ModelCheck
            .Check(
                ScoringSample.Model with
                {
                    Bars = new Bars(-1, 3),
                    Engagement = [new("", "", 0, double.NaN, double.NaN, double.NaN)],
                    Groups = [],
                    Vetoes = [new("v", Condition.Always, "")],
                },
                Sample.Catalogue
            )
            .ShouldAllBe(f => f.Words.EndsWith('.') && !f.Words.Contains("{0}"));
}
