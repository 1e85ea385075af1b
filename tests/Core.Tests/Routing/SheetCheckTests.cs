using System.Collections.Frozen;
using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;

namespace DapperLantern.Core.Tests.Routing;

/// <summary>The checker against asking every lead there can be, on domains small enough for that.</summary>
public sealed class SheetCheckTests
{
    private static readonly FieldCatalogue Catalogue = FieldCatalogue.Build(
        new Dictionary<string, ImmutableArray<Choice>> { ["industry"] = [new("fish", "Fish"), new("port", "Port"), new("brewer", "Brewer")] },
        [new CustomField("depth", "Depth", FieldType.Number)]
    );

    private static readonly SheetStaff Staff = new(
        new Dictionary<string, StaffPerson>
        {
            ["tor"] = new("tor", "Tor", true, true, null, FrozenSet<string>.Empty),
            ["gone"] = new("gone", "Gone", false, true, null, FrozenSet<string>.Empty),
            ["idle"] = new("idle", "Idle", true, false, null, FrozenSet<string>.Empty),
        }.ToFrozenDictionary(),
        new Dictionary<string, ImmutableArray<string>> { ["sea"] = ["tor"], ["empty"] = ["gone"] }.ToFrozenDictionary(),
        FrozenSet.Create("sonar")
    );

    private static Condition In(string field, params string[] values) => Condition.Where(field, TestOperator.In, values);

    private static Condition All(params Condition[] parts) => new AllOf([.. parts]);

    private static RuleSheet Sheet(params Condition[] rules) =>
        new(["country", "region", "industry"], [.. rules.Select((when, i) => new Rule($"r{i}", $"rule {i}", when, new RuleOutcome(Hold: $"reason {i}")))], 480, "Call");

    private static SheetReport Check(RuleSheet sheet, Bars? bars = null) => SheetCheck.Check(sheet, Catalogue, Staff, bars);

    private static IEnumerable<string> Codes(RuleSheet sheet) => Check(sheet).Findings.Select(f => $"{f.Problem.Path} {f.Problem.Code} {string.Join(",", f.Others)}".TrimEnd());

    [Fact]
    public void ARuleBehindOthersThatTogetherTakeAllItWantsIsNeverReached() =>
        Codes(Sheet(In("country", "NO"), In("industry", "fish"), In("country", "SE", "DK"), All(In("country", "NO", "SE"), In("industry", "port"))))
            .ShouldBe(["rules/1 rules-overlap 0", "rules/2 rules-overlap 1", "rules/3 rule-covered 0,2"]);

    [Fact]
    public void ASpecialCaseBeforeTheGeneralOneIsNoFault() => Codes(Sheet(All(In("country", "NO"), In("industry", "fish")), In("country", "NO"))).ShouldBeEmpty();

    [Fact]
    public void ARegionOfAnotherCountryIsAContradiction() =>
        Codes(Sheet(All(In("country", "NO"), In("region", "US-WA")), In("region", "US-OR"), All(In("country", "US"), In("region", "US-OR"))))
            .ShouldBe(["rules/0 rule-impossible", "rules/2 rule-covered 1"]);

    [Fact]
    public void AnEmptyRangeIsAContradiction() =>
        Codes(Sheet(All(Condition.Where("fit", TestOperator.AtLeast, "80"), Condition.Where("fit", TestOperator.AtMost, "79")))).ShouldBe(["rules/0 rule-impossible"]);

    [Fact]
    public void NobodyIsBetweenTwoWholeNumbers() =>
        Check(
            Sheet(
                Condition.Where("employees", TestOperator.AtMost, "50"),
                Condition.Where("employees", TestOperator.AtLeast, "51"),
                new Not(Condition.Where("employees", TestOperator.Known))
            )
        )
            .Holes.ShouldBeEmpty();

    [Fact]
    public void ADecimalBetweenTwoNumbersIsAHole() =>
        Check(
            Sheet(Condition.Where("depth", TestOperator.AtMost, "50"), Condition.Where("depth", TestOperator.AtLeast, "51"), new Not(Condition.Where("depth", TestOperator.Known)))
        )
            .Holes.ShouldHaveSingleItem()
            .Example.ShouldContain(("depth", "50.5"));

    [Fact]
    public void TheNextMoveFollowsFromTheScoresAndTheirBars()
    {
        var sheet = Sheet(All(In("next_move", "park"), Condition.Where("fit", TestOperator.AtLeast, "60")));
        Check(sheet, new Bars(60, 40)).Findings.ShouldHaveSingleItem().Problem.Code.ShouldBe("rule-impossible");
        // Within the slack a lead that never cleared the bar is still parked.
        Check(Sheet(All(In("next_move", "hand_over"), Condition.Where("fit", TestOperator.Between, "56", "59"))), new Bars(60, 40)).Findings.ShouldBeEmpty();
    }

    [Fact]
    public void WordsThatContainOthersAreSeen() =>
        Codes(Sheet(Contains("buoy"), Contains("moored buoy"), All(new Not(Contains("buoy")), Contains("buoys")))).ShouldBe(["rules/1 rule-covered 0", "rules/2 rule-impossible"]);

    [Fact]
    public void PostalRangesAreComparedByTheirLetters() =>
        Codes(Sheet(Postal("80", "87"), Condition.Where("postal_code", TestOperator.StartsWith, "8033"), Postal("87", "88"), Postal("870", "879")))
            .ShouldBe(["rules/1 rule-covered 0", "rules/2 rules-overlap 0", "rules/3 rule-covered 0"]);

    private static Condition Postal(string from, string to) => Condition.Where("postal_code", TestOperator.BeginsBetween, from, to);

    private static Condition Contains(string text) => Condition.Where("interest", TestOperator.Contains, text);

    [Fact]
    public void ARuleForAMomentLeavesTheOthersOpen()
    {
        var sheet = Sheet(All(), All());
        sheet = sheet with { Moments = [RoutingMoment.Arrival, RoutingMoment.Handover], Rules = [sheet.Rules[0] with { Moments = [RoutingMoment.Handover] }] };
        Check(sheet).Holes.ShouldHaveSingleItem().Moments.ShouldBe([RoutingMoment.Arrival]);
        var unasked = sheet with { Rules = [.. sheet.Rules, sheet.Rules[0] with { Key = "x", Moments = [RoutingMoment.Cleared] }] };
        Check(unasked).Findings.ShouldHaveSingleItem().Problem.Code.ShouldBe("rule-no-moment");
    }

    [Fact]
    public void WhereALeadStaysWithWhomItIsNoRuleIsNoHole()
    {
        var sheet = Sheet(All()) with { Moments = [RoutingMoment.Arrival, RoutingMoment.Qualified, RoutingMoment.Handover] };
        Check(sheet).Holes.ShouldBeEmpty();
        Check(sheet).Findings.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("person-gone", "gone", null)]
    [InlineData("person-gone", "nobody", null)]
    [InlineData("no-hours", "idle", null)]
    [InlineData("team-gone", null, "river")]
    [InlineData("team-empty", null, "empty")]
    public void WhoIsNotThereKeepsASheetFromGoingLive(string code, string? person, string? team)
    {
        var sheet = Sheet(All());
        sheet = sheet with { Rules = [sheet.Rules[0] with { To = new RuleOutcome(person, team) }] };
        Check(sheet).Blocking.ShouldNotBeNull().Problem.ShouldBe(new Problem(code, "rules/0/to", code == "no-hours" ? "Idle" : person ?? team!));
    }

    [Fact]
    public void ACircleOfStandInsIsNamed()
    {
        var persons = new Dictionary<string, StaffPerson>(Staff.Persons)
        {
            ["tor"] = Staff.Persons["tor"] with { StandIn = "kari" },
            ["kari"] = new("kari", "Kari", true, true, "tor", FrozenSet<string>.Empty),
        };
        var report = SheetCheck.Check(Sheet(All()), Catalogue, Staff with { Persons = persons.ToFrozenDictionary() }, null);
        report.Findings.Select(f => f.Problem.Code).ShouldBe(["stand-in-circle", "stand-in-circle"]);
        report.Blocking.ShouldNotBeNull();
    }

    [Fact]
    public void WhatCannotBeReadIsSaidOnItsRowAndTakesNoLeads()
    {
        var sheet = Sheet(In("no_such_field", "1"), new AnyOf([In("country", "NO"), In("industry", "fish")]), All());
        Codes(sheet).ShouldBe(["rules/0 field-unknown", "rules/1 rule-mixed"]);
    }

    // Every value that can differ to the tests below, found by hand.
    private static readonly Dictionary<string, string?[]> Domain = new()
    {
        ["industry"] = ["fish", "port", "brewer", null],
        ["country"] = ["NO", "US", "SE", null],
        ["region"] = ["US-WA", "US-OR", "NO-03", null],
        ["employees"] = ["0", "1", "2", "3", "4", "5", "6", "7", null],
        ["depth"] = ["0", "1", "1.5", "2", "2.5", "3", "4", null],
        ["postal_code"] = ["1", "1!", "10", "100", "11", "12", "13", "19", "1z", "2", "2!", "20", "2000", "21", "25", "0", "3", null],
        ["interest"] = ["-", "a", "b", "ab", "a b", "ab c", "c", "a c", "b c", "a b c", "xyz", null],
        ["fit"] = ["0", "54", "55", "59", "60", "61", "100"],
        ["next_move"] = ["hand_over", "nurture", "check", "park"],
    };

    // Cells of some kinds; a sheet asks at most three, so that all its leads can be asked.
    private static readonly Gen<Condition>[] Kinds =
    [
        Gen.OneOf(Choice("industry", "fish", "port", "brewer"), Known("industry")),
        Gen.OneOf(Choice("country", "NO", "US"), Choice("region", "US-WA", "US-OR")),
        Number("employees", 1, 6),
        Number("depth", 1, 3),
        Gen.OneOf(
            Gen.Select(Gen.OneOfConst("1", "10", "2", "20"), Gen.Bool, (v, named) => Condition.Where("postal_code", named ? TestOperator.In : TestOperator.StartsWith, v)),
            Gen.OneOfConst(("1", "2"), ("10", "12"), ("12", "20"), ("2", "2")).Select(r => Postal(r.Item1, r.Item2)),
            Known("postal_code")
        ),
        Gen.OneOf(Gen.OneOfConst("a", "b", "ab", "c", "xyz").Select(w => w == "xyz" ? In("interest", w) : Contains(w)), Known("interest")),
        Gen.OneOf(Gen.OneOfConst("55", "60", "61").Select(n => Condition.Where("fit", TestOperator.AtLeast, n)), Choice("next_move", "hand_over", "nurture", "check", "park")),
    ];

    private static Gen<Condition> Known(string field) => Gen.Const(Condition.Where(field, TestOperator.Known));

    private static Gen<Condition> Choice(string field, params string[] values) => Gen.OneOfConst(values).Array[1, 2].Select(v => In(field, v));

    private static Gen<Condition> Number(string field, int from, int to) =>
        Gen.Select(
            Gen.Int[from, to],
            Gen.Int[from, to],
            Gen.OneOfConst(TestOperator.AtLeast, TestOperator.AtMost, TestOperator.Between, TestOperator.In),
            (a, b, test) => Condition.Where(field, test, test == TestOperator.Between ? [$"{a}", $"{b}"] : [$"{a}"])
        );

    private static Gen<Condition> When(Gen<Condition> cell) =>
        Gen.Select(cell, Gen.Int[0, 3], (asked, not) => not == 0 ? new Not(asked) : asked).Array[0, 3].Select(cells => All(cells));

    private static readonly Gen<RuleSheet> AnySheet = Gen.Shuffle(Enumerable.Range(0, Kinds.Length).ToArray(), 1, 3)
        .SelectMany(kinds => When(Gen.OneOf([.. kinds.Select(k => Kinds[k])])).Array[1, 6])
        .Select(rules => Sheet(rules));

    private static readonly Bars Bars = new(60, 40);

    [Fact]
    public void NothingIsAlarmedThatIsNotSoAndNothingMissed() =>
        AnySheet.Sample(
            sheet =>
            {
                var report = Check(sheet, Bars);
                if (report.Findings.Any(f => f.Blocks && f.Problem.Code != "rule-impossible"))
                    return;
                report.Whole.ShouldBeTrue();
                var brute = new BruteForce(sheet);
                var found = report.Findings.ToLookup(f => int.Parse(f.Problem.Path.Split('/')[1], System.Globalization.CultureInfo.InvariantCulture));
                for (var rule = 0; rule < sheet.Rules.Length; rule++)
                {
                    var code = found[rule].Select(f => f.Problem.Code).FirstOrDefault(c => c is "rule-impossible" or "rule-covered") ?? "reached";
                    code.ShouldBe(
                        brute.Met[rule] == 0 ? "rule-impossible"
                            : brute.First[rule] == 0 ? "rule-covered"
                            : "reached",
                        $"rule {rule} of {Text(sheet)}"
                    );
                    if (code == "rule-covered")
                        brute.IsCovered(rule, found[rule].First().Others).ShouldBeTrue($"what covers rule {rule} of {Text(sheet)}");
                    var overlaps = found[rule].Where(f => f.Problem.Code == "rules-overlap").SelectMany(f => f.Others);
                    if (code == "reached")
                        overlaps.ShouldBe(brute.Overlaps(rule), $"rule {rule} of {Text(sheet)}");
                }
                brute.CheckHoles(report.Holes, Text(sheet));
            },
            iter: 1500
        );

    private static string Text(RuleSheet sheet) => string.Join(" | ", sheet.Rules.Select(r => ConditionWords.Sentence(r.When, Catalogue)));

    // All leads of the fields a sheet asks, with the rules that hold of each.
    private sealed class BruteForce
    {
        private readonly List<(RecordValues Lead, bool[] Holds)> _leads = [];
        private readonly Predicate[] _rules;

        public BruteForce(RuleSheet sheet)
        {
            _rules = [.. sheet.Rules.Select(r => ConditionPredicate.Compile(r.When, Catalogue))];
            var asked = sheet.Rules.SelectMany(r => ConditionFields.Of(r.When)).ToHashSet();
            if (asked.Contains("region"))
                asked.Add("country");
            if (asked.Contains("next_move") && asked.Contains("fit"))
                asked.Add("fit");
            foreach (var lead in Leads([.. asked], 0, new RecordValues(Catalogue)))
                _leads.Add((lead, [.. _rules.Select(r => r(lead, default))]));
            Met = [.. _rules.Select((_, i) => _leads.Count(l => l.Holds[i]))];
            First = [.. _rules.Select((_, i) => _leads.Count(l => Array.IndexOf(l.Holds, true) == i))];
        }

        public int[] Met { get; }
        public int[] First { get; }

        public bool IsCovered(int rule, ImmutableArray<int> others) => _leads.All(l => !l.Holds[rule] || others.Any(o => l.Holds[o]));

        public IEnumerable<int> Overlaps(int rule) =>
            Enumerable.Range(0, rule).Where(o => _leads.Any(l => l.Holds[o] && !l.Holds[rule]) && _leads.Any(l => l.Holds[rule] && Array.IndexOf(l.Holds, true) == o)).TakeLast(5);

        public void CheckHoles(ImmutableArray<SheetHole> holes, string sheet)
        {
            var inside = holes.Select(h => ConditionPredicate.Compile(h.Where, Catalogue)).ToArray();
            foreach (var (lead, holds) in _leads)
            {
                var fell = inside.Any(h => h(lead, default));
                if (fell)
                    holds.ShouldNotContain(true, $"a hole takes what a rule takes: {sheet}");
                else if (holes.Length < SheetCheck.MostHoles)
                    holds.ShouldContain(true, $"a hole is missed: {sheet}");
            }
            foreach (var (hole, holds) in holes.Zip(inside))
            {
                var example = new RecordValues(Catalogue);
                foreach (var (field, value) in hole.Example.Where(e => e.Field != "moment"))
                    example[field] = FieldValue.Parse(Catalogue[field].Type, value);
                holds(example, default).ShouldBeTrue($"the example is not in its hole: {sheet}");
                _rules.ShouldAllBe(r => !r(example, default), $"a rule takes the example: {sheet}");
            }
        }

        private static IEnumerable<RecordValues> Leads(string[] fields, int at, RecordValues lead)
        {
            if (at == fields.Length)
                return IsPossible(lead, fields) ? [lead.Copy()] : [];
            return Domain[fields[at]]
                .SelectMany(value =>
                {
                    lead[fields[at]] = FieldValue.Parse(Catalogue[fields[at]].Type, value);
                    return Leads(fields, at + 1, lead).ToList();
                });
        }

        private static bool IsPossible(RecordValues lead, string[] fields)
        {
            if (lead.Text("region") is { } region && lead.Text("country") is { } country && !region.StartsWith(country, StringComparison.Ordinal))
                return false;
            if (!fields.Contains("fit") || lead.Text("next_move") is not { } move)
                return true;
            var fit = (int)lead["fit"].Number;
            var cleared = move is NextMove.HandOver or NextMove.Nurture;
            return cleared ? fit >= Bars.Fit - Bars.Slack : fit < Bars.Fit;
        }
    }

    [Fact]
    public void TwoHundredRulesOfTwelveColumnsAreCheckedWhole()
    {
        var sheet = WideSheet.Make(200);
        var report = Check(sheet, Bars);
        report.Whole.ShouldBeTrue();
        report.Findings.ShouldContain(f => f.Problem.Code == "rule-covered");
        report.Holes.ShouldNotBeEmpty();
    }
}
