using System.Text.Json;
using System.Xml.Linq;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Routing;

namespace DapperLantern.Core.Tests.Routing;

public sealed class SheetDmnTests
{
    private static readonly RuleSheet Sheet = new(
        ["country", "employees"],
        [
            new(
                "no \u201cfish\u201d",
                "Norway <fish>",
                new AllOf([Condition.Where("country", TestOperator.In, "NO"), Condition.Where("interest", TestOperator.Contains, "buoy", "probe")]),
                new RuleOutcome(Person: "tor.vik"),
                240
            )
            {
                Moments = [RoutingMoment.Arrival],
                Task = "Call \"today\"",
                Urgent = true,
            },
            new(
                "large",
                "Large",
                Condition.Where("employees", TestOperator.Between, "50", "500"),
                new RuleOutcome(Team: "sea")
                {
                    Speaking = true,
                    Skills = ["a", "b"],
                    Else = new RuleOutcome(Hold: "nobody there"),
                }
            ),
            new("us", "United States", Condition.Where("country", TestOperator.In, "US"), new RuleOutcome { Serving = true }),
            new("kept", "The rest", Condition.Always, new RuleOutcome { Keep = true }) { Message = "Mind\nthis" },
        ],
        480,
        "First call"
    )
    {
        Moments = [RoutingMoment.Arrival, RoutingMoment.Qualified],
        Guards = [new Guard(Guard.Account, true, 5), new Guard(Guard.Contact, false, null)],
        Clock = new ClockTerms(60, ClockTerms.PassOn, 3),
    };

    private static string Text(RuleSheet? sheet) => JsonSerializer.Serialize(sheet);

    [Fact]
    public void ASheetWrittenAsADecisionTableIsReadAsItWas()
    {
        var reading = SheetDmn.Read(SheetDmn.Write(Sheet, Sample.Catalogue), Sample.Catalogue);
        reading.Problems.ShouldBeEmpty();
        Text(reading.Sheet).ShouldBe(Text(Sheet));
    }

    [Fact]
    public void ItIsATableOfTheStandardWithTheFirstRuleDeciding()
    {
        var table = XDocument.Parse(SheetDmn.Write(Sheet, Sample.Catalogue)).Descendants(SheetDmn.Dmn + "decisionTable").Single();
        ((string?)table.Attribute("hitPolicy")).ShouldBe("FIRST");
        // Moments, the two columns, and what a rule asks without a column of its own.
        table.Elements(SheetDmn.Dmn + "input").Count().ShouldBe(4);
        table
            .Elements(SheetDmn.Dmn + "rule")
            .First()
            .Elements(SheetDmn.Dmn + "inputEntry")
            .Select(e => e.Value)
            .ShouldBe(["\"arrival\"", "\"NO\"", "-", "(contains(lower case(?), \"buoy\") or contains(lower case(?), \"probe\"))"]);
    }

    [Theory]
    [InlineData("hitPolicy=\"FIRST\"", "hitPolicy=\"COLLECT\"", "dmn-hit-policy")]
    [InlineData("\"NO\"", "matches(?, \"N.\")", "cell-unreadable")]
    [InlineData(">country<", ">no_such_field<", "field-unknown")]
    [InlineData("<annotation name=\"name\" />", "<businessKnowledgeModel />", "dmn-construct")]
    [InlineData("\"team sea\"", "\"everybody\"", "goal-unreadable")]
    [InlineData("name=\"urgent\"", "name=\"colour\"", "dmn-output")]
    [InlineData("</definitions>", "", "xml-unreadable")]
    public void WhatASheetCannotSayIsRefusedWithItsPlace(string from, string to, string code)
    {
        var text = SheetDmn.Write(Sheet, Sample.Catalogue);
        text.ShouldContain(from);
        var reading = SheetDmn.Read(text.Replace(from, to, StringComparison.Ordinal), Sample.Catalogue);
        reading.Sheet.ShouldBeNull();
        reading.Problems[0].Code.ShouldBe(code);
        (reading.Problems[0].Path + reading.Problems[0].Found).ShouldContain("line");
    }

    [Fact]
    public void AFileThatReachesOutsideIsNotRead() =>
        SheetDmn.Read("<!DOCTYPE x [<!ENTITY e SYSTEM \"file:///etc/passwd\">]><definitions>&e;</definitions>", Sample.Catalogue).Problems.Single().Code.ShouldBe("xml-unreadable");
}
