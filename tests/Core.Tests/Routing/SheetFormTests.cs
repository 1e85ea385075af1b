using System.Collections.Frozen;
using System.Collections.Immutable;
using System.Text.Json;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;

namespace DapperLantern.Core.Tests.Routing;

/// <summary>What is wrong with a sheet line by line: each fault by its code at its own line, and a sheet from outside made whole.</summary>
public sealed class SheetFormTests
{
    private static readonly SheetStaff Staff = new(
        new Dictionary<string, StaffPerson> { ["tor"] = new("tor", "Tor", true, true, null, FrozenSet<string>.Empty) }.ToFrozenDictionary(),
        new Dictionary<string, ImmutableArray<string>> { ["sea"] = ["tor"] }.ToFrozenDictionary(),
        FrozenSet.Create("sonar")
    );

    private static readonly Rule Good = new("all", "All", Condition.Where("country", TestOperator.Known), new RuleOutcome(Team: "sea"));
    private static readonly RuleSheet Whole = new(["country"], [Good], 480, "Call");

    private static RuleSheet With(Rule rule) => Whole with { Rules = [rule] };

    private static RuleSheet When(params Condition[] conditions) => Whole with { Rules = [.. conditions.Select((c, i) => Good with { Key = $"r{i}", When = c })] };

    private static RuleSheet To(RuleOutcome to) => With(Good with { To = to });

    private static readonly string Long = new('x', 1001);

    /// <summary>A fault of its own kind each, where it stands, and the code it is known by.</summary>
    public static TheoryData<string, string, RuleSheet> Faults =>
        new()
        {
            { "sheet-empty", "rules", Whole with { Rules = [] } },
            { "too-many-rules", "rules", Whole with { Rules = [.. Enumerable.Range(0, SheetCheck.MostRules + 1).Select(i => Good with { Key = $"r{i}" })] } },
            { "sheet-too-wide", "columns", Whole with { Columns = [.. Enumerable.Repeat("country", SheetCheck.MostColumns + 1)] } },
            { "field-unknown", "columns/1", Whole with { Columns = ["country", "long_gone"] } },
            { "column-twice", "columns/1", Whole with { Columns = ["country", "country"] } },
            {
                "text-mixed",
                "columns/0",
                When(Condition.Where("postal_code", TestOperator.Contains, "12"), Condition.Where("postal_code", TestOperator.StartsWith, "80")) with
                {
                    Columns = ["postal_code"],
                }
            },
            { "minutes-range", "answerWithinMinutes", Whole with { AnswerWithinMinutes = 0 } },
            { "minutes-range", "rules/0", With(Good with { AnswerWithinMinutes = 43_201 }) },
            { "task-unfit", "task", Whole with { Task = " " } },
            { "task-unfit", "rules/0", With(Good with { Task = Long }) },
            { "task-unfit", "rules/0", With(Good with { Message = Long }) },
            { "moment-unknown", "moments", Whole with { Moments = ["at_noon"] } },
            { "moment-unknown", "rules/0", With(Good with { Moments = ["at_noon"] }) },
            { "guard-unfit", "guards/0", Whole with { Guards = [new Guard("neighbour")] } },
            { "guard-unfit", "guards/1", Whole with { Guards = [new Guard(Guard.Account), new Guard(Guard.Account)] } },
            { "guard-unfit", "guards/0", Whole with { Guards = [new Guard(Guard.Account, true, 366)] } },
            { "clock-unfit", "clock", Whole with { Clock = new ClockTerms(100, ClockTerms.Remind, 2) } },
            { "clock-unfit", "clock", Whole with { Clock = new ClockTerms(75, "shout", 2) } },
            { "clock-unfit", "clock", Whole with { Clock = new ClockTerms(75, ClockTerms.PassOn, 21) } },
            { "key-twice", "rules/1", Whole with { Rules = [Good, Good] } },
            { "key-twice", "rules/0", With(Good with { Key = "" }) },
            { "rule-unnamed", "rules/0", With(Good with { Name = " " }) },
            { "value-missing", "rules/0", With(Good with { When = null! }) },
            { "field-unknown", "rules/0", When(Condition.Where("long_gone", TestOperator.Known)) },
            { "rule-circular", "rules/0", When(Condition.Where("owner", TestOperator.Known)) },
            { "value-gone", "rules/0", When(Condition.Where("industry", TestOperator.In, "sealing")) },
            { "value-gone", "rules/0", When(Condition.Where("country", TestOperator.In, "ZZ")) },
            { "outcome-missing", "rules/0/to", To(new RuleOutcome()) },
            { "outcome-missing", "rules/0/to", To(new RuleOutcome("tor", "sea")) },
            { "outcome-missing", "rules/0/to", To(new RuleOutcome("tor") { Else = new RuleOutcome() }) },
            { "outcome-missing", "rules/0/to", To(new RuleOutcome("tor") { Else = new RuleOutcome(Team: "sea") { Else = new RuleOutcome(Hold: "wait") } }) },
            { "hold-reason", "rules/0/to", To(new RuleOutcome(Hold: " ")) },
            { "skill-gone", "rules/0/to", To(new RuleOutcome(Team: "sea") { Skills = ["juggling"] }) },
            { "nobody-serves", "rules/0/to", To(new RuleOutcome { Serving = true }) },
        };

    [Theory]
    [MemberData(nameof(Faults), DisableDiscoveryEnumeration = true)]
    public void EachFaultIsSaidAtItsLine(string code, string path, RuleSheet sheet)
    {
        var found = SheetCheck.Check(sheet, Sample.Catalogue, Staff, null).Findings;
        found.Select(f => (f.Problem.Code, f.Problem.Path)).ShouldContain((code, path));
        found.ShouldAllBe(f => f.Words.EndsWith('.') && !f.Words.Contains("{0}", StringComparison.Ordinal));
        // What has only lost a value may still go live; nothing else here may.
        found.Single(f => f.Problem.Code == code && f.Problem.Path == path).Blocks.ShouldBe(code != "value-gone");
    }

    [Fact]
    public void AGoodSheetHasNoneOfThem() =>
        SheetCheck.Check(Whole, Sample.Catalogue, Staff, null).Findings.Select(f => f.Problem.Code).Intersect(Faults.Select(f => f.Data.Item1)).ShouldBeEmpty();

    [Fact]
    public void AFileThatLeavesOutWhatIsUsualIsMadeWhole()
    {
        var sheet = SheetSound.Made(
            JsonSerializer.Deserialize<RuleSheet>("""{"Rules":[{"When":{"all":[]},"To":{"Team":"sea","Else":{"Hold":"wait","Else":{"Person":"tor"}}}}]}""")!
        )!;
        sheet.Columns.ShouldBeEmpty();
        sheet.Task.ShouldBe("");
        sheet.Clock.ShouldBe(ClockTerms.Usual);
        var rule = sheet.Rules.ShouldHaveSingleItem();
        (rule.Key, rule.Name, rule.Task, rule.Message, rule.Moments.Length, rule.To.Skills.Length).ShouldBe(("", "", "", "", 0, 0));
        // An outcome has one other and no more.
        rule.To.Else.ShouldNotBeNull().Else.ShouldBeNull();
        // Whole enough to be checked: what is missing is said, not thrown.
        SheetCheck.Check(sheet, Sample.Catalogue, Staff, null).Findings.Select(f => f.Problem.Code).ShouldContain("rule-unnamed");
    }

    [Theory]
    [InlineData("""{"Rules":[null]}""")]
    [InlineData("""{"Rules":[{"To":{"Team":"sea"}}]}""")]
    [InlineData("""{"Rules":[{"When":{"all":[]}}]}""")]
    public void ARuleWithoutConditionOrOutcomeIsNoRule(string file) => SheetSound.Made(JsonSerializer.Deserialize<RuleSheet>(file)!).ShouldBeNull();

    [Fact]
    public void NothingInItsListsIsLeftOut()
    {
        var sheet = Whole with { Guards = [null!, new Guard(Guard.Account)], Moments = [null!, "arrival"], Columns = [null!], Clock = null! };
        var made = SheetSound.Made(sheet)!;
        made.Guards.ShouldBe([new Guard(Guard.Account)]);
        made.Moments.ShouldBe(["arrival"]);
        made.Columns.ShouldBe([""]);
        made.Clock.ShouldBe(ClockTerms.Usual);
    }
}
